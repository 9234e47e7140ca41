"""A layout that is there at once, before the good one: what still holds of the one before stays, or boxes are laid."""

from __future__ import annotations

from collections import Counter
from collections.abc import Sequence

import shapely

from honest_edge.core.sheet.fit import Pinned, never, packings, plan_from, tidied
from honest_edge.core.sheet.packing import Packing, Sheets, laid_of
from honest_edge.core.sheet.plan import Footprint, Plan
from honest_edge.core.sheet.separate import IsCancelled
from honest_edge.core.sheet.space import space_of
from honest_edge.core.values.sheet import SheetSpec

Before = tuple[Plan, Sequence[Footprint]]
"""A layout, and what its numbers stand for."""


def quick_fit(
    designs: Sequence[Footprint],
    sheet: SheetSpec,
    pins: Pinned = (),
    *,
    before: Before | None = None,
    cancelled: IsCancelled = never,
) -> Plan | None:
    """Return a layout that keeps all gaps and holds all copies, made fast and not as tight as it may be.

    Args:
        designs: what is laid.
        sheet: the sheet.
        pins: copies placed by hand.
        before: a layout on the same sheet, of which stays what is still wanted; without one, boxes are laid.
        cancelled: asked meanwhile.

    Returns:
        None where no such layout is found: what fits and why is for the fit itself to say.

    Raises:
        BlockedError: the marks cannot be placed.
        Cancelled: ``cancelled`` said so.
    """
    room = space_of(sheet)
    sheets = []
    for packing in packings(designs, sheet, room, pins):
        kept = [] if before is None else _kept(packing, *before)
        laid = packing.in_first_boxes(cancelled) if not kept else packing.first_fit(cancelled, begun=kept)
        if laid is None or not any(laid):
            return None
        sheets.append((packing, tidied(packing, laid, cancelled)))
    return plan_from(sheets, sheet, room) if sheets else None


def _kept(packing: Packing, plan: Plan, footprints: Sequence[Footprint]) -> Sheets:
    """Return what of a layout is laid here again: as many copies as are wanted of what has the same shape still."""
    piece_of = {
        number: piece
        for piece, design in enumerate(packing.members)
        for number, footprint in enumerate(footprints)
        if _is_alike(packing.designs[design], footprint)
    }
    left = Counter(packing.wanted())
    fillers = set(packing.fillers())
    sheets: Sheets = []
    for page in plan.pages:
        if not any(placement.design in piece_of for placement in page):
            continue
        laid = []
        for placement in page:
            piece = piece_of.get(placement.design)
            if piece is None or placement.is_pinned or (left[piece] <= 0 and piece not in fillers):
                continue
            left[piece] -= 1
            laid.append(laid_of(placement, footprints, piece))
        sheets.append(laid)
    return sheets


def _is_alike(one: Footprint, other: Footprint) -> bool:
    return (
        one.key == other.key
        and one.stock == other.stock
        and one.reach_mm == other.reach_mm
        and bool(shapely.equals_exact(one.area, other.area))
    )
