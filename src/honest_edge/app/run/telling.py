"""What the Book is told of a run: always the same events under the same keys, so that none counts twice."""

from __future__ import annotations

import hashlib
import itertools
from collections import Counter
from collections.abc import Iterator, Sequence
from dataclasses import asdict, dataclass, replace

from honest_edge.app.run.at_machine import sheet_aligned
from honest_edge.app.run.outcome import bad_of, good_of
from honest_edge.app.run.sealing import ring_of
from honest_edge.core.run.habits import timed
from honest_edge.core.run.state import RunState, SheetState, after, begun, effective, page_of, state_of
from honest_edge.core.sheet.costs import length_mm
from honest_edge.core.values.book_records import BladeNote
from honest_edge.core.values.log_event import MOST_TEXT, LogEvent, RunRecord
from honest_edge.core.values.run_events import (
    Aligned,
    BadSticker,
    BladeFitted,
    CutDone,
    Ended,
    Inspected,
    Laid,
    RunEvent,
    Spoiled,
)
from honest_edge.core.values.run_notes import ActTimed, CarrierLoaded, PassTimed, RunSealed, SheetFound, SheetInspected
from honest_edge.core.values.run_seal import SealedLine, SealedRun
from honest_edge.files.book.records import BLADE, FOUND, INSPECTED, LOADED, PASSED, SEALED, TIMED
from honest_edge.files.book.store import RUN


def book_events(seal: SealedRun, seal_hash: str, events: Sequence[RunEvent]) -> list[LogEvent]:
    """Return all that the Book is to know of a run so far; ``seal_hash`` is that of the seal as it lies on the disk."""
    if not events:
        return []
    events = effective(events)
    told = [
        SEALED.event(
            RunSealed(
                run=seal.run,
                title=seal.title,
                stock=seal.sheet.stock.name,
                machine=seal.sheet.machine.name,
                printer=seal.sheet.printer.name,
                sheets=len(seal.sheets),
                seal=seal_hash,
            ),
            _key(seal, "sealed"),
            events[0].at.wall_ms,
        )
    ]
    before = None
    for number, event in enumerate(events):
        act = timed(before, event)
        before = event.at
        if act is not None and not seal.is_practice:  # nobody's hands were at work
            told.append(
                TIMED.event(ActTimed(act=act[0], seconds=act[1]), _key(seal, f"timed {number}"), event.at.wall_ms)
            )
    state = state_of(seal, events)
    for event in events:
        if isinstance(event, Inspected):
            told += _inspections(seal, state, event)
    if not seal.is_practice:
        told += [*_found(seal, events), *_passes(seal, events), *_loads(seal, events)]
    told += _blades(seal, events)
    if state.ended and (run := _record(seal, state, events)) is not None:
        told.append(LogEvent(key=_key(seal, "run"), at_ms=events[-1].at.wall_ms, kind=RUN, data=asdict(run)))
    return told


def _key(seal: SealedRun, what: str) -> str:
    return hashlib.sha256(f"{seal.run} {what}".encode()).hexdigest()[:32]


def _inspections(seal: SealedRun, state: RunState, event: Inspected) -> Iterator[LogEvent]:
    sheet = state.sheet(event.sheet)
    good, bad = good_of(seal, sheet), bad_of(seal, sheet)
    names: dict[str, list[int]] = {}
    for design in sorted({copy.design for copy in page_of(seal, sheet).copies}):
        names.setdefault(seal.designs[design].name, []).append(design)
    for name, designs in names.items():
        spoiled = [one for design in designs for one in bad.get(design, ())]
        sides = Counter(one.side for one in spoiled)
        note = SheetInspected(
            run=seal.run,
            sheet=sheet.number,
            stock=seal.sheet.stock.name,
            machine=seal.sheet.machine.name,
            design=name,
            forecast=seal.designs[designs[0]].forecast,
            good=sum(good[design] for design in designs),
            bad=len(spoiled),
            reasons=", ".join(dict.fromkeys(one.reason for one in spoiled)),
            to_left=sides["left"],
            to_right=sides["right"],
            to_top=sides["top"],
            to_bottom=sides["bottom"],
        )
        yield INSPECTED.event(note, _key(seal, f"inspected {sheet.number} {name}"), event.at.wall_ms)


def _found(seal: SealedRun, events: Sequence[RunEvent]) -> Iterator[LogEvent]:
    """Tell how well the marks of each sheet agreed that a hand found."""
    for number, event in enumerate(events):
        if isinstance(event, Aligned):
            left_over = sheet_aligned(seal, event.places).found.left_over_mm.values()
            note = SheetFound(
                run=seal.run,
                sheet=event.sheet,
                machine=seal.sheet.machine.name,
                marks=len(event.places),
                square_mm2=sum(left**2 for left in left_over),
            )
            yield FOUND.event(note, _key(seal, f"found {number}"), event.at.wall_ms)


def _loads(seal: SealedRun, events: Sequence[RunEvent]) -> Iterator[LogEvent]:
    """Tell which sheet was laid on which of the Book's carriers."""
    for number, event in enumerate(events):
        if isinstance(event, Laid) and event.name:
            note = CarrierLoaded(run=seal.run, sheet=event.sheet, carrier=event.name)
            yield LOADED.event(note, _key(seal, f"loaded {number}"), event.at.wall_ms)


