"""The command ``bench``: targets, what pictures and readings of them tell, and what is wrong with a bench."""

from __future__ import annotations

import argparse
import math
import secrets
import sys
import time
from pathlib import Path
from typing import TYPE_CHECKING, Any

import msgspec

from honest_edge.cli.sheet_options import add_paper_options, add_sheet_options, add_use_option, sheet_of
from honest_edge.cli.targets import write_targets
from honest_edge.cli.typed import length, shown
from honest_edge.core.values.errors import ArtError, BlockedError, FileError, UsageError
from honest_edge.core.values.job import ASSUMED_DRIFT_MM

if TYPE_CHECKING:
    from honest_edge.app.bench.measuring import Measured
    from honest_edge.core.measure.diagnosis import Likely
    from honest_edge.core.values.bench_records import BenchSubject
    from honest_edge.core.values.measured import BenchBelief, MeasuredSheet
    from honest_edge.files.read_scan import Scan

_LETTERS = "ABCDEFGHJKLMNPQRSTUVWXYZ23456789"


def about_bench() -> dict[str, Any]:
    """Return how the command is explained."""
    return {
        "help": "measure how print and cut disagree on your bench",
        "description": "Print and cut a target, scan or photograph it, or read it by eye: what the next sheet will\n"
        "show is then measured, not assumed.",
        "epilog": "examples:\n  honest-edge bench target --paper a4 --out target\n"
        "  honest-edge bench measure scan-1.png scan-2.png --json measured.json --keep\n"
        "  honest-edge bench read readings.csv --target target/target.json\n"
        "  honest-edge bench diagnose measured.csv\n\n"
        "Measured is the cut against the print, from the middle of the marks: x right, y down, turns clockwise.\n"
        "Readings: a CSV with sheet,place,across,down; measurements: sheet,x_mm,y_mm,dx_mm,dy_mm.\n\n"
        "Exit codes: 0 done; 1 nothing could be measured; 2 wrong usage or unreadable input.",
    }


def add_bench(command: argparse.ArgumentParser) -> None:
    """Add what can be done with a bench."""
    acts = command.add_subparsers(dest="act", required=True, metavar="ACT")
    target = acts.add_parser("target", help="write the print and the cut file of a target")
    add_sheet_options(target)
    target.add_argument("--places", type=int, help="how many places (usual: 12 for a picture, 9 for the eye)")
    target.add_argument("--for", dest="kind", choices=("picture", "eye"), default="picture", help="how it is read")
    target.add_argument("--sheets", type=int, default=1, help="how many sheets, each numbered (default 1)")
    target.add_argument("--moved", metavar="A,B,C,D,E", help="move the cut: shift across, down (mm), turn (degrees), "
                        "scale across, down (percent)")  # fmt: skip
    target.add_argument("--out", required=True, type=Path, metavar="DIR", help="folder for the files")
    target.add_argument("--force", action="store_true", help="replace existing files")
    target.set_defaults(run=_target, stock=None)
    measure = acts.add_parser("measure", help="measure scans or photographs of targets that were cut and weeded")
    measure.add_argument("pictures", nargs="+", type=Path, metavar="PICTURE", help="PNG, JPEG, WebP, TIFF or BMP")
    measure.add_argument("--job", type=Path, metavar="FILE.hedge", help="they show weeded stickers of this job instead")
    measure.add_argument("--sheet", type=int, default=1, help="with --job: which of its sheets (default 1)")
    _add_results(measure)
    measure.set_defaults(run=_measure)
    read = acts.add_parser("read", help="take readings by eye")
    read.add_argument("readings", type=Path, metavar="READINGS.csv", help="sheet,place,across,down")
    read.add_argument(
        "--target", type=Path, metavar="FILE", help="target.json of the target; else as --paper and --use say"
    )
    read.add_argument("--places", type=int, help="how many places the target was asked for (default 9)")
    add_paper_options(read)
    _add_results(read, with_use=False)
    read.set_defaults(run=_read, stock=None)
    diagnose = acts.add_parser("diagnose", help="say what is likely wrong, by measurements or by answers")
    diagnose.add_argument("measured", type=Path, nargs="?", metavar="MEASURED.csv", help="sheet,x_mm,y_mm,dx_mm,dy_mm")
    diagnose.add_argument("--answers", metavar="KEY=yes,...", help=f"answers by eye: {_keys()}")
    diagnose.add_argument("--json", type=Path, metavar="FILE", help="write the causes as JSON")
    diagnose.add_argument("--force", action="store_true", help="replace an existing file")
    diagnose.set_defaults(run=_diagnose)


