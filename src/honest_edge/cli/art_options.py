"""How art is told from its background and what its edge is to be, as it is typed; words that commands share."""

from __future__ import annotations

import argparse
from collections.abc import Sequence
from pathlib import Path
from typing import TYPE_CHECKING, get_args

from honest_edge.cli.typed import length
from honest_edge.core.values.errors import BlockedError, UsageError
from honest_edge.core.values.specs import (
    SCHOOL_DEFAULTS,
    ArtSource,
    Background,
    BleedFill,
    EdgeRecipe,
    OutlineRecipe,
    Paper,
)
from honest_edge.core.values.units import format_length

if TYPE_CHECKING:
    from honest_edge.core.imaging.upright import Corners
    from honest_edge.core.values.artwork import Artwork

LENGTH_HELP = "Lengths take a unit: 60mm, 2.5in, 3/16in, 1cm."
EXITS = "Exit codes: 0 done; 1 blocked by what the art or the job is; 2 wrong usage or unreadable input."


def add_art_options(command: argparse.ArgumentParser) -> None:
    """Add how art is told from its background."""
    command.add_argument(
        "--background",
        choices=get_args(Background),
        default="auto",
        help="how art is told from background: transparency (alpha), the border’s colour inward (flood) or "
        "everywhere (colour), the subject of a photograph (subject), keep the whole rectangle (none), or whichever the "
        "picture offers (auto, the default)",
    )
    command.add_argument(
        "--around",
        metavar="LEFT,TOP,RIGHT,BOTTOM|FILE.svg",
        help="box in pixels, or an SVG with one path in pixels, loosely round the subject (with --background subject)",
    )
    command.add_argument("--closely", help="how closely the subject is followed, 0.3mm to 5mm (default 0.5mm)")
    command.add_argument(
        "--drawn-on",
        choices=get_args(Paper),
        default="kept",
        help="paper of a drawing: as it is (kept, the default), made white (white), or white with the drawing made "
        "stronger (strong)",
    )
    command.add_argument(
        "--page-corners",
        metavar="auto|X,Y X,Y X,Y X,Y",
        help="set a page upright that was photographed aslant: by the corners that are found, or by its own, in pixels "
        "clockwise from the upper left",
    )
    command.add_argument(
        "--cut-lines",
        choices=("print", "out", "follow"),
        default="print",
        help="hairlines of pure colour, and layers named cut or fold, in an SVG: printed (print, the default; prepare "
        "refuses it unless it is left on purpose), left out (out), or left out and what they enclose taken (follow)",
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


def add_edge_options(command: argparse.ArgumentParser) -> None:
    """Add what the edge is to be."""
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


def page_of(options: argparse.Namespace) -> ArtSource:
    """Return which page of a file is read, before anything of it is known."""
    return ArtSource(page=options.page)


def art_source(options: argparse.Namespace, artwork: Artwork) -> ArtSource:
    """Return which part of a file is shown, and what becomes of its paper, its corners and its lines that mean a cut.

    Raises:
        BlockedError: no corners of a page are to be seen.
        UsageError: corners that cannot be read.
    """
    source = ArtSource(page=options.page, paper=options.drawn_on, corners=_corners(options.page_corners, artwork))
    if options.cut_lines == "out":
        return source.without_lines(artwork.cutting)
    return source.along_lines(artwork.cutting) if options.cut_lines == "follow" else source


def _corners(typed: str | None, artwork: Artwork) -> Corners | None:
    """Return the corners of a page: none, those that are found, or four places in pixels."""
    if typed is None:
        return None
    if typed == "auto":
        from honest_edge.core.imaging.upright import page_corners

        corners = page_corners(artwork.pixels)
        if corners is None:
            raise BlockedError("No page that lies aslant on a darker ground is to be seen: give its corners in pixels")
        return corners
    try:
        left, upper, right, lower = ((float(x), float(y)) for x, y in (part.split(",") for part in typed.split()))
    except ValueError:
        raise UsageError(
            f'--page-corners takes auto, or four places such as "10,20 400,30 410,500 5,510", not “{typed[:60]}”'
        ) from None
    width, height = artwork.width_px, artwork.height_px
    return tuple((x / width, y / height) for x, y in (left, upper, right, lower))  # type: ignore[return-value]


def outline_recipe(options: argparse.Namespace, width_px: float) -> OutlineRecipe:
    """Return how the art of a picture so wide is told from its background."""
    recipe = OutlineRecipe(
        background=options.background,
        hole_mm2=options.holes,
        threshold=options.threshold,
        dam_px=options.dam,
        closely_mm=length("--closely", options.closely, OutlineRecipe().closely_mm),
    )
    if options.around is None:
        return recipe
    if options.background != "subject":
        raise UsageError("--around is a loop round the subject: give it with --background subject")
    from honest_edge.app.edits.outline_edits import looped

    return looped(recipe, [(x / width_px, y / width_px) for x, y in _loop_px(options.around)])


def _loop_px(typed: str) -> list[tuple[float, float]]:
    """Return the places of a loop that was typed as a box, or lies in an SVG."""
    if typed.lower().endswith(".svg"):
        from honest_edge.files.read_loop import read_loop

        return read_loop(Path(typed))
    try:
        left, top, right, bottom = (float(part) for part in typed.split(","))
    except ValueError:
        raise UsageError(
            f"--around takes LEFT,TOP,RIGHT,BOTTOM in pixels of the picture, or an SVG, not “{typed[:60]}”"
        ) from None
    return [(left, top), (right, top), (right, bottom), (left, bottom)]


def edge_recipe(options: argparse.Namespace) -> EdgeRecipe:
    """Return what the edge is to be."""
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


def side_words(options: argparse.Namespace, width_mm: float, height_mm: float) -> str:
    """Return two sides in the unit that was asked for."""
    return f"{format_length(width_mm, options.units)} × {format_length(height_mm, options.units)}"


def say_notes(name: str, notes: Sequence[str]) -> None:
    """Print what is to be noted of a file, a line each."""
    for note in notes:
        print(f"{name}: {note}")
