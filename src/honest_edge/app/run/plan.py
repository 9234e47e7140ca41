"""A run planned: how many sheets, and in which order to work through them."""

from __future__ import annotations

from dataclasses import dataclass, replace

from honest_edge.app.output.composed_sheets import ComposedSheets, composed_sheets
from honest_edge.app.rehearsal.print_count import PagePrints, PrintAdvice
from honest_edge.app.rehearsal.stage import staged
from honest_edge.app.results.overview import Overview
from honest_edge.app.results.pipeline import Pipeline
from honest_edge.app.results.progress import IsCancelled, never
from honest_edge.core.run.orders import RunOrder, SheetWork, run_orders
from honest_edge.core.sheet.costs import cut_seconds
from honest_edge.core.values.errors import UsageError
from honest_edge.core.values.job import Job
from honest_edge.core.values.machine import Machine
from honest_edge.core.values.run_times import RunTimes
from honest_edge.files.cut_files import passes_of
from honest_edge.files.sheet_page import HOME_MM, SheetPage


@dataclass(frozen=True, slots=True, kw_only=True)
class RunPlan:
    """A run before it begins.

    Attributes:
        prints: how often each sheet of the layout is printed, or cut where nothing is printed.
        assurance: share of runs with enough good stickers then.
        orders: of work, the quickest first.
    """

    prints: tuple[int, ...]
    assurance: float
    orders: tuple[RunOrder, ...]

    @property
    def sheets(self) -> int:
        """How many there are in all."""
        return sum(self.prints)


def with_good(job: Job, good: int | None) -> Job:
    """Return the job with another number of wanted good stickers; None leaves it.

    Raises:
        UsageError: it has more than one design, or the number is impossible.
    """
    if good is None:
        return job
    if len(job.designs) != 1:
        raise UsageError(f"--good is for a job of one design, and this has {len(job.designs)}: set copies in the job")
    (design,) = job.designs
    return replace(job, designs=(replace(design, copies=good, fills=False),), layout=(), prints=())


def run_plan(
    overview: Overview,
    pipeline: Pipeline,
    *,
    assurance: float,
    carriers: int,
    times: RunTimes,
    cancelled: IsCancelled = never,
) -> RunPlan:
    """Return how to work through a job.

    Raises:
        BlockedError: nothing is laid out or printed, something speaks against it, or no number of sheets is enough.
        UsageError: an impossible number of carriers or of sheets, or an assurance that is none.
        Cancelled: ``cancelled`` said so.
    """
    needed: PagePrints = PrintAdvice(overview, staged(overview), cancelled=cancelled).needed(assurance)
    composed = composed_sheets(overview.job, pipeline, cancelled=cancelled)
    works = sheet_works(composed, overview.job.sheet.cutter, needed.prints)
    return RunPlan(
        prints=needed.prints,
        assurance=needed.assurance,
        orders=tuple(run_orders(works, times, carriers)),
    )


def sheet_works(made: ComposedSheets, machine: Machine, prints: tuple[int, ...]) -> list[SheetWork]:
    """Return what each sheet takes in the cutter, every sheet as often as it is printed."""
    works: list[SheetWork] = []
    for page, count in zip(made.pages, prints, strict=True):
        works += [_work(page, machine)] * count
    return works


def _work(page: SheetPage, machine: Machine) -> SheetWork:
    """Return how long the passes of a sheet take; kinds that the machine takes together are one pass."""
    kinds = [kind for kind, rings in page.cuts.items() if rings]
    seconds = [
        cut_seconds({kind: page.cuts[kind] for kind in held}, machine, HOME_MM)
        for _, held in passes_of(kinds, machine)
        if held
    ]
    if len(seconds) < 2:
        return SheetWork(kiss_s=sum(seconds), is_printed=page.is_printed)
    return SheetWork(kiss_s=sum(seconds[:-1]), through_s=seconds[-1], is_printed=page.is_printed)
