"""What to do now: the next step of a run, from how it stands and what time it is."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass
from typing import Literal

from honest_edge.core.run.print_check import holds
from honest_edge.core.run.state import KINDS_BETWEEN, RunState, SheetState, page_of
from honest_edge.core.values.run_events import Moment
from honest_edge.core.values.run_seal import SealedRun

StepKey = Literal[
    "print first", "measure", "print rest", "dry", "laminate", "set", "load", "read", "proof", "look", "pass",
    "cutting", "take out", "inspect", "tally", "ended",
]  # fmt: skip

_SAME_S = 0.05


@dataclass(frozen=True, slots=True, kw_only=True)
class Step:
    """One step.

    Attributes:
        key: which.
        sheet: with which sheet; 0 for the whole run.
        sheets: that it is about, where there are several.
        wait_s: how long is still to be waited.
        cut_pass: which pass of the sheet, from 0.
        copy: which sticker is the proof.
        carrier: which one to lay the sheet on.
        is_meanwhile: the cutter is at work on another sheet.
    """

    key: StepKey
    sheet: int = 0
    sheets: tuple[int, ...] = ()
    wait_s: float = 0.0
    cut_pass: int = 0
    copy: int | None = None
    carrier: int | None = None
    is_meanwhile: bool = False


@dataclass(frozen=True, slots=True, kw_only=True)
class CutJob:
    """What the cutter does next with a sheet: passes until so many are done."""

    sheet: int
    passes: int


def next_step(seal: SealedRun, state: RunState, now: Moment) -> Step:
    """Return what to do now.

    Args:
        seal: of the run.
        state: how it stands.
        now: the present.
    """
    if state.ended:
        return Step(key="ended")
    busy = next((sheet for sheet in state.live if sheet.under_way is not None), None)
    if busy is not None:
        return _while_cutting(seal, state, busy, now)
    return _before_cutting(seal, state) or _at_the_cutter(seal, state, now) or Step(key="tally")


def _before_cutting(seal: SealedRun, state: RunState) -> Step | None:
    """Return what is to be printed or measured."""
    waiting = tuple(s.number for s in state.live if seal.pages[s.page].print_page is not None and s.printed is None)
    printed = [s for s in state.live if s.printed is not None]
    if not seal.print_sha256 or seal.sheet.machine.prints_own_marks or holds(state.measured):
        return Step(key="print rest", sheet=waiting[0], sheets=waiting) if waiting else None
    if not printed and waiting:
        return Step(key="print first", sheet=waiting[0], sheets=waiting[:1])
    return Step(key="measure", sheet=printed[0].number) if printed else None


def _at_the_cutter(seal: SealedRun, state: RunState, now: Moment) -> Step | None:
    job = next(iter(pending(seal, state)), None)
    inside = None if state.inside is None else state.sheet(state.inside)
    if inside is not None and (job is None or job.sheet != inside.number):
        return Step(key="take out", sheet=inside.number)
    if job is None:
        return _inspection(seal, state)
    sheet = state.sheet(job.sheet)
    if sheet.carrier is None and sheet.number != state.inside:
        return _laying(seal, state, sheet, now) or _inspection(seal, state) or _drying(seal, state, sheet, now)
    return _cutting(seal, state, sheet)


def _cutting(seal: SealedRun, state: RunState, sheet: SheetState) -> Step:
    """Return what brings a sheet that is laid on its carrier into its next pass."""
    page = page_of(seal, sheet)
    number, cut_pass = sheet.number, sheet.passes
    if not set(page.passes[cut_pass].kinds) <= set(state.set_for):
        return Step(key="set", sheet=number, cut_pass=cut_pass)
    if not sheet.is_read:
        return Step(key="read", sheet=number)
    if sheet.proof == "under way":
        return Step(key="proof", sheet=number, copy=sheet.proofs[-1])
    if sheet.proof == "cut":
        return Step(key="look", sheet=number, copy=sheet.proofs[-1])
    is_alone = len(page.copies) - len(sheet.skipped) < 2 or bool(sheet.again) or seal.sheet.machine.prints_own_marks
    if cut_pass == 0 and not state.has_proof and not is_alone and (copy := next_proof(seal, sheet)) is not None:
        return Step(key="proof", sheet=number, copy=copy)
    return Step(key="pass", sheet=number, cut_pass=cut_pass)


def next_proof(seal: SealedRun, sheet: SheetState) -> int | None:
    """Return the sticker to cut as a proof: of those that are left the one farthest from the marks."""
    left = [copy for copy in page_of(seal, sheet).proof_order if copy not in (*sheet.proofs, *sheet.skipped)]
    return left[0] if len(left) > 1 else None


def _while_cutting(seal: SealedRun, state: RunState, busy: SheetState, now: Moment) -> Step:
    """Return what hands can do while the cutter works; to wait for it where there is nothing, or it is done soon."""
    assert busy.under_way is not None
    needed_s = page_of(seal, busy).passes[busy.passes].seconds
    left_s = max(0.0, needed_s - now.seconds_since(busy.under_way))
    wait = Step(key="cutting", sheet=busy.number, cut_pass=busy.passes, wait_s=left_s)
    if left_s <= _SAME_S:
        return wait
    coming = next((job for job in pending(seal, state) if state.sheet(job.sheet).carrier is None), None)
    meanwhile = None if coming is None else _laying(seal, state, state.sheet(coming.sheet), now)
    meanwhile = meanwhile or _inspection(seal, state)
    if meanwhile is None:
        return wait
    return Step(key=meanwhile.key, sheet=meanwhile.sheet, carrier=meanwhile.carrier, wait_s=left_s, is_meanwhile=True)


def _laying(seal: SealedRun, state: RunState, sheet: SheetState, now: Moment) -> Step | None:
    """Return the laying of a sheet on a free carrier, or its lamination; None where it cannot be yet."""
    if not is_dry(seal, sheet, now):
        return None
    if seal.is_laminated and not sheet.is_laminated and sheet.printed is not None:
        return Step(key="laminate", sheet=sheet.number)
    free = next((carrier for carrier in range(state.carriers) if carrier not in state.used_carriers), None)
    return None if free is None else Step(key="load", sheet=sheet.number, carrier=free)


def _inspection(seal: SealedRun, state: RunState) -> Step | None:
    done = [s for s in state.live if s.passes and s.passes == len(page_of(seal, s).passes) and s.number != state.inside]
    return Step(key="inspect", sheet=done[0].number) if done else None


def _drying(seal: SealedRun, state: RunState, sheet: SheetState, now: Moment) -> Step:
    return Step(key="dry", sheet=sheet.number, wait_s=drying_left_s(seal, sheet, now))


def is_dry(seal: SealedRun, sheet: SheetState, now: Moment) -> bool:
    """Whether a sheet can be touched."""
    return drying_left_s(seal, sheet, now) <= _SAME_S


def drying_left_s(seal: SealedRun, sheet: SheetState, now: Moment) -> float:
    """Return how long a sheet has to dry yet; each has its own clock from its print."""
    if sheet.printed is None or sheet.is_let_dry:
        return 0.0
    return max(0.0, seal.drying_s - now.seconds_since(sheet.printed))


def pass_name(seal: SealedRun, sheet: SheetState, cut_pass: int) -> str:
    """Return what a pass is called: its kinds of line."""
    passes = page_of(seal, sheet).passes
    return "" if cut_pass >= len(passes) else KINDS_BETWEEN.join(passes[cut_pass].kinds)


def pending(seal: SealedRun, state: RunState) -> Iterator[CutJob]:
    """Yield what the cutter has yet to do, in its order: block by block, in each first all but the last pass."""
    kept = [sheet for sheet in state.sheets if not sheet.spoiled]
    for first in range(0, len(kept), state.block):
        live = [sheet for sheet in kept[first : first + state.block] if sheet.bad is None]
        if not live:
            continue  # most blocks of a long run, which is asked after every step
        # what went in last is still in: it is the first to be cut through
        for sheet, spared in (*((s, 1) for s in live), *((s, 0) for s in reversed(live))):
            passes = len(page_of(seal, sheet).passes) - spared
            if sheet.passes < passes:
                yield CutJob(sheet=sheet.number, passes=passes)
