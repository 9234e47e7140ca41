"""The command ``cut``: one sheet sent to a machine that takes an open language."""

from __future__ import annotations

import argparse
import sys
from dataclasses import replace
from pathlib import Path
from typing import TYPE_CHECKING, Any

from honest_edge.cli.typed import shown
from honest_edge.core.values.errors import BlockedError, UsageError

if TYPE_CHECKING:
    from honest_edge.core.sheet.strokes import Seat, Stroke
    from honest_edge.core.values.machine import Machine
    from honest_edge.core.values.sheet import SheetSpec

_UNTRIED = (
    "This machine was never tried with a pen: its corner, axes and scale are taken as its profile says. Run lets a pen "
    "draw first.\n"
)
_UPRIGHT = "PATH, such as /dev/usb/lp0 or a file that is not there yet"


def about_cut() -> dict[str, Any]:
    """Return how the command is explained."""
    return {
        "help": "cut one sheet on a machine that takes HP-GL or G-code",
        "description": "Send one sheet of a job to a machine that takes HP-GL or G-code, over TCP, a serial port, a\n"
        "device or into a file. Nothing moves before it was said what would, and agreed to.\n"
        "The manual of the machine’s maker comes first; this was tried on the simulated cutter alone.",
        "epilog": "examples:\n  honest-edge cut labels.hedge --to tcp://localhost:9100 --language gcode --unaligned\n"
        "  honest-edge cut labels.hedge --to serial:/dev/ttyUSB0?baud=115200 --language gcode --aligned marks.json\n"
        "  honest-edge cut labels-files --to sheet.hpgl --language hpgl --unaligned --yes\n\n"
        "Exit codes: 0 done; 1 it cannot be cut, was not agreed to, or stopped midway; 2 wrong usage, unreadable\n"
        "input, or no way to the machine.",
    }


def add_cut(command: argparse.ArgumentParser) -> None:
    """Add the command's options."""
    command.add_argument("path", metavar="JOB|FOLDER", type=Path, help="a *.hedge job, or a folder of written files")
    command.add_argument("--sheet", type=int, default=1, help="which sheet (default 1)")
    command.add_argument(
        "--to", metavar="WAY", required=True, help=f"tcp://HOST:PORT, serial:PATH?baud=9600, queue:NAME, or {_UPRIGHT}"
    )
    command.add_argument("--language", required=True, help="what the machine takes: hpgl, or gcode")
    command.add_argument(
        "--use", metavar="PROFILE", help="another machine: the name of a profile of yours, or its file"
    )
    seat = command.add_mutually_exclusive_group()
    seat.add_argument("--aligned", metavar="FILE.json", type=Path, help="where a hand found the marks, in mm")
    seat.add_argument("--unaligned", action="store_true", help="the sheet’s bottom left is the machine’s corner")
    command.add_argument("--from", dest="first", metavar="LINE", type=int, default=1, help="go on from this line")
    command.add_argument("--yes", action="store_true", help="agree to what would move, without being asked")
    command.set_defaults(run=run_cut)


def run_cut(options: argparse.Namespace) -> None:
    """Say what would move, ask, and cut."""
    from honest_edge.core.sheet.strokes import seated
    from honest_edge.files.languages import LANGUAGES
    from honest_edge.files.send_cut import CutSender, CutStoppedError
    from honest_edge.files.ways import open_way

    language = LANGUAGES.get(options.language)
    if language is None:
        raise UsageError(f"--language “{options.language}” is none that is spoken here: {', '.join(LANGUAGES)}")
    strokes_there, sheet, height_mm = _sheet(options)
    machine = sheet.machine
    there = seated(strokes_there, _seat(options, sheet, height_mm), height_mm, machine)
    if not 1 <= options.first <= len(there):
        raise UsageError(f"--from {options.first}: this sheet has lines 1 to {len(there)}")
    _tell(options, there, machine)
    if not options.yes and not _agreed():
        raise BlockedError("It was not agreed to: nothing was moved")
    way = open_way(options.to)
    try:
        sender = CutSender(way, language, machine)
        sender.send(there, first=options.first - 1, told=lambda done: _progress(done, len(there)), waits=_waits)
    except CutStoppedError as stop:
        raise BlockedError(f"{stop}. {_left(stop.sure, stop.perhaps, len(there))}") from None
    finally:
        way.close()
    lines = f"{len(there) - options.first + 1} lines"
    print(
        f"Cut {lines}." if sender.is_answered else f"Sent {lines} to {way.name}; nothing tells whether they were cut."
    )


def _waits(why: str) -> None:
    print(f"\nThe machine waits: {why}." if why else "\nIt goes on.", file=sys.stderr, flush=True)


def _sheet(options: argparse.Namespace) -> tuple[tuple[Stroke, ...], SheetSpec, float]:
    """Return the strokes of the sheet that is asked for, the sheet it is laid for, and its height."""
    if options.path.is_dir():
        return _of_folder(options)
    from honest_edge.app.results.compute_overview import compute_overview
    from honest_edge.app.results.pipeline import Pipeline
    from honest_edge.core.sheet.strokes import strokes
    from honest_edge.files.project import load_project
    from honest_edge.files.sheet_page import sheet_page

    loaded = load_project(options.path)
    job = replace(loaded.job, sheet=_with_machine(loaded.job.sheet, options.use))
    overview = compute_overview(job, Pipeline(loaded.assets))
    if overview.plan is None or overview.holding is not None:
        raise BlockedError(f"{shown(options.path)} cannot be cut yet: {overview.why_unwritten}")
    _check_sheet(options.sheet, len(overview.plan.pages))
    page = sheet_page(overview.plan, options.sheet - 1, [one.cut for one in overview.laid], job.sheet.machine)
    return strokes(page.cuts, job.sheet.cutter), job.sheet, page.height_mm


