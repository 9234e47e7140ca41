"""The command line: the same pipeline without a window."""

from __future__ import annotations

import argparse
import sys
import time
from collections.abc import Sequence
from dataclasses import replace
from functools import partial
from pathlib import Path
from typing import TYPE_CHECKING, Any, NoReturn, get_args

import msgspec

from honest_edge.cli.bench import about_bench, add_bench
from honest_edge.cli.book import about_book, add_book
from honest_edge.cli.check import about_check, add_check
from honest_edge.cli.error_options import add_error_options, error_of, with_error
from honest_edge.cli.plan import about_plan, add_plan
from honest_edge.cli.rehearse import about_rehearse, add_rehearse
from honest_edge.cli.sheet_options import add_sheet_options, add_use_option, sheet_of, stock_of
from honest_edge.cli.sizes import add_sizes, asked_width, sized
from honest_edge.cli.targets import write_targets
from honest_edge.cli.typed import length, pair, shown
from honest_edge.core.values.errors import BlockedError, FileError, HeldError, HonestEdgeError, UsageError
from honest_edge.core.values.names import readable
from honest_edge.core.values.sheet import SheetSpec
from honest_edge.core.values.specs import (
    SCHOOL_DEFAULTS,
    ArtSource,
    BleedFill,
    EdgeRecipe,
    OutlineRecipe,
    check_copies,
)
from honest_edge.core.values.units import Unit, format_length
from honest_edge.files.file_kinds import PROJECT_SUFFIX

if TYPE_CHECKING:
    from honest_edge.app.results.pipeline import Pipeline
    from honest_edge.core.geometry.paths import CurveRing
    from honest_edge.core.imaging.background import Subject
    from honest_edge.core.imaging.leaks import Leak
    from honest_edge.core.imaging.recognise import Likeness
    from honest_edge.core.outline.outline import Outline
    from honest_edge.core.values.artwork import Artwork
    from honest_edge.core.values.job import Job

DONE, BLOCKED, WRONG = 0, 1, 2

_LENGTH_HELP = "Lengths take a unit: 60mm, 2.5in, 3/16in, 1cm."
_EXITS = "Exit codes: 0 done; 1 blocked by what the art or the job is; 2 wrong usage or unreadable input."


class _Parser(argparse.ArgumentParser):
    """Says what is wrong in one line instead of repeating the whole usage."""

    def error(self, message: str) -> NoReturn:
        self.exit(WRONG, f"honest-edge: {message} (see {self.prog} --help)\n")


def parser() -> argparse.ArgumentParser:
    """Return the parser of the commands."""
    top = _Parser(prog="honest-edge", description="Print-then-cut stickers with an honest edge.")
    commands = top.add_subparsers(dest="command", required=True)
    as_written = argparse.RawDescriptionHelpFormatter
    _add_outline(commands.add_parser("outline", formatter_class=as_written, **_about_outline()))
    _add_prepare(commands.add_parser("prepare", formatter_class=as_written, **_about_prepare()))
    _add_profile(commands.add_parser("profile", formatter_class=as_written, **_about_profile()))
    add_check(commands.add_parser("check", formatter_class=as_written, **about_check()))
    add_rehearse(commands.add_parser("rehearse", formatter_class=as_written, **about_rehearse()))
    add_plan(commands.add_parser("plan", formatter_class=as_written, **about_plan()))
    add_bench(commands.add_parser("bench", formatter_class=as_written, **about_bench()))
    add_book(commands.add_parser("book", formatter_class=as_written, **about_book()))
    return top


def _about_outline() -> dict[str, Any]:
    return {
        "help": "trace the outline of one picture",
        "description": "Trace the outline of one picture at its finished width, to a fraction of a pixel, and say\n"
        f"what was found. {_LENGTH_HELP}",
        "epilog": "example:\n  honest-edge outline teapot.png --art-width 60mm --svg teapot-outline.svg\n\n"
        "The SVG is in millimetres, as large as the art, with its origin at the art’s top left and one\n"
        f"path for each ring.\n\n{_EXITS}",
    }


