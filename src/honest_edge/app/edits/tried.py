"""A fix tried before it is offered: the job as it would be, computed whole and checked again."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from dataclasses import dataclass, replace

from honest_edge.app.edits.fixes import fixed_job
from honest_edge.app.results.compute_overview import compute_overview
from honest_edge.app.results.overview import Overview
from honest_edge.app.results.pipeline import Pipeline
from honest_edge.app.results.progress import IsCancelled, never
from honest_edge.core.proof.words import counted
from honest_edge.core.values.errors import HonestEdgeError
from honest_edge.core.values.findings import SEVERITIES, Finding, Fix, Leaving
from honest_edge.core.values.job import Job

_SAME = 1e-9


@dataclass(frozen=True, slots=True, kw_only=True)
class TriedFix:
    """What a fix would do.

    Attributes:
        job: the job as it would be; None where that is impossible.
        before: the job that it was tried on.
        is_mended: whether all that it is for is gone then, or matters less.
        better: how many other findings go with it.
        worse: what would be found then that is not found now, or is worse.
        error: why it is impossible.
    """

    job: Job | None
    before: Job
    is_mended: bool = False
    better: int = 0
    worse: tuple[Finding, ...] = ()
    error: str = ""

    @property
    def can_be_offered(self) -> bool:
        """Whether it mends what it is for."""
        return self.job is not None and self.is_mended

    @property
    def words(self) -> str:
        """What it would do, as a sentence without its full stop; empty where it just mends."""
        if self.job is None:
            return f"this does not work here: {self.error}"
        if not self.is_mended:
            return "tried: it is not enough here"
        if self.worse:
            more = f", and {len(self.worse) - 1} more" if len(self.worse) > 1 else ""
            return f"but then {self.worse[0].message}{more}"
        return f"mends {counted(self.better, 'other')} too" if self.better else ""


def tried(
    overview: Overview, finding: Finding, fix: Fix, pipeline: Pipeline, *, cancelled: IsCancelled = never
) -> TriedFix:
    """Return what a fix of an overview's finding would do.

    Raises:
        Cancelled: ``cancelled`` said so.
    """
    try:
        job = fixed_job(overview.job, fix)
    except (HonestEdgeError, KeyError) as error:
        return TriedFix(job=None, before=overview.job, error=str(error).strip("'"))
    return tried_job(overview, [finding], job, pipeline, first=fix.design or None, cancelled=cancelled)


def tried_job(
    overview: Overview,
    mended: Sequence[Finding],
    job: Job,
    pipeline: Pipeline,
    *,
    first: str | None = None,
    cancelled: IsCancelled = never,
) -> TriedFix:
    """Return what a changed job would do about some findings.

    Raises:
        Cancelled: ``cancelled`` said so.
    """
    then = compute_overview(job, pipeline, first=first, before=overview, is_trial=True, cancelled=cancelled)
    return compared(mended, overview.findings, then.findings, overview.job, job)


def compared(
    mended: Sequence[Finding], now: Sequence[Finding], then: Sequence[Finding], before: Job, job: Job
) -> TriedFix:
    """Return what changes between the findings of a job and those of the job that fixes make of it."""
    others_now, others_then = _others(mended, now), _others(mended, then)
    return TriedFix(
        job=job,
        before=before,
        is_mended=all(_is_milder(other, one) for one in mended for other in _at(one, then)),
        better=sum(not _at(other, others_then) for other in others_now),
        worse=tuple(other for other in others_then if other.severity != "note" and _is_worse(other, others_now)),
    )


def _others(mended: Sequence[Finding], findings: Iterable[Finding]) -> list[Finding]:
    keys = {(one.check, one.subject) for one in mended}
    return [other for other in findings if (other.check, other.subject) not in keys]


def _at(finding: Finding, among: Iterable[Finding]) -> list[Finding]:
    return [other for other in among if (other.check, other.subject) == (finding.check, finding.subject)]


def _is_milder(one: Finding, two: Finding) -> bool:
    """Whether the same finding matters less than before."""
    return SEVERITIES.index(one.severity) > SEVERITIES.index(two.severity)


def _is_worse(finding: Finding, before: Sequence[Finding]) -> bool:
    """Whether it is new, more severe, or its number is farther from what is needed."""
    was = _at(finding, before)
    if not was or all(_is_milder(other, finding) for other in was):
        return True
    lacking, known = _lacking(finding), [earlier for earlier in map(_lacking, was) if earlier is not None]
    return lacking is not None and bool(known) and lacking > max(known) + _SAME


def _lacking(finding: Finding) -> float | None:
    if finding.measured is None or finding.needed is None:
        return None
    return abs(finding.needed.value - finding.measured.value)


def of_a_kind(findings: Sequence[Finding], check: str) -> list[Finding]:
    """Return the open findings of one check that a change of the job mends."""
    return [f for f in findings if f.check == check and f.fix is not None and not f.left and not f.fix.visit]


def all_taken(job: Job, findings: Sequence[Finding]) -> Job:
    """Return the job with the first fix of every finding taken, one after the other.

    Raises:
        UsageError: a value is impossible.
    """
    for finding in findings:
        if finding.fix is not None:
            job = _merged(job, finding.fix)
    return job


def _merged(job: Job, fix: Fix) -> Job:
    """Take a fix after others: steps by hand that a fix before it added stay."""
    if not fix.design or fix.outline is None:
        return fixed_job(job, fix)
    here = job.design(fix.design).outline
    steps = (*here.corrections, *(step for step in fix.outline.corrections if step not in here.corrections))
    return fixed_job(job, replace(fix, outline=replace(fix.outline, corrections=steps)))


def with_left(job: Job, findings: Iterable[Finding], reason: str) -> Job:
    """Return the job with findings left as they are.

    Raises:
        UsageError: no reason is given.
    """
    more = [
        Leaving(check=f.check, subject=f.subject, message=f.message, reason=reason.strip())
        for f in findings
        if f.can_be_left
    ]
    told = {(leaving.check, leaving.subject, leaving.message) for leaving in more}
    kept = [one for one in job.left if (one.check, one.subject, one.message) not in told]
    return replace(job, left=(*kept, *more))


def without_left(job: Job, finding: Finding) -> Job:
    """Return the job with a finding taken up again."""
    return replace(job, left=tuple(leaving for leaving in job.left if not leaving.holds_for(finding)))
