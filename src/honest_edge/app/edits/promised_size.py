"""The size that was typed is a promise: it holds whatever else of a design changes, until another is typed."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import replace
from typing import TYPE_CHECKING

from honest_edge.core.values.errors import HonestEdgeError
from honest_edge.core.values.job import Design, Job

if TYPE_CHECKING:
    from honest_edge.app.results.design_result import DesignResult

SAME_MM = 0.01
"""A design is sized no finer: twenty times less than the best bench errs."""


def without_broken(before: Job, after: Job) -> Job:
    """Return a job that was edited, without promises of sizes that the hand itself changed otherwise."""
    old = {design.key: design for design in before.designs}
    for design in after.designs:
        was = old.get(design.key)
        if design.wanted is not None and was is not None and design.wanted == was.wanted and _is_resized(was, design):
            after = after.with_design(replace(design, wanted=None))
    return after


def _is_resized(was: Design, design: Design) -> bool:
    is_replaced = was.asset != design.asset or was.source != design.source
    moved = (was.width_mm, was.layers, was.form) != (design.width_mm, design.layers, design.form)
    return moved and not is_replaced


def kept_sizes(job: Job, results: Mapping[str, DesignResult]) -> tuple[Job, tuple[str, ...]]:
    """Return a job whose designs have the sizes that were typed, as far as results of it tell.

    Returns:
        The job, the same one where all hold, and why a promise cannot be kept, each one sentence.
    """
    from honest_edge.app.edits.sizes import factor_for  # a window stands before these are loaded
    from honest_edge.app.edits.together import resized

    why: list[str] = []
    for design in job.designs:
        wanted, result = design.wanted, results.get(design.key)
        if wanted is None or result is None or result.design != design or design.form is not None:
            continue
        sizes = result.cut_size_mm if wanted.of == "cut" else result.art_size_mm
        if abs(sizes[wanted.side] - wanted.length_mm) <= SAME_MM:
            continue
        try:
            factor = factor_for(result, wanted.length_mm, wanted.of, wanted.side)
            job = job.with_design(resized(design, factor))
        except HonestEdgeError as error:
            what = f"{'cut' if wanted.of == 'cut' else 'art'} {wanted.length_mm:.1f} mm"
            why.append(f"“{design.name}” cannot stay {what} {('wide', 'high')[wanted.side]}. {error}")
    return job, tuple(why)
