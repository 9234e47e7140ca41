"""Which kinds of note the Book knows, and how each becomes an event and is read back."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import asdict, dataclass
from typing import Any, Generic, TypeVar

import msgspec

from honest_edge.core.values.bench_records import BenchNote, BenchSheet, CutMoved, MachineSign, SetAside
from honest_edge.core.values.book_records import (
    BladeNote,
    Carrier,
    CarrierCare,
    CutRecipe,
    KeptWork,
    LadderLook,
    Rates,
    SettingFound,
    StockFacts,
    StockMove,
)
from honest_edge.core.values.errors import UsageError
from honest_edge.core.values.log_event import LogEvent
from honest_edge.core.values.practice_notes import Practised
from honest_edge.core.values.run_notes import ActTimed, CarrierLoaded, PassTimed, RunSealed, SheetFound, SheetInspected

Record = TypeVar("Record")


@dataclass(frozen=True, slots=True)
class NoteKind(Generic[Record]):
    """One kind of note.

    Attributes:
        kind: of its events.
        type: of its record.
        about: what it is looked up by.
        words: what it is called where it cannot be read.
    """

    kind: str
    type: type[Record]
    about: Callable[[Record], str]
    words: str

    def event(self, record: Record, key: str, at_ms: int) -> LogEvent:
        """Return the event that keeps a record."""
        return LogEvent(key=key, at_ms=at_ms, kind=self.kind, data=asdict(record))  # type: ignore[call-overload]

    def read(self, data: str) -> Record:
        """Return the record in an event's data as it is kept.

        Raises:
            UsageError: it lacks something, or cannot be used.
        """
        try:
            return msgspec.json.decode(data, type=self.type)
        except msgspec.DecodeError as error:
            raise UsageError(f"{self.words} cannot be read: {error}") from None


LOOK = NoteKind("look", LadderLook, lambda look: look.session, "A look at a ladder")
SETTING = NoteKind("setting", SettingFound, lambda found: found.stock, "A setting")
RECIPE = NoteKind("recipe", CutRecipe, lambda recipe: recipe.stock, "A recipe")
BLADE = NoteKind("blade", BladeNote, lambda note: note.blade, "A note of a blade")
MOVE = NoteKind("move", StockMove, lambda move: move.stock, "A move of stock")
RATES = NoteKind("rates", Rates, lambda _rates: "", "Prices")

FACTS = NoteKind("stock", StockFacts, lambda facts: facts.stock, "What is known of a stock")
KEPT = NoteKind("kept", KeptWork, lambda kept: kept.job, "What is kept in the library")
CARRIER = NoteKind("carrier", Carrier, lambda carrier: carrier.name, "A carrier")
CARE = NoteKind("care", CarrierCare, lambda care: care.carrier, "The care of a carrier")

MEASURED = NoteKind("measured", BenchSheet, lambda sheet: sheet.about, "A measured sheet")
CHANGED = NoteKind("bench", BenchNote, lambda note: note.about, "What was done to a bench")
ASIDE = NoteKind("aside", SetAside, lambda note: note.about, "A sheet that was set aside")
MOVED = NoteKind("moved", CutMoved, lambda note: note.about, "How cut files are moved")
SIGN = NoteKind("sign", MachineSign, lambda sign: sign.about, "The sign of a machine’s correction")

SEALED = NoteKind("sealed", RunSealed, lambda note: note.run, "A sealed run")
INSPECTED = NoteKind("inspected", SheetInspected, lambda note: note.about, "An inspected sheet")
TIMED = NoteKind("timed", ActTimed, lambda note: note.act, "How long an act took")
FOUND = NoteKind("found", SheetFound, lambda note: note.machine, "A sheet that was found by hand")
LOADED = NoteKind("loaded", CarrierLoaded, lambda note: note.carrier, "A sheet on a carrier")
PASSED = NoteKind("pass", PassTimed, lambda note: note.machine, "How long a pass took")
PRACTISED = NoteKind("practised", Practised, lambda note: note.story, "A practice job")

KINDS: dict[str, NoteKind[Any]] = {
    kind.kind: kind
    for kind in (
        LOOK,
        SETTING,
        RECIPE,
        BLADE,
        MOVE,
        RATES,
        FACTS,
        KEPT,
        CARRIER,
        CARE,
        LOADED,
        MEASURED,
        CHANGED,
        ASIDE,
        MOVED,
        SIGN,
        SEALED,
        INSPECTED,
        TIMED,
        FOUND,
        PASSED,
        PRACTISED,
    )
}