def _keys() -> str:
    return "same, turning, outward, down, one, next, none, wide"


def _add_results(command: argparse.ArgumentParser, *, with_use: bool = True) -> None:
    if with_use:
        add_use_option(command, "a profile of the machine or the printer that the sheets come from")
    command.add_argument("--drift", help="what was assumed of the bench, 19 times of 20 (default 0.5mm)")
    command.add_argument("--json", type=Path, metavar="FILE", help="write the result as JSON")
    command.add_argument("--csv", type=Path, metavar="FILE", help="write the places as CSV")
    command.add_argument("--keep", action="store_true", help="put the result into the Book")
    command.add_argument("--book", type=Path, metavar="FILE", help="another Book than your own")
    command.add_argument("--force", action="store_true", help="replace existing files")


def _target(options: argparse.Namespace) -> None:
    from honest_edge.app.bench.targets import target_files
    from honest_edge.core.values.measured import ErrorParts, parts_of
    from honest_edge.files.atomic_write import write_set

    moved = ErrorParts()
    if options.moved is not None:
        try:
            moved = parts_of(map(float, options.moved.split(",")))
        except ValueError:
            raise UsageError(f"--moved: “{options.moved}” are not five numbers with commas between") from None
    key = "".join(secrets.choice(_LETTERS) for _ in range(8))
    contents = target_files(
        sheet_of(options), key, kind=options.kind, places=options.places, sheets=options.sheets, correction=moved
    )
    write_set(options.out, contents, replace=options.force)
    print(f"{shown(options.out)}: {', '.join(contents)}")
    print("Print at 100 %, never “fit to page”; cut; lift out what is cut; then scan it, photograph it or read it.")


def _measure(options: argparse.Namespace) -> int:
    from honest_edge.app.bench.measuring import looked_at, measured_pictures
    from honest_edge.files.read_scan import read_scan

    scans, lost = [], []
    for path in options.pictures:
        try:
            scans.append(read_scan(path))
        except ArtError as error:
            lost.append(str(error))
    for words in lost:
        print(f"honest-edge: {words}", file=sys.stderr)
    if options.job is None:
        measured = measured_pictures([looked_at(scan) for scan in scans], _within(options))
    else:
        measured = _by_stickers(options, scans)
    return _tell(options, measured, _bench(options), unreadable=bool(lost) and not scans)


def _by_stickers(options: argparse.Namespace, scans: list[Scan]) -> Measured:
    from honest_edge.app.bench.sticker_sheets import measured_by_stickers, planned_sheet
    from honest_edge.app.output.composed_sheets import composed_sheets
    from honest_edge.app.results.pipeline import Pipeline
    from honest_edge.files.project import load_project

    project = load_project(options.job)
    sheets = composed_sheets(project.job, Pipeline(project.assets))
    print_file = sheets.print_file()
    if print_file is None:
        raise BlockedError(f"{options.job.name} prints nothing: its stickers have no art to be laid over")
    moved = project.job.cut_moved_by
    planned = planned_sheet(sheets.plan, sheets.results, print_file, options.sheet - 1, moved)
    return measured_by_stickers(scans, planned, _within(options))


