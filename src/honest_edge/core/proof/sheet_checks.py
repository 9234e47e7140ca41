"""What of a machine, a printer and a stock does not go together, each with the way out."""

from __future__ import annotations

from collections.abc import Collection, Iterator
from dataclasses import replace

from honest_edge.core.proof import register
from honest_edge.core.proof.mark_checks import mark_findings
from honest_edge.core.values.findings import Finding, Quantity, Subject
from honest_edge.core.values.sheet import SheetSpec
from honest_edge.core.values.specs import LineKind

_LARGEST_GROWTH_MM = 0.3
"""A print that grows by more between the marks is said; common practice, no published source."""

SHEET = Subject(kind="sheet")


def sheet_findings(sheet: SheetSpec, kinds: Collection[LineKind]) -> tuple[Finding, ...]:
    """Return what speaks against printing and cutting so; ``kinds`` are the lines cut on the printed sheets."""
    return (*_of_stock(sheet, kinds), *_of_printer(sheet), *mark_findings(sheet))


def _of_stock(sheet: SheetSpec, kinds: Collection[LineKind]) -> Iterator[Finding]:
    stock = sheet.stock
    if "kiss" in kinds and not stock.has_liner:
        yield register.LINER.found(
            replace(SHEET, kind="line", line="kiss"),
            f"“{stock.name}” has no liner, so a kiss cut goes through",
            "cut through, or take stock on a liner",
        )
    if not stock.is_printable:
        yield register.INK.found(SHEET, f"Ink does not hold on “{stock.name}”", "print on another stock and glue it on")


def _of_printer(sheet: SheetSpec) -> Iterator[Finding]:
    printer = sheet.printer
    if sheet.paper not in printer.papers:
        yield register.PAPER.found(
            SHEET, f"{printer.name} takes no {sheet.paper_title}", "choose another paper, or another printer"
        )
    ways = (("wide", printer.scale_x_percent, 0), ("high", printer.scale_y_percent, 1))
    for way, percent, side in ways:
        growth_mm = abs(percent) / 100 * (sheet.size_mm[side] - 2 * sheet.marks.inset_mm)
        if growth_mm > _LARGEST_GROWTH_MM:
            yield register.PRINTER_SCALE.found(
                SHEET,
                f"{printer.name} prints {abs(percent):g} % too {way if percent > 0 else _OPPOSITE[way]}",
                "correct it in its driver, and measure the printed ruler",
                measured=Quantity(value=growth_mm, unit="mm"),
                needed=Quantity(value=_LARGEST_GROWTH_MM, unit="mm"),
            )


_OPPOSITE = {"wide": "narrow", "high": "low"}
