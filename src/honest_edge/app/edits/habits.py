"""Habits: what was made last and what is always so, taken from a job and given to new designs and jobs."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, fields, replace
from pathlib import PurePath
from typing import TYPE_CHECKING, Any, Literal

from honest_edge.core.values.habits import ArtKind, CutLinesUse, Habits, Made
from honest_edge.core.values.job import Design, Job
from honest_edge.core.values.specs import SMALLEST_WIDTH_MM, EdgeRecipe, OutlineRecipe, WantedSize

if TYPE_CHECKING:
    from honest_edge.app.results.design_result import DesignResult
    from honest_edge.core.values.artwork import Artwork

KIND_WORDS: dict[ArtKind, str] = {
    "drawing": "a drawing",
    "cut-out picture": "a cut-out picture",
    "photograph": "a photograph",
    "picture": "a picture with a ground",
}


def kind_of_art(artwork: Artwork) -> ArtKind:
    """Return what kind of art a picture is, as far as its file tells."""
    if artwork.is_vector:
        return "drawing"
    if artwork.is_cut_out:
        return "cut-out picture"
    return "photograph" if artwork.lossy else "picture"


def begun_with(design: Design, kind: ArtKind, habits: Habits) -> Design:
    """Return a new design of a picture as it begins by habit."""
    last = habits.last.get(kind)
    if last is not None:
        design = replace(design, copies=last.copies, fills=last.fills, edge=last.edge)
    if habits.edge is not None:
        design = replace(design, edge=habits.edge)
    if habits.outline is not None:
        design = replace(design, outline=habits.outline)
    wanted = habits.size or (None if last is None else last.wanted)
    return design if wanted is None else promised(design, wanted)


def with_lines_as_last(design: Design, artwork: Artwork, habits: Habits) -> Design:
    """Return a new design with its file's lines that mean a cut used as those of the last file of its kind."""
    if not design.source.lines_to_print(artwork.cutting):
        return design
    match habits.cut_lines.get(_ending(design)):
        case "left out":
            return replace(design, source=design.source.without_lines(artwork.cutting))
        case "cut along":
            from honest_edge.core.proof.design_checks import cut_along  # habits are known before anything is computed

            return cut_along(design, artwork.cutting) or design
        case _:
            return design


def lines_words(design: Design, artwork: Artwork) -> str:
    """Return what became of lines that mean a cut without being asked; empty where nothing did."""
    gone = {*design.source.hidden_layers, *design.source.cut_layers}
    named = "” and “".join(artwork.layers[index] for index, _ in artwork.cutting if index in gone)
    how = "cut along" if design.source.cut_layers else "left out"
    kind = _ending(design)[1:].upper()
    return f"Lines that mean a cut, “{named}”, are {how} as in your last {kind}." if named else ""


def _ending(design: Design) -> str:
    return PurePath(design.file_name).suffix.lower()


@dataclass(frozen=True, slots=True, kw_only=True)
class BeginsAs(Made):
    """How the next art begins, whatever its kind; ``differs`` where kinds were made in different ways last."""

    differs: bool = False


def begins_as(habits: Habits) -> BeginsAs:
    """Return how the next art begins; of kinds that were made in different ways, as most of them."""
    ways = list(habits.last.values()) or [Made()]
    usual = max(ways, key=ways.count)
    shown = replace(usual, wanted=habits.size or usual.wanted, edge=habits.edge or usual.edge)
    values = {name.name: getattr(shown, name.name) for name in fields(Made)}
    return BeginsAs(**values, differs=any(way != usual for way in ways))


def begun_so(habits: Habits, **changes: Any) -> Habits:
    """Return habits in which art of every kind begins with what is given; it goes before what is always so."""
    last: dict[ArtKind, Made] = {
        kind: replace(habits.last.get(kind, Made()), is_set=True, **changes) for kind in KIND_WORDS
    }
    if "wanted" in changes:
        habits = replace(habits, size=None)
    if "edge" in changes:
        habits = replace(habits, edge=None)
    return replace(habits, last=last)