def _of_folder(options: argparse.Namespace) -> tuple[tuple[Stroke, ...], SheetSpec, float]:
    """Return what the files of a folder hold of a sheet: its lines as they were written."""
    from honest_edge.app.output.written_cuts import written_strokes

    lines, height_mm, sheets, sheet = written_strokes(options.path, options.sheet)
    _check_sheet(options.sheet, sheets)
    return lines, _with_machine(sheet, options.use), height_mm


def _check_sheet(sheet: int, sheets: int) -> None:
    if not 1 <= sheet <= sheets:
        raise UsageError(f"--sheet {sheet}: there {'is one sheet' if sheets == 1 else f'are sheets 1 to {sheets}'}")


def _with_machine(sheet: SheetSpec, use: str | None) -> SheetSpec:
    if use is None:
        return sheet
    import platformdirs

    from honest_edge.core.values.machine import Machine
    from honest_edge.files.profiles import ProfileFolder, parse_profile
    from honest_edge.files.read_input import read_input

    path = Path(use)
    if path.suffix.lower() in (".toml", ".json") and path.exists():
        profile = parse_profile(read_input(path, 64_000), path.name)
        if not isinstance(profile, Machine):
            raise UsageError(f"--use {use}: that is no profile of a machine")
        return replace(sheet, machine=profile)
    folder = ProfileFolder(Path(platformdirs.user_config_dir("honest-edge")) / "profiles")
    named = [one for one in folder.all("machine") if one.name == use]
    if not named or not isinstance(named[0], Machine):
        names = ", ".join(f"“{one.name}”" for one in folder.all("machine"))
        raise UsageError(f"--use “{use}”: there is no such profile; there are {names}")
    return replace(sheet, machine=named[0])


def _seat(options: argparse.Namespace, sheet: SheetSpec, height_mm: float) -> Seat:
    from honest_edge.core.sheet.strokes import Seat

    if options.unaligned:
        return Seat()
    if options.aligned is None:
        raise BlockedError(
            "It is not known how the sheet lies: name where a hand found its marks (--aligned FILE.json), or say that "
            "its bottom left is the machine’s corner (--unaligned)"
        )
    from honest_edge.core.measure.hand_alignment import aligned_by_hand
    from honest_edge.core.sheet.marks import aims_of
    from honest_edge.files.read_alignment import read_alignment
    from honest_edge.files.read_input import read_input

    data = read_input(options.aligned, 1_000_000)
    seat = aligned_by_hand(read_alignment(data, options.aligned.name, aims_of(sheet), height_mm))
    print(
        f"Aligned by {len(seat.left_over_mm)} marks: {seat.remaining_mm:.2f} mm will remain (root mean square), "
        f"within {seat.within_mm:.2f} mm 19 times of 20."
    )
    if seat.doubtful:
        raise BlockedError(
            f"Read the mark at the {seat.doubtful} again: it lies {seat.left_over_mm[seat.doubtful]:.2f} mm beside "
            "where the others say it does"
        )
    return seat.seat


def _tell(options: argparse.Namespace, there: tuple[Stroke, ...], machine: Machine) -> None:
    """Say what will move and where to."""
    from honest_edge.core.sheet.strokes import box_of

    left, bottom, right, top = box_of(there)
    kinds: dict[str, int] = {}
    for one in there:
        kinds[one.kind] = kinds.get(one.kind, 0) + 1
    first = there[options.first - 1].points[0]
    length = sum(one.length_mm for one in there[options.first - 1 :]) / 1000
    listed = ", ".join(f"{count} {kind}" for kind, count in kinds.items())  # files hold several kinds together
    print(
        f"{machine.name}, sheet {options.sheet}: {len(there) - options.first + 1} lines"
        f"{'' if options.path.is_dir() else f' ({listed} in all)'}, {length:.2f} m.\n"
        f"The blade will travel lifted to {first[0]:.1f}, {first[1]:.1f} mm from the machine’s corner, then cut within "
        f"{left:.1f} to {right:.1f} mm across and {bottom:.1f} to {top:.1f} mm along.\n"
        f"{'' if machine.direct.is_tried else _UNTRIED}"
        "Clear the way of the blade, and keep your hands away. Ctrl+C stops it."
    )


def _agreed() -> bool:
    try:
        return input("Cut? [y/N] ").strip().lower() in ("y", "yes")
    except (EOFError, OSError):  # nobody is there to ask
        return False


def _progress(done: int, whole: int) -> None:
    if sys.stderr.isatty():
        print(f"\rline {done} of {whole}", end="" if done < whole else "\n", file=sys.stderr, flush=True)


def _left(sure: int, perhaps: int, whole: int) -> str:
    """Return what was surely cut, what perhaps, and what not."""
    words = f"Of {whole} lines {sure} {'was' if sure == 1 else 'were'} surely cut"
    if perhaps:
        words += f", {f'line {sure + 1} perhaps' if perhaps == 1 else f'lines {sure + 1} to {sure + perhaps} perhaps'}"
    after = sure + perhaps
    if after >= whole:
        return f"{words}."
    return f"{words}; go on with --from {sure + 1}, or with --from {after + 1} where the sheet shows that line whole"
