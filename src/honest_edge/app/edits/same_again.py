"""A design once more, or with another picture in its place."""

from __future__ import annotations

from dataclasses import replace

from honest_edge.app.edits.job_holder import free_name, name_of_file
from honest_edge.core.values.errors import BlockedError
from honest_edge.core.values.job import Job
from honest_edge.core.values.layers import Layer, Picture
from honest_edge.core.values.specs import ArtSource, OutlineRecipe


def with_duplicate(job: Job, key: str) -> tuple[Job, str]:
    """Return the job with a copy of a design beside it, and the copy's key."""
    at = [design.key for design in job.designs].index(key)
    design = job.designs[at]
    made = replace(design, key=job.free_key(), name=free_name(job, design.name))
    return replace(job, designs=(*job.designs[: at + 1], made, *job.designs[at + 1 :])), made.key


def with_other_picture(job: Job, key: str, picture: Picture, layer: str = "") -> Job:
    """Return the job with another picture in a design, which keeps its size, edge, copies, form and place.

    What was done by hand to the old picture goes with it; how it was told from its ground stays.

    Args:
        job: the job.
        key: of the design.
        picture: what takes the place.
        layer: of which layer; empty for the design's own picture, or its only layer that is one.

    Raises:
        BlockedError: the design has no picture, or several and none was named.
    """
    design = job.design(key)
    if not design.is_layered:
        name = design.name
        if name == name_of_file(design.file_name):
            name = free_name(job.without(key), name_of_file(picture.file_name))
        source = ArtSource(paper=design.source.paper)
        made = replace(design, name=name, asset=picture.asset, file_name=picture.file_name, source=source)
        return job.with_design(replace(made, outline=_bare(design.outline)))
    own = [one for one in design.layers if one.picture is not None and layer in ("", one.key)]
    if len(own) != 1:
        raise BlockedError(f"“{design.name}” has {len(own)} pictures: choose the layer whose picture is replaced")
    layers = tuple(_with_picture(one, picture) if one is own[0] else one for one in design.layers)
    return job.with_design(replace(design, layers=layers))


def _with_picture(layer: Layer, picture: Picture) -> Layer:
    assert layer.picture is not None  # who asks has looked
    before = layer.picture
    made = replace(
        before,
        asset=picture.asset,
        file_name=picture.file_name,
        source=ArtSource(paper=before.source.paper),
        outline=_bare(before.outline),
    )
    return replace(layer, picture=made)


def _bare(recipe: OutlineRecipe) -> OutlineRecipe:
    """Return a recipe without what was done by hand to one picture, and without that picture's colour."""
    return replace(recipe, corrections=(), trace_area=None, colour=None, tolerance=None)