def followed_words(design: Design, artwork: Artwork, habits: Habits) -> str:
    """Return which habit a design began with and still follows, in a sentence; empty where there is none."""
    kind = kind_of_art(artwork)
    bare = replace(design, wanted=None, edge=EdgeRecipe(), outline=OutlineRecipe(), fills=True, copies=1)
    begun = begun_with(bare, kind, habits)
    if begun == bare or _chosen(begun) != _chosen(design):
        return ""
    if kind not in habits.last:
        return "As you have it always."
    return "As you set it on the start page." if habits.last[kind].is_set else f"As you made {KIND_WORDS[kind]} last."


def _chosen(design: Design) -> tuple[object, ...]:
    return design.wanted, design.edge, design.fills, design.fills or design.copies


def promised(design: Design, wanted: WantedSize) -> Design:
    """Return a design that is to have a size, about as wide as that makes it until its outline is known."""
    if wanted.side == 1:  # how wide that is, only its picture tells
        return replace(design, wanted=wanted)
    around_mm = 2 * design.edge.signed_offset_mm if wanted.of == "cut" else 0.0
    return replace(design, wanted=wanted, width_mm=max(wanted.length_mm - around_mm, SMALLEST_WIDTH_MM))


def begun_job(job: Job, habits: Habits) -> Job:
    """Return a new job as it begins by habit; its profiles are those it has."""
    sheet = job.sheet
    if habits.sheet is not None:
        sheet = replace(habits.sheet, machine=sheet.machine, printer=sheet.printer, stock=sheet.stock)
    return replace(job, sheet=sheet, png_ppi=habits.png_ppi or None)


def learnt(habits: Habits, job: Job, results: Mapping[str, DesignResult]) -> Habits:
    """Return habits that know how the designs of a job were made, which was just written."""
    last, cut_lines = dict(habits.last), dict(habits.cut_lines)
    for design in job.designs:
        result = results.get(design.key)
        if result is not None and not design.is_layered:
            last[kind_of_art(result.artwork)] = Made(
                wanted=design.wanted, copies=design.copies, fills=design.fills, edge=plain_edge(design.edge)
            )
            if result.artwork.cutting:
                cut_lines |= _lines_answered(design, result.artwork)
    return replace(habits, last=last, cut_lines=cut_lines)


def _lines_answered(design: Design, artwork: Artwork) -> dict[str, CutLinesUse]:
    """Return what became of lines that mean a cut; nothing where they are printed, which is asked each time."""
    if design.source.lines_to_print(artwork.cutting):
        return {}
    return {_ending(design): "cut along" if design.source.cut_layers else "left out"}


def plain_edge(edge: EdgeRecipe) -> EdgeRecipe:
    """Return an edge without what was done by hand to one picture."""
    return replace(edge, detail=())


def plain_outline(outline: OutlineRecipe) -> OutlineRecipe:
    """Return how art is told from its ground, without what holds for one picture alone."""
    background = "auto" if outline.background == "subject" else outline.background
    return replace(outline, background=background, colour=None, tolerance=None, trace_area=None, corrections=())


HabitPart = Literal["size", "outline", "edge", "sheet", "files"]
"""What can be always so: one part for each panel."""


def made_a_habit(habits: Habits, part: HabitPart, job: Job, design: Design | None) -> Habits:
    """Return habits in which one part is always as it is now; without a design only what is of the job."""
    if part == "sheet":
        return replace(habits, sheet=replace(job.sheet, used=()))
    if part == "files":
        return replace(habits, png_ppi=job.png_ppi or 0.0)
    if design is None:
        return habits
    if part == "size":
        return replace(habits, size=design.wanted)
    if part == "edge":
        return replace(habits, edge=plain_edge(design.edge))
    return replace(habits, outline=plain_outline(design.outline))


def without_habit(habits: Habits, part: HabitPart) -> Habits:
    """Return habits in which one part is no longer always so."""
    match part:
        case "sheet":
            return replace(habits, sheet=None)
        case "files":
            return replace(habits, png_ppi=None)
        case "size":
            return replace(habits, size=None)
        case "edge":
            return replace(habits, edge=None)
    return replace(habits, outline=None)


def has_habit(habits: Habits, part: HabitPart) -> bool:
    """Whether one part is always so."""
    return habits != without_habit(habits, part)


def is_as_always(habits: Habits, part: HabitPart, job: Job, design: Design | None) -> bool:
    """Whether a part of a job is as it is always."""
    return has_habit(habits, part) and made_a_habit(habits, part, job, design) == habits
