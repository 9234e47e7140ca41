"""The command ``profile``: how the cut edge of one picture comes out."""

from __future__ import annotations

import argparse
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
)
from honest_edge.cli.error_options import add_error_options, error_of, with_error
from honest_edge.cli.sheet_options import add_use_option, stock_of
from honest_edge.cli.sizes import add_sizes, sized
from honest_edge.cli.typed import pair, shown
from honest_edge.core.values.sheet import SheetSpec
from honest_edge.core.values.units import format_length

if TYPE_CHECKING:
    from honest_edge.core.values.job import Job


def about_profile() -> dict[str, Any]:
    """Return what help says of the command."""
    return {
        "help": "forecast how the cut edge of one picture comes out",
        "description": "Say what share of stickers comes out clean: without white wider, and without detail cut\n"
        f"deeper, than what is seen. {LENGTH_HELP}",
        "epilog": "example:\n"
        "  honest-edge profile teapot.png --cut-width 60mm --school bleed --bleed 1mm --shift 0.3mm \\\n"
        "              --rotate 0.1deg --scale 0.1% --at 120mm,80mm --json teapot-edge.json\n\n"
        "--shift, --rotate and --scale are one standard deviation, the first and the last per axis; --bias is the\n"
        "mean of the shift. --at is the sticker’s place counted from the middle of the marks, x right, y down.\n"
        f"Without any of them, print and cut are assumed to agree within 0.5mm, 19 times of 20.\n\n{EXITS}",
    }


def add_profile(command: argparse.ArgumentParser) -> None:
    """Add the options of the command."""
    command.add_argument("art", type=Path, help="picture: PNG, JPEG, WebP, TIFF, BMP, SVG, PDF or PSD")
    add_sizes(command)
    add_edge_options(command)
    add_art_options(command)
    add_error_options(command)
    command.add_argument("--at", metavar="X,Y", help="place on the sheet, from the marks’ middle (default 0mm,0mm)")
    add_use_option(command, "with --bench: a machine’s or printer’s profile")
    command.add_argument("--json", type=Path, metavar="FILE", help="write the numbers as JSON")
    command.add_argument("--force", action="store_true", help="replace existing files")
    command.set_defaults(run=_profile)


def _profile(options: argparse.Namespace) -> None:
    from honest_edge.app.edits.job_holder import JobHolder
    from honest_edge.app.edits.open_art import decoded, design_of
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
    data = read_picture(options.art)
    artwork = decoded(data, options.art.name)
    design = replace(
        design_of(holder, job, data, options.art.name, artwork),
        edge=edge_recipe(options),
        source=art_source(options, artwork),
        outline=outline_recipe(options, artwork.width_px),
    )
    pipeline = Pipeline(holder.assets)
    design = sized(options, design, job, pipeline)
    result = pipeline.result(design, job, place=SheetPlace(x_mm=x_mm, y_mm=y_mm))
    record = {"file": shown(options.art), "width_mm": design.width_mm, **edge_record(result, job, pipeline)}
    if options.json is not None:
        data = msgspec.json.format(msgspec.json.encode(record), indent=2) + b"\n"
        write_set(options.json.parent, {options.json.name: data}, replace=options.force)
    _say_profile(options, record, job)


def _say_profile(options: argparse.Namespace, found: dict[str, Any], job: Job) -> None:
    known = "" if error_of(options) else "; assumed, not measured: within 0.5 mm, 19 times of 20"
    if job.measured_bench is not None:
        known = f"; measured on {job.measured_bench.sheets} sheet{'s'[: job.measured_bench.sheets > 1]}"
    share, unsure = 100 * found["share_clean"], 100 * found["uncertainty"]
    print(f"{shown(options.art)}: {share:.1f} % clean, give or take {unsure:.1f}{known}")
    worst = found["worst_place"]
    if worst is not None:
        room, x, y = (format_length(worst[key], options.units, digits=2) for key in ("room_mm", "x_mm", "y_mm"))
        said = {"white": "unprinted stock shows", "art": "detail is cut", "kiss": "a kiss cut leaves its ring"}
        trouble = said[worst["trouble"]]
        print(f"worst place: {x}, {y} of the art: {trouble} in {100 * worst['chance']:.1f} %, room {room}")
    for target, change in found["smallest_changes"].items():
        if change is None:
            print(f"for {target}: no change of bleed or offset is enough")
        elif change["share_clean"] != found["share_clean"]:
            offset, bleed = (format_length(change[key], options.units, digits=2) for key in ("offset_mm", "bleed_mm"))
            print(f"for {target}: offset {offset}, bleed {bleed} ({100 * change['share_clean']:.1f} % clean)")
    for finding in found["findings"]:
        print(f"{shown(options.art)}: {'; '.join(filter(None, (finding['message'], finding['remedy'])))}")
