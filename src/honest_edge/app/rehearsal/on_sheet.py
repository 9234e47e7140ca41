"""The stickers of a sheet for its rehearsal: each with the area that its own kiss cut has to stay within."""

from __future__ import annotations

import math
from collections.abc import Iterator
from typing import TYPE_CHECKING

import numpy as np
import shapely

from honest_edge.core.layers.stack import Entry, placed
from honest_edge.core.values.stock import Stock

if TYPE_CHECKING:
    from honest_edge.app.results.composed import Composed

_SEEN_RGB = 40.0  # what differs less from the stock is not seen; from experience, no published source
_SEGMENTS = 32


def kiss_areas(composed: Composed, stock: Stock) -> Iterator[tuple[shapely.Geometry, shapely.Geometry]]:
    """Yield each sticker's cut and what it has to stay within, in the frame of the sheet's picture."""
    form, corner = composed.stack.form, np.array([composed.flat.left_mm, composed.flat.top_mm])
    if form is None:
        return

    def here(area: shapely.Geometry) -> shapely.Geometry:
        return shapely.transform(area, lambda points: points - corner)

    def of(entry: Entry, area: shapely.MultiPolygon | None) -> shapely.Geometry:
        return shapely.MultiPolygon() if area is None else here(placed(area, entry.matrix))

    stickers = [one for one in composed.stack.entries if one.layer is not None and one.layer.sticker is not None]
    cuts = [of(one, one.content.area) for one in stickers]
    rings = [shapely.buffer(cut, _ring_mm(one), quad_segs=_SEGMENTS) for one, cut in zip(stickers, cuts, strict=True)]
    round_them = [here(one.area) for one in composed.stack.entries if one not in stickers and _shows(one, stock)]
    for number, (one, cut) in enumerate(zip(stickers, cuts, strict=True)):
        others = shapely.union_all([*round_them, *rings[:number], *rings[number + 1 :]])
        allowed = shapely.difference(here(form), shapely.difference(others, rings[number]))
        for other in (*rings[:number], *rings[number + 1 :]):
            if shapely.intersects(other, rings[number]):
                allowed = shapely.difference(allowed, other)
        if one.content.own_ink is not None:
            allowed = shapely.intersection(allowed, of(one, one.content.own_ink))
        yield cut, shapely.difference(allowed, of(one, one.content.detail))


def _ring_mm(entry: Entry) -> float:
    return entry.layer.gap_mm if entry.layer is not None and entry.layer.joining == "knock out" else 0.0


def _shows(entry: Entry, stock: Stock) -> bool:
    is_picture = entry.content.pixels is not None or entry.content.fill is not None
    return is_picture or stock.is_clear or math.dist(entry.rgb, stock.rgb) >= _SEEN_RGB
