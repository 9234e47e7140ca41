"""The made-up Book that the demo job comes with: a season of the Quillwort Tea Garden."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import asdict, replace
from typing import Any

from honest_edge.app.book.cut_trial import new_trial, state_of
from honest_edge.app.book.demo_bench import bench_events
from honest_edge.core.values.book_records import (
    BladeNote,
    Carrier,
    CarrierCare,
    CutRecipe,
    CutSubject,
    Rates,
    StockFacts,
    StockMove,
)
from honest_edge.core.values.log_event import LogEvent, RunRecord
from honest_edge.core.values.machine import Machine
from honest_edge.core.values.practice_notes import Practised
from honest_edge.core.values.printer import Printer
from honest_edge.core.values.specs import LineKind
from honest_edge.core.workshop.ladder import SettingRange
from honest_edge.files.book.records import (
    BLADE,
    CARE,
    CARRIER,
    FACTS,
    LOOK,
    MOVE,
    PRACTISED,
    RATES,
    RECIPE,
    SETTING,
    NoteKind,
)
from honest_edge.files.book.store import RUN

_DAY_MS = 86_400_000
_VINYL, _PAPER, _CARD = "White vinyl, satin", "White paper, matt", "Card, 220 g"
_OLD, _NEW = "Blade no. 1", "Blade no. 2"
_CHANGED_DAYS, _M_A_SHEET, _INKED_CM2 = 58, 3.4, 310.0
_RUNS: tuple[tuple[int, str, str, int, int, int, str, float], ...] = (
    (3, "Summer tins", _PAPER, 4, 31, 2, "white at the bee’s wing", 0.95),
    (9, "Herb sheet", _VINYL, 2, 24, 0, "", 0.98),
    (12, "Price tags", _CARD, 3, 36, 0, "", 0.99),
    (17, "Herb sheet", _VINYL, 3, 30, 6, "third sheet fed askew", 0.97),
    (24, "Mint labels", _PAPER, 2, 40, 0, "", 0.99),
    (31, "Open day badges", _VINYL, 5, 58, 2, "liner cut through, blade too deep", 0.96),
    (38, "Lavender bags", _PAPER, 2, 22, 2, "white at the stem", 0.9),
    (40, "Lavender bags", _PAPER, 2, 24, 0, "", 0.97),
    (52, "Tin lids", _VINYL, 3, 27, 0, "", 0.98),
    (60, "Teapot magnets", _VINYL, 1, 8, 1, "corner lifted", 0.94),
    (66, "Price tags", _CARD, 2, 20, 4, "card torn at the hole", 0.99),
    (73, "Price tags", _CARD, 2, 24, 0, "", 0.99),
    (85, "Rose hip labels", _PAPER, 2, 39, 1, "printed at 97 percent", 0.97),
    (97, "Thyme on kraft", "Kraft paper", 2, 17, 1, "grain showed at the edge", 0.96),
    (110, "Christmas tea", _VINYL, 6, 70, 2, "marks not read, second try", 0.97),
    (118, "Christmas tea", _VINYL, 4, 48, 0, "", 0.98),
    (125, "Gift tags", _CARD, 4, 47, 1, "crease too light", 0.99),
    (141, "Honey jars", _PAPER, 3, 33, 3, "white at the bee’s wing", 0.91),
    (148, "Honey jars", _PAPER, 3, 36, 0, "", 0.97),
    (160, "Garden map cards", _CARD, 8, 8, 0, "", 1.0),
)
"""Days ago, title, stock, sheets, good, bad, why, what was expected: all made up."""

_PRICES = {_VINYL: 0.62, _PAPER: 0.31, _CARD: 0.18}
"""Of a sheet; that of the kraft paper was never typed."""


_CUTS: tuple[tuple[int, str, LineKind, str, tuple[tuple[int, int], ...]], ...] = (
    (21, _VINYL, "kiss", _NEW, ((4, 6), (3, 6))),
    (40, _PAPER, "kiss", _NEW, ((2, 4), (2, 5))),
    (66, _CARD, "through", _OLD, ((6, 8), (3, 8))),
    (97, "Kraft paper", "kiss", _OLD, ((3, 3), (4, 4), (5, 5))),
)
"""Days ago, stock, line, blade, and of each ladder the first square that lifted and the first that was marked."""


def _cut_events(now_ms: int) -> Iterator[LogEvent]:
    for number, (days, stock, line, blade, clicks) in enumerate(_CUTS):
        subject = CutSubject(stock=stock, machine=Machine().name, blade=blade, line=line)
        trial = replace(new_trial(subject, SettingRange()), session=f"{number + 1:030x}aa")
        for first_clean, first_marked in clicks:
            ladder = state_of(trial).ladder
            if ladder is not None:
                trial = trial.read(ladder, first_clean, first_marked)
        at_ms = now_ms - days * _DAY_MS - 7_200_000
        for index, look in enumerate(trial.looks):
            yield LOOK.event(look, f"{number + 1:030x}{index:02x}", at_ms + 600_000 * index)
        yield SETTING.event(state_of(trial).found, f"{number + 1:030x}ff", at_ms + 600_000 * len(trial.looks))


_NOTES: tuple[tuple[int, NoteKind[Any], Any], ...] = (
    (165, BLADE, BladeNote(blade=_OLD, what="fitted")),
    (58, BLADE, BladeNote(blade=_OLD, what="dull")),
    (57, BLADE, BladeNote(blade=_NEW, what="fitted")),
    (162, MOVE, StockMove(stock=_PAPER, what="bought", sheets=50, price=0.31, lot="A 17")),
    (130, MOVE, StockMove(stock=_VINYL, what="bought", sheets=50, price=0.62, lot="V 204")),
    (161, MOVE, StockMove(stock=_CARD, what="bought", sheets=25, price=0.18)),
    (64, MOVE, StockMove(stock=_VINYL, what="spoiled", sheets=2)),
    (35, MOVE, StockMove(stock=_CARD, what="counted", sheets=7)),
    (99, FACTS, StockFacts(stock="Kraft paper", hardness=1.5, remark="grain shows at thin strokes")),
    (98, FACTS, StockFacts(stock=_VINYL, drying_min=30, laminate="gloss film", remark="feed it by the long edge")),
    (20, RECIPE, CutRecipe(stock=_VINYL, machine=Machine().name, laminate="gloss film", force=92, speed_mm_s=40)),
    (
        65,
        RECIPE,
        CutRecipe(
            stock=_CARD,
            machine=Machine().name,
            line="through",
            force=150,
            passes=2,
            slow_mm_s=25,
            remark="the second pass frees the corners",
        ),
    ),
    (150, CARRIER, Carrier(name="Green mat", tack="light", remark="for paper")),
    (148, CARRIER, Carrier(name="Blue mat", width_mm=305, length_mm=305, remark="for vinyl")),
    (46, CARE, CarrierCare(carrier="Blue mat", what="cleaned")),
    (155, PRACTISED, Practised(story="wedding", lost=2, minutes=88)),
    (154, PRACTISED, Practised(story="wedding", lost=1, minutes=62, is_solved=True)),
    (153, PRACTISED, Practised(story="free", seed=12, level=1, lost=2, minutes=95, is_solved=True)),
    (90, RATES, Rates(ink=0.06, blade=9.0, blade_m=400)),
)
"""Days ago, and what was noted: all made up; what an hour costs was never typed."""


def _note_events(now_ms: int) -> Iterator[LogEvent]:
    for number, (days, kind, note) in enumerate(_NOTES):
        yield kind.event(note, f"{number + 1:030x}bb", now_ms - days * _DAY_MS - 1_800_000)


def demo_events(now_ms: int) -> list[LogEvent]:
    """Return the made-up events, the oldest first, as if written by now, in UTC milliseconds."""
    every = [*_run_events(now_ms), *_cut_events(now_ms), *_note_events(now_ms), *bench_events(now_ms)]
    return sorted(every, key=lambda event: event.at_ms)


def _run_events(now_ms: int) -> list[LogEvent]:
    events = []
    for number, (days, title, stock, sheets, good, bad, reason, forecast) in enumerate(_RUNS):
        run = RunRecord(
            title=title,
            stock=stock,
            machine=Machine().name,
            printer=Printer().name,
            sheets=sheets,
            good=good,
            bad=bad,
            reason=reason,
            forecast=forecast,
            sheet_price=_PRICES.get(stock),
            blade=_NEW if days < _CHANGED_DAYS else _OLD,
            cut_m=round(_M_A_SHEET * sheets, 1),
            ink_cm2=round(_INKED_CM2 * sheets, 0),
        )
        at_ms = now_ms - days * _DAY_MS - number % 4 * 3_700_000
        events.append(LogEvent(key=f"{number + 1:032x}", at_ms=at_ms, kind=RUN, data=asdict(run)))
    return events
