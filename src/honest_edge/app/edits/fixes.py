"""From a finding's fix to the job that it makes."""

from __future__ import annotations

from dataclasses import replace
from typing import Any

from honest_edge.core.values.findings import Fix
from honest_edge.core.values.job import Job

_OF_DESIGN = ("width_mm", "source", "outline", "edge", "layers", "backing", "is_flattened", "fills")


def fixed_job(job: Job, fix: Fix) -> Job:
    """Return the job as a fix changes it.

    Raises:
        KeyError: its design is in the job no more.
        UsageError: a value of it is impossible.
    """
    if fix.sheet is not None:
        job = replace(job, sheet=fix.sheet)
    if fix.is_laid_anew:
        job = replace(job, pins=(), layout=())
    if fix.prints is not None:
        job = replace(job, prints=fix.prints)
    if not fix.design:
        return job
    changes: dict[str, Any] = {name: getattr(fix, name) for name in _OF_DESIGN if getattr(fix, name) is not None}
    return job.with_design(replace(job.design(fix.design), **changes))
