"""Designs and whole sheets that are kept, to be laid into other jobs or filled anew."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, replace

from honest_edge.app.edits.job_holder import free_name
from honest_edge.core.values.artwork import Artwork
from honest_edge.core.values.errors import UsageError
from honest_edge.core.values.job import Design, Job
from honest_edge.core.values.layers import Layer
from honest_edge.core.values.specs import ArtSource


def design_alone(job: Job, key: str) -> Job:
    """Return a job of one design, with those that lie on it as stickers.

    Raises:
        UsageError: the job has no such design.
    """
    design = next((design for design in job.designs if design.key == key), None)
    if design is None:
        raise UsageError("Take a design in hand first: it is what is kept")
    needed = {key, *design.stickers}
    return Job(title=design.name, designs=tuple(one for one in job.designs if one.key in needed), sheet=job.sheet)


def laid_into(job: Job, kept: Job) -> tuple[Job, str]:
    """Return a job with the designs of a kept one at its end, and the key of the one that was kept.

    Its stickers follow it under keys of their own; names that the job has already get a number.
    """
    keys: dict[str, str] = {}
    grown = job
    for design in sorted(kept.designs, key=lambda design: bool(design.stickers)):  # stickers before what they lie on
        keys[design.key] = grown.free_key()
        layers = tuple(_about(layer, keys) for layer in design.layers)
        named = replace(design, key=keys[design.key], name=free_name(grown, design.name), layers=layers)
        grown = replace(grown, designs=(*grown.designs, named))
    head = next((design for design in kept.designs if design.name == kept.title), kept.designs[-1])
    return grown, keys[head.key]


def _about(layer: Layer, keys: Mapping[str, str]) -> Layer:
    if layer.sticker is None:
        return layer
    return replace(layer, sticker=replace(layer.sticker, design=keys.get(layer.sticker.design, layer.sticker.design)))


@dataclass(frozen=True, slots=True, kw_only=True)
class Places:
    """What of a template is to be filled.

    Attributes:
        art: key and name of each design whose picture is another next time.
        words: key of the design and of the layer, and the words that stand there.
    """

    art: tuple[tuple[str, str], ...]
    words: tuple[tuple[str, str, str], ...]


def places_of(template: Job) -> Places:
    """Return what is to be filled: pictures that lie as stickers, or else all; words that are no table's."""
    lying = {key for design in template.designs for key in design.stickers}
    pictures = [design for design in template.designs if design.asset and (not lying or design.key in lying)]
    words = [
        (design.key, layer.key, layer.lettering.text)
        for design in template.designs
        if design.table is None
        for layer in design.layers
        if layer.lettering is not None and not layer.is_hidden
    ]
    return Places(art=tuple((design.key, design.name) for design in pictures), words=tuple(words))


@dataclass(frozen=True, slots=True, kw_only=True)
class NewArt:
    """A picture for a place: its asset, what it is called, and how large the old and the new one are in pixels."""

    asset: str
    file_name: str
    name: str
    old: Artwork
    new: Artwork


def filled(template: Job, title: str, art: Mapping[str, NewArt], words: Mapping[tuple[str, str], str]) -> Job:
    """Return the job that a template makes.

    Args:
        template: the kept job.
        title: of the new one.
        art: pictures by the key of the design that they take the place of; each as large as fits the old one's box.
        words: by the keys of design and layer; what is not named stays.

    Raises:
        UsageError: something cannot be used.
    """
    job = replace(template, title=title.strip() or template.title, layout=(), pins=())
    for key, new in art.items():
        job = job.with_design(_with_art(job, _design(job, key), new))
    for (key, layer), text in words.items():
        job = job.with_design(_with_words(_design(job, key), layer, text))
    return job


def _design(job: Job, key: str) -> Design:
    return next(design for design in job.designs if design.key == key)


def _with_art(job: Job, design: Design, new: NewArt) -> Design:
    """Return a design with another picture: what was told of the old one by hand does not hold for the new one."""
    outline = replace(design.outline, colour=None, tolerance=None, trace_area=None, corrections=())
    old_height_mm = design.width_mm * new.old.height_px / new.old.width_px
    width_mm = min(design.width_mm, old_height_mm * new.new.width_px / new.new.height_px)
    others = replace(job, designs=tuple(one for one in job.designs if one.key != design.key))
    return replace(
        design,
        name=free_name(others, new.name),
        asset=new.asset,
        file_name=new.file_name,
        source=ArtSource(),
        width_mm=width_mm,
        outline=outline,
    )


def _with_words(design: Design, key: str, text: str) -> Design:
    layers = tuple(
        replace(layer, lettering=replace(layer.lettering, text=text))
        if layer.key == key and layer.lettering is not None
        else layer
        for layer in design.layers
    )
    return replace(design, layers=layers)
