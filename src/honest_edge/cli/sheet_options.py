"""Options of the sheet: paper, bench, marks, and how copies are laid out."""

from __future__ import annotations

import argparse
import re
from dataclasses import replace
from pathlib import Path
from typing import get_args

from honest_edge.cli.typed import length
from honest_edge.core.values.errors import UsageError
from honest_edge.core.values.marks import MarkKind, with_mark_kind
from honest_edge.core.values.papers import PAPER_MM
from honest_edge.core.values.sheet import Arrangement, Grouping, SheetSpec, Turning
from honest_edge.core.values.stock import Stock


def add_sheet_options(command: argparse.ArgumentParser) -> None:
    """Add the options to a command."""
    add_paper_options(command)
    command.add_argument("--gap", help="least gap between neighbouring cut lines (default 2.5mm)")
    command.add_argument("--turning", choices=get_args(Turning), default="quarter", help="how copies may be turned")
    command.add_argument(
        "--grouping",
        choices=get_args(Grouping),
        default="mixed",
        help="designs mixed, one after another, or each on sheets of its own",
    )
    command.add_argument(
        "--arrangement",
        choices=get_args(Arrangement),
        default="tidy",
        help="in rows, upright, where that costs no sheet, or as tight as copies go (default tidy)",
    )
    command.add_argument(
        "--better", metavar="SECONDS", type=float, help="look so long for a layout better than the one made at once"
    )


def add_use_option(command: argparse.ArgumentParser, words: str) -> None:
    """Add the option that names profiles, explained by some words."""
    command.add_argument("--use", metavar="FILE", action="append", default=[], type=Path, help=words)


def add_paper_options(command: argparse.ArgumentParser) -> None:
    """Add the options of paper, bench and marks alone."""
    command.add_argument("--paper", choices=tuple(PAPER_MM), default="letter", help="paper size (default letter)")
    command.add_argument("--landscape", action="store_true", help="the paper lies on its side")
    add_use_option(command, "a profile of a machine, printer or stock as TOML or JSON; may be given several times")
    command.add_argument("--rim", help="what the printer cannot print at the paper’s edges (default 5mm)")
    kinds = tuple(kind.replace(" ", "-") for kind in get_args(MarkKind))
    command.add_argument("--marks", choices=kinds, help="what the cutter’s reader looks for (default three-brackets)")
    command.add_argument("--mark-length", help="length of a mark’s arms (default 18mm)")
    command.add_argument("--mark-thickness", help="thickness of the marks (default 1mm)")
    command.add_argument("--mark-inset", help="marks’ distance from the paper’s edges (default 12mm)")


def sheet_of(options: argparse.Namespace) -> SheetSpec:
    """Return the sheet that was asked for; what is typed goes over what a profile says.

    Raises:
        FileError: a profile cannot be read.
        UsageError: a value is impossible.
    """
    from honest_edge.files.profiles import load_profile

    sheet = SheetSpec(paper=options.paper, is_landscape=options.landscape)
    if "better" in options:
        if options.better is not None and not 0 < options.better <= 86_400:
            raise UsageError(f"--better must be above 0 and at most 86400 seconds, not {options.better:g}")
        gap_mm = length("--gap", options.gap, sheet.gap_mm)
        laid = {"turning": options.turning, "grouping": options.grouping, "arrangement": options.arrangement}
        sheet = replace(sheet, gap_mm=gap_mm, **laid)
    for path in options.use:
        sheet = sheet.with_profile(load_profile(path))
    marks = sheet.marks
    if options.marks is not None:
        marks = with_mark_kind(marks, options.marks.replace("-", " "))
    marks = replace(
        marks,
        length_mm=length("--mark-length", options.mark_length, marks.length_mm),
        thickness_mm=length("--mark-thickness", options.mark_thickness, marks.thickness_mm),
        inset_mm=length("--mark-inset", options.mark_inset, marks.inset_mm),
    )
    return replace(
        sheet.with_marks(marks),
        stock=stock_of(options.stock, sheet.stock),
        printer=replace(sheet.printer, rim_mm=length("--rim", options.rim, sheet.rim_mm)),
    )


def stock_of(text: str | None, usual: Stock) -> Stock:
    """Return the stock of a colour that was typed; ``usual`` where none was."""
    if text is None:
        return usual
    if text in ("white", "clear"):
        return Stock(is_clear=text == "clear")
    if not re.fullmatch(r"#[0-9a-fA-F]{6}", text):
        raise UsageError(f"--stock: “{text}” is no colour: write white, clear or a colour such as #d2b48c")
    return Stock(rgb=(int(text[1:3], 16), int(text[3:5], 16), int(text[5:7], 16)))
