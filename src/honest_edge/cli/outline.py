"""The command ``outline``: one picture traced at its finished width."""

from __future__ import annotations

import argparse
from functools import partial
from pathlib import Path
from typing import TYPE_CHECKING, Any

import msgspec

from honest_edge.cli.art_options import (
    EXITS,
    LENGTH_HELP,
    add_art_options,
    art_source,
    outline_recipe,
    page_of,
    say_notes,
    side_words,
)
from honest_edge.cli.sizes import add_sizes, asked_width
from honest_edge.cli.targets import write_targets
from honest_edge.cli.typed import shown
from honest_edge.core.values.units import Unit, format_length

if TYPE_CHECKING:
    from honest_edge.core.geometry.paths import CurveRing
    from honest_edge.core.imaging.background import Subject
    from honest_edge.core.imaging.leaks import Leak
    from honest_edge.core.imaging.recognise import Likeness
    from honest_edge.core.outline.outline import Outline
    from honest_edge.core.values.artwork import Artwork


def about_outline() -> dict[str, Any]:
    """Return what help says of the command."""
    return {
        "help": "trace the outline of one picture",
        "description": "Trace the outline of one picture at its finished width, to a fraction of a pixel, and say\n"
        f"what was found. {LENGTH_HELP}",
        "epilog": "example:\n  honest-edge outline teapot.png --art-width 60mm --svg teapot-outline.svg\n\n"
        "The SVG is in millimetres, as large as the art, with its origin at the art’s top left and one\n"
        f"path for each ring.\n\n{EXITS}",
    }


def add_outline(command: argparse.ArgumentParser) -> None:
    """Add the options of the command."""
    command.add_argument("art", type=Path, help="picture: PNG, JPEG, WebP, TIFF, BMP, SVG, PDF or PSD")
    add_sizes(command, has_cut=False)
    add_art_options(command)
    command.add_argument("--json", type=Path, metavar="FILE", help="write the findings as JSON")
    command.add_argument("--svg", type=Path, metavar="FILE", help="write the outline as SVG in millimetres")
    command.add_argument("--force", action="store_true", help="replace existing files")
    command.set_defaults(run=_outline)


def _outline(options: argparse.Namespace) -> None:
    from honest_edge.core.imaging.leaks import told
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
    record = {
        "file": shown(options.art),
        "width_mm": width_mm,
        "height_mm": height_mm,
        "nodes": nodes,
        **_outline_record(artwork, subject, outline, curves, width_mm),
    }
    numbers = msgspec.json.format(msgspec.json.encode(record), indent=2) + b"\n"
    drawn = outline_svg(curves, width_mm, height_mm)
    write_targets({options.json: numbers, options.svg: drawn}, force=options.force)
    left, top, right, bottom = outline.area.bounds
    inside, size = (side_words(options, *sides) for sides in ((right - left, bottom - top), (width_mm, height_mm)))
    print(
        f"{shown(options.art)}: art {inside} in a picture of {size} at {artwork.ppi_at(width_mm):.0f} ppi; "
        f"{outline.part_count} part(s), {outline.hole_count} hole(s), "
        f"outline {format_length(outline.area.length, options.units)} on {nodes} nodes"
    )
    kept = () if subject.looks_like is None else (_kept_words(subject.looks_like),)
    listed = told(subject.leaks)
    gaps = map(partial(_gap_words, width_mm, options.units), listed)
    more = len(subject.leaks) - len(listed)
    rest = (f"{more} more gaps",) if more else ()
    specks = (f"{subject.specks:,} specks, such as grain of paper, are left out",) if subject.specks else ()
    printed = artwork.cutting if options.cut_lines == "print" else ()
    cuts = [f"“{artwork.layers[index]}” means a cut and is traced as ink: see --cut-lines" for index, _ in printed]
    say_notes(shown(options.art), (*artwork.notes, *cuts, *kept, *specks, *gaps, *rest))


def _outlined(options: argparse.Namespace, data: bytes, width_mm: float | None) -> tuple[Artwork, Subject, Outline]:
    """Return the art and its outline at a width, or at that which the file states."""
    from honest_edge.core.imaging.background import clear_background
    from honest_edge.core.outline.outline import outline_of
    from honest_edge.core.outline.trace import trace_pixels
    from honest_edge.files.read_art import read_art

    artwork = read_art(data, options.art.name, page_of(options), width_mm=width_mm)
    source = art_source(options, artwork)
    if source != page_of(options):
        artwork = read_art(data, options.art.name, source, width_mm=width_mm)
    recipe = outline_recipe(options, artwork.width_px)
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


def _kept_words(looks_like: Likeness) -> str:
    from honest_edge.core.proof.design_checks import ground_words

    return f"it {ground_words(looks_like)}; " + (
        "--background subject cuts its subject out"
        if looks_like == "photograph"
        else "--background flood clears it anyway"
    )


def _gap_words(width_mm: float, unit: Unit, leak: Leak) -> str:
    x, y = (format_length(value * width_mm, unit) for value in leak.middle)
    width = format_length(leak.width * width_mm, unit, digits=2)
    return f"gap of {width} at {x}, {y}: {'closed' if leak.dammed else 'open, look at it in the window'}"
