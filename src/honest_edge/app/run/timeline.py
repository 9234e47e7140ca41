"""The three lanes of a run: what was done, what is under way, and what is to come."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass

from honest_edge.core.run.foreseen import Act, Outlook, foreseen
from honest_edge.core.run.guide import Step, drying_left_s, next_step
from honest_edge.core.run.state import RunState
from honest_edge.core.values.run_events import CutBegun, CutDone, CutStopped, LinesCut, Moment, RunEvent, SheetEvent
from honest_edge.core.values.run_seal import SealedRun
from honest_edge.core.values.run_times import RunTimes

_LONGEST_PAST_S = 120.0  # who needed longer for a step was elsewhere, or waited
_HANDS = {
    "printed": "print", "measured": "measure", "laminated": "laminate", "set": "set", "laid": "load", "read": "read",
    "aligned": "read",
    "proof cut": "proof", "proof judged": "look", "out": "take out", "inspected": "inspect",
}  # fmt: skip


@dataclass(frozen=True, slots=True, kw_only=True)
class Timeline:
    """What is drawn.

    Attributes:
        past: what was done, in seconds from now, below 0.
        outlook: what is under way and to come.
        now: the present.
        coming: what hands do next after the step in hand; None where nothing more is to be done.
        range_s: in how many seconds all is done at least and at most: times are assumptions until they are timed.
    """

    past: tuple[Act, ...]
    outlook: Outlook
    now: Moment
    coming: Act | None
    range_s: tuple[float, float]


def timeline(
    seal: SealedRun, state: RunState, events: Sequence[RunEvent], now: Moment, times: RunTimes, *, is_own: bool
) -> Timeline:
    """Return the lanes of a run.

    Args:
        seal: of the run.
        state: how it stands.
        events: all that happened.
        now: the present.
        times: how long acts take.
        is_own: whether those are the user's own.
    """
    outlook = foreseen(seal, state, now, times)
    step = next_step(seal, state, now)
    doubt = 0.15 if is_own else 0.3
    return Timeline(
        past=tuple(_past(seal, state, events, now)),
        outlook=outlook,
        now=now,
        coming=_coming(step, outlook),
        range_s=((1 - doubt) * outlook.end_s, (1 + doubt) * outlook.end_s),
    )


def _coming(step: Step, outlook: Outlook) -> Act | None:
    hands = [act for act in outlook.acts if act.lane == "you"]
    later = [act for act in hands if act.start_s > 0 or act.what != step.key]
    return later[0] if later else None


def _past(seal: SealedRun, state: RunState, events: Sequence[RunEvent], now: Moment) -> Iterator[Act]:
    begun: dict[int, float] = {}
    before_s: float | None = None
    for event in events:
        at_s = -now.seconds_since(event.at)
        if isinstance(event, CutBegun):
            begun[event.sheet] = at_s
        elif isinstance(event, CutDone | CutStopped | LinesCut) and event.sheet in begun:
            yield Act(what="pass", sheet=event.sheet, start_s=begun.pop(event.sheet), end_s=at_s, lane="cutter")
        what = _HANDS.get(event.what)
        if what is not None and before_s is not None and at_s > before_s:
            start_s = max(before_s, at_s - _LONGEST_PAST_S)
            number = event.sheet if isinstance(event, SheetEvent) else 0
            yield Act(what=what, sheet=number, start_s=start_s, end_s=at_s, lane="you")
        before_s = at_s
    for sheet in state.sheets:
        if sheet.printed is not None and seal.drying_s and not drying_left_s(seal, sheet, now):
            start_s = -now.seconds_since(sheet.printed)
            yield Act(what="dry", sheet=sheet.number, start_s=start_s, end_s=start_s + seal.drying_s, lane="drying")
