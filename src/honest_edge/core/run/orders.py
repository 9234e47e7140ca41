"""In which order to work through a run that has not begun: its own guide is asked for blocks of several sizes.

Sheet by sheet, or blocks of which first all are kiss-cut, then all cut through, with fewer changes of setting. Each is
played through as the guide will lead it, and the quickest comes first.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from honest_edge.core.run.foreseen import Act, blocks_to_try, foreseen
from honest_edge.core.run.state import MOST_SHEETS, after, begun
from honest_edge.core.values.errors import UsageError
from honest_edge.core.values.run_events import Moment, Ordered, Set
from honest_edge.core.values.run_seal import SealedPage, SealedPass, SealedRun
from honest_edge.core.values.run_times import RunTimes
from honest_edge.core.values.sheet import SheetSpec

MOST_CARRIERS = 20


@dataclass(frozen=True, slots=True, kw_only=True)
class SheetWork:
    """How long a sheet is in the cutter: its first pass, and the second; 0 where there is none.

    What is not printed, a piece of coloured stock, need not dry.
    """

    kiss_s: float
    through_s: float = 0.0
    is_printed: bool = True


@dataclass(frozen=True, slots=True, kw_only=True)
class RunOrder:
    """One order of work.

    Attributes:
        block: how many sheets are kiss-cut before the first of them is cut through.
        name: what it is called.
        acts: in the order in which they begin; sheets are counted from 1.
    """

    block: int
    name: str
    acts: tuple[Act, ...]

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
        """How long the person is busy; a printer prints by itself."""
        return sum(act.end_s - act.start_s for act in self.acts if act.lane == "you" and act.what != "print") / 60

    @property
    def setting_changes(self) -> int:
        """How often the machine is set anew."""
        return sum(act.what == "set" for act in self.acts)


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
    seal, start = _imagined(sheets, times), Moment(wall_ms=0)
    first = seal.pages[0].passes[0].suffix
    state = after(seal, begun(seal), Set(at=start, kinds=first, setting=""))  # while the first sheet dries
    has_both = any(work.through_s > 0 for work in sheets)
    orders = []
    for block in blocks_to_try(len(sheets), carriers) if has_both else (1,):
        ordered = after(seal, state, Ordered(at=start, block=block, carriers=carriers))
        acts = foreseen(seal, ordered, start, times).acts
        orders.append(RunOrder(block=block, name=_name(block, len(sheets)), acts=acts))
    return sorted(orders, key=lambda order: (round(order.end_s, 1), order.hands_on_minutes))


def _name(block: int, sheets: int) -> str:
    if block == 1:
        return "sheet by sheet"
    return "all kiss cuts, then all through cuts" if block == sheets else f"in blocks of {block}"


def _imagined(sheets: Sequence[SheetWork], times: RunTimes) -> SealedRun:
    """Return a run of these sheets as its guide takes it: nothing is measured and no proof is cut."""
    return SealedRun(
        run="0" * 32,
        title="",
        sealed_at="",
        job_parts={},
        sheet=SheetSpec(),
        pages=tuple(
            SealedPage(print_page=0 if work.is_printed else None, copies=(), passes=_passes(work)) for work in sheets
        ),
        designs=(),
        sheets=tuple(range(len(sheets))),
        drying_s=times.dry_s,
    )


def _passes(work: SheetWork) -> tuple[SealedPass, ...]:
    kiss = SealedPass(suffix="kiss", kinds=("kiss",), seconds=work.kiss_s)
    through = SealedPass(suffix="through", kinds=("through",), seconds=work.through_s)
    return (kiss, through) if work.through_s > 0 else (kiss,)