def _read(options: argparse.Namespace) -> int:
    from honest_edge.app.bench.measuring import measured_readings
    from honest_edge.core.measure.combs import comb_places
    from honest_edge.core.values.bench_records import BenchSubject
    from honest_edge.files.measured_tables import read_readings
    from honest_edge.files.read_input import read_input
    from honest_edge.files.target_record import read_target

    readings = read_readings(read_input(options.readings, 5_000_000), options.readings.name)
    if options.target is not None:
        target = read_target(options.target)
        places, key, bench = target.places_mm, target.key, BenchSubject(machine=target.machine, printer=target.printer)
    else:
        sheet = sheet_of(options)
        places, key = comb_places(sheet, options.places or 9).from_middle, ""
        bench = BenchSubject(machine=sheet.machine.name, printer=sheet.printer.name)
    return _tell(options, measured_readings(readings, places, _within(options), key=key), bench)


def _within(options: argparse.Namespace) -> float:
    return length("--drift", options.drift, ASSUMED_DRIFT_MM)


def _bench(options: argparse.Namespace) -> BenchSubject:
    from honest_edge.core.values.bench_records import BenchSubject
    from honest_edge.core.values.sheet import SheetSpec
    from honest_edge.files.profiles import load_profile

    sheet = SheetSpec()
    for path in options.use:
        sheet = sheet.with_profile(load_profile(path))
    return BenchSubject(machine=sheet.machine.name, printer=sheet.printer.name)


def _tell(options: argparse.Namespace, found: Measured, bench: BenchSubject, *, unreadable: bool = False) -> int:
    """Say what was measured, write it and keep it; return the exit code."""
    from honest_edge.app.bench.measuring import ONE_SHEET
    from honest_edge.core.measure.bench_error import WeighedSheet, believed
    from honest_edge.files.measured_tables import measured_csv

    warnings = [*found.warnings, *([ONE_SHEET] if len(found.sheets) == 1 else [])]
    for words in warnings:
        print(f"honest-edge: {words}", file=sys.stderr)
    if not found.sheets:
        return 2 if unreadable else 1
    belief = believed([WeighedSheet(sheet=sheet) for sheet in found.sheets], _within(options))
    if options.keep:
        _keep(options, found.sheets, bench)
    record = {"sheets": [_sheet(sheet) for sheet in found.sheets], "bench": _belief(belief), "warnings": warnings}
    write_targets({options.json: _json(record), options.csv: measured_csv(found.sheets)}, force=options.force)
    for sheet in found.sheets:
        e = sheet.error
        print(
            f"{sheet.picture}: {e.shift_x_mm:+.3f} mm right, {e.shift_y_mm:+.3f} mm down, {e.rotation_deg:+.4f}° "
            f"clockwise, {e.scale_x_percent:+.3f} % wider, {e.scale_y_percent:+.3f} % longer, {sheet.repeat_mm:.3f} mm "
            f"from place to place; {len(sheet.used)} of {len(sheet.places)} places"
        )
    return 0


def _keep(options: argparse.Namespace, sheets: tuple[MeasuredSheet, ...], bench: BenchSubject) -> None:
    from honest_edge.core.values.bench_records import kept_sheet
    from honest_edge.files.book.keeping import open_book
    from honest_edge.files.book.place import book_path
    from honest_edge.files.book.records import MEASURED

    now_ms = time.time_ns() // 1_000_000
    with open_book(book_path(options.book), now_ms).book as book:
        kept = [kept_sheet(sheet, bench, secrets.token_hex(16)) for sheet in sheets]
        book.add([MEASURED.event(record, secrets.token_hex(16), now_ms) for record in kept])
        print(
            f"{bench.machine} with {bench.printer}: {len(kept)} measured sheet{'s'[: len(kept) > 1]} kept in the Book"
        )


def _json(record: object) -> bytes:
    return msgspec.json.format(msgspec.json.encode(record), indent=2) + b"\n"


