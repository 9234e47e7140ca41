"""What of a machine, a printer and a stock does not go together, each with the way out."""

from __future__ import annotations

from collections.abc import Collection, Iterator
from dataclasses import replace

from honest_edge.core.proof import register
from honest_edge.core.proof.mark_checks import mark_findings
from honest_edge.core.values.findings import Finding, Fix, Quantity, Subject
from honest_edge.core.values.sheet import SheetSpec
from honest_edge.core.values.specs import LineKind

_LARGEST_GROWTH_MM = 0.3
"""A print that grows by more between the marks is said; common practice, no published source."""

SHEET = Subject(kind="sheet")


def sheet_findings(sheet: SheetSpec, kinds: Collection[LineKind]) -> tuple[Finding, ...]:
    """Return what speaks against printing and cutting so; ``kinds`` are the lines cut on the printed sheets."""
    return (*_of_stock(sheet, kinds), *_of_printer(sheet), *_of_tools(sheet, kinds), *mark_findings(sheet))


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


def _of_tools(sheet: SheetSpec, kinds: Collection[LineKind]) -> Iterator[Finding]:
    """Find kinds of cut that the machine could not tell apart, or would do in the wrong order."""
    machine, lines = sheet.machine, sheet.machine.lines
    if not {"kiss", "through"} <= set(kinds):
        return
    kiss, through = lines.kiss, lines.through
    is_apart = kiss.alone or through.alone
    if not is_apart and (kiss.colour == through.colour or kiss.pen == through.pen):
        alone = replace(machine, lines=lines.with_use("through", replace(through, alone=True)))
        yield register.TOOLS.found(
            replace(SHEET, kind="line", line="through"),
            f"{machine.name} takes kiss and through cuts with one tool in one pass, so both go equally deep",
            "give the through cut a file of its own",
            fix=Fix(words="A file of its own for through cuts", sheet=sheet.with_profile(alone)),
        )
    elif not is_apart and kiss.pen > through.pen:
        swapped = lines.with_use("kiss", replace(kiss, pen=through.pen)).with_use(
            "through", replace(through, pen=kiss.pen)
        )
        yield register.ORDER.found(
            replace(SHEET, kind="line", line="through"),
            f"{machine.name} takes its tools by number, and cuts through (tool {through.pen}) before it kiss-cuts "
            f"(tool {kiss.pen}): a freed sticker moves",
            "kiss first, then through",
            measured=Quantity(value=through.pen, unit=""),
            needed=Quantity(value=kiss.pen, unit=""),
            fix=Fix(words="Kiss first, then through", sheet=sheet.with_profile(replace(machine, lines=swapped))),
        )


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