def _about_profile() -> dict[str, Any]:
    return {
        "help": "forecast how the cut edge of one picture comes out",
        "description": "Say what share of stickers comes out clean: without white wider, and without detail cut\n"
        f"deeper, than what is seen. {_LENGTH_HELP}",
        "epilog": "example:\n"
        "  honest-edge profile teapot.png --cut-width 60mm --school bleed --bleed 1mm --shift 0.3mm \\\n"
        "              --rotate 0.1deg --scale 0.1% --at 120mm,80mm --json teapot-edge.json\n\n"
        "--shift, --rotate and --scale are one standard deviation, the first and the last per axis; --bias is the\n"
        "mean of the shift. --at is the sticker’s place counted from the middle of the marks, x right, y down.\n"
        f"Without any of them, print and cut are assumed to agree within 0.5mm, 19 times of 20.\n\n{_EXITS}",
    }


def _about_prepare() -> dict[str, Any]:
    return {
        "help": "write the print file and the cut files",
        "description": "Trace pictures, set the cut line, carry colour past it, lay copies out on sheets with\n"
        "registration marks, and write print.pdf, cut-1.svg, cut-1.dxf ..., ticket.pdf and report.json.\n"
        f"{_LENGTH_HELP}",
        "epilog": "examples:\n"
        "  honest-edge prepare teapot.png --cut-width 60mm --copies 12 --out teapots\n"
        "  honest-edge prepare lid.png tag.png --cut-width 2in --school bleed --bleed 1/16in \\\n"
        "              --paper a4 --out labels --force\n"
        "  honest-edge prepare bee.png --cut-width 50mm --copies 60 --use plotter.toml --turning free \\\n"
        "              --better 30 --out bees\n\n"
        "Print at 100 %, never “fit to page”. Print and cut files share one origin, the sheet’s top left\n"
        f"(DXF: bottom left, y upward).\n\n{_EXITS}",
    }


def _add_art_options(command: argparse.ArgumentParser) -> None:
    command.add_argument(
        "--background",
        choices=("auto", "alpha", "flood", "colour", "none"),
        default="auto",
        help="how art is told from background: transparency (alpha), the border’s colour inward (flood) or "
        "everywhere (colour), keep the whole rectangle (none), or whichever the picture offers (auto, the default)",
    )
    command.add_argument("--threshold", type=float, default=0.5, help="coverage where a soft edge ends (default 0.5)")
    command.add_argument("--holes", metavar="MM2", type=float, help="keep holes of at least this area; else all filled")
    command.add_argument(
        "--dam",
        metavar="PX",
        type=float,
        default=4.0,
        help="close gaps of a drawn outline up to this wide (default 4; 0 none)",
    )
    command.add_argument("--page", type=int, default=1, help="page of a PDF (default 1)")
    command.add_argument("--units", choices=("mm", "in"), default="mm", help="units of what is printed here")


def _add_outline(command: argparse.ArgumentParser) -> None:
    command.add_argument("art", type=Path, help="picture: PNG, JPEG, WebP, TIFF, BMP, SVG, PDF or PSD")
    add_sizes(command, has_cut=False)
    _add_art_options(command)
    command.add_argument("--json", type=Path, metavar="FILE", help="write the findings as JSON")
    command.add_argument("--svg", type=Path, metavar="FILE", help="write the outline as SVG in millimetres")
    command.add_argument("--force", action="store_true", help="replace existing files")
    command.set_defaults(run=_outline)


def _add_edge_options(command: argparse.ArgumentParser) -> None:
    command.add_argument(
        "--school",
        choices=tuple(SCHOOL_DEFAULTS),
        default="border",
        help="border: cut outside, paper white between; bleed: colour carried past the cut; inside: cut inside "
        "the art; bare: cut at the art, nothing added (default border)",
    )
    command.add_argument("--offset", help="distance of the cut from the art (default: border 2mm, inside 1mm, else 0)")
    command.add_argument("--bleed", help="how far colour reaches past the cut (default: bleed 1.27mm, else 0)")
    command.add_argument("--fill", choices=get_args(BleedFill), default="nearest", help="what fills the bleed")
    command.add_argument("--corners", choices=("round", "mitre", "bevel"), default="round", help="corners of an offset")
    command.add_argument("--ease", help="radius that eases concave notches (default: border 0.5mm, else 0)")
    command.add_argument("--fatten", help="how much thicker thin strokes become (default 0)")
    command.add_argument("--cut", choices=("kiss", "through"), default="kiss", help="line kind (default kiss)")
    command.add_argument("--stock", metavar="COLOUR", help="white (the default), clear or a colour such as #d2b48c")


