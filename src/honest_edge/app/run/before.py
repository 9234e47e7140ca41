"""What is known before a run is sealed: what Proof still says, how many sheets and why, how long, in which order."""

from __future__ import annotations

from collections.abc import Collection, Mapping
from dataclasses import dataclass, replace
from pathlib import Path

from honest_edge.app.book.desk import BookDesk
from honest_edge.app.book.material import ink_cm2
from honest_edge.app.book.run_of_job import expected_clean
from honest_edge.app.output.composed_sheets import composed_sheets
from honest_edge.app.rehearsal.print_count import PrintAdvice
from honest_edge.app.rehearsal.stage import staged
from honest_edge.app.results.overview import Overview
from honest_edge.app.results.pipeline import Pipeline
from honest_edge.app.results.progress import IsCancelled, ReportProgress, never, unreported
from honest_edge.app.run.plan import sheet_works
from honest_edge.app.run.run_facts import RunFacts, run_facts
from honest_edge.core.run.orders import MOST_CARRIERS, RunOrder, SheetWork, run_orders
from honest_edge.core.values.errors import BlockedError, FileError, HonestEdgeError
from honest_edge.core.values.run_events import Inspected
from honest_edge.core.values.run_times import RunTimes
from honest_edge.files.runs.journal import LeftRun, left_runs, parse_run

_MOST_SAID = 4


@dataclass(frozen=True, slots=True, kw_only=True)
class BeforeRun:
    """What is known before a run.

    Attributes:
        sheets: how many the job prints, and cuts where nothing is printed.
        assurance: share of runs with enough good ones then; None where nothing is printed.
        works: what each takes in the cutter; empty where nothing can be written yet.
        times: how long acts take, with drying.
        known: what the Book knows.
        forecast: share that is expected clean; None where nothing is laid out.
        ink_cm2: area that is inked on all sheets.
        said: what Proof still says, the worst first.
        why_not: why a run cannot begin; empty where it can.
        left: runs that are kept, the newest first.
        unread: a sentence for each run that cannot be read, and for a Book that cannot.
        elsewhere: a sentence for each run of the project that is not kept on this machine.
    """

    sheets: int = 0
    assurance: float | None = None
    works: tuple[SheetWork, ...] = ()
    times: RunTimes
    known: RunFacts
    forecast: float | None = None
    ink_cm2: float = 0.0
    said: tuple[str, ...] = ()
    why_not: str = ""
    left: tuple[LeftRun, ...] = ()
    unread: tuple[str, ...] = ()
    elsewhere: tuple[str, ...] = ()

    def orders(self, carriers: int) -> tuple[RunOrder, ...]:
        """Return the orders of work with so many carriers, the best first."""
        most = min(max(1, carriers), MOST_CARRIERS)
        return tuple(run_orders(self.works, self.times, most)) if self.works else ()


def before_run(
    overview: Overview,
    pipeline: Pipeline,
    desk: BookDesk,
    runs: Path,
    now_ms: int,
    *,
    of_project: Mapping[str, bytes] | None = None,
    report: ReportProgress = unreported,
    cancelled: IsCancelled = never,
) -> BeforeRun:
    """Return what is known before a run.

    Raises:
        Cancelled: ``cancelled`` said so.
    """
    job = overview.job
    names = [design.name for design in job.designs]
    try:
        known, no_book = run_facts(desk, job.sheet, names, now_ms), []
    except FileError as error:  # a run can begin without the Book
        known, no_book = RunFacts(), [str(error)]
    times = known.times if known.drying_s is None else replace(known.times, dry_s=known.drying_s)
    left, unread = left_runs(runs)
    elsewhere, damaged = _elsewhere(of_project or {}, {run.seal.run for run in left})
    known_now = BeforeRun(
        times=times, known=known, left=tuple(left), unread=(*no_book, *unread, *damaged), elsewhere=tuple(elsewhere)
    )
    why_not = "there is no art yet" if not job.designs else overview.why_unwritten
    if why_not is not None:
        return replace(known_now, why_not=why_not)
    report(0.2, "Reckoning the run")
    try:
        composed = composed_sheets(job, pipeline, cancelled=cancelled)
        prints = tuple(job.prints_of(page) for page in range(len(composed.pages)))
        works = tuple(sheet_works(composed, job.sheet.cutter, prints))
    except BlockedError as error:
        return replace(known_now, why_not=str(error))
    report(0.7, "Reckoning how many sheets are enough")
    open_ones = [one for one in overview.every_finding if not one.left and one.severity != "note"]
    return replace(
        known_now,
        sheets=sum(prints),
        assurance=_assurance(overview, cancelled),
        works=works,
        forecast=expected_clean(overview),
        ink_cm2=ink_cm2(overview),
        said=tuple(overview.named(one) for one in open_ones[:_MOST_SAID]),
    )


def _elsewhere(of_project: Mapping[str, bytes], here: Collection[str]) -> tuple[list[str], list[str]]:
    """Return a sentence for each run of a project that is not kept on this machine, and for each that is damaged."""
    said, damaged = [], []
    for run, text in of_project.items():
        if run in here:
            continue
        try:
            seal, events = parse_run(text, run[:8])
            looked = [event for event in events if isinstance(event, Inspected)]
        except HonestEdgeError as error:
            damaged.append(str(error))
            continue
        said.append(
            f"Run {seal.code}, sealed {seal.sealed_at[:10]}, was led on another machine: {len(looked)} of "
            f"{len(seal.sheets)} sheets were inspected there."
        )
    return said, damaged


def _assurance(overview: Overview, cancelled: IsCancelled) -> float | None:
    try:
        return PrintAdvice(overview, staged(overview), cancelled=cancelled).now()
    except BlockedError:
        return None  # nothing is printed
