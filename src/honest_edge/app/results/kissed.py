"""The stickers on a sheet as their kiss cuts see it: what is theirs, and what is printed round them."""

from __future__ import annotations

import math
from typing import TYPE_CHECKING

import numpy as np
import shapely

from honest_edge.core.edge.art_edge import SEEN_CONTRAST
from honest_edge.core.edge.kiss import KissCut, KissCuts, kiss_cuts
from honest_edge.core.geometry.paths import Floats, as_multipolygon
from honest_edge.core.layers.stack import Entry, clears_a_ring, placed
from honest_edge.core.values.stock import Stock

if TYPE_CHECKING:
    from honest_edge.app.results.composed import Composed

_OVER_MM = 0.1  # past the ring, so that no thread of it is left


def kissed(composed: Composed, stock: Stock) -> KissCuts | None:
    """Return where the kiss cuts of a sheet run and may run, in the frame of its picture; None without stickers."""
    stack, corner = composed.stack, np.array([composed.flat.left_mm, composed.flat.top_mm])
    on_it = [entry for entry in stack.entries if entry.layer is not None and entry.layer.sticker is not None]
    if not on_it or stack.form is None:
        return None
    round_it = [entry for entry in stack.entries if entry not in on_it and _is_seen(entry, stock)]
    stickers = [_sticker(entry, corner) for entry in on_it]
    printed = shapely.union_all([_moved(entry.area, corner) for entry in round_it])
    if any(entry.layer is None for entry in round_it):  # the ground lay under the rings before they cleared it
        printed = shapely.union_all([printed, *(shapely.buffer(one.cut, one.ring_mm + _OVER_MM) for one in stickers)])
    return kiss_cuts(as_multipolygon(_moved(stack.form, corner)), printed, stickers)


def _sticker(entry: Entry, corner: Floats) -> KissCut:
    content, layer = entry.content, entry.layer
    assert layer is not None

    def here(area: shapely.MultiPolygon) -> shapely.MultiPolygon:
        return as_multipolygon(_moved(placed(area, entry.matrix), corner))

    return KissCut(
        cut=here(content.area),
        ring_mm=layer.gap_mm if clears_a_ring(layer) else 0.0,
        is_cleared=clears_a_ring(layer),
        detail=shapely.MultiPolygon() if content.detail is None else here(content.detail),
        ink=None if content.own_ink is None else here(content.own_ink),
    )


def _is_seen(entry: Entry, stock: Stock) -> bool:
    """Whether what is printed stands out from the stock; pictures and fills are taken to."""
    if entry.content.pixels is not None or entry.content.fill is not None or stock.is_clear:
        return True
    return math.dist(entry.rgb, stock.rgb) >= SEEN_CONTRAST


def _moved(area: shapely.Geometry, corner: Floats) -> shapely.Geometry:
    return shapely.transform(area, lambda points: points - corner)