def _add_profile(command: argparse.ArgumentParser) -> None:
    command.add_argument("art", type=Path, help="picture: PNG, JPEG, WebP, TIFF, BMP, SVG, PDF or PSD")
    add_sizes(command)
    _add_edge_options(command)
    _add_art_options(command)
    add_error_options(command)
    command.add_argument("--at", metavar="X,Y", help="place on the sheet, from the marks’ middle (default 0mm,0mm)")
    add_use_option(command, "with --bench: a machine’s or printer’s profile")
    command.add_argument("--json", type=Path, metavar="FILE", help="write the numbers as JSON")
    command.add_argument("--force", action="store_true", help="replace existing files")
    command.set_defaults(run=_profile)


def _add_prepare(command: argparse.ArgumentParser) -> None:
    command.add_argument("art", nargs="+", type=Path, help="pictures: PNG, JPEG, WebP, TIFF, BMP, SVG, PDF or PSD")
    add_sizes(command)
    _add_edge_options(command)
    _add_art_options(command)
    command.add_argument("--copies", type=int, default=1, help="copies of each picture (default 1)")
    add_sheet_options(command)
    command.add_argument("--drift", help="assumed disagreement of print and cut (default 0.5mm)")
    add_error_options(command)
    command.add_argument(
        "--leave",
        action="append",
        default=[],
        metavar="CHECK=REASON",
        help='write though a check blocks, such as --leave "ppi=small on purpose"; may be given several times',
    )
    command.add_argument("--save", type=Path, metavar="FILE.hedge", help="also save the job itself")
    command.add_argument("--out", required=True, type=Path, metavar="DIR", help="folder for the files")
    command.add_argument("--force", action="store_true", help="replace existing files")
    command.set_defaults(run=_prepare)


def main(arguments: Sequence[str]) -> int:
    """Run one command and return its exit code; errors are one line on standard error."""
    try:
        options = parser().parse_args(arguments)
    except SystemExit as stop:
        return int(stop.code or 0)
    try:
        code = options.run(options)
    except BlockedError as error:
        return _fail(str(error), BLOCKED)
    except HonestEdgeError as error:
        return _fail(str(error), WRONG)
    except MemoryError:
        return _fail("there is not enough memory for this: use a smaller picture or fewer copies", WRONG)
    except KeyboardInterrupt:
        return _fail("stopped; nothing was written", WRONG)
    return DONE if code is None else int(code)


def _fail(message: str, code: int) -> int:
    print(f"honest-edge: {message}", file=sys.stderr)
    return code


def _outline(options: argparse.Namespace) -> None:
    from honest_edge.core.outline.outline import fit_area
    from honest_edge.files.read_input import read_picture
    from honest_edge.files.write_svg import outline_svg

    (measured, width_mm), data = asked_width(options), read_picture(options.art)
    if measured == "art":
        artwork, _, outline = _outlined(options, data, None)
        left, _, right, _ = outline.area.bounds
        width_mm *= artwork.stated_width_mm / (right - left)
    artwork, subject, outline = _outlined(options, data, width_mm)
    curves = fit_area(outline.area, outline.style)
    height_mm = width_mm * artwork.height_px / artwork.width_px
    nodes = sum(curve.node_count for curve in curves)
    found = {
        "file": shown(options.art),
        "width_mm": width_mm,
        "height_mm": height_mm,
        "nodes": nodes,
        **_outline_record(artwork, subject, outline, curves, width_mm),
    }
    numbers = msgspec.json.format(msgspec.json.encode(found), indent=2) + b"\n"
    drawn = outline_svg(curves, width_mm, height_mm)
    write_targets({options.json: numbers, options.svg: drawn}, force=options.force)
    left, top, right, bottom = outline.area.bounds
    inside, size = (_size(options, *sides) for sides in ((right - left, bottom - top), (width_mm, height_mm)))
    print(
        f"{shown(options.art)}: art {inside} in a picture of {size} at {artwork.ppi_at(width_mm):.0f} ppi; "
        f"{outline.part_count} part(s), {outline.hole_count} hole(s), "
        f"outline {format_length(outline.area.length, options.units)} on {nodes} nodes"
    )
    kept = () if subject.looks_like is None else (_kept_words(subject.looks_like),)
    gaps = map(partial(_gap_words, width_mm, options.units), subject.leaks)
    _say_notes(shown(options.art), (*artwork.notes, *kept, *gaps))


