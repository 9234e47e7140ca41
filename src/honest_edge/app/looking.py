"""Computing what a job's overview holds."""

from __future__ import annotations

import math
from collections.abc import Callable
from dataclasses import replace

from honest_edge.app.overview import Change, Overview
from honest_edge.app.pipeline import DesignResult, IsCancelled, Pipeline, Report, never, plan_of, unreported
from honest_edge.core.values.errors import HonestEdgeError
from honest_edge.core.values.job import Design, Job


def overview(
    job: Job,
    pipeline: Pipeline,
    *,
    first: str | None = None,
    found: Callable[[str, DesignResult], None] = lambda _key, _result: None,
    report: Report = unreported,
    cancelled: IsCancelled = never,
) -> Overview:
    """Return everything about a job; one design's error does not hide the others.

    Args:
        job: the job.
        pipeline: keeps results between calls.
        first: key of the design to compute first.
        found: told each result as soon as it is there.
        report: told how far the work is.
        cancelled: asked between steps.

    Raises:
        Cancelled: ``cancelled`` said so.
    """
    results: dict[str, DesignResult] = {}
    errors: dict[str, str] = {}
    for index, design in enumerate(sorted(job.designs, key=lambda design: design.key != first)):

        def step(share: float, what: str, done: int = index) -> None:
            report((done + share) / len(job.designs), what)

        try:
            results[design.key] = pipeline.result(design, job, report=step, cancelled=cancelled)
            found(design.key, results[design.key])
        except HonestEdgeError as error:
            errors[design.key] = str(error)
    plan, plan_error = None, None
    if job.designs and not errors:
        try:
            plan = plan_of([results[design.key] for design in job.designs], job.sheet)
        except HonestEdgeError as error:
            plan_error = str(error)
    return Overview(job=job, results=results, errors=errors, plan=plan, plan_error=plan_error)


def smallest_change(
    design: Design, result: DesignResult, job: Job, pipeline: Pipeline, *, cancelled: IsCancelled = never
) -> Change | None:
    """Return the smallest bleed or offset, in steps of 0.1 mm, at which the drift no longer shows.

    None where nothing shows, or where no such step helps. Each candidate is computed whole before it is
    offered.
    """
    drift_mm = job.drift_mm
    spots = result.edge.spots(drift_mm)
    if not spots:
        return None
    white = spots[0].trouble == "white"
    start_mm = drift_mm if white else design.edge.offset_mm + drift_mm - spots[0].margin_mm
    for step in range(4):
        value_mm = round(math.ceil(round(start_mm * 10, 6)) / 10 + 0.1 * step, 1)
        edge = replace(design.edge, bleed_mm=value_mm) if white else replace(design.edge, offset_mm=value_mm)
        tried = pipeline.result(replace(design, edge=edge), job, cancelled=cancelled)
        if not tried.edge.spots(drift_mm):
            before_mm = design.edge.bleed_mm if white else design.edge.offset_mm
            return Change(edge=edge, name="Bleed" if white else "Offset", before_mm=before_mm, after_mm=value_mm)
    return None
