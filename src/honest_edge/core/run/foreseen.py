"""How a run will go on: its own guide is asked again and again, each step taking the time that it usually takes."""

from __future__ import annotations

from dataclasses import dataclass, replace
from typing import Literal

from honest_edge.core.run.guide import Step, drying_left_s, next_step, pass_name, pending
from honest_edge.core.run.state import RunState, after, page_of
from honest_edge.core.values.run_events import (
    CutBegun,
    CutDone,
    Inspected,
    Laid,
    Laminated,
    MarksRead,
    Measured,
    Moment,
    Printed,
    ProofBegun,
    ProofCut,
    ProofJudged,
    RunEvent,
    Set,
    TakenOut,
)
from honest_edge.core.values.run_seal import SealedRun
from honest_edge.core.values.run_times import RunTimes

Lane = Literal["you", "cutter", "drying"]

WORTH_S = 120.0
"""A kept order is given up only for one that saves more."""

_LOOK_S, _MEASURE_S, _LAMINATE_S = 20.0, 60.0, 90.0
_MOST_STEPS = 20_000
_BLOCKS = (1, 2, 3, 4, 6, 9, 14)


@dataclass(frozen=True, slots=True, kw_only=True)
class Act:
    """One act to come, or under way.

    Attributes:
        what: the key of its step, "pass" for a pass of the cutter, "dry" for ink.
        sheet: with which sheet.
        start_s, end_s: counted from now; what began before starts below 0.
        lane: who or what is busy with it.
        carrier: which one is in use.
        cut_pass: which pass of the sheet, from 0.
    """

    what: str
    sheet: int
    start_s: float
    end_s: float
    lane: Lane
    carrier: int | None = None
    cut_pass: int = 0


@dataclass(frozen=True, slots=True, kw_only=True)
class Outlook:
    """What is to come.

    Attributes:
        acts: in the order in which they begin.
        end_s: when all is done.
    """

    acts: tuple[Act, ...]
    end_s: float


def foreseen(seal: SealedRun, state: RunState, now: Moment, times: RunTimes) -> Outlook:
    """Return how a run goes on if nothing goes wrong any more.

    Args:
        seal: of the run.
        state: how it stands.
        now: the present.
        times: how long acts take.
    """
    return _Play(seal, state, now, times).all()


def better_block(seal: SealedRun, state: RunState, now: Moment, times: RunTimes) -> int:
    """Return how many sheets a block should have: the present number unless another saves over two minutes."""
    ends = {
        block: foreseen(seal, replace(state, block=block), now, times).end_s
        for block in {state.block, *blocks_to_try(max(1, len(state.live)), state.carriers)}
    }
    best = min(ends, key=lambda block: (ends[block], block))
    return best if ends[state.block] - ends[best] > WORTH_S else state.block


def blocks_to_try(sheets: int, carriers: int) -> list[int]:
    """Return how many sheets a block may have: no more than there are carriers, and of many no two nearly alike."""
    most = min(sheets, carriers)
    return sorted({block for block in _BLOCKS if block < most} | {most})


