"""The sheet's numbers in words."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from typing import TYPE_CHECKING

from honest_edge.core.values.marks import MarkKind
from honest_edge.core.values.sheet import SheetSpec
from honest_edge.core.values.units import duration
from honest_edge.ui.widgets.fields import counted
from honest_edge.ui.widgets.words import whole_percent

if TYPE_CHECKING:
    from honest_edge.app.edits.sheet_edits import SheetLimits
    from honest_edge.app.views.blade_path import BladePath
    from honest_edge.core.measure.mark_reading import MarkPrice
    from honest_edge.core.sheet.plan import Plan

_TURNING = {"quarter": "turns by a quarter allowed", "free": "any turn allowed"}


def usable_words(plan: Plan, length: Callable[[float], str]) -> str:
    """Return what takes room from the paper, outermost first, each with what it leaves."""
    return "\n".join(
        f"{words}: {length(box.width).rsplit(' ', 1)[0]} × {length(box.height)}" for words, box in plan.reasons
    )


def limit_words(found: SheetLimits, name: str, page: int, length: Callable[[float], str]) -> list[str]:
    """Return what would let more copies of the design in hand on the sheets."""
    limits, words = found.limits, []
    if limits.more:
        words.append(f"{limits.more} more of “{name}” would fit on these sheets.")
    elif limits.gap_mm is not None:
        words.append(f"One more of “{name}” would fit with a gap of {length(limits.gap_mm)}.")
    if limits.tight:
        words.append(f"Laid tight: {limits.tight} more.")
    if limits.rows is not None:
        words.append(f"In rows they would need {counted(limits.rows, 'sheet')}: laid tight they need fewer.")
    words += [f"With {_TURNING[turning]}: {more} more." for turning, more in limits.turned.items()]
    if limits.thin is not None:
        share, copies = limits.thin
        full, stickers = whole_percent(share), counted(copies, "sticker")
        words.append(f"Sheet {page} is only {full} full: drop {stickers}, or fill what is left.")
    return words or [f"No more of “{name}” fit at once; a longer look may find room."]


def looked_words(seconds: float, found: int, sheets: tuple[int, int], limits: Sequence[str]) -> str:
    """Return what a search for better layouts did.

    Args:
        seconds: how long it took.
        found: how many better ones there were.
        sheets: how many sheets there were before, and are now.
        limits: what is known to be in the way.
    """
    looked = f"Looked for {max(1, round(seconds))} s"
    if found:
        before, now = sheets
        less = f": {counted(now, 'sheet')} instead of {before}" if now < before else f", on {counted(now, 'sheet')}"
        return f"{looked} and found {counted(found, 'better layout')}; the best is kept{less}."
    limit = limits[0] if limits else "More copies need a larger sheet, or a smaller gap."
    return f"{looked} and found none better. {limit}"


def mark_words(costs: dict[MarkKind, int | None], sheet: SheetSpec, *, is_longer: bool = False) -> str:
    """Return how many copies a fresh sheet takes with each kind of mark, against the present.

    ``is_longer``: the present number was found by a longer look than the others were given.
    """
    here = costs[sheet.marks.kind]
    lines = []
    for kind, count in costs.items():
        if count is None:
            lines.append(f"{kind}: cannot stand here")
        elif is_longer and kind != sheet.marks.kind:
            lines.append(f"{kind}: at least {count} to a fresh sheet")
        else:
            lines.append(f"{kind}: {count} to a fresh sheet{_against(count, here)}")
    return "\n".join(lines)


def price_words(price: MarkPrice, sheet: SheetSpec, length: Callable[[float, int], str]) -> str:
    """Return what smaller marks give and take; what the reader adds is assumed, and said to be."""
    size = f"{length(price.length_mm, 1)} × {length(price.thickness_mm, 1)}"
    gain = "no more stickers" if price.more <= 0 else f"{price.more} more sticker{'s'[: price.more > 1]}"
    errors = f"{length(price.error_now_mm, 2)} to {length(price.error_mm, 2)}"
    return f"{size} marks: {gain}; error of the reading {errors} on {sheet.stock.gloss} stock (assumed, not measured)"


def _against(count: int, here: int | None) -> str:
    if here is None or count == here:
        return ""
    return f", {abs(count - here)} {'more' if count > here else 'fewer'}"


def full_words(plan: Plan, page: int) -> str:
    """Return how many stickers a sheet holds and how full it is."""
    if not plan.pages[page]:
        return f"Sheet {page + 1} of {len(plan.pages)}: used up. Start with a fresh sheet."
    stickers = counted(len(plan.pages[page]), "sticker")
    filled = whole_percent(plan.filled[page]).replace(" ", "\u00a0")  # or the sign begins a line
    return f"Sheet {page + 1} of {len(plan.pages)}: {stickers}, {filled} full"


def blade_words(way: BladePath, length: Callable[[float], str]) -> str:
    """Return how far a blade goes over a sheet, cutting and lifted."""
    cuts = counted(len(way.cuts), "cut")
    ways = f"{length(way.cut_mm)} cut, {length(way.lifted_mm)} lifted"
    return f"{cuts}, numbered in their order: {ways}; {duration(way.seconds)} at least."


def made_words(plan: Plan, sheet: SheetSpec) -> str:
    """Return how many stickers a layout holds, and what their stock costs where prices are known."""
    from honest_edge.core.sheet.costs import stock_cost  # loaded by now: there is a layout

    cost = stock_cost(plan, sheet)
    stock = f"; stock for {cost:.2f}, {cost / plan.copies:.2f} each" if cost is not None and plan.copies else ""
    return f"{counted(plan.copies, 'sticker')} in all{stock}"