def _outlined(options: argparse.Namespace, data: bytes, width_mm: float | None) -> tuple[Artwork, Subject, Outline]:
    """Return the art and its outline at a width, or at that which the file states."""
    from honest_edge.core.imaging.background import clear_background
    from honest_edge.core.outline.outline import outline_of
    from honest_edge.core.outline.trace import trace_pixels
    from honest_edge.files.read_art import read_art

    recipe = _recipe(options)
    artwork = read_art(data, options.art.name, ArtSource(page=options.page), width_mm=width_mm)
    subject = clear_background(artwork, recipe)
    traced = trace_pixels(subject.coverage, recipe.threshold)
    wide_mm = width_mm or artwork.stated_width_mm
    return artwork, subject, outline_of(traced, width_px=artwork.width_px, width_mm=wide_mm, recipe=recipe)


def _outline_record(
    artwork: Artwork, subject: Subject, outline: Outline, curves: tuple[CurveRing, ...], width_mm: float
) -> dict[str, Any]:
    """Return what was found, as it is written."""
    from honest_edge.core.outline.outline import greatest_deviation_mm

    return {
        "notes": list(artwork.notes),
        "ppi": artwork.ppi_at(width_mm),
        "stated_ppi": artwork.stated_ppi,
        "size_source": artwork.size_source,
        "background": subject.method,
        "looks_like": subject.looks_like,
        "parts": outline.part_count,
        "holes": outline.hole_count,
        "specks_dropped": outline.dropped_specks,
        "holes_filled": outline.filled_holes,
        "gaps": [
            {
                "x_mm": leak.middle[0] * width_mm,
                "y_mm": leak.middle[1] * width_mm,
                "width_mm": leak.width * width_mm,
                "dammed": leak.dammed,
            }
            for leak in subject.leaks
        ],
        "area_mm2": outline.area.area,
        "length_mm": outline.area.length,
        "greatest_deviation_mm": greatest_deviation_mm(curves, outline.area),
    }


def _size(options: argparse.Namespace, width_mm: float, height_mm: float) -> str:
    return f"{format_length(width_mm, options.units)} × {format_length(height_mm, options.units)}"


def _kept_words(looks_like: Likeness) -> str:
    from honest_edge.core.proof.design_checks import ground_words

    return f"it {ground_words(looks_like)}; --background flood clears it anyway"


def _gap_words(width_mm: float, unit: Unit, leak: Leak) -> str:
    x, y = (format_length(value * width_mm, unit) for value in leak.middle)
    width = format_length(leak.width * width_mm, unit, digits=2)
    return f"gap of {width} at {x}, {y}: {'closed' if leak.dammed else 'open, look at it in the window'}"


def _say_notes(name: str, notes: Sequence[str]) -> None:
    for note in notes:
        print(f"{name}: {note}")


