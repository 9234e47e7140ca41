"""A design once more, or with another picture in its place."""

from __future__ import annotations

from dataclasses import dataclass, replace

from honest_edge.app.edits.job_holder import free_name, name_of_file
from honest_edge.app.results.design_result import DesignResult
from honest_edge.core.values.errors import BlockedError
from honest_edge.core.values.job import Design, Job
from honest_edge.core.values.layers import AS_IT_COVERS, Layer, Picture
from honest_edge.core.values.specs import CRISP_PPI, LARGEST_WIDTH_MM, SMALLEST_WIDTH_MM, ArtSource, OutlineRecipe

_SAME_SIZE = 0.01
"""Share by which a size may be another one before it is said: pictures are whole pixels high."""


def with_duplicate(job: Job, key: str) -> tuple[Job, str]:
    """Return the job with a copy of a design beside it, and the copy's key."""
    at = [design.key for design in job.designs].index(key)
    design = job.designs[at]
    copy = replace(design, key=job.free_key(), name=free_name(job, design.name))
    return replace(job, designs=(*job.designs[: at + 1], copy, *job.designs[at + 1 :])), copy.key


def with_other_picture(job: Job, key: str, picture: Picture, layer: str = "", room_mm: float = 0.0) -> Job:
    """Return the job with another picture in a design, which keeps its size, edge, copies, form and place.

    What was done by hand to the old picture goes with it; how it was told from its ground stays.

    Args:
        job: the job.
        key: of the design.
        picture: what takes the place.
        layer: of which layer; empty for the design's own picture, or its only layer that is one. A form or words
            are filled with the picture; words that only hold a place give it up.
        room_mm: width of that layer's box, which a picture in the place of such words takes.

    Raises:
        BlockedError: the design has no picture, or several and none was named; the layer has no room for one.
    """
    design = job.design(key)
    if not design.is_layered:
        name = design.name
        if name == name_of_file(design.file_name):
            name = free_name(job.without(key), name_of_file(picture.file_name))
        source = ArtSource(paper=design.source.paper)
        changed = replace(design, name=name, asset=picture.asset, file_name=picture.file_name, source=source)
        return job.with_design(replace(changed, outline=_bare(design.outline)))
    own = [one for one in design.layers if (one.key == layer if layer else one.picture is not None)]
    if len(own) != 1:
        raise BlockedError(f"“{design.name}” has {len(own)} pictures: choose the layer whose picture is replaced")
    layers = tuple(_with_picture(one, picture, room_mm) if one is own[0] else one for one in design.layers)
    return job.with_design(replace(design, layers=layers))


def _with_picture(layer: Layer, picture: Picture, room_mm: float) -> Layer:
    before = layer.picture
    if before is None:
        if not layer.takes_picture:
            raise BlockedError(f"“{layer.title}” has no room for a picture: drop it on a picture, a form or words")
        if layer.is_placeholder:
            width_mm = min(max(room_mm, SMALLEST_WIDTH_MM), LARGEST_WIDTH_MM)
            return replace(layer, name="", lettering=None, picture=replace(picture, width_mm=width_mm))
        paint = replace(layer.paint, asset=picture.asset, file_name=picture.file_name, gradient=None)
        return replace(layer, paint=replace(paint, repeat_mm=0.0, place=AS_IT_COVERS))
    changed = replace(
        before,
        asset=picture.asset,
        file_name=picture.file_name,
        source=ArtSource(paper=before.source.paper),
        outline=_bare(before.outline),
    )
    return replace(layer, picture=changed)


@dataclass(frozen=True, slots=True, kw_only=True)
class NotKept:
    """What a picture that took another's place could not keep.

    Attributes:
        size_mm: width and height of the cut now, where they are not as before.
        ppi: pixels per inch where these are too few for a crisp print.
        by_hand: what was done by hand to the picture before, and went with it.
    """

    size_mm: tuple[float, float] | None = None
    ppi: float | None = None
    by_hand: int = 0


def not_kept(before: DesignResult, now: DesignResult) -> NotKept:
    """Return what did not stay when a picture took another's place."""
    sizes = zip(before.cut_size_mm, now.cut_size_mm, strict=True)
    is_as_before = all(abs(is_now - was) <= _SAME_SIZE * was for was, is_now in sizes)
    return NotKept(
        size_mm=None if is_as_before else now.cut_size_mm,
        ppi=now.ppi if not now.artwork.is_vector and now.ppi < CRISP_PPI - 0.5 else None,
        by_hand=max(0, _by_hand(before.design) - _by_hand(now.design)),
    )


def _by_hand(design: Design) -> int:
    recipes = [design.outline, *(one.picture.outline for one in design.layers if one.picture is not None)]
    return sum(len(recipe.corrections) for recipe in recipes)


def _bare(recipe: OutlineRecipe) -> OutlineRecipe:
    """Return a recipe without what was done by hand to one picture, and without that picture's colour."""
    return replace(recipe, corrections=(), trace_area=None, colour=None, tolerance=None)
