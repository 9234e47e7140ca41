"""A layout that a job keeps: used again as long as it holds what the job asks."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np
import shapely

from honest_edge.core.sheet.fit import Pinned, packings, plan_from
from honest_edge.core.sheet.nofit import bounds_of
from honest_edge.core.sheet.packing import Packing, Sheets, laid_of
from honest_edge.core.sheet.plan import Footprint, Placement, Plan
from honest_edge.core.sheet.settle import Laid, lying
from honest_edge.core.sheet.space import space_of
from honest_edge.core.values.layouts import Layout, Pin, PlacedCopy
from honest_edge.core.values.sheet import SheetSpec

_ROUNDING_MM = 1e-4


def layout_of(plan: Plan, designs: Sequence[Footprint]) -> Layout:
    """Return a plan as a job keeps it."""
    return tuple(tuple(_copy(placement, designs) for placement in page) for page in plan.pages)


def _copy(placement: Placement, designs: Sequence[Footprint]) -> PlacedCopy:
    key = designs[placement.design].key
    return PlacedCopy(design=key, turn_deg=placement.turn_deg, x_mm=placement.x_mm, y_mm=placement.y_mm)


def pinned_of(pins: Sequence[Pin], designs: Sequence[Footprint]) -> list[tuple[int, Placement]]:
    """Return a job's pins as placements; those of designs that are gone are left out."""
    index = {design.key: number for number, design in enumerate(designs)}
    return [
        (pin.page, _placement(pin.copy, index[pin.copy.design], is_pinned=True))
        for pin in pins
        if pin.copy.design in index
    ]


def _placement(copy: PlacedCopy, design: int, *, is_pinned: bool = False) -> Placement:
    return Placement(design=design, turn_deg=copy.turn_deg, x_mm=copy.x_mm, y_mm=copy.y_mm, is_pinned=is_pinned)


def plan_kept(layout: Layout, designs: Sequence[Footprint], sheet: SheetSpec, pins: Pinned = ()) -> Plan | None:
    """Return a kept layout as a plan; None where it no longer holds what is asked, to the exact gap.

    Raises:
        BlockedError: the marks cannot be placed.
    """
    room = space_of(sheet)
    index = {design.key: number for number, design in enumerate(designs)}
    if any(copy.design not in index for page in layout for copy in page):
        return None
    rest = list(layout)
    laid = []
    for packing in packings(designs, sheet, room, pins):
        sheets: Sheets = []
        while rest and all(index[copy.design] in packing.members for copy in rest[0]):
            placements = [_placement(copy, index[copy.design]) for copy in rest.pop(0)]
            sheets.append(_with_pins(packing, placements, packing.pinned.get(len(sheets), [])))
        if not _holds(packing, sheets):
            return None
        laid.append((packing, sheets))
    return None if rest else plan_from(laid, sheet, room)


def _with_pins(packing: Packing, placements: list[Placement], pinned: list[Laid]) -> list[Laid]:
    """Return the pieces of a sheet; a copy that lies where a pin is, is that pin."""
    loose = [laid_of(p, packing.designs, packing.members.index(p.design)) for p in placements]
    for pin in pinned:
        design = packing.nofit.pieces[pin.piece].design
        same = [
            one
            for one in loose
            if packing.members[one.piece] == design
            and abs(one.x_mm - pin.x_mm) < _ROUNDING_MM
            and abs(one.y_mm - pin.y_mm) < _ROUNDING_MM
        ]
        if same:
            loose.remove(same[0])
    return [*pinned, *loose]


def _holds(packing: Packing, sheets: Sheets) -> bool:
    there = [one.piece for sheet in sheets for one in sheet if not one.is_pinned]
    for piece, wanted in packing.wanted().items():
        count = there.count(piece)
        if count < wanted or (count > wanted and piece not in packing.fillers()):
            return False
    if any(page >= len(sheets) for page in packing.pinned):
        return False
    return all(_is_free(packing, page, laid) for page, laid in enumerate(sheets))


def _is_free(packing: Packing, page: int, laid: Sequence[Laid]) -> bool:
    """Whether every piece that is not pinned keeps its gaps and lies where it may."""
    nofit, grid = packing.nofit, packing.grid(page)
    shapes = [lying(nofit.pieces[one.piece].polygon, one) for one in laid]
    bounds = np.array([bounds_of(shape) for shape in shapes]).reshape(-1, 4)
    usable = packing.room.usable.grown(_ROUNDING_MM)
    for index, one in enumerate(laid):
        if one.is_pinned:
            continue
        reach = nofit.pieces[one.piece].reach_mm
        left, top, right, bottom = bounds[index] + np.array([-reach, -reach, reach, reach])
        if left < usable.left or top < usable.top or right > usable.right or bottom > usable.bottom:
            return False
        if any(_meet(shapes[index], area, reach) for area in grid.blocked):
            return False
    return all(
        not _meet(shapes[a], shapes[b], nofit.gap_between(laid[a].piece, laid[b].piece))
        for a in range(len(laid))
        for b in range(a)
        if not (laid[a].is_pinned and laid[b].is_pinned)
    )


def _meet(one: shapely.Geometry, two: shapely.Geometry, gap: float) -> bool:
    if gap > _ROUNDING_MM:
        return bool(shapely.dwithin(one, two, gap - _ROUNDING_MM))
    return bool(shapely.intersection(one, two).area > _ROUNDING_MM)