def _prepare(options: argparse.Namespace) -> None:
    from honest_edge.app.edits.job_holder import JobHolder, with_designs
    from honest_edge.app.edits.open_art import design_from
    from honest_edge.app.output.prepare_files import prepare
    from honest_edge.app.results.pipeline import Pipeline
    from honest_edge.core.values.job import ASSUMED_DRIFT_MM, Job
    from honest_edge.files.atomic_write import write_set
    from honest_edge.files.read_input import read_picture
    from honest_edge.files.report import leftovers

    check_copies(options.copies)
    _check_save(options)
    edge, sheet, recipe = _edge(options), sheet_of(options), _recipe(options)
    holder = JobHolder()
    job = Job(
        title=readable(options.out.resolve().name) or "Honest Edge",
        sheet=sheet,
        drift_mm=length("--drift", options.drift, ASSUMED_DRIFT_MM),
    )
    job = with_error(options, job)
    pipeline = Pipeline(holder.assets)
    for path in options.art:
        design = replace(
            design_from(holder, job, read_picture(path), path.name),
            copies=options.copies,
            fills=False,
            edge=edge,
            source=ArtSource(page=options.page),
            outline=recipe,
        )
        job = with_designs(job, [sized(options, design, job, pipeline)])
    if options.better is not None:
        job = _bettered(job, pipeline, options.better)
    job = _with_left(options, job, pipeline)
    try:
        contents = prepare(job, pipeline)
    except HeldError as error:
        raise BlockedError(f'{error} (or say why it may stay: --leave "{error.check}=...")') from None
    stale = leftovers(options.out, contents) if options.force else ()
    write_set(options.out, contents, replace=options.force, stale=stale)
    if stale:
        print(f"taken away, no part of it any more: {', '.join(stale)}")
    if options.save is not None:
        from honest_edge.files.project import save_project

        save_project(options.save, job, holder.assets)
    _say_prepared(options, contents)


def _with_left(options: argparse.Namespace, job: Job, pipeline: Pipeline) -> Job:
    """Return the job with what was asked to be left."""
    from honest_edge.app.edits.tried import with_left
    from honest_edge.app.results.compute_overview import compute_overview
    from honest_edge.core.proof.register import CHECKS

    names = {check.name: check for check in CHECKS}
    for typed in options.leave:
        name, _, reason = typed.partition("=")
        if name not in names or not names[name].can_be_left or not reason.strip():
            raise UsageError(f"--leave: “{typed}” names no check that can be left: write ppi=why, as check names it")
        found = compute_overview(job, pipeline).findings
        job = with_left(job, [finding for finding in found if finding.check == name], reason)
    return job


def _check_save(options: argparse.Namespace) -> None:
    """Refuse a place where the job could not be saved, before any work is done and any file is replaced."""
    path: Path | None = options.save
    if path is None:
        return
    if path.suffix != PROJECT_SUFFIX:
        raise UsageError(f"--save: “{shown(path)}” is no job: end it in {PROJECT_SUFFIX}")
    if path.is_dir() or (path.exists() and not options.force):
        raise FileError(f"{path} exists: choose another name, or add --force")


def _bettered(job: Job, pipeline: Pipeline, seconds: float) -> Job:
    """Return the job with the best layout that is found in so many seconds."""
    from honest_edge.app.edits.sheet_edits import improved, with_layout
    from honest_edge.app.results.compute_overview import compute_overview

    overview = compute_overview(job, pipeline)
    if overview.plan is None:
        return job  # preparing says why
    end = time.monotonic() + seconds
    return with_layout(overview, improved(overview, found=lambda _plan: None, cancelled=lambda: time.monotonic() > end))


def _recipe(options: argparse.Namespace) -> OutlineRecipe:
    return OutlineRecipe(
        background=options.background, hole_mm2=options.holes, threshold=options.threshold, dam_px=options.dam
    )


def _edge(options: argparse.Namespace) -> EdgeRecipe:
    usual = SCHOOL_DEFAULTS[options.school]
    return EdgeRecipe(
        school=options.school,
        offset_mm=length("--offset", options.offset, usual.offset_mm),
        bleed_mm=length("--bleed", options.bleed, usual.bleed_mm),
        corners=options.corners,
        line_kind=options.cut,
        fill=options.fill,
        ease_mm=length("--ease", options.ease, usual.ease_mm),
        fatten_mm=length("--fatten", options.fatten, usual.fatten_mm),
    )


