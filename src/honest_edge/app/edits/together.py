"""Edits of several designs at once: what is changed in the one in hand changes alike in the others."""

from __future__ import annotations

from collections.abc import Collection, Mapping
from dataclasses import fields, replace
from typing import Any

from honest_edge.core.layers.arrange import all_scaled
from honest_edge.core.values.job import Design, Job


def edited_together(job: Job, first: Design, others: Collection[str], changes: Mapping[str, Any]) -> Job:
    """Return the job with a design changed, and others alike: of an edge only what differs from before.

    Raises:
        UsageError: a value is impossible.
    """
    edited = replace(first, **changes)
    edge = {f.name: getattr(edited.edge, f.name) for f in fields(edited.edge)}
    differs = {name: value for name, value in edge.items() if value != getattr(first.edge, name)}
    plain = {name: value for name, value in changes.items() if name != "edge"}
    job = job.with_design(edited)
    for design in job.designs:
        if design.key in others and design.key != first.key:
            job = job.with_design(replace(design, edge=replace(design.edge, **differs), **plain))
    return job


def resized(design: Design, factor: float) -> Design:
    """Return a design so many times as large; a form keeps its sizes, which are typed one by one.

    Raises:
        UsageError: no sticker has that size.
    """
    if design.form is not None:
        return design
    if design.is_layered:
        return replace(design, layers=all_scaled(design.layers, factor))
    return replace(design, width_mm=design.width_mm * factor)
