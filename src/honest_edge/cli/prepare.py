"""The command ``prepare``: print and cut files of pictures."""

from __future__ import annotations

import argparse
import time
from dataclasses import replace
from pathlib import Path
from typing import TYPE_CHECKING, Any

import msgspec

from honest_edge.cli.art_options import (
    EXITS,
    LENGTH_HELP,
    add_art_options,
    add_edge_options,
    art_source,
    edge_recipe,
    outline_recipe,
    say_notes,
    side_words,
)
from honest_edge.cli.error_options import add_error_options, with_error
from honest_edge.cli.sheet_options import add_sheet_options, sheet_of
from honest_edge.cli.sizes import add_sizes, sized
from honest_edge.cli.typed import length, shown
from honest_edge.core.values.errors import BlockedError, FileError, HeldError, UsageError
from honest_edge.core.values.names import readable
from honest_edge.core.values.specs import (
    check_copies,
)
from honest_edge.core.values.units import format_length
from honest_edge.files.file_kinds import PROJECT_SUFFIX

if TYPE_CHECKING:
    from honest_edge.app.results.pipeline import Pipeline
    from honest_edge.core.values.job import Job


def about_prepare() -> dict[str, Any]:
    """Return what help says of the command."""
    return {
        "help": "write the print file and the cut files",
        "description": "Trace pictures, set the cut line, carry colour past it, lay copies out on sheets with\n"
        "registration marks, and write print.pdf, cut-1.svg, cut-1.dxf ..., ticket.pdf and report.json.\n"
        f"{LENGTH_HELP}",
        "epilog": "examples:\n"
        "  honest-edge prepare teapot.png --cut-width 60mm --copies 12 --out teapots\n"
        "  honest-edge prepare lid.png tag.png --cut-width 2in --school bleed --bleed 1/16in \\\n"
        "              --paper a4 --out labels --force\n"
        "  honest-edge prepare bee.png --cut-width 50mm --copies 60 --use plotter.toml --turning free \\\n"
        "              --better 30 --out bees\n\n"
        "Print at 100 %, never “fit to page”. Print and cut files share one origin, the sheet’s top left\n"
        f"(DXF: bottom left, y upward).\n\n{EXITS}",
    }


def add_prepare(command: argparse.ArgumentParser) -> None:
    """Add the options of the command."""
    command.add_argument("art", nargs="+", type=Path, help="pictures: PNG, JPEG, WebP, TIFF, BMP, SVG, PDF or PSD")
    add_sizes(command)
    add_edge_options(command)
    add_art_options(command)
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


def _prepare(options: argparse.Namespace) -> None:
    from honest_edge.app.edits.job_holder import JobHolder, with_designs
    from honest_edge.app.edits.open_art import decoded, design_of
    from honest_edge.app.output.prepare_files import prepare
    from honest_edge.app.results.pipeline import Pipeline
    from honest_edge.core.values.job import ASSUMED_DRIFT_MM, Job
    from honest_edge.files.atomic_write import write_set
    from honest_edge.files.read_input import read_picture
    from honest_edge.files.report import leftovers

    check_copies(options.copies)
    _check_save(options)
    edge, sheet = edge_recipe(options), sheet_of(options)
    holder = JobHolder()
    job = Job(
        title=readable(options.out.resolve().name) or "Honest Edge",
        sheet=sheet,
        drift_mm=length("--drift", options.drift, ASSUMED_DRIFT_MM),
    )
    job = with_error(options, job)
    pipeline = Pipeline(holder.assets)
    for path in options.art:
        data = read_picture(path)
        artwork = decoded(data, path.name)
        design = replace(
            design_of(holder, job, data, path.name, artwork),
            copies=options.copies,
            fills=False,
            edge=edge,
            source=art_source(options, artwork),
            outline=outline_recipe(options, artwork.width_px),
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
        findings = compute_overview(job, pipeline).findings
        job = with_left(job, [finding for finding in findings if finding.check == name], reason)
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


def _say_prepared(options: argparse.Namespace, contents: dict[str, bytes]) -> None:
    from honest_edge.files.report import Report

    report = msgspec.json.decode(contents["report.json"], type=Report)
    for design in report.designs:
        placed = sum(p.design == report.designs.index(design) for sheet in report.sheets for p in sheet.placements)
        print(
            f"{design.name}: {placed} of {side_words(options, design.cut_width_mm, design.cut_height_mm)} as cut, art "
            f"{side_words(options, design.art_width_mm, design.art_height_mm)} at {design.ppi:.0f} ppi, "
            f"cut {format_length(design.cut_length_mm, options.units)} on {design.cut_nodes} nodes"
        )
        say_notes(design.name, design.notes)
        for finding in design.findings:
            print(f"{design.name}: {'; '.join(filter(None, (finding.message, finding.remedy)))}")
    print(f"{len(report.sheets)} sheet(s), {len(contents)} files in {shown(options.out)}")
