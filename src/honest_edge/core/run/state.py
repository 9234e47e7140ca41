"""How a run stands: its events, one after the other, laid over its seal."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Sequence
from dataclasses import dataclass, replace
from typing import Any, Literal

from honest_edge.core.values.errors import UsageError
from honest_edge.core.values.run_events import BadSticker, EndReason, Moment, RunEvent
from honest_edge.core.values.run_seal import SealedPage, SealedRun

ProofState = Literal["", "under way", "cut", "good", "bad"]
MOST_SHEETS = 999
_TAKEN_BACK = frozenset(
    ("measured", "unmeasured", "dry", "laminated", "set", "laid", "missed", "read", "proof cut", "proof judged",
     "cut done", "out", "skipped", "moved")
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
        tries: how often the reader missed a mark of it since it was put in.
        missed: which marks it missed last.
        is_read: its marks are read, and it was not moved since.
        proof: how its proof sticker stands.
        proofs: the copies that were cut as proof.
        passes: how many are done.
        under_way: when the pass that is cut now began; None where none is.
        skipped: copies that are not cut any more.
        again: copies that alone are cut once more; empty where all are cut.
        bad: what was found when it was inspected; None where it was not.
        spoiled: why it is lost; empty where it is not.
    """

    number: int
    page: int
    printed: Moment | None = None
    is_let_dry: bool = False
    is_laminated: bool = False
    carrier: int | None = None
    tries: int = 0
    missed: tuple[int, ...] = ()
    is_read: bool = False
    proof: ProofState = ""
    proofs: tuple[int, ...] = ()
    passes: int = 0
    under_way: Moment | None = None
    skipped: tuple[int, ...] = ()
    again: tuple[int, ...] = ()
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
        return tuple(sheet for sheet in self.sheets if sheet.is_live)

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
    found: list[RunEvent] = []
    for event in events:
        if event.what != "back":
            found.append(event)
        elif can_go_back(found):
            found.pop()
        else:
            raise UsageError("The last step cannot be taken back: it is printed, cut or in the Book")
    return found


def can_go_back(counting: Sequence[RunEvent]) -> bool:
    """Whether the last of the events that count can be taken back."""
    return bool(counting) and counting[-1].what in _TAKEN_BACK


def after(seal: SealedRun, state: RunState, event: RunEvent) -> RunState:
    """Return a run after one more event.

    Raises:
        UsageError: it cannot have happened.
    """
    if state.ended:
        raise UsageError("This run is over: nothing more happens in it")
    if event.sheet:
        found = _OF_SHEET[event.what](seal, state, state.sheet(event.sheet), event)
    else:
        found = _OF_RUN[event.what](seal, state, event)
    return replace(found, last=event.at)


def page_of(seal: SealedRun, sheet: SheetState) -> SealedPage:
    """Return what a sheet shows."""
    return seal.pages[sheet.page]


# -- events of the whole run ---------------------------------------------------------------------


def _ordered(_seal: SealedRun, state: RunState, event: RunEvent) -> RunState:
    block, carriers = event.numbers
    if not 1 <= block <= carriers:
        raise UsageError(f"A block of {block} sheets needs as many carriers; there are {carriers}")
    return replace(state, block=block, carriers=carriers)


def _set(_seal: SealedRun, state: RunState, event: RunEvent) -> RunState:
    settings = dict(state.settings)
    is_as_before = settings.get(event.kind, event.words) == event.words
    settings[event.kind] = event.words
    return replace(
        state,
        set_for=tuple(event.kind.split(KINDS_BETWEEN)),
        settings=tuple(sorted(settings.items())),
        has_proof=state.has_proof and is_as_before,
    )


def _added(seal: SealedRun, state: RunState, event: RunEvent) -> RunState:
    if any(not 0 <= page < len(seal.pages) for page in event.numbers) or not event.numbers:
        raise UsageError("A sheet that is added shows a page of the layout")
    if len(state.sheets) + len(event.numbers) > MOST_SHEETS:
        raise UsageError(f"A run has at most {MOST_SHEETS} sheets")
    first = len(state.sheets) + 1
    more = tuple(SheetState(number=number, page=page) for number, page in enumerate(event.numbers, first))
    return replace(state, sheets=(*state.sheets, *more))


