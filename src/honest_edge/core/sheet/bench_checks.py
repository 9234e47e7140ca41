"""What of a machine, a printer and a stock does not go together, each with the way out."""

from __future__ import annotations

from collections.abc import Collection, Iterator

from honest_edge.core.sheet.mark_checks import mark_warnings
from honest_edge.core.values.sheets import SheetSpec, Stock
from honest_edge.core.values.specs import LineKind

_LARGEST_GROWTH_MM = 0.3
"""A print that grows by more between the marks is said; common practice, no published source."""


def sheet_warnings(sheet: SheetSpec, kinds: Collection[LineKind]) -> Iterator[str]:
    """Yield what speaks against printing and cutting so; ``kinds`` are the lines cut on the printed sheets."""
    yield from _of_stock(sheet.stock, kinds)
    yield from _of_printer(sheet)
    yield from mark_warnings(sheet)


def _of_stock(stock: Stock, kinds: Collection[LineKind]) -> Iterator[str]:
    if "kiss" in kinds and not stock.has_liner:
        yield f"“{stock.name}” has no liner, so a kiss cut goes through: cut through, or take stock on a liner"
    if not stock.is_printable:
        yield f"Ink does not hold on “{stock.name}”: print on another stock and glue it on"


def _of_printer(sheet: SheetSpec) -> Iterator[str]:
    printer = sheet.printer
    if sheet.paper not in printer.papers:
        yield f"{printer.name} takes no {sheet.paper_title}: choose another paper, or another printer"
    ways = (("wide", printer.scale_x_percent, 0), ("high", printer.scale_y_percent, 1))
    for way, percent, side in ways:
        between = sheet.size_mm[side] - 2 * sheet.marks.inset_mm
        if abs(percent) / 100 * between > _LARGEST_GROWTH_MM:
            yield (
                f"{printer.name} prints {abs(percent):g} % too {way if percent > 0 else _OPPOSITE[way]}: "
                "correct it in its driver, and measure the printed ruler"
            )


_OPPOSITE = {"wide": "narrow", "high": "low"}
