"""What the Book knows that helps a run: settings, carriers, drying, hands, and how forecasts did."""

from __future__ import annotations

from collections.abc import Collection, Mapping
from dataclasses import dataclass, field

from honest_edge.app.book.blade_rows import blades_in_use
from honest_edge.app.book.carrier_uses import carrier_uses
from honest_edge.app.book.desk import BookDesk
from honest_edge.app.book.recipe_cards import RecipeCard, recipe_cards
from honest_edge.core.measure.hand_alignment import HAND_MM, hand_of
from honest_edge.core.run.habits import own_times
from honest_edge.core.run.state import RunState
from honest_edge.core.run.track_record import PastRun, TrackRecord, track_record
from honest_edge.core.run.yield_share import ASSUMED_STRENGTH, MEASURED_STRENGTH, Prior, Seen
from honest_edge.core.values.book_records import SettingFound, StockFacts
from honest_edge.core.values.run_notes import subject_of
from honest_edge.core.values.run_seal import SealedRun
from honest_edge.core.values.run_times import LONGEST_DRYING_S, PACES, RunTimes
from honest_edge.core.values.sheet import SheetSpec
from honest_edge.core.workshop.carriers import CarrierUse
from honest_edge.files.book.records import FACTS, FOUND, INSPECTED, PASSED, SETTING, TIMED
from honest_edge.files.book.store import Book

_MOST_RUNS, _MOST_TIMES, _MOST_SHEETS = 60, 25, 60


@dataclass(frozen=True, slots=True, kw_only=True)
class RunFacts:
    """What the Book knows.

    Attributes:
        settings: the newest that test cuts came to of each kind of line, by kind.
        recipes: cards of the stock, the newest first.
        carriers: how they were used, in the order in which they are taken.
        drying_s: that ink needs on this stock, as typed; None where it never was.
        blade: that is in use; empty where that is not known.
        laminate: what is laid over this stock; empty for nothing.
        driver: how the printer’s driver is set for this stock; empty where that was not said.
        times: how long acts take.
        own: which of the times are the user's own.
        track: how forecasts did; None where no run tells of it.
        inspected: what inspections of each design on this stock and machine found, by name: how many were good, of how
            many.
        inspected_here: sheets of the run in hand that were inspected.
        hand_mm: how well the user's hand finds marks in this machine.
        found: how many sheets tell that; 0 where it is assumed.
    """

    settings: Mapping[str, SettingFound] = field(default_factory=dict)
    recipes: tuple[RecipeCard, ...] = ()
    carriers: tuple[CarrierUse, ...] = ()
    drying_s: float | None = None
    blade: str = ""
    laminate: str = ""
    driver: str = ""
    times: RunTimes = field(default_factory=RunTimes)
    own: frozenset[str] = frozenset()
    track: TrackRecord | None = None
    inspected: Mapping[str, list[tuple[int, int]]] = field(default_factory=dict)
    inspected_here: frozenset[int] = frozenset()
    hand_mm: float = HAND_MM
    found: int = 0

    def forecasts(self, seal: SealedRun) -> dict[str, float]:
        """Return what is expected of each design of a run, by name, a systematic miss taken out."""
        expected: dict[str, float] = {}
        for design in seal.designs:
            share = design.forecast if self.track is None else self.track.corrected(design.forecast)
            expected.setdefault(design.name, share)
        return expected

    def prior(self, seal: SealedRun) -> Prior:
        """Return what is expected of all its stickers together."""
        strength = MEASURED_STRENGTH if seal.measured_sheets else ASSUMED_STRENGTH
        expected = self.forecasts(seal)
        shares = [expected[seal.designs[copy.design].name] for page in seal.sheets for copy in seal.pages[page].copies]
        return Prior(share=sum(shares) / max(1, len(shares)), strength=strength)

    def history(self, seal: SealedRun) -> list[Seen]:
        """Return what earlier inspections of a run's designs found."""
        return [
            Seen(forecast=share, good=good, count=count)
            for name, share in self.forecasts(seal).items()
            for good, count in self.inspected.get(name, ())
        ]