class _Play:
    def __init__(self, seal: SealedRun, state: RunState, now: Moment, times: RunTimes) -> None:
        self._seal, self._state, self._start, self._times = seal, state, now, times
        self._at_s = 0.0
        self._acts: list[Act] = [
            Act(what="dry", sheet=s.number, start_s=-now.seconds_since(s.printed),
                end_s=drying_left_s(seal, s, now), lane="drying")
            for s in state.live if s.printed is not None and drying_left_s(seal, s, now) > 0
        ]  # fmt: skip
        self._cut_ends_s = 0.0
        for sheet in state.live:
            if sheet.under_way is not None:
                done_s = now.seconds_since(sheet.under_way)
                self._cut(sheet.number, -done_s)

    @property
    def _now(self) -> Moment:
        return self._start.after(self._at_s)

    def all(self) -> Outlook:
        for _ in range(_MOST_STEPS):
            step = next_step(self._seal, self._state, self._now)
            if step.key in ("tally", "ended"):
                break
            self._take(step)
        self._acts.sort(key=lambda act: (act.start_s, act.end_s))
        return Outlook(acts=tuple(self._acts), end_s=max((act.end_s for act in self._acts), default=0.0))

    def _take(self, step: Step) -> None:
        sheet, times = step.sheet, self._times
        match step.key:
            case "print first" | "print rest":
                for number in step.sheets:
                    self._hands("print", number, times.print_s)
                    self._happens(Printed(sheet=number))
                    end_s = self._at_s + self._seal.drying_s
                    self._acts.append(Act(what="dry", sheet=number, start_s=self._at_s, end_s=end_s, lane="drying"))
            case "measure":
                self._hands("measure", sheet, _MEASURE_S)
                self._happens(Measured(sheet=sheet, verdict="true"))
            case "dry":
                self._at_s += step.wait_s
            case "laminate":
                self._hands("laminate", sheet, _LAMINATE_S)
                self._happens(Laminated(sheet=sheet))
            case "set":
                self._hands("set", sheet, times.change_s)
                self._set(sheet, step.cut_pass)
            case "load":
                self._hands("load", sheet, times.lay_s, step.carrier)
                self._happens(Laid(sheet=sheet, carrier=step.carrier or 0))
            case "read":
                self._hands("read", sheet, times.put_in_s)
                self._happens(MarksRead(sheet=sheet))
            case "proof":
                if self._state.sheet(sheet).proof != "under way":
                    self._happens(ProofBegun(sheet=sheet, copy=step.copy or 0))
                self._hands("proof", sheet, _LOOK_S)
                self._happens(ProofCut(sheet=sheet))
            case "look":
                self._hands("look", sheet, _LOOK_S)
                self._happens(ProofJudged(sheet=sheet, verdict="good"))
            case "pass":
                self._happens(CutBegun(sheet=sheet))
                self._cut(sheet, self._at_s)
            case "cutting":
                self._wait_for_cutter(step)
            case "take out":
                self._hands("take out", sheet, times.take_out_s)
                self._happens(TakenOut(sheet=sheet))
            case _:
                self._hands("inspect", sheet, times.peel_s)
                self._happens(Inspected(sheet=sheet))

    def _wait_for_cutter(self, step: Step) -> None:
        """Wait until the pass is done, or until a sheet is dry that hands can lay down meanwhile."""
        coming = next((j for j in pending(self._seal, self._state) if self._state.sheet(j.sheet).carrier is None), None)
        if coming is not None and step.wait_s > 0:
            left_s = drying_left_s(self._seal, self._state.sheet(coming.sheet), self._now)
            if 0 < left_s < step.wait_s:
                self._at_s += left_s + 0.1
                return
        self._at_s = max(self._at_s, self._cut_ends_s)
        self._happens(CutDone(sheet=step.sheet))

    def _cut(self, number: int, start_s: float) -> None:
        sheet = self._state.sheet(number)
        seconds = page_of(self._seal, sheet).passes[sheet.passes].seconds * self._times.cut_pace
        self._cut_ends_s = max(self._at_s, start_s + seconds)
        self._acts.append(
            Act(
                what="pass",
                sheet=number,
                start_s=start_s,
                end_s=self._cut_ends_s,
                lane="cutter",
                carrier=sheet.carrier,
                cut_pass=sheet.passes,
            )
        )

    def _hands(self, what: str, sheet: int, seconds: float, carrier: int | None = None) -> None:
        start_s, self._at_s = self._at_s, self._at_s + seconds
        lies_on = self._state.sheet(sheet).carrier if carrier is None else carrier
        self._acts.append(Act(what=what, sheet=sheet, start_s=start_s, end_s=self._at_s, lane="you", carrier=lies_on))

    def _set(self, number: int, cut_pass: int) -> None:
        name = pass_name(self._seal, self._state.sheet(number), cut_pass)
        self._happens(Set(kinds=name, setting=dict(self._state.settings).get(name, "")))

    def _happens(self, event: RunEvent) -> None:
        self._state = after(self._seal, self._state, replace(event, at=self._now))