def _blade(_seal: SealedRun, state: RunState, event: RunEvent) -> RunState:
    return replace(state, blade=event.words, has_proof=False, set_for=())


def _ended(_seal: SealedRun, state: RunState, event: RunEvent) -> RunState:
    ends: dict[str, EndReason] = {"done": "done", "enough": "enough", "given up": "given up"}
    return replace(state, ended=ends[event.kind])


# -- events of one sheet ---------------------------------------------------------------------------

_OfSheet = Callable[[SealedRun, RunState, SheetState, RunEvent], RunState]


def _needs(holds: bool, words: str) -> None:
    if not holds:
        raise UsageError(words)


def _changed(**changes: Any) -> _OfSheet:
    def made(_seal: SealedRun, state: RunState, sheet: SheetState, _event: RunEvent) -> RunState:
        return state.with_sheet(replace(sheet, **changes))

    return made


def _printed(_seal: SealedRun, state: RunState, sheet: SheetState, event: RunEvent) -> RunState:
    _needs(sheet.printed is None, f"Sheet {sheet.number} was printed already")
    return state.with_sheet(replace(sheet, printed=event.at))


def _measured(_seal: SealedRun, state: RunState, _sheet: SheetState, event: RunEvent) -> RunState:
    return replace(state, measured=event.kind)


def _laid(_seal: SealedRun, state: RunState, sheet: SheetState, event: RunEvent) -> RunState:
    (carrier,) = event.numbers
    _needs(carrier not in state.used_carriers, f"Something lies on carrier {carrier + 1} already")
    return state.with_sheet(replace(sheet, carrier=carrier))


def _missed(_seal: SealedRun, state: RunState, sheet: SheetState, event: RunEvent) -> RunState:
    missed = replace(sheet, tries=sheet.tries + 1, missed=event.numbers, is_read=False)
    return replace(state.with_sheet(missed), inside=sheet.number)


def _read(_seal: SealedRun, state: RunState, sheet: SheetState, _event: RunEvent) -> RunState:
    busy = state.inside is not None and state.sheet(state.inside).under_way is not None
    _needs(not busy or state.inside == sheet.number, f"Sheet {state.inside} is being cut")
    return replace(state.with_sheet(replace(sheet, is_read=True, tries=0, missed=())), inside=sheet.number)


def _proof_begun(_seal: SealedRun, state: RunState, sheet: SheetState, event: RunEvent) -> RunState:
    _needs(sheet.is_read, f"The marks of sheet {sheet.number} were not read")
    (copy,) = event.numbers
    return state.with_sheet(replace(sheet, proof="under way", proofs=(*sheet.proofs, copy)))


def _proof_judged(_seal: SealedRun, state: RunState, sheet: SheetState, event: RunEvent) -> RunState:
    is_good = event.kind == "good"
    judged = replace(sheet, proof="good" if is_good else "bad")
    return replace(state.with_sheet(judged), has_proof=is_good)


def _cut_begun(seal: SealedRun, state: RunState, sheet: SheetState, event: RunEvent) -> RunState:
    busy = next((other for other in state.sheets if other.under_way is not None), None)
    _needs(busy is None, f"Sheet {busy.number if busy else 0} is being cut already")
    _needs(sheet.is_read, f"The marks of sheet {sheet.number} were not read")
    _needs(sheet.passes < len(page_of(seal, sheet).passes), f"Sheet {sheet.number} is cut already")
    return state.with_sheet(replace(sheet, under_way=event.at))


def _cut_done(_seal: SealedRun, state: RunState, sheet: SheetState, _event: RunEvent) -> RunState:
    _needs(sheet.under_way is not None, f"Sheet {sheet.number} was not being cut")
    return state.with_sheet(replace(sheet, under_way=None, passes=sheet.passes + 1))


