"""The way of a machine's blade over one sheet, as its cut file has it."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from honest_edge.app.results.overview import Overview
from honest_edge.core.geometry.paths import Floats
from honest_edge.core.sheet.costs import cut_seconds, length_mm
from honest_edge.core.sheet.cut_order import travel_mm
from honest_edge.core.values.errors import BlockedError
from honest_edge.core.values.specs import LineKind
from honest_edge.files.sheet_page import HOME_MM, sheet_page

_FLAT_MM = 0.01


@dataclass(frozen=True, slots=True, kw_only=True, eq=False)
class BladePath:
    """Where a blade goes, in sheet millimetres.

    Attributes:
        page: the sheet, from 0.
        cuts: what it cuts, in this order: the kind of line, and (n, 2) points of the blade's axis.
        cut_mm: how long that is in all.
        lifted_mm: how far it travels lifted.
        seconds: how long that takes at least, all passes counted.
    """

    page: int
    cuts: tuple[tuple[LineKind, Floats], ...]
    cut_mm: float
    lifted_mm: float
    seconds: float


def blade_path(overview: Overview, page: int) -> BladePath:
    """Return the way of the blade over a sheet.

    Raises:
        BlockedError: there is no layout.
    """
    if overview.plan is None:
        raise BlockedError("There is no sheet to cut yet")
    sheet = sheet_page(overview.plan, page, [result.cut for result in overview.laid], overview.job.sheet.machine)
    lines = [(kind, ring) for kind, rings in sheet.cuts.items() for ring in rings]
    return BladePath(
        page=page,
        cuts=tuple((kind, _closed(ring.flattened(_FLAT_MM), ring.closed)) for kind, ring in lines),
        cut_mm=sum(length_mm(ring) for _, ring in lines),
        lifted_mm=travel_mm([ring for _, ring in lines], HOME_MM),
        seconds=cut_seconds(sheet.cuts, overview.job.sheet.cutter, HOME_MM),
    )


def _closed(points: Floats, is_closed: bool) -> Floats:
    return np.vstack([points, points[:1]]) if is_closed else points
