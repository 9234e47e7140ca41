"""Computing what a job's overview holds."""

from __future__ import annotations

from collections.abc import Callable, Sequence

from honest_edge.app.results.design_result import DesignResult, printed_kinds
from honest_edge.app.results.overview import Overview
from honest_edge.app.results.parallel import in_parallel
from honest_edge.app.results.pipeline import Pipeline
from honest_edge.app.results.progress import IsCancelled, ReportProgress, never, unreported
from honest_edge.app.results.too_large import too_large, ways_to_fit
from honest_edge.core.proof import register
from honest_edge.core.proof.sheet_checks import sheet_findings
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
    report: ReportProgress = unreported,
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
    blocked: dict[str, Finding] = {}

    def one(design: Design) -> None:
        def step(share: float, what: str) -> None:
            report(0.95 * (len(results) + share) / len(job.designs), what)

        try:
            made = pipeline.result(design, job, report=step, cancelled=cancelled)
            results[design.key] = made
            found(design.key, made)
            pieces[design.key] = pipeline.pieces(design, job, cancelled=cancelled)
        except HonestEdgeError as error:
            blocked[design.key] = register.ART.found(Subject(kind="design", design=design.key), str(error))

    ordered = sorted(job.designs, key=lambda design: design.key != first)
    for in_hand in ordered[:1]:
        one(in_hand)  # by itself: whoever looks at it waits for it
    in_parallel(one, ordered[1:])
    laid = tuple(
        r for d in job.designs if d.key in pieces for r in (pipeline.as_laid(results[d.key], job), *pieces[d.key])
    )
    if not job.designs or blocked:
        return Overview(job=job, results=results, blocked=blocked, laid=laid)
    report(0.95, "Laying out the sheets")
    plan, sheet = _laid_out(laid, job, pipeline, cancelled)
    return Overview(job=job, results=results, plan=plan, laid=laid, sheet_findings=sheet)


def _laid_out(
    laid: Sequence[DesignResult], job: Job, pipeline: Pipeline, cancelled: IsCancelled
) -> tuple[Plan | None, tuple[Finding, ...]]:
    """Return the layout with what speaks against it; None with why there is none."""
    try:
        plan = pipeline.plan([result.footprint for result in laid], job, cancelled=cancelled)
        return plan, sheet_findings(job.sheet, printed_kinds(laid))
    except HonestEdgeError as error:
        large = too_large(laid, job.sheet)
        ways = () if large is None else tuple(ways_to_fit(large, job))
        return None, (
            register.LAYOUT.found(Subject(kind="job"), str(error), fix=ways[0] if ways else None, others=ways[1:]),
        )
