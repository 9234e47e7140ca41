"""What the Book says against a job: no proven setting, a blade near its end, too little stock."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass

from honest_edge.core.proof import register
from honest_edge.core.proof.words import counted
from honest_edge.core.values.findings import Finding, Fix, Quantity, Subject
from honest_edge.core.values.job import Job
from honest_edge.core.values.units import format_length

_JOB = Subject(kind="job")


@dataclass(frozen=True, slots=True, kw_only=True)
class JobFacts:
    """What the Book knows of a job's stock, machine and blade.

    Attributes:
        has_setting: a setting of this stock on this machine was found by test cuts or proven by a run.
        blade: the one in use, where more than one in four such blades is dull by now; empty where none is due.
        blade_m: metres that it has cut.
        blade_dull: the share of such blades that is dull by then.
        on_hand: sheets of the stock; None where that is not known.
    """

    has_setting: bool = False
    blade: str = ""
    blade_m: float = 0.0
    blade_dull: float = 0.0
    on_hand: int | None = None


def bench_findings(job: Job) -> Iterator[Finding]:
    """Yield that the bench is only assumed, where it is."""
    if job.error is None and job.measured_bench is None:
        yield register.ASSUMED.found(
            _JOB,
            f"how print and cut agree is only assumed: within {format_length(job.drift_mm, 'mm')}, 19 times of 20",
            "measure it: one sheet and a scan tell",
            fix=Fix(words="Measure the bench", visit="bench"),
        )


def book_findings(job: Job, known: JobFacts, sheets: int) -> Iterator[Finding]:
    """Yield what the Book says against cutting so many sheets."""
    stock = job.sheet.stock.name
    if not known.has_setting:
        yield register.SETTING.found(
            _JOB,
            f"no setting is proven for “{stock}” on {job.sheet.machine.name}",
            "find one by a small test cut",
            fix=Fix(words="Find a setting by a test cut", visit="book:test cuts"),
        )
    if known.blade:
        yield register.BLADE.found(
            _JOB,
            f"“{known.blade}” has cut {known.blade_m:.0f} m, where {100 * known.blade_dull:.0f} % of blades are dull",
            "look at its tip, or fit a fresh one",
            measured=Quantity(value=100 * known.blade_dull, unit="%"),
            needed=Quantity(value=25.0, unit="%"),
            fix=Fix(words="See the blades", visit="book:blades"),
        )
    if known.on_hand is not None and known.on_hand < sheets:
        yield register.STOCK.found(
            _JOB,
            f"{counted(known.on_hand, 'sheet')} of “{stock}” on hand, and {sheets} wanted",
            "get more, or make fewer",
            measured=Quantity(value=known.on_hand, unit=""),
            needed=Quantity(value=sheets, unit=""),
            fix=Fix(words="See the stock", visit="book:stock"),
        )


def spares_finding(assurance: float, wanted: float, sheets: int, now: int, prints: tuple[int, ...]) -> Finding:
    """Return that too few are printed for the wanted number of good ones.

    Args:
        assurance: share of runs with enough good ones as the job stands.
        wanted: the share that is asked for.
        sheets: how many sheets would do.
        now: how many the job prints.
        prints: how often each sheet would be printed.
    """
    more = sheets - now
    return register.SPARES.found(
        _JOB,
        f"with {counted(now, 'sheet')} there are enough good ones in {100 * assurance:.0f} % of runs",
        f"print {counted(more, 'more sheet')}: spare stickers on the same sheet hardly help",
        measured=Quantity(value=100 * assurance, unit="%"),
        needed=Quantity(value=100 * wanted, unit="%"),
        fix=Fix(words=f"Print {counted(sheets, 'sheet')}", prints=prints),
    )