def _passes(seal: SealedRun, events: Sequence[RunEvent]) -> Iterator[LogEvent]:
    """Tell how long each pass took that was cut from here in one go, whole."""
    state = begun(seal)
    for number, event in enumerate(events):
        if isinstance(event, CutDone):
            sheet = state.sheet(event.sheet)
            reckoned_s = page_of(seal, sheet).passes[sheet.passes].seconds
            is_whole = not (sheet.skipped or sheet.again or sheet.proofs or sheet.lines_done)
            if sheet.places and is_whole and sheet.under_way is not None and reckoned_s > 0:
                note = PassTimed(
                    run=seal.run,
                    sheet=event.sheet,
                    machine=seal.sheet.machine.name,
                    reckoned_s=reckoned_s,
                    seconds=event.at.seconds_since(sheet.under_way),
                )
                yield PASSED.event(note, _key(seal, f"pass {number}"), event.at.wall_ms)
        state = after(seal, state, event)


def _record(seal: SealedRun, state: RunState, events: Sequence[RunEvent]) -> RunRecord | None:
    """Return the run as the Book lists it; None where nothing was inspected."""
    looked = [sheet for sheet in state.sheets if sheet.bad is not None]
    good = sum(sum(good_of(seal, sheet).values()) for sheet in looked)
    bad: list[BadSticker] = [one for sheet in looked for one in sheet.bad or ()]
    if good + len(bad) == 0:
        return None
    used = [s for s in state.sheets if s.printed is not None or s.carrier is not None or s.bad is not None or s.spoiled]
    weights = Counter(copy.design for sheet in looked for copy in page_of(seal, sheet).copies)
    whole = sum(weights.values())
    return RunRecord(
        title=seal.title,
        stock=seal.sheet.stock.name,
        machine=seal.sheet.machine.name,
        printer=seal.sheet.printer.name,
        sheets=len(used),
        good=good,
        bad=len(bad),
        reason=_reasons(state, bad),
        forecast=sum(seal.designs[d].forecast * count for d, count in weights.items()) / whole if whole else None,
        sheet_price=seal.sheet.stock.price,
        job=seal.run,
        blade=state.blade,
        cut_m=_metres(seal, events)[-1].metres,
        minutes=None if seal.is_practice else round(_hands_on_s(events) / 60, 1),
        setting="; ".join(f"{name}: {words}" for name, words in state.settings if words)[:MOST_TEXT],
    )


def _reasons(state: RunState, bad: Sequence[BadSticker]) -> str:
    counted = Counter(one.reason for one in bad)
    parts = [f"{reason} ×{count}" for reason, count in counted.most_common()]
    parts += [f"sheet {sheet.number}: {sheet.spoiled}" for sheet in state.sheets if sheet.spoiled]
    return ", ".join(parts)[:MOST_TEXT]


@dataclass(frozen=True, slots=True, kw_only=True)
class _BladeCut:
    """What one blade cut in a run, and the event that it was fitted with; None for the one that was in."""

    blade: str
    metres: float
    fitted: RunEvent | None


def _metres(seal: SealedRun, events: Sequence[RunEvent]) -> list[_BladeCut]:
    """Return what each blade of a run cut: what was done of each pass, as often as each line is gone over."""
    cuts = [_BladeCut(blade="", metres=0.0, fitted=None)]
    state = begun(seal)
    for event in events:
        if isinstance(event, BladeFitted):
            cuts.append(_BladeCut(blade=event.blade, metres=0.0, fitted=event))
        elif isinstance(event, CutDone):
            cuts[-1] = replace(cuts[-1], metres=cuts[-1].metres + _pass_m(seal, state.sheet(event.sheet)))
        elif isinstance(event, Spoiled):
            cuts[-1] = replace(cuts[-1], metres=cuts[-1].metres + _torn_m(seal, state.sheet(event.sheet)))
        elif isinstance(event, Ended):
            torn_m = sum(_torn_m(seal, sheet) for sheet in state.live)
            cuts[-1] = replace(cuts[-1], metres=cuts[-1].metres + torn_m)
        state = after(seal, state, event)
    return cuts


def _torn_m(seal: SealedRun, sheet: SheetState) -> float:
    """Return what was cut of a pass that is never done: the lines that surely are, by their share of all."""
    if not sheet.lines_done or sheet.passes >= len(page_of(seal, sheet).passes):
        return 0.0
    lines = sum(seal.sheet.cutter.lines[line.kind].passes for line in _lines_of(seal, sheet))
    return _pass_m(seal, sheet) * min(1.0, sheet.lines_done / max(1, lines))


def _pass_m(seal: SealedRun, sheet: SheetState) -> float:
    lines = seal.sheet.cutter.lines
    return sum(lines[line.kind].passes * length_mm(ring_of(line)) for line in _lines_of(seal, sheet)) / 1000


def _lines_of(seal: SealedRun, sheet: SheetState) -> list[SealedLine]:
    """Return the lines of the pass that is cut now."""
    page = page_of(seal, sheet)
    copies = sheet.again or [copy for copy in range(len(page.copies)) if copy not in sheet.skipped]
    kinds = page.passes[sheet.passes].kinds
    return [line for copy in copies for line in page.copies[copy].lines if line.kind in kinds]


def _blades(seal: SealedRun, events: Sequence[RunEvent]) -> Iterator[LogEvent]:
    """Close the metres of every blade that was changed in the run, and note the one that was fitted."""
    cut = _metres(seal, events)
    for number, (old, new) in enumerate(itertools.pairwise(cut)):
        if new.fitted is None or new.blade == old.blade:
            continue
        at_ms = new.fitted.at.wall_ms
        if old.blade:
            ended = BladeNote(blade=old.blade, what="changed early", metres=old.metres)
            yield BLADE.event(ended, _key(seal, f"blade out {number}"), at_ms)
        if number or old.metres:  # the first one was in already
            yield BLADE.event(BladeNote(blade=new.blade, what="fitted"), _key(seal, f"blade in {number}"), at_ms)


def _hands_on_s(events: Sequence[RunEvent]) -> float:
    acts = [timed(one.at, other) for one, other in itertools.pairwise(events)]
    return sum(act[1] for act in acts if act is not None)