def _cut_stopped(_seal: SealedRun, state: RunState, sheet: SheetState, _event: RunEvent) -> RunState:
    _needs(sheet.under_way is not None, f"Sheet {sheet.number} was not being cut")
    return state.with_sheet(replace(sheet, under_way=None, is_read=False))


def _out(_seal: SealedRun, state: RunState, sheet: SheetState, _event: RunEvent) -> RunState:
    taken = replace(sheet, is_read=False, tries=0, missed=())
    return replace(state.with_sheet(taken), inside=None if state.inside == sheet.number else state.inside)


def _inspected(seal: SealedRun, state: RunState, sheet: SheetState, event: RunEvent) -> RunState:
    copies = len(page_of(seal, sheet).copies)
    _needs(sheet.passes > 0, f"Sheet {sheet.number} was not cut: there is nothing to inspect")
    bad = {one.copy for one in event.bad}
    _needs(len(bad) == len(event.bad), "A sticker was said to be bad twice")
    _needs(all(copy < copies for copy in bad), f"Sheet {sheet.number} has {copies} stickers, and more were said")
    gone = replace(sheet, bad=event.bad, carrier=None, is_read=False)
    return replace(state.with_sheet(gone), inside=None if state.inside == sheet.number else state.inside)


def _spoiled(_seal: SealedRun, state: RunState, sheet: SheetState, event: RunEvent) -> RunState:
    _needs(sheet.bad is None, f"Sheet {sheet.number} was inspected already")
    _needs(bool(event.words.strip()), "Say why the sheet is lost")
    lost = replace(sheet, spoiled=event.words, carrier=None, under_way=None, is_read=False)
    return replace(state.with_sheet(lost), inside=None if state.inside == sheet.number else state.inside)


def _moved(_seal: SealedRun, state: RunState, sheet: SheetState, _event: RunEvent) -> RunState:
    return state.with_sheet(replace(sheet, is_read=False, under_way=None))


def _again(seal: SealedRun, state: RunState, sheet: SheetState, event: RunEvent) -> RunState:
    copies = len(page_of(seal, sheet).copies)
    _needs(bool(event.numbers), "Say which stickers are to be cut again")
    _needs(all(0 <= copy < copies for copy in event.numbers), f"Sheet {sheet.number} has {copies} stickers")
    _needs(sheet.carrier is not None, f"Sheet {sheet.number} lies on no carrier any more: it cannot be cut again")
    _needs(sheet.under_way is None, f"Sheet {sheet.number} is being cut")
    chosen = tuple(sorted(set(event.numbers)))
    return state.with_sheet(replace(sheet, again=chosen, passes=0, is_read=False))


def _skipped(seal: SealedRun, state: RunState, sheet: SheetState, event: RunEvent) -> RunState:
    copies = len(page_of(seal, sheet).copies)
    _needs(all(0 <= copy < copies for copy in event.numbers), f"Sheet {sheet.number} has {copies} stickers")
    return state.with_sheet(replace(sheet, skipped=tuple(sorted(set(event.numbers)))))


_OF_RUN: dict[str, Callable[[SealedRun, RunState, RunEvent], RunState]] = {
    "ordered": _ordered,
    "set": _set,
    "added": _added,
    "blade": _blade,
    "ended": _ended,
}
_OF_SHEET: dict[str, _OfSheet] = {
    "printed": _printed,
    "measured": _measured,
    "unmeasured": lambda _seal, state, _sheet, _event: replace(state, measured="not measured"),
    "dry": _changed(is_let_dry=True),
    "laminated": _changed(is_laminated=True),
    "laid": _laid,
    "missed": _missed,
    "read": _read,
    "proof begun": _proof_begun,
    "proof cut": _changed(proof="cut"),
    "proof judged": _proof_judged,
    "cut begun": _cut_begun,
    "cut done": _cut_done,
    "cut stopped": _cut_stopped,
    "out": _out,
    "inspected": _inspected,
    "spoiled": _spoiled,
    "moved": _moved,
    "skipped": _skipped,
    "again": _again,
}