def run_facts(desk: BookDesk, sheet: SheetSpec, names: Collection[str], now_ms: int, run: str = "") -> RunFacts:
    """Return what the Book knows of running a job.

    Args:
        desk: the Book.
        sheet: what it is run on.
        names: of its designs.
        now_ms: the present, in UTC milliseconds.
        run: the run that is in hand: its own inspections are no history.

    Raises:
        FileError: the Book cannot be read.
    """
    facts = desk.look_up(lambda book: [_known(book, sheet, names, run)], "", now_ms).rows
    return facts[0] if facts else RunFacts()


def _known(book: Book, sheet: SheetSpec, names: Collection[str], run: str) -> RunFacts:
    stock, machine = sheet.stock.name, sheet.machine.name
    settings: dict[str, SettingFound] = {}
    for kept in book.notes(SETTING, about=stock):
        if kept.record.machine == machine:
            settings.setdefault(kept.record.line, kept.record)
    facts = next((kept.record for kept in book.notes(FACTS, about=stock, most=1)), StockFacts(stock=stock))
    seconds = {
        name: [kept.record.seconds for kept in book.notes(TIMED, about=name, most=_MOST_TIMES)]
        for name in ("lay_s", "put_in_s", "change_s", "take_out_s", "peel_s")
    }
    paces = [
        kept.record.seconds / kept.record.reckoned_s for kept in book.notes(PASSED, about=machine, most=_MOST_TIMES)
    ]
    seconds["cut_pace"] = [pace for pace in paces if PACES[0] <= pace <= PACES[1]]
    times, own = own_times(RunTimes(), seconds)
    left_over = [kept.record.left_over for kept in book.notes(FOUND, about=machine, most=_MOST_SHEETS)]
    return RunFacts(
        settings=settings,
        recipes=tuple(recipe_cards(book, only=stock)),
        carriers=tuple(carrier_uses(book)),
        drying_s=None if facts.drying_min is None else min(60 * facts.drying_min, LONGEST_DRYING_S),
        blade=next(iter(blades_in_use(book)), ""),
        laminate=facts.laminate,
        driver=facts.driver,
        times=times,
        own=own,
        track=_track(book),
        hand_mm=hand_of(left_over),
        found=len(left_over),
        inspected={name: _inspected(book, stock, machine, name, run) for name in names},
        inspected_here=frozenset(
            kept.record.sheet for kept in book.notes(INSPECTED, words=run, most=-1) if kept.record.run == run
        )
        if run
        else frozenset(),
    )


def forgotten(known: RunFacts, state: RunState) -> str:
    """Return what the Book knows of a run that its journal does not, as a sentence; empty where that is nothing."""
    missing = sorted(known.inspected_here - {sheet.number for sheet in state.sheets if sheet.bad is not None})
    if not missing:
        return ""
    named = ", ".join(map(str, missing))
    return (
        f"The Book has sheet {named} of this run as inspected, and the run’s own journal does not: it was set back, so "
        "look at what lies before you, and leave out what was cut already"
    )


def _track(book: Book) -> TrackRecord | None:
    kept = [one.run for one in book.runs(most=_MOST_RUNS)]
    past = [
        PastRun(forecast=run.forecast, good=run.good, bad=run.bad, sheets=run.sheets)
        for run in kept
        if run.forecast is not None
    ]
    return track_record(past)


def _inspected(book: Book, stock: str, machine: str, design: str, run: str) -> list[tuple[int, int]]:
    about = subject_of(stock, machine, design)
    notes = [kept.record for kept in book.notes(INSPECTED, about=about, most=_MOST_SHEETS)]
    return [(note.good, note.good + note.bad) for note in notes if note.run != run and note.good + note.bad]
