"""What the make line sets, in all designs of a job at once."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import replace
from typing import TYPE_CHECKING

from honest_edge.app.edits.habits import promised
from honest_edge.core.values.job import Design, Job
from honest_edge.core.values.specs import LineKind, School, WantedSize, with_school

if TYPE_CHECKING:
    from honest_edge.app.results.design_result import DesignResult


def with_cut_width(job: Job, width_mm: float, results: Mapping[str, DesignResult]) -> Job:
    """Return the job with every design that is on no form cut so wide.

    Args:
        job: the job.
        width_mm: wanted.
        results: what is known of its designs, by key; one that is not known yet becomes about as wide.

    Raises:
        UsageError: no sticker has that size.
    """
    from honest_edge.app.edits.sizes import factor_for
    from honest_edge.app.edits.together import resized

    wanted = WantedSize(of="cut", side=0, length_mm=width_mm)
    for design in job.designs:
        result = results.get(design.key)
        if design.form is not None or (result is None and design.is_layered):
            continue
        if result is None:
            job = job.with_design(promised(design, wanted))
        else:
            factor = factor_for(result, width_mm, "cut", 0)
            job = job.with_design(replace(resized(design, factor), wanted=wanted))
    return job


def with_school_of_all(job: Job, school: School) -> Job:
    """Return the job with every design's edge of one school, with its usual numbers where it was of another."""
    return _each(job, lambda d: d if d.edge.school == school else replace(d, edge=with_school(d.edge, school)))


def with_line_kind_of_all(job: Job, kind: LineKind) -> Job:
    """Return the job with every design cut by one kind of line."""
    return _each(job, lambda design: replace(design, edge=replace(design.edge, line_kind=kind)))


def with_filled_sheet(job: Job, *, fills: bool) -> Job:
    """Return the job with every design filling the sheets, or with a number of copies each."""
    return _each(job, lambda design: replace(design, fills=fills, copies=max(1, design.copies)))


def with_copies(job: Job, key: str, copies: int) -> Job:
    """Return the job with a number of copies of one design.

    Raises:
        UsageError: too many.
    """
    return job.with_design(replace(job.design(key), copies=copies, fills=False))


def _each(job: Job, change: Callable[[Design], Design]) -> Job:
    for design in job.designs:
        job = job.with_design(change(design))
    return job
