"""How a run stands: its events, one after the other, laid over its seal."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Sequence
from dataclasses import dataclass, replace
from typing import Any, Literal

from honest_edge.core.values.errors import UsageError
from honest_edge.core.values.run_events import (
    Added,
    Aligned,
    Back,
    BadSticker,
    BladeFitted,
    CutAgain,
    CutBegun,
    CutDone,
    CutStopped,
    Ended,
    EndReason,
    Inspected,
    Laid,
    Laminated,
    LetDry,
    LinesCut,
    MarksRead,
    Measured,
    Missed,
    Moment,
    Moved,
    Ordered,
    Printed,
    ProofBegun,
    ProofCut,
    ProofJudged,
    RunEvent,
    Set,
    SheetEvent,
    Skipped,
    Spoiled,
    TakenOut,
    Unmeasured,
)
from honest_edge.core.values.run_seal import SealedPage, SealedRun

ProofState = Literal["", "under way", "cut", "good", "bad"]
MOST_SHEETS = 999
_TAKEN_BACK = (
    Measured, Unmeasured, LetDry, Laminated, Set, Laid, Missed, MarksRead, ProofCut, ProofJudged, CutDone, TakenOut,
    Skipped, Moved, Aligned,
)  # fmt: skip
KINDS_BETWEEN = " and "


@dataclass(frozen=True, slots=True, kw_only=True)
class SheetState:
    """One sheet.

    Attributes:
        number: from 1, as it is printed on it.
        page: of the layout.
        printed: when.
        is_let_dry: it was said to be dry before its time was over.
        is_laminated: laminate lies on it.
        carrier: on which it lies, from 0.
        carrier_name: of that one; empty where it has none.
        tries: how often the reader missed a mark of it since it was put in.
        missed: which marks it missed last.
        is_read: its marks are read, and it was not moved since.
        proof: how its proof sticker stands.
        proofs: the copies that were cut as proof.
        passes: how many are done.
        under_way: when the pass that is cut now began; None where none is.
        skipped: copies that are not cut any more.
        again: copies that alone are cut once more; empty where all are cut.
        places: where a hand found its marks in the machine: number, x and y in mm; empty where none did.
        lines_done: of what is cut now, how many lines are surely cut.
        lines_perhaps: how many after those are perhaps cut.
        bad: what was found when it was inspected; None where it was not.
        spoiled: why it is lost; empty where it is not.
    """

    number: int
    page: int
    printed: Moment | None = None
    is_let_dry: bool = False
    is_laminated: bool = False
    carrier: int | None = None
    carrier_name: str = ""
    tries: int = 0
    missed: tuple[int, ...] = ()
    is_read: bool = False
    proof: ProofState = ""
    proofs: tuple[int, ...] = ()
    passes: int = 0
    under_way: Moment | None = None
    skipped: tuple[int, ...] = ()
    again: tuple[int, ...] = ()
    places: tuple[tuple[int, float, float], ...] = ()
    lines_done: int = 0
    lines_perhaps: int = 0
    bad: tuple[BadSticker, ...] | None = None
    spoiled: str = ""

    @property
    def is_live(self) -> bool:
        """Whether anything is still to be done with it."""
        return not self.spoiled and self.bad is None


@dataclass(frozen=True, slots=True, kw_only=True)
class RunState:
    """A run as it stands.

    Attributes:
        sheets: all of them, by number.
        block: how many sheets are kiss-cut before the first of them is cut through.
        carriers: that are in use.
        measured: what the ruler said; empty where it was not held to a sheet.
        set_for: the kinds of line that the machine is set for.
        settings: what it was set to, by kinds of line.
        has_proof: a proof looked good with what the first pass is set to.
        inside: the sheet in the cutter.
        blade: what was said of the blade last.
        ended: why the run is over; empty while it is not.
        last: when something happened last.
    """

    sheets: tuple[SheetState, ...]
    block: int = 1
    carriers: int = 1
    measured: str = ""
    set_for: tuple[str, ...] = ()
    settings: tuple[tuple[str, str], ...] = ()
    has_proof: bool = False
    inside: int | None = None
    blade: str = ""
    ended: EndReason | Literal[""] = ""
    last: Moment | None = None

    def sheet(self, number: int) -> SheetState:
        """Return a sheet by its number.

        Raises:
            UsageError: the run has none of it.
        """
        if not 1 <= number <= len(self.sheets):
            raise UsageError(f"This run has sheets 1 to {len(self.sheets)}, not {number}")
        return self.sheets[number - 1]

    @property
    def live(self) -> tuple[SheetState, ...]:
        """The sheets that anything is still to be done with."""
        return tuple([sheet for sheet in self.sheets if sheet.is_live])

    @property
    def used_carriers(self) -> set[int]:
        """The carriers that something lies on."""
        return {sheet.carrier for sheet in self.live if sheet.carrier is not None}

    def with_sheet(self, sheet: SheetState) -> RunState:
        """Return the run with one sheet as it is now."""
        return replace(self, sheets=(*self.sheets[: sheet.number - 1], sheet, *self.sheets[sheet.number :]))


def begun(seal: SealedRun) -> RunState:
    """Return a run that was just sealed."""
    return RunState(sheets=tuple(SheetState(number=n, page=page) for n, page in enumerate(seal.sheets, 1)))


def state_of(seal: SealedRun, events: Iterable[RunEvent]) -> RunState:
    """Return a run after its events.

    Raises:
        UsageError: one cannot have happened.
    """
    state = begun(seal)
    for event in effective(events):
        state = after(seal, state, event)
    return state


def effective(events: Iterable[RunEvent]) -> list[RunEvent]:
    """Return the events that count: those that were taken back do not.

    Raises:
        UsageError: one was taken back that cannot be, since paper, ink or the Book know of it.
    """
    counting: list[RunEvent] = []
    for event in events:
        if not isinstance(event, Back):
            counting.append(event)
        elif can_go_back(counting):
            counting.pop()
        else:
            raise UsageError("The last step cannot be taken back: it is printed, cut or in the Book")
    return counting


def can_go_back(counting: Sequence[RunEvent]) -> bool:
    """Whether the last of the events that count can be taken back."""
    return bool(counting) and isinstance(counting[-1], _TAKEN_BACK)


def after(seal: SealedRun, state: RunState, event: RunEvent) -> RunState:
    """Return a run after one more event.

    Raises:
        UsageError: it cannot have happened.
    """
    if state.ended:
        raise UsageError("This run is over: nothing more happens in it")
    if isinstance(event, SheetEvent):
        state_after = _OF_SHEET[type(event)](seal, state, state.sheet(event.sheet), event)
    else:
        state_after = _OF_RUN[type(event)](seal, state, event)
    return replace(state_after, last=event.at)


def page_of(seal: SealedRun, sheet: SheetState) -> SealedPage:
    """Return what a sheet shows."""
    return seal.pages[sheet.page]


# -- events of the whole run ---------------------------------------------------------------------


def _ordered(_seal: SealedRun, state: RunState, event: Ordered) -> RunState:
    if not 1 <= event.block <= event.carriers:
        raise UsageError(f"A block of {event.block} sheets needs as many carriers; there are {event.carriers}")
    return replace(state, block=event.block, carriers=event.carriers)


def _set(_seal: SealedRun, state: RunState, event: Set) -> RunState:
    settings = dict(state.settings)
    is_as_before = settings.get(event.kinds, event.setting) == event.setting
    settings[event.kinds] = event.setting
    return replace(
        state,
        set_for=tuple(event.kinds.split(KINDS_BETWEEN)),
        settings=tuple(sorted(settings.items())),
        has_proof=state.has_proof and is_as_before,
    )


def _added(seal: SealedRun, state: RunState, event: Added) -> RunState:
    if any(not 0 <= page < len(seal.pages) for page in event.pages) or not event.pages:
        raise UsageError("A sheet that is added shows a page of the layout")
    if len(state.sheets) + len(event.pages) > MOST_SHEETS:
        raise UsageError(f"A run has at most {MOST_SHEETS} sheets")
    first = len(state.sheets) + 1
    more = tuple(SheetState(number=number, page=page) for number, page in enumerate(event.pages, first))
    return replace(state, sheets=(*state.sheets, *more))


def _blade(_seal: SealedRun, state: RunState, event: BladeFitted) -> RunState:
    return replace(state, blade=event.blade, has_proof=False, set_for=())


def _ended(_seal: SealedRun, state: RunState, event: Ended) -> RunState:
    return replace(state, ended=event.reason)


# -- events of one sheet ---------------------------------------------------------------------------

_OfSheet = Callable[[SealedRun, RunState, SheetState, Any], RunState]


def _needs(holds: bool, words: str) -> None:
    if not holds:
        raise UsageError(words)


def _changed(**changes: Any) -> _OfSheet:
    def made(_seal: SealedRun, state: RunState, sheet: SheetState, _event: RunEvent) -> RunState:
        return state.with_sheet(replace(sheet, **changes))

    return made


def _printed(_seal: SealedRun, state: RunState, sheet: SheetState, event: Printed) -> RunState:
    _needs(sheet.printed is None, f"Sheet {sheet.number} was printed already")
    return state.with_sheet(replace(sheet, printed=event.at))


def _measured(_seal: SealedRun, state: RunState, _sheet: SheetState, event: Measured) -> RunState:
    return replace(state, measured=event.verdict)


def _laid(_seal: SealedRun, state: RunState, sheet: SheetState, event: Laid) -> RunState:
    _needs(event.carrier not in state.used_carriers, f"Something lies on carrier {event.carrier + 1} already")
    return state.with_sheet(replace(sheet, carrier=event.carrier, carrier_name=event.name))


def _missed(_seal: SealedRun, state: RunState, sheet: SheetState, event: Missed) -> RunState:
    missed = replace(sheet, tries=sheet.tries + 1, missed=event.marks, is_read=False, places=())
    return replace(state.with_sheet(missed), inside=sheet.number)


def _read(_seal: SealedRun, state: RunState, sheet: SheetState, _event: MarksRead) -> RunState:
    busy = state.inside is not None and state.sheet(state.inside).under_way is not None
    _needs(not busy or state.inside == sheet.number, f"Sheet {state.inside} is being cut")
    return replace(state.with_sheet(replace(sheet, is_read=True, tries=0, missed=())), inside=sheet.number)


def _aligned(seal: SealedRun, state: RunState, sheet: SheetState, event: Aligned) -> RunState:
    _needs(len(event.places) >= 3, "Three marks at least are to be found")
    return _read(seal, state, replace(sheet, places=event.places), MarksRead(sheet=sheet.number))


def _lines_cut(_seal: SealedRun, state: RunState, sheet: SheetState, event: LinesCut) -> RunState:
    _needs(sheet.under_way is not None or sheet.proof == "under way", f"Sheet {sheet.number} was not being cut")
    return state.with_sheet(replace(sheet, under_way=None, lines_done=event.done, lines_perhaps=event.perhaps))


def _proof_begun(_seal: SealedRun, state: RunState, sheet: SheetState, event: ProofBegun) -> RunState:
    _needs(sheet.is_read, f"The marks of sheet {sheet.number} were not read")
    return state.with_sheet(replace(sheet, proof="under way", proofs=(*sheet.proofs, event.copy)))


def _proof_judged(_seal: SealedRun, state: RunState, sheet: SheetState, event: ProofJudged) -> RunState:
    is_good = event.verdict == "good"
    judged = replace(sheet, proof="good" if is_good else "bad")
    return replace(state.with_sheet(judged), has_proof=is_good)


def _cut_begun(seal: SealedRun, state: RunState, sheet: SheetState, event: CutBegun) -> RunState:
    busy = next((other for other in state.sheets if other.under_way is not None), None)
    _needs(busy is None, f"Sheet {busy.number if busy else 0} is being cut already")
    _needs(sheet.is_read, f"The marks of sheet {sheet.number} were not read")
    _needs(sheet.passes < len(page_of(seal, sheet).passes), f"Sheet {sheet.number} is cut already")
    return state.with_sheet(replace(sheet, under_way=event.at))


def _cut_done(_seal: SealedRun, state: RunState, sheet: SheetState, _event: CutDone) -> RunState:
    _needs(sheet.under_way is not None, f"Sheet {sheet.number} was not being cut")
    return state.with_sheet(replace(sheet, under_way=None, passes=sheet.passes + 1, lines_done=0, lines_perhaps=0))


def _cut_stopped(_seal: SealedRun, state: RunState, sheet: SheetState, _event: CutStopped) -> RunState:
    _needs(sheet.under_way is not None, f"Sheet {sheet.number} was not being cut")
    return state.with_sheet(replace(sheet, under_way=None, is_read=False, lines_done=0, lines_perhaps=0))


def _out(_seal: SealedRun, state: RunState, sheet: SheetState, _event: TakenOut) -> RunState:
    taken = replace(sheet, is_read=False, tries=0, missed=(), places=())
    return replace(state.with_sheet(taken), inside=None if state.inside == sheet.number else state.inside)


def _inspected(seal: SealedRun, state: RunState, sheet: SheetState, event: Inspected) -> RunState:
    copies = len(page_of(seal, sheet).copies)
    _needs(sheet.passes > 0, f"Sheet {sheet.number} was not cut: there is nothing to inspect")
    bad = {one.copy for one in event.bad}
    _needs(len(bad) == len(event.bad), "A sticker was said to be bad twice")
    _needs(all(copy < copies for copy in bad), f"Sheet {sheet.number} has {copies} stickers, and more were said")
    gone = replace(sheet, bad=event.bad, carrier=None, is_read=False)
    return replace(state.with_sheet(gone), inside=None if state.inside == sheet.number else state.inside)


def _spoiled(_seal: SealedRun, state: RunState, sheet: SheetState, event: Spoiled) -> RunState:
    _needs(sheet.bad is None, f"Sheet {sheet.number} was inspected already")
    _needs(bool(event.why.strip()), "Say why the sheet is lost")
    lost = replace(sheet, spoiled=event.why, carrier=None, under_way=None, is_read=False)
    return replace(state.with_sheet(lost), inside=None if state.inside == sheet.number else state.inside)


def _moved(_seal: SealedRun, state: RunState, sheet: SheetState, _event: Moved) -> RunState:
    return state.with_sheet(replace(sheet, is_read=False, under_way=None, places=()))


def _again(seal: SealedRun, state: RunState, sheet: SheetState, event: CutAgain) -> RunState:
    copies = len(page_of(seal, sheet).copies)
    _needs(bool(event.copies), "Say which stickers are to be cut again")
    _needs(not sheet.lines_done, f"Part of sheet {sheet.number} is cut: cut its rest first")
    _needs(all(0 <= copy < copies for copy in event.copies), f"Sheet {sheet.number} has {copies} stickers")
    _needs(sheet.carrier is not None, f"Sheet {sheet.number} lies on no carrier any more: it cannot be cut again")
    _needs(sheet.under_way is None, f"Sheet {sheet.number} is being cut")
    chosen = tuple(sorted(set(event.copies)))
    return state.with_sheet(replace(sheet, again=chosen, passes=0, is_read=False))


def _skipped(seal: SealedRun, state: RunState, sheet: SheetState, event: Skipped) -> RunState:
    copies = len(page_of(seal, sheet).copies)
    _needs(not sheet.lines_done, f"Part of sheet {sheet.number} is cut: cut its rest first")
    _needs(all(0 <= copy < copies for copy in event.copies), f"Sheet {sheet.number} has {copies} stickers")
    return state.with_sheet(replace(sheet, skipped=tuple(sorted(set(event.copies)))))


_OF_RUN: dict[type[RunEvent], Callable[[SealedRun, RunState, Any], RunState]] = {
    Ordered: _ordered,
    Set: _set,
    Added: _added,
    BladeFitted: _blade,
    Ended: _ended,
}
_OF_SHEET: dict[type[RunEvent], _OfSheet] = {
    Printed: _printed,
    Measured: _measured,
    Unmeasured: lambda _seal, state, _sheet, _event: replace(state, measured="not measured"),
    LetDry: _changed(is_let_dry=True),
    Laminated: _changed(is_laminated=True),
    Laid: _laid,
    Missed: _missed,
    MarksRead: _read,
    ProofBegun: _proof_begun,
    Aligned: _aligned,
    LinesCut: _lines_cut,
    ProofCut: _changed(proof="cut", lines_done=0, lines_perhaps=0),
    ProofJudged: _proof_judged,
    CutBegun: _cut_begun,
    CutDone: _cut_done,
    CutStopped: _cut_stopped,
    TakenOut: _out,
    Inspected: _inspected,
    Spoiled: _spoiled,
    Moved: _moved,
    Skipped: _skipped,
    CutAgain: _again,
}