def _sheet(sheet: MeasuredSheet) -> dict[str, Any]:
    from honest_edge.core.values.measured import PART_NAMES

    return {
        "picture": sheet.picture,
        **dict(zip(PART_NAMES, sheet.error.values, strict=True)),
        "repeat_mm": sheet.repeat_mm,
        "places": [
            {
                "x_mm": p.x_mm,
                "y_mm": p.y_mm,
                "dx_mm": None if math.isnan(p.dx_mm) else p.dx_mm,
                "dy_mm": None if math.isnan(p.dy_mm) else p.dy_mm,
                "used": p.used,
                "why": p.why,
            }
            for p in sheet.places
        ],
    }


def _belief(belief: BenchBelief | None) -> dict[str, Any]:
    from honest_edge.core.values.measured import PART_NAMES

    if belief is None:
        return {}
    answer: dict[str, Any] = {
        name: {"mean": part.mean, "spread": part.spread, "degrees_of_freedom": part.degrees_of_freedom}
        for name, part in zip(PART_NAMES, belief.parts, strict=True)
    }
    return {**answer, "repeat_mm": belief.repeat_mm}


def _diagnose(options: argparse.Namespace) -> None:
    from honest_edge.core.measure.diagnosis import causes_by_answers, causes_of
    from honest_edge.core.measure.remedies import TITLES, remedies_of, telling_apart
    from honest_edge.files.atomic_write import write_set
    from honest_edge.files.measured_tables import read_measured
    from honest_edge.files.read_input import read_input

    if (options.measured is None) == (options.answers is None):
        raise UsageError("bench diagnose takes a table of measurements, or --answers: one of them")
    causes: tuple[Likely, ...]
    if options.measured is not None:
        causes = causes_of(read_measured(read_input(options.measured, 5_000_000), options.measured.name))
    else:
        causes = causes_by_answers(_answers(options.answers))
    remedies = remedies_of(causes)
    if options.json is not None:
        record = {"causes": [{"cause": c.cause, "probability": c.probability} for c in causes], "remedies": remedies}
        write_set(options.json.parent, {options.json.name: _json(record)}, replace=options.force)
    for likely in causes[:2]:
        print(f"{TITLES[likely.cause]}: {100 * likely.probability:.0f} %")
    for words in remedies:
        print(f"- {words}")
    apart = telling_apart(causes)
    if apart:
        print(f"To tell them apart: {apart}")


def _answers(text: str) -> dict[str, bool]:
    known = _keys().split(", ")
    answers: dict[str, bool] = {}
    for part in text.split(","):
        key, _, value = part.strip().partition("=")
        if key not in known or value not in ("yes", "no"):
            raise UsageError(f"--answers: “{part.strip()}” is no answer: write {known[0]}=yes or {known[0]}=no; "
                             f"the questions are {_keys()}")  # fmt: skip
        answers[key] = value == "yes"
    return answers


def measured_of(options: argparse.Namespace, machine: str, printer: str) -> Any:
    """Return what the Book says of a bench, as a job carries it.

    Raises:
        FileError: there is no Book.
        BlockedError: nothing of this bench was measured since its steady part changed.
    """
    from honest_edge.app.bench.bench_history import bench_history, benches_in
    from honest_edge.core.values.bench_records import BenchSubject
    from honest_edge.files.book.keeping import open_book
    from honest_edge.files.book.place import book_path

    path, now_ms = book_path(options.book), time.time_ns() // 1_000_000
    if not path.exists():
        raise FileError(f"--bench measured: there is no Book at {path}: measure a target with “bench measure --keep”")
    with open_book(path, now_ms).book as book:
        bench = BenchSubject(machine=machine, printer=printer)
        copy = bench_history(book, bench, ASSUMED_DRIFT_MM, now_ms).copy
        if copy is None:
            others = ", ".join(f"{b.machine} with {b.printer}" for b in benches_in(book)) or "none"
            raise BlockedError(
                f"The Book knows no measurement of {machine} with {printer} that still holds (measured: {others}): "
                "measure a target, or leave --bench out"
            )
        return copy
