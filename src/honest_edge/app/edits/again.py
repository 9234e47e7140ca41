"""A job that was cut, to be cut again: with another number of pieces, another picture, another date in its words."""

from __future__ import annotations

import re
from collections.abc import Mapping
from dataclasses import replace
from typing import NamedTuple

from honest_edge.core.values.errors import UsageError
from honest_edge.core.values.job import Job
from honest_edge.core.values.specs import MOST_COPIES

_OF_ONE_DAY = re.compile(r"\d|\b(batch|lot|date|best before|for)\b", re.IGNORECASE)
"""Words that were true of one making: whatever counts, dates, or names somebody; common practice, no source."""


class WordsThen(NamedTuple):
    """Words of a layer that may be others this time."""

    design: str
    layer: str
    text: str


def words_of_then(job: Job) -> tuple[WordsThen, ...]:
    """Return the words of a job that a date, a batch or a number makes true of one making alone."""
    return tuple(
        WordsThen(design.key, layer.key, layer.lettering.text)
        for design in job.designs
        for layer in design.layers
        if layer.lettering is not None and not layer.is_hidden and _OF_ONE_DAY.search(layer.lettering.text)
    )


def pictured(job: Job) -> tuple[tuple[str, str], ...]:
    """Return the designs of a job whose one picture another can take the place of: keys and names."""
    return tuple(
        (design.key, design.name)
        for design in job.designs
        if not design.stickers
        and (not design.is_layered or sum(layer.picture is not None for layer in design.layers) == 1)
    )


def with_words(job: Job, words: Mapping[tuple[str, str], str]) -> Job:
    """Return a job with other words in its layers, by the keys of design and layer.

    Raises:
        UsageError: some are empty.
    """
    for (key, layer_key), text in words.items():
        design = job.design(key)
        layer = design.layer(layer_key)
        assert layer.lettering is not None  # it was listed as words
        reworded = replace(layer, lettering=replace(layer.lettering, text=text))
        layers = tuple(reworded if one.key == layer_key else one for one in design.layers)
        job = job.with_design(replace(design, layers=layers))
    return job


def with_pieces(job: Job, before: int, wanted: int) -> Job:
    """Return a job with as many pieces as are wanted, each design in the share that it had.

    Args:
        job: as it was cut.
        before: pieces that were cut then.
        wanted: pieces that are to be cut now.

    Raises:
        UsageError: ``wanted`` is no number of pieces.
    """
    if not 1 <= wanted <= MOST_COPIES * max(1, len(job.designs)):
        raise UsageError(f"{wanted} pieces cannot be cut: type 1 to {MOST_COPIES} for each design")
    if wanted == before or not before:
        return job
    alone = len(job.designs) == 1
    designs = []
    for design in job.designs:
        rows = 1 if design.table is None else max(1, len(design.table.kept))
        copies = round(wanted / rows) if alone else round(design.copies * wanted / before)
        if design.copies or alone:
            copies = min(max(1, copies), MOST_COPIES)
            designs.append(replace(design, copies=copies, spares=0, fills=design.fills and not alone))
        else:
            designs.append(design)
    return replace(job, designs=tuple(designs), layout=(), pins=())
