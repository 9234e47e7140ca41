"""How often to print each sheet of a job's layout, from what its rehearsal says of this bench."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from honest_edge.app.rehearsal.stage import Staged
from honest_edge.app.results.overview import Overview
from honest_edge.app.results.progress import IsCancelled, never
from honest_edge.core.proof.book_checks import spares_finding
from honest_edge.core.values.errors import BlockedError, Cancelled
from honest_edge.core.values.findings import Finding
from honest_edge.core.workshop.sheets_to_print import PrintCount, SheetKind, assurance_of, sheets_to_print
from honest_edge.simulator.rehearsal import good_counts
from honest_edge.simulator.sheets_by_chance import drawn_benches

ASSURANCES = (0.90, 0.95)

_BENCHES, _EACH = 32, 75
_SEED = 7


@dataclass(frozen=True, slots=True, kw_only=True)
class PagePrints:
    """How often to print each sheet of the layout.

    Attributes:
        prints: by sheet of the layout; 1 for what is not printed on.
        sheets: printed sheets in all.
        assurance: share of runs with enough good stickers then.
    """

    prints: tuple[int, ...]
    sheets: int
    assurance: float


class PrintAdvice:
    """Answers how many sheets it takes; the sheets it rests on are simulated once."""

    def __init__(self, overview: Overview, staged: Staged, *, cancelled: IsCancelled = never) -> None:
        """Simulate.

        Raises:
            Cancelled: ``cancelled`` said so.
        """
        self._overview, self._staged = overview, staged
        job, random = overview.job, np.random.default_rng(_SEED)
        bench = job.measured_bench
        measured = 0 if bench is None else bench.sheets
        benches = drawn_benches(job.misregistration, measured, _BENCHES, _EACH, random)
        self._alike = _alike_pages(staged)
        self._kinds = []
        for pages in self._alike:
            good = []
            for errors in benches:
                if cancelled():
                    raise Cancelled
                good.append(good_counts(staged.stage, pages[0], errors, random))
            self._kinds.append(SheetKind(good=good, least=len(pages)))
        designs = [overview.laid[number].design for number in staged.laid]
        rows = [1 if design.table is None else len(design.table.kept) for design in designs]
        self.wanted = tuple(design.copies * count for design, count in zip(designs, rows, strict=True))

    @property
    def printed(self) -> int:
        """How many sheets the job prints as it stands."""
        return sum(self._overview.job.prints_of(page) for page in self._staged.pages)

    def now(self) -> float:
        """Return the share of runs with enough good ones as often as the job prints each sheet."""
        counts = [
            sum(self._overview.job.prints_of(self._staged.pages[page]) for page in pages) for pages in self._alike
        ]
        return assurance_of(self._kinds, self.wanted, counts)

    def needed(self, assurance: float) -> PagePrints:
        """Return how often to print each sheet.

        Raises:
            BlockedError: no number of sheets is enough.
        """
        prints = sheets_to_print(self._kinds, self.wanted, assurance)
        return PagePrints(prints=self._dealt(prints), sheets=sum(prints.sheets), assurance=prints.assurance)

    def _dealt(self, found: PrintCount) -> tuple[int, ...]:
        """Deal the sheets of each kind to the pages that are alike."""
        plan = self._overview.plan
        prints = [1] * (0 if plan is None else len(plan.pages))
        for pages, count in zip(self._alike, found.sheets, strict=True):
            for number, page in enumerate(pages):
                each, more = divmod(count, len(pages))
                prints[self._staged.pages[page]] = each + (number < more)
        return tuple(prints)


def _alike_pages(staged: Staged) -> tuple[tuple[int, ...], ...]:
    """Return the sheets that hold the same, together: the same designs at the same places."""
    alike: dict[tuple[object, ...], list[int]] = {}
    for page, copies in enumerate(staged.stage.pages):
        key = tuple(sorted((copy.design, *np.round(copy.matrix, 3).ravel().tolist()) for copy in copies))
        alike.setdefault(key, []).append(page)
    return tuple(map(tuple, alike.values()))


def spares_findings(advice: PrintAdvice) -> tuple[Finding, ...]:
    """Return that too few sheets are printed for the wanted number of good ones; nothing where they are enough.

    Also nothing where no number of sheets would do: that is said of what spoils them.
    """
    now = advice.now()
    if now >= ASSURANCES[0]:
        return ()
    try:
        needed = advice.needed(ASSURANCES[-1])
    except BlockedError:
        return ()
    prints = as_job_prints(needed.prints)
    return (spares_finding(now, ASSURANCES[-1], needed.sheets, advice.printed, prints),)


def as_job_prints(prints: Sequence[int]) -> tuple[int, ...]:
    """Return how often each sheet is printed as a job keeps it: nothing where each is printed once."""
    return tuple(prints) if any(count != 1 for count in prints) else ()
