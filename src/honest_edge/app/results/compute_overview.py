"""Computing what a job's overview holds."""

from __future__ import annotations

import contextlib
from collections.abc import Callable, Sequence
from dataclasses import replace

from honest_edge.app.results.design_result import DesignResult
from honest_edge.app.results.overview import EMPTY, Overview
from honest_edge.app.results.parallel import in_parallel
from honest_edge.app.results.pipeline import Pipeline
from honest_edge.app.results.progress import IsCancelled, ReportProgress, never, unreported
from honest_edge.app.results.sheet_proof import sheet_proof
from honest_edge.app.results.too_large import too_large, ways_to_fit
from honest_edge.core.proof import register
from honest_edge.core.proof.mark_checks import rim_finding
from honest_edge.core.sheet.plan import Plan
from honest_edge.core.values.errors import HonestEdgeError
from honest_edge.core.values.findings import Finding, Subject
from honest_edge.core.values.job import Design, Job


def compute_overview(
    job: Job,
    pipeline: Pipeline,
    *,
    first: str | None = None,
    found: Callable[[str, DesignResult], None] = lambda _key, _result: None,
    before: Overview = EMPTY,
    laid_out: Callable[[Overview], None] | None = None,
    is_trial: bool = False,
    report: ReportProgress = unreported,
    cancelled: IsCancelled = never,
) -> Overview:
    """Return everything about a job; one design's error does not hide the others.

    Args:
        job: the job.
        pipeline: keeps results between calls.
        first: key of the design to compute first.
        found: told each result as soon as it is there.
        before: an earlier overview: of its layout stays in the first one what still holds.
        laid_out: told a first layout where the good one takes long, and the good one where a sheet less is still
            sought; None makes none.
        is_trial: only tried: what is kept for the job that is shown stays.
        report: told how far the work is.
        cancelled: asked between steps.

    Raises:
        Cancelled: ``cancelled`` said so.
    """
    turn = contextlib.nullcontext() if is_trial else pipeline.turn()
    with turn:
        return _computed(job, pipeline, first, found, before, laid_out, report, cancelled)


def _computed(
    job: Job,
    pipeline: Pipeline,
    first: str | None,
    found: Callable[[str, DesignResult], None],
    before: Overview,
    laid_out: Callable[[Overview], None] | None,
    report: ReportProgress,
    cancelled: IsCancelled,
) -> Overview:
    results: dict[str, DesignResult] = {}
    pieces: dict[str, tuple[DesignResult, ...]] = {}
    blocked: dict[str, Finding] = {}

    def one(design: Design) -> None:
        def step(share: float, what: str) -> None:
            report(0.95 * (len(results) + share) / len(job.designs), what)

        try:
            result = pipeline.result(design, job, report=step, cancelled=cancelled)
            results[design.key] = result.looked_at() if design.key == first else result
            found(design.key, result)
            pieces[design.key] = pipeline.pieces(design, job, cancelled=cancelled)
        except HonestEdgeError as error:
            blocked[design.key] = register.ART.found(Subject(kind="design", design=design.key), str(error))

    # what is made of many layers takes longest: begun early, nothing waits for it alone at the end
    ordered = sorted(job.designs, key=lambda design: (design.key != first, -len(design.layers)))
    in_parallel(one, ordered)
    laid = tuple(
        r for d in job.designs if d.key in pieces for r in (pipeline.as_laid(results[d.key], job), *pieces[d.key])
    )
    if not job.designs or blocked:
        return Overview(job=job, results=results, blocked=blocked, laid=laid, bench_findings=before.bench_findings)
    report(0.95, "Laying out the sheets")
    known = Overview(job=job, results=results, laid=laid, bench_findings=before.bench_findings)
    return _with_layout(known, pipeline, before, laid_out, cancelled)


def _with_layout(
    made: Overview,
    pipeline: Pipeline,
    before: Overview,
    laid_out: Callable[[Overview], None] | None,
    cancelled: IsCancelled,
) -> Overview:
    """Return an overview with its layout; tell those that are there before it."""

    def provisional(plan: Plan) -> None:
        if laid_out is not None:
            laid_out(replace(made, plan=plan, is_provisional=True))

    if laid_out is not None and sum(_counted(result) for result in made.laid) >= _MANY:
        first_plan = _first_layout(made.laid, made.job, pipeline, before, cancelled)
        if first_plan is not None:
            provisional(first_plan)
    plan, sheet = _laid_out(made.laid, made.job, pipeline, provisional, cancelled)
    return replace(made, plan=plan, sheet_findings=sheet)


_MANY = 40
"""Fewer copies are laid well at once; from experience."""

_AS_MANY_AS_FILL = 20


def _counted(result: DesignResult) -> int:
    footprint = result.footprint
    return max(footprint.copies, _AS_MANY_AS_FILL if footprint.fills else 0)


def _first_layout(
    laid: Sequence[DesignResult], job: Job, pipeline: Pipeline, before: Overview, cancelled: IsCancelled
) -> Plan | None:
    """Return a layout that is there at once; None where there is none."""
    is_same = before.plan is not None and before.job.sheet == job.sheet
    kept = (before.plan, [result.footprint for result in before.laid]) if before.plan is not None and is_same else None
    try:
        return pipeline.quick_plan([result.footprint for result in laid], job, kept, cancelled=cancelled)
    except HonestEdgeError:
        return None  # the good layout says why


def _laid_out(
    laid: Sequence[DesignResult],
    job: Job,
    pipeline: Pipeline,
    found: Callable[[Plan], None],
    cancelled: IsCancelled,
) -> tuple[Plan | None, tuple[Finding, ...]]:
    """Return the layout with what speaks against it; None with why there is none."""
    try:
        plan = pipeline.plan([result.footprint for result in laid], job, found=found, cancelled=cancelled)
        return plan, sheet_proof(plan, laid, job)
    except HonestEdgeError as error:
        in_rim = rim_finding(job.sheet)
        if in_rim is not None:
            return None, (in_rim,)
        large = too_large(laid, job.sheet)
        ways = () if large is None else tuple(ways_to_fit(large, job))
        return None, (
            register.LAYOUT.found(Subject(kind="job"), str(error), fix=ways[0] if ways else None, others=ways[1:]),
        )
