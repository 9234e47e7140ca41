"""Computing what a job's overview holds."""

from __future__ import annotations

from collections.abc import Callable

from honest_edge.app.overview import Overview
from honest_edge.app.pipeline import (
    DesignResult,
    IsCancelled,
    Pipeline,
    Report,
    never,
    printed_kinds,
    unreported,
)
from honest_edge.core.sheet.bench_checks import sheet_warnings
from honest_edge.core.values.errors import HonestEdgeError
from honest_edge.core.values.job import Job


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
    pieces: dict[str, tuple[DesignResult, ...]] = {}
    errors: dict[str, str] = {}
    for index, design in enumerate(sorted(job.designs, key=lambda design: design.key != first)):

        def step(share: float, what: str, done: int = index) -> None:
            report(0.95 * (done + share) / len(job.designs), what)

        try:
            results[design.key] = pipeline.result(design, job, report=step, cancelled=cancelled)
            found(design.key, results[design.key])
            pieces[design.key] = pipeline.pieces(design, job, cancelled=cancelled)
        except HonestEdgeError as error:
            errors[design.key] = str(error)
    plan, plan_error = None, None
    warnings: tuple[str, ...] = ()
    laid = tuple(r for d in job.designs if d.key in pieces for r in (results[d.key], *pieces[d.key]))
    if job.designs and not errors:
        report(0.95, "Laying out the sheets")
        try:
            plan = pipeline.plan([result.footprint for result in laid], job, cancelled=cancelled)
            warnings = tuple(sheet_warnings(job.sheet, printed_kinds(laid)))
        except HonestEdgeError as error:
            plan_error = str(error)
    return Overview(
        job=job, results=results, errors=errors, plan=plan, plan_error=plan_error, laid=laid, sheet_warnings=warnings
    )
