"""What most people do at a station, done: advice that is taken, and fixes that mend without making anything worse."""

from __future__ import annotations

from dataclasses import dataclass, replace

from honest_edge.app.edits.tried import tried
from honest_edge.app.results.assess_edge import TARGETS, assess_edge, proposed_change
from honest_edge.app.results.compute_overview import compute_overview
from honest_edge.app.results.overview import Overview
from honest_edge.app.results.pipeline import Pipeline
from honest_edge.app.results.progress import IsCancelled, ReportProgress, never, unreported
from honest_edge.core.proof import register
from honest_edge.core.proof.design_checks import change_words
from honest_edge.core.values.findings import Finding
from honest_edge.core.values.job import Design, Job
from honest_edge.core.values.specs import EdgeRecipe, with_school

_MOST_STEPS = 12


@dataclass(frozen=True, slots=True, kw_only=True)
class Usual:
    """What came of it.

    Attributes:
        before: the job that it was done to.
        job: the job as it is then; the same where nothing was left to do.
        steps: what was done, each a few words.
        why_not: what still blocks at this station, in one sentence; empty where nothing does.
    """

    before: Job
    job: Job
    steps: tuple[str, ...] = ()
    why_not: str = ""


def usual(
    overview: Overview,
    station: str,
    pipeline: Pipeline,
    *,
    report: ReportProgress = unreported,
    cancelled: IsCancelled = never,
) -> Usual:
    """Return a job with what is usual at a station done; what was set by hand stays unless it does not work.

    Raises:
        Cancelled: ``cancelled`` said so.
    """
    before = overview.job
    steps: list[str] = []
    if station == "edge":
        overview, steps = _advised(overview, pipeline, report, cancelled)
    for number in range(_MOST_STEPS):
        report(number / _MOST_STEPS, "Doing the usual")
        mended = _mended(overview, station, pipeline, cancelled)
        if mended is None:
            break
        overview, words = mended
        steps.append(words)
    blocks = [blocking for blocking in _open(overview, station) if blocking.severity == "blocks"]
    why_not = overview.named(blocks[0]) if blocks else ""
    return Usual(before=before, job=overview.job, steps=tuple(dict.fromkeys(steps)), why_not=why_not)


def _open(overview: Overview, station: str) -> list[Finding]:
    """Return what is found there and matters; Proof looks at all of it."""
    return [
        finding
        for finding in overview.every_finding
        if finding.severity != "note" and not finding.left and station in (finding.station, "proof")
    ]


def _mended(
    overview: Overview, station: str, pipeline: Pipeline, cancelled: IsCancelled
) -> tuple[Overview, str] | None:
    """Return an overview with one more thing mended, and how; None where nothing more can be."""
    for finding in _open(overview, station):
        if finding.fix is None or finding.fix.visit or register.PARTS.is_of(finding):
            continue  # what lies apart is never joined unasked
        trial = tried(overview, finding, finding.fix, pipeline, cancelled=cancelled)
        if trial.job is not None and trial.can_be_offered and not trial.worse:
            return _computed(trial.job, overview, pipeline, cancelled), finding.fix.words
    return None


def _computed(job: Job, before: Overview, pipeline: Pipeline, cancelled: IsCancelled) -> Overview:
    return compute_overview(job, pipeline, before=before, cancelled=cancelled)


def _advised(
    overview: Overview, pipeline: Pipeline, report: ReportProgress, cancelled: IsCancelled
) -> tuple[Overview, list[str]]:
    """Take the advised school where none was chosen, and the smallest change that most stickers need."""
    steps, job = [], overview.job
    for number, design in enumerate(job.designs):
        report(number / len(job.designs), f"Looking at {design.name}")
        result = overview.results.get(design.key)
        if result is None:
            continue
        advised = _with_advice(design, overview, pipeline, cancelled)
        if advised != design:
            result = pipeline.result(advised, job, cancelled=cancelled)
            steps.append(f"school of {design.name}: {_SCHOOL_WORDS[advised.edge.school]}")
        change = proposed_change(result, job, pipeline, TARGETS[0], cancelled=cancelled)
        if change is not None:
            steps.append(change_words(advised.edge, change.edge))
            advised = replace(advised, edge=change.edge)
        job = job.with_design(advised)
    return (overview if job == overview.job else _computed(job, overview, pipeline, cancelled)), steps


_SCHOOL_WORDS = {"border": "a white border", "bleed": "full bleed", "inside": "cut inside", "bare": "cut at the art"}


def _with_advice(design: Design, overview: Overview, pipeline: Pipeline, cancelled: IsCancelled) -> Design:
    if design.edge != EdgeRecipe():
        return design
    advice = assess_edge(overview.results[design.key], overview, pipeline, cancelled=cancelled).advice
    return design if advice is None else replace(design, edge=with_school(design.edge, advice.school))
