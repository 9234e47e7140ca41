"""Placing a copy by hand: where it may not lie, in words."""

from __future__ import annotations

from collections.abc import Sequence

import shapely

from honest_edge.core.sheet.fit import Pinned
from honest_edge.core.sheet.media import Box
from honest_edge.core.sheet.plan import Footprint, Placement
from honest_edge.core.sheet.space import space_of
from honest_edge.core.values.sheet import SheetSpec

_ROUNDING_MM = 1e-6


def pin_problem(
    placement: Placement, page: int, designs: Sequence[Footprint], sheet: SheetSpec, others: Pinned
) -> str | None:
    """Return why a copy cannot be pinned where it is; None where it can.

    Raises:
        BlockedError: the marks cannot be placed.
    """
    room = space_of(sheet)
    design = designs[placement.design]
    cut = placed(placement, designs)
    ink = Box(*cut.bounds).grown(design.reach_mm)
    if not shapely.box(*room.usable.grown(_ROUNDING_MM)).covers(shapely.box(*ink)):
        return f"“{design.name}” would lie outside of the usable area"
    for box in (*room.keep_outs, *(room.used if page == 0 else ())):
        if cut.distance(shapely.box(*box)) < design.reach_mm or cut.intersects(shapely.box(*box).buffer(-_ROUNDING_MM)):
            return f"“{design.name}” would lie on a mark’s clear space or a used area"
    for number, other in others:
        gap = max(sheet.gap_mm, design.reach_mm + designs[other.design].reach_mm)
        if number == page and placed(other, designs).distance(cut) < gap:
            return f"“{design.name}” would come nearer than {gap:.1f} mm to a copy that was placed by hand"
    return None


def placed(placement: Placement, designs: Sequence[Footprint]) -> shapely.MultiPolygon:
    """Return the cut of a copy on its sheet."""
    matrix = placement.matrix
    return shapely.transform(designs[placement.design].area, lambda xy: xy @ matrix[:, :2].T + matrix[:, 2])
