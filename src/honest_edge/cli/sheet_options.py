"""Options of the sheet: paper, bench, marks, and how copies are laid out."""

from __future__ import annotations

import argparse
import re
from collections.abc import Sequence
from dataclasses import replace
from pathlib import Path
from typing import cast, get_args

from honest_edge.cli.typed import length
from honest_edge.core.values.errors import UsageError
from honest_edge.core.values.machine import Machine
from honest_edge.core.values.marks import MarkKind, with_mark_kind
from honest_edge.core.values.papers import PAPER_MM
from honest_edge.core.values.printer import Printer
from honest_edge.core.values.recipe import LineSettings
from honest_edge.core.values.sheet import Arrangement, Grouping, SheetSpec, Turning
from honest_edge.core.values.sides import Sides
from honest_edge.core.values.specs import LineKind
from honest_edge.core.values.stock import Stock


def add_sheet_options(command: argparse.ArgumentParser) -> None:
    """Add the options to a command."""
    add_paper_options(command)
    command.add_argument(
        "--setting",
        action="append",
        default=[],
        metavar="LINE=WORDS",
        help='what the machine is set to for a kind of line: --setting "kiss=force 84, 40 mm/s, 2 passes"',
    )
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
    by_side = "one length, or four by side: TOP,RIGHT,BOTTOM,LEFT"
    command.add_argument("--rim", help=f"what the printer cannot print at the paper’s edges (default 5mm): {by_side}")
    command.add_argument("--margins", help=f"where the machine cannot cut at the paper’s edges: {by_side}")
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
        sheet = replace(sheet, gap_mm=gap_mm, settings=_settings(options.setting), **laid)
    settings = sheet.settings
    for path in options.use:
        sheet = sheet.with_profile(load_profile(path))
    sheet = replace(sheet, settings=settings)
    marks = sheet.marks
    if options.marks is not None:
        marks = with_mark_kind(marks, options.marks.replace("-", " "))
    marks = replace(
        marks,
        length_mm=length("--mark-length", options.mark_length, marks.length_mm),
        thickness_mm=length("--mark-thickness", options.mark_thickness, marks.thickness_mm),
        inset_mm=length("--mark-inset", options.mark_inset, marks.inset_mm),
    )
    sheet = sheet.with_marks(marks)
    if options.margins is not None:
        sheet = replace(sheet, machine=_with_margins(sheet.machine, options.margins))
    return replace(
        sheet,
        stock=stock_of(options.stock, sheet.stock),
        printer=_with_rim(sheet.printer, options.rim),
    )


def _settings(texts: Sequence[str]) -> LineSettings:
    from honest_edge.core.workshop.setting_words import setting_of

    settings, kinds = LineSettings(), get_args(LineKind)
    for text in texts:
        kind, _, words = text.partition("=")
        if kind not in kinds or not words.strip():
            raise UsageError(f"--setting “{text}”: write a kind of line and what is set, as kiss=force 84, 2 passes")
        settings = settings.with_setting(cast("LineKind", kind), setting_of(words))
    return settings


def _with_rim(printer: Printer, text: str | None) -> Printer:
    if text is None:
        return printer
    if "," in text:
        return replace(printer, rims_mm=_sides("--rim", text))
    return replace(printer, rim_mm=length("--rim", text, 0.0), rims_mm=None)


def _with_margins(machine: Machine, text: str) -> Machine:
    alike = Sides.alike(length("--margins", text, 0.0)) if "," not in text else _sides("--margins", text)
    return replace(machine, margins_mm=alike)


def _sides(option: str, text: str) -> Sides:
    parts = text.split(",")
    if len(parts) != 4:
        raise UsageError(f"{option} “{text}”: write one length, or four as TOP,RIGHT,BOTTOM,LEFT")
    return Sides(*(length(option, part.strip(), 0.0) for part in parts))


def stock_of(text: str | None, usual: Stock) -> Stock:
    """Return the stock of a colour that was typed; ``usual`` where none was."""
    if text is None:
        return usual
    if text in ("white", "clear"):
        return Stock(is_clear=text == "clear")
    if not re.fullmatch(r"#[0-9a-fA-F]{6}", text):
        raise UsageError(f"--stock: “{text}” is no colour: write white, clear or a colour such as #d2b48c")
    return Stock(rgb=(int(text[1:3], 16), int(text[3:5], 16), int(text[5:7], 16)))
