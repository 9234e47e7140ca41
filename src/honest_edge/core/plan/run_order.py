"""In which order to work through a run of several sheets: one person, one cutter, a few carriers.

Sheets are printed one after the other and dry by themselves. Every other act takes the person; while a pass is cut, the
cutter works alone. A few orders are good ones: sheet by sheet, or blocks of which first all are kiss-cut, then all cut
through, with fewer changes of setting. Each is played through by simple rules, and the quickest comes first.
"""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass, field
from typing import Literal

from honest_edge.core.values.errors import UsageError
from honest_edge.core.values.run_times import RunTimes

Lane = Literal["printer", "drying", "you", "cutter"]
What = Literal["print", "dry", "lay", "put in", "change", "kiss", "through", "take out", "peel"]

MOST_SHEETS, MOST_CARRIERS = 500, 20
_SAME_S = 1e-6


@dataclass(frozen=True, slots=True, kw_only=True)
class SheetWork:
    """How long a sheet is in the cutter: its first pass, and the second; 0 where there is none.

    What is not printed, a piece of coloured stock, need not dry.
    """

    kiss_s: float
    through_s: float = 0.0
    is_printed: bool = True


@dataclass(frozen=True, slots=True, kw_only=True)
class Act:
    """One act.

    Attributes:
        what: is done.
        sheet: with which, from 0.
        start_s, end_s: counted from the beginning.
        lane: who or what is busy with it; the cutter is busy, too, while something is put in, taken out or changed.
        carrier: which one is in use, from 0; None for none.
    """

    what: What
    sheet: int
    start_s: float
    end_s: float
    lane: Lane
    carrier: int | None = None


@dataclass(frozen=True, slots=True, kw_only=True)
class RunOrder:
    """One order of work.

    Attributes:
        name: what it is called.
        acts: in the order in which they begin.
        setting_changes: how often the machine is set anew.
    """

    name: str
    acts: tuple[Act, ...]
    setting_changes: int

    @property
    def end_s(self) -> float:
        """When all is done."""
        return max((act.end_s for act in self.acts), default=0.0)

    @property
    def minutes(self) -> float:
        """How long it takes from the first print to the last sticker."""
        return self.end_s / 60

    @property
    def hands_on_minutes(self) -> float:
        """How long the person is busy."""
        return sum(act.end_s - act.start_s for act in self.acts if act.lane == "you") / 60


def run_orders(sheets: Sequence[SheetWork], times: RunTimes, carriers: int = 1) -> list[RunOrder]:
    """Return the orders that are worth a thought, the quickest first; of equals that with less work of hands.

    Args:
        sheets: what each takes in the cutter.
        times: of the other acts.
        carriers: how many there are. A sheet stays on its carrier from its first pass to its last: one that was
            kiss-cut and is laid again may lift.

    Raises:
        UsageError: too many sheets, or no carrier.
    """
    if not 1 <= len(sheets) <= MOST_SHEETS:
        raise UsageError(f"A run has 1 to {MOST_SHEETS} sheets, not {len(sheets)}")
    if not 1 <= carriers <= MOST_CARRIERS:
        raise UsageError(f"There are 1 to {MOST_CARRIERS} carriers, not {carriers}")
    best: dict[str, RunOrder] = {}
    for name, jobs in _candidates(sheets, carriers):
        for patience in (0.0, 0.5, 1.0):
            made = _Play(sheets, times, carriers, jobs, patience).order(name)
            known = best.get(name)
            if known is None or _rank(made) < _rank(known):
                best[name] = made
    return sorted(best.values(), key=_rank)


def _rank(order: RunOrder) -> tuple[float, float]:
    return round(order.end_s, 3), order.hands_on_minutes


@dataclass(frozen=True, slots=True, kw_only=True)
class _Job:
    """One pass of one sheet."""

    sheet: int
    what: Literal["kiss", "through"]


def _candidates(sheets: Sequence[SheetWork], carriers: int) -> Iterator[tuple[str, list[_Job]]]:
    """Yield what the cutter does in its order; a block never holds more sheets than there are carriers."""
    count = len(sheets)
    has_both = any(work.through_s > 0 for work in sheets)
    for block in range(1, min(count, carriers) + 1 if has_both else 2):
        jobs: list[_Job] = []
        for first in range(0, count, block):
            here = range(first, min(first + block, count))
            jobs += [_Job(sheet=number, what="kiss") for number in here if sheets[number].kiss_s > 0]
            # what was kiss-cut last is still in: it is the first to be cut through
            jobs += [_Job(sheet=number, what="through") for number in reversed(here) if sheets[number].through_s > 0]
        if not has_both or block == 1:
            yield "sheet by sheet", jobs
        elif block == count:
            yield "all kiss cuts, then all through cuts", jobs
        else:
            yield f"in blocks of {block}", jobs


