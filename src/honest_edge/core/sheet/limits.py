"""What keeps more stickers off the sheets: the gap, the turning, the marks, or an almost empty last sheet."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass, replace
from typing import get_args

from honest_edge.core.sheet.fit import Pinned, fit, never, rows_needed
from honest_edge.core.sheet.plan import Footprint, Plan
from honest_edge.core.sheet.separate import IsCancelled
from honest_edge.core.values.errors import BlockedError
from honest_edge.core.values.marks import MarkKind, MarkSpec, with_mark_kind
from honest_edge.core.values.sheet import SheetSpec, Turning

_STEPS = 5
_THIN_SHARE = 0.25
"""A last sheet that is less full than this is worth a word."""


@dataclass(frozen=True, slots=True, kw_only=True)
class Limits:
    """What would let more copies of one design on the sheets there are.

    Attributes:
        more: how many more find room as things are.
        turned: with more turning allowed, how many more than ``more``.
        tight: laid as tight as they go, how many more than ``more``.
        rows: how many sheets rows would need where that is more than there are; None where they need no more.
        gap_mm: the largest gap that lets one more on; None where no gap does, or more fit anyway.
        thin: share of the last sheet that is sticker, and its number of copies, where that is little.
    """

    more: int
    turned: dict[Turning, int]
    tight: int
    rows: int | None
    gap_mm: float | None
    thin: tuple[float, int] | None


def limits(
    plan: Plan,
    designs: Sequence[Footprint],
    index: int,
    sheet: SheetSpec,
    pins: Pinned = (),
    *,
    cancelled: IsCancelled = never,
) -> Limits:
    """Return what limits the copies of the ``index``-th design on the sheets of ``plan``.

    Raises:
        Cancelled: ``cancelled`` said so.
    """
    filling = [  # of the others as many as there are stay, also of those that fill the sheets now
        replace(design, copies=max(design.copies, plan.count(number)), fills=number == index)
        for number, design in enumerate(designs)
    ]

    def count(changed: SheetSpec) -> int:
        """Return how many copies find room; none where sheets are added."""
        layout = fit(filling, changed, pins, cancelled=cancelled)
        return layout.count(index) if len(layout.pages) <= len(plan.pages) else 0

    here = plan.count(index)
    more = max(0, count(sheet) - here)
    kinds: tuple[Turning, ...] = get_args(Turning)
    turned = {
        turning: gained
        for turning in kinds[kinds.index(sheet.turning) + 1 :]
        if (gained := count(replace(sheet, turning=turning)) - here - more) > 0
    }
    is_tidy = sheet.arrangement == "tidy"
    tight = max(0, count(replace(sheet, arrangement="tight")) - here - more) if is_tidy else 0
    rows = rows_needed(designs, sheet, pins, cancelled=cancelled) if is_tidy else None
    gap_mm = None if more else _gap_for(here + 1, sheet, count)
    thin = None
    if len(plan.pages) > 1 and plan.filled[-1] < _THIN_SHARE:
        thin = plan.filled[-1], len(plan.pages[-1])
    return Limits(
        more=more,
        turned=turned,
        tight=tight,
        rows=rows if rows is not None and rows > len(plan.pages) else None,
        gap_mm=gap_mm,
        thin=thin,
    )


def _gap_for(wanted: int, sheet: SheetSpec, count: Callable[[SheetSpec], int]) -> float | None:
    low, high = 0.0, sheet.gap_mm
    if count(replace(sheet, gap_mm=low)) < wanted:
        return None
    for _ in range(_STEPS):
        middle = (low + high) / 2
        if count(replace(sheet, gap_mm=middle)) >= wanted:
            low = middle
        else:
            high = middle
    return low


def mark_costs(design: Footprint, sheet: SheetSpec, *, cancelled: IsCancelled = never) -> dict[MarkKind, int | None]:
    """Return how many copies of a design a fresh sheet takes with each kind of mark; None where one cannot stand."""
    kinds: tuple[MarkKind, ...] = get_args(MarkKind)
    marks = {kind: sheet.marks if kind == sheet.marks.kind else with_mark_kind(sheet.marks, kind) for kind in kinds}
    return {kind: copies_with(design, sheet, spec, cancelled=cancelled) for kind, spec in marks.items()}


def copies_with(design: Footprint, sheet: SheetSpec, marks: MarkSpec, *, cancelled: IsCancelled = never) -> int | None:
    """Return how many copies of a design a fresh sheet takes with these marks; None where they cannot stand."""
    alone = replace(design, copies=0, fills=True, stock=None)
    try:
        return fit([alone], replace(sheet.with_marks(marks), used=()), cancelled=cancelled).copies
    except BlockedError:
        return None