def _profile(options: argparse.Namespace) -> None:
    from honest_edge.app.edits.job_holder import JobHolder
    from honest_edge.app.edits.open_art import design_from
    from honest_edge.app.results.pipeline import Pipeline
    from honest_edge.app.views.edge_record import edge_record
    from honest_edge.core.values.job import Job
    from honest_edge.core.values.misregistration import SheetPlace
    from honest_edge.files.atomic_write import write_set
    from honest_edge.files.profiles import load_profile
    from honest_edge.files.read_input import read_picture

    (x_mm, y_mm), holder = pair("--at", options.at), JobHolder()
    sheet = SheetSpec()
    for path in options.use:
        sheet = sheet.with_profile(load_profile(path))
    job = with_error(options, Job(sheet=replace(sheet, stock=stock_of(options.stock, sheet.stock))))
    design = replace(
        design_from(holder, job, read_picture(options.art), options.art.name),
        edge=_edge(options),
        source=ArtSource(page=options.page),
        outline=_recipe(options),
    )
    pipeline = Pipeline(holder.assets)
    design = sized(options, design, job, pipeline)
    result = pipeline.result(design, job, place=SheetPlace(x_mm=x_mm, y_mm=y_mm))
    found = {"file": shown(options.art), "width_mm": design.width_mm, **edge_record(result, job, pipeline)}
    if options.json is not None:
        data = msgspec.json.format(msgspec.json.encode(found), indent=2) + b"\n"
        write_set(options.json.parent, {options.json.name: data}, replace=options.force)
    _say_profile(options, found, job)


def _say_profile(options: argparse.Namespace, found: dict[str, Any], job: Job) -> None:
    known = "" if error_of(options) else "; assumed, not measured: within 0.5 mm, 19 times of 20"
    if job.measured_bench is not None:
        known = f"; measured on {job.measured_bench.sheets} sheet{'s'[: job.measured_bench.sheets > 1]}"
    share, unsure = 100 * found["share_clean"], 100 * found["uncertainty"]
    print(f"{shown(options.art)}: {share:.1f} % clean, give or take {unsure:.1f}{known}")
    worst = found["worst_place"]
    if worst is not None:
        room, x, y = (format_length(worst[key], options.units, digits=2) for key in ("room_mm", "x_mm", "y_mm"))
        trouble = "unprinted stock shows" if worst["trouble"] == "white" else "detail is cut"
        print(f"worst place: {x}, {y} of the art: {trouble} in {100 * worst['chance']:.1f} %, room {room}")
    for target, change in found["smallest_changes"].items():
        if change is None:
            print(f"for {target}: no change of bleed or offset is enough")
        elif change["share_clean"] != found["share_clean"]:
            offset, bleed = (format_length(change[key], options.units, digits=2) for key in ("offset_mm", "bleed_mm"))
            print(f"for {target}: offset {offset}, bleed {bleed} ({100 * change['share_clean']:.1f} % clean)")
    for finding in found["findings"]:
        print(f"{shown(options.art)}: {'; '.join(filter(None, (finding['message'], finding['remedy'])))}")


def _say_prepared(options: argparse.Namespace, contents: dict[str, bytes]) -> None:
    from honest_edge.files.report import Report

    report = msgspec.json.decode(contents["report.json"], type=Report)
    for design in report.designs:
        placed = sum(p.design == report.designs.index(design) for sheet in report.sheets for p in sheet.placements)
        print(
            f"{design.name}: {placed} of {_size(options, design.cut_width_mm, design.cut_height_mm)} as cut, art "
            f"{_size(options, design.art_width_mm, design.art_height_mm)} at {design.ppi:.0f} ppi, "
            f"cut {format_length(design.cut_length_mm, options.units)} on {design.cut_nodes} nodes"
        )
        _say_notes(design.name, design.notes)
        for finding in design.findings:
            print(f"{design.name}: {'; '.join(filter(None, (finding.message, finding.remedy)))}")
    print(f"{len(report.sheets)} sheet(s), {len(contents)} files in {shown(options.out)}")