@dataclass(slots=True)
class _Play:
    """Plays an order through, act by act.

    Attributes:
        patience: how much of an act that is not urgent may be ahead when the cutter will call for the person.
    """

    sheets: Sequence[SheetWork]
    times: RunTimes
    carriers: int
    jobs: list[_Job]
    patience: float
    now_s: float = 0.0
    cutter_free_s: float = 0.0
    acts: list[Act] = field(default_factory=list)
    changes: int = 0

    def order(self, name: str) -> RunOrder:
        """Return all acts."""
        dry_at = self._printed()
        wanted = list(dict.fromkeys(job.sheet for job in self.jobs))
        free, laid, finished = list(range(self.carriers)), dict[int, int](), list[int]()
        inside: int | None = None
        setting: str | None = None
        at = 0
        while at < len(self.jobs) or finished or inside is not None:
            job = self.jobs[at] if at < len(self.jobs) else None
            is_idle = self.now_s >= self.cutter_free_s - _SAME_S
            if is_idle and inside is not None and (job is None or job.sheet != inside):
                self._tend("take out", inside, self.times.take_out_s, laid[inside])
                if all(later.sheet != inside for later in self.jobs[at:]):
                    finished.append(inside)
                inside = None
            elif is_idle and job is not None and (inside == job.sheet or job.sheet in laid):
                if setting not in (None, job.what):
                    self._tend("change", job.sheet, self.times.change_s, laid[job.sheet])
                    self.changes += 1
                if inside is None:
                    self._tend("put in", job.sheet, self.times.put_in_s, laid[job.sheet])
                inside, setting, at = job.sheet, job.what, at + 1
                work = self.sheets[job.sheet]
                self._cut(job, work.kiss_s if job.what == "kiss" else work.through_s, laid[job.sheet])
            elif free and wanted and dry_at[wanted[0]] <= self.now_s + _SAME_S and self._fits(self.times.lay_s):
                sheet = wanted.pop(0)
                laid[sheet] = free.pop(0)
                self._tend("lay", sheet, self.times.lay_s, laid[sheet])
            elif finished and self._fits(self.times.peel_s):
                sheet = finished.pop(0)
                self._tend("peel", sheet, self.times.peel_s, laid[sheet])
                free.append(laid.pop(sheet))
            else:
                self._wait(dry_at, wanted if free else [])
        return RunOrder(
            name=name, acts=tuple(sorted(self.acts, key=lambda act: act.start_s)), setting_changes=self.changes
        )

    def _printed(self) -> list[float]:
        """Print every sheet and let it dry; return when each is dry."""
        found, end = [], 0.0
        for number, work in enumerate(self.sheets):
            if not work.is_printed:
                found.append(0.0)
                continue
            start, end = end, end + self.times.print_s
            self.acts.append(Act(what="print", sheet=number, start_s=start, end_s=end, lane="printer"))
            self.acts.append(Act(what="dry", sheet=number, start_s=end, end_s=end + self.times.dry_s, lane="drying"))
            found.append(end + self.times.dry_s)
        return found

    def _fits(self, seconds: float) -> bool:
        """Whether an act that is not urgent may begin: the cutter does not wait for the person too long."""
        cutting_s = self.cutter_free_s - self.now_s
        return cutting_s <= _SAME_S or seconds - cutting_s <= self.patience * seconds + _SAME_S

    def _tend(self, what: What, sheet: int, seconds: float, carrier: int | None) -> None:
        start, self.now_s = self.now_s, self.now_s + seconds
        self.acts.append(Act(what=what, sheet=sheet, start_s=start, end_s=self.now_s, lane="you", carrier=carrier))

    def _cut(self, job: _Job, seconds: float, carrier: int) -> None:
        self.cutter_free_s = self.now_s + seconds
        self.acts.append(
            Act(
                what=job.what,
                sheet=job.sheet,
                start_s=self.now_s,
                end_s=self.cutter_free_s,
                lane="cutter",
                carrier=carrier,
            )
        )

    def _wait(self, dry_at: Sequence[float], wanted: Sequence[int]) -> None:
        """Go on to when the cutter is done, or the next sheet is dry."""
        coming = [self.cutter_free_s, *(dry_at[number] for number in wanted[:1])]
        self.now_s = min(moment for moment in coming if moment > self.now_s + _SAME_S)
