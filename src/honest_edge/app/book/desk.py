"""One Book of a window, the user's own or the demo's: opened when it is first needed."""

from __future__ import annotations

import secrets
import tempfile
import threading
from collections.abc import Callable, Mapping, Sequence
from dataclasses import replace
from pathlib import Path
from typing import Any, TypeVar, cast

from honest_edge.app.book.blade_rows import BladeRow, blade_rows, blades_in_use, metres_of
from honest_edge.app.book.carrier_uses import carrier_uses
from honest_edge.app.book.cut_trial import CutTrial, blunter_since, new_trial
from honest_edge.app.book.demo_book import demo_events
from honest_edge.app.book.found import CostedRun, CutFacts, Found, LibraryRow, WhatWorked
from honest_edge.app.book.recipe_cards import RecipeCard, recipe_cards
from honest_edge.app.book.run_of_job import run_event
from honest_edge.app.book.stock_rows import StockRow, stock_rows
from honest_edge.core.values.book_records import CutSubject, KeptWork, LadderLook, Rates, SettingFound
from honest_edge.core.values.errors import FileError
from honest_edge.core.values.job import Job
from honest_edge.core.values.log_event import LogEvent, RunRecord
from honest_edge.core.workshop.carriers import CarrierUse
from honest_edge.core.workshop.cost import PieceCost, piece_cost
from honest_edge.core.workshop.ladder import SettingRange
from honest_edge.core.workshop.outcome import fell_short
from honest_edge.files.book.exchange import export, take_in
from honest_edge.files.book.keeping import Opened, look_after, open_book, rescued
from honest_edge.files.book.kept_jobs import keep_job, kept_job, kept_picture
from honest_edge.files.book.place import book_path
from honest_edge.files.book.records import KEPT, LOOK, MOVE, RATES, SETTING, NoteKind
from honest_edge.files.book.store import Book, DamagedBookError, Kept, KeptRun

Row = TypeVar("Row")
_MOST_SHOWN, _MOST_LOOKS = 300, 500


class BookDesk:
    """Reads and writes the Book, to be asked away from the window's thread."""

    def __init__(self, path: Callable[[], Path] = book_path, *, made_up: bool = False) -> None:
        """Take where the user's own Book lies; the demo's, which is made up, has a folder of its own and goes."""
        self._path, self._lock = path, threading.RLock()
        self._opened: Opened | None = None
        self._is_made_up = made_up
        self._folder: tempfile.TemporaryDirectory[str] | None = None

    def look_up(self, read: Callable[[Book], Sequence[Row]], words: str, now_ms: int) -> Found[Row]:
        """Look something up; no Book is made by looking.

        Args:
            read: asks the Book.
            words: what is looked for, to be told with what was found.
            now_ms: the present, in UTC milliseconds.

        Raises:
            FileError: the Book cannot be read.
        """
        with self._lock:
            if not self._is_there():
                return Found(rows=(), words=words, events=0, is_made_up=False, notes=())
            book, notes = self._book(now_ms)
            return Found(
                rows=tuple(read(book)),
                words=words,
                events=book.count(),
                is_made_up=self._is_made_up,
                notes=notes,
            )

    def events(self, now_ms: int) -> int:
        """Return how many events the Book has, those of other windows too.

        Raises:
            FileError: the Book cannot be read.
        """
        with self._lock:
            return self._book(now_ms)[0].count() if self._is_there() else 0

    def _is_there(self) -> bool:
        return self._is_made_up or self._path().exists()

    def last_run(self, stock: str, machine: str, now_ms: int) -> KeptRun | None:
        """Return the newest run of a stock on a machine; None also where there is no Book yet, for none is made.

        Raises:
            FileError: the Book cannot be read.
        """
        with self._lock:
            return self._book(now_ms)[0].last_run(stock, machine) if self._is_there() else None

    def runs(self, words: str, now_ms: int) -> Found[CostedRun]:
        """Look up runs and what a good piece of each cost at least, as ``look_up``."""

        def costed(book: Book) -> list[CostedRun]:
            rates = rates_in(book)
            return [
                CostedRun(
                    at_ms=kept.at_ms,
                    run=kept.run,
                    cost=piece_cost(kept.run, rates),
                    fell_short=fell_short(kept.run.good, kept.run.bad, kept.run.forecast),
                )
                for kept in book.runs(words)
            ]

        return self.look_up(costed, words, now_ms)

    def settings(self, words: str, now_ms: int) -> Found[Kept[SettingFound]]:
        """Look up what test cuts came to, the newest of each session, as ``look_up``."""
        return self.look_up(lambda book: newest(book.notes(SETTING, words=words)), words, now_ms)

    def setting_for(self, stock: str, machine: str, now_ms: int) -> Kept[SettingFound] | None:
        """Return the newest setting of a stock on a machine; None also where there is no Book yet.

        Raises:
            FileError: the Book cannot be read.
        """
        settings = self.look_up(lambda book: book.notes(SETTING, about=stock), "", now_ms)
        return next((kept for kept in settings.rows if kept.record.machine == machine), None)

    def recipes(self, words: str, now_ms: int) -> Found[RecipeCard]:
        """Look up recipe cards, as ``look_up``."""
        return self.look_up(lambda book: recipe_cards(book, words), words, now_ms)

    def cut_facts(self, now_ms: int) -> CutFacts:
        """Return what a new test cut can start from.

        Raises:
            FileError: the Book cannot be read.
        """
        settings = self.settings("", now_ms).rows
        looks = self.look_up(lambda book: book.notes(LOOK), "", now_ms).rows
        reaches: dict[str, LadderLook] = {}
        for kept in looks:
            reaches.setdefault(kept.record.machine, kept.record)
        return CutFacts(settings=settings, looks=reaches)

    def stock(self, words: str, now_ms: int) -> Found[StockRow]:
        """Look up what is known of every stock, as ``look_up``."""
        return self.look_up(lambda book: stock_rows(book, now_ms, words), words, now_ms)

    def blades(self, words: str, now_ms: int) -> Found[BladeRow]:
        """Look up what every blade cut, as ``look_up``."""
        return self.look_up(lambda book: blade_rows(book, words), words, now_ms)

    def rates(self, now_ms: int) -> Rates:
        """Return what things cost, as it was typed last.

        Raises:
            FileError: the Book cannot be read.
        """
        rates_known = self.look_up(lambda book: [rates_in(book)], "", now_ms).rows
        return rates_known[0] if rates_known else Rates()

    def cost_of(self, run: RunRecord, now_ms: int) -> PieceCost:
        """Return what a good piece of a run costs at least; a sheet costs as its stock says, or as was paid last.

        Raises:
            FileError: the Book cannot be read.
        """
        costs = self.look_up(lambda book: [piece_cost(priced(book, run), rates_in(book))], "", now_ms).rows
        return costs[0] if costs else piece_cost(run, Rates())

    def what_worked(self, stock: str, machine: str, sheets: int, now_ms: int) -> WhatWorked:
        """Return what is known of cutting a stock on a machine; nothing where there is no Book yet.

        Args:
            stock: its name.
            machine: its name.
            sheets: that are wanted of the stock.
            now_ms: the present, in UTC milliseconds.

        Raises:
            FileError: the Book cannot be read.
        """
        row = next(iter(self.look_up(lambda book: stock_rows(book, now_ms, only=stock), "", now_ms).rows), None)
        return WhatWorked(
            run=self.last_run(stock, machine, now_ms),
            setting=self.setting_for(stock, machine, now_ms),
            on_hand=None if row is None else row.level.sheets,
            wanted=sheets,
            blades=self.look_up(blades_in_use, "", now_ms).rows,
            recipes=self.look_up(lambda book: recipe_cards(book, only=stock), "", now_ms).rows,
            laminate="" if row is None else row.facts.laminate,
            driver="" if row is None else row.facts.driver,
        )

    def drying_min(self, stock: str, now_ms: int) -> float | None:
        """Return how many minutes a stock dries, as it was typed; None where it never was.

        Raises:
            FileError: the Book cannot be read.
        """
        row = next(iter(self.look_up(lambda book: stock_rows(book, now_ms, only=stock), "", now_ms).rows), None)
        return None if row is None else row.facts.drying_min

    def begin_trial(
        self,
        subject: CutSubject,
        reach: SettingRange,
        similar: SettingFound | None,
        now_ms: int,
        names: str = "",
        beside: str = "",
    ) -> CutTrial:
        """Return a new search, begun where the blade cuts by now if earlier readings ask for that.

        Raises:
            FileError: the Book cannot be read.
        """
        octaves = 0.0
        if similar is not None:
            kept = self.look_up(lambda book: book.notes(LOOK, most=_MOST_LOOKS), "", now_ms).rows[::-1]
            alike = [k.record for k in kept if replace(k.record.subject, blade="") == replace(subject, blade="")]
            octaves = blunter_since(alike, reach, similar.session, self.blade_metres(subject.blade, now_ms))
        return new_trial(subject, reach, similar, octaves, names, beside)

    def blade_metres(self, blade: str, now_ms: int) -> float | None:
        """Return how many metres a blade in use has cut; None where that is not known.

        Raises:
            FileError: the Book cannot be read.
        """
        return next(iter(self.look_up(lambda book: [metres_of(book, blade)], "", now_ms).rows), None)

    def looks_of(self, session: str, now_ms: int) -> tuple[LadderLook, ...]:
        """Return the looks of one session, the oldest first.

        Raises:
            FileError: the Book cannot be read.
        """
        looks = self.look_up(lambda book: book.notes(LOOK, about=session), "", now_ms)
        return tuple(kept.record for kept in looks.rows[::-1])

    def note(self, notes: Sequence[tuple[NoteKind[Any], object]], now_ms: int) -> bool:
        """Add notes, all or none; return whether they went into the demo's Book.

        Raises:
            FileError: nothing was added.
        """
        return self.keep([kind.event(record, secrets.token_hex(16), now_ms) for kind, record in notes], now_ms)

    def keep(self, events: Sequence[LogEvent], now_ms: int) -> bool:
        """Add events; return whether they went into the demo's Book.

        Raises:
            FileError: nothing was added.
        """
        with self._lock:
            self._book(now_ms)[0].add(events)
            return self._is_made_up

    def keep_run(
        self, run: RunRecord, job: Job, assets: Mapping[str, bytes], now_ms: int, picture: bytes = b""
    ) -> bool:
        """Add a run, the job that was cut and a picture of its sheets; return whether they went into the demo's Book.

        Raises:
            FileError: nothing was added.
        """
        with self._lock:
            key = secrets.token_hex(16)
            keep_job(self._book(now_ms)[0].path, key, job, assets, picture)
            return self.keep([run_event(replace(priced(self._book(now_ms)[0], run), job=key), now_ms)], now_ms)

    def job_of(self, run: RunRecord, now_ms: int) -> tuple[Job, dict[str, bytes]]:
        """Return the job of a run as it was, and its originals.

        Raises:
            FileError: it is not kept here.
        """
        return self.kept_job(run.job, now_ms)

    def looked_into(self, run: RunRecord, now_ms: int) -> tuple[bytes, Job | None]:
        """Return the picture of a run's sheets, a JPEG, and its job; nothing and None where none is kept.

        Raises:
            FileError: the Book cannot be read.
        """
        try:
            job = self.job_of(run, now_ms)[0]
        except FileError:
            job = None
        with self._lock:
            return kept_picture(self._book(now_ms)[0].path, run.job), job

    def library(self, words: str, now_ms: int) -> Found[LibraryRow]:
        """Look up what is kept in the library, with pictures, as ``look_up``."""

        def found(book: Book) -> list[LibraryRow]:
            newest: dict[str, Kept[KeptWork]] = {}
            for kept in book.notes(KEPT, most=-1):
                newest.setdefault(kept.record.job, kept)
            return [
                LibraryRow(at_ms=kept.at_ms, work=kept.record, picture=kept_picture(book.path, kept.record.job))
                for kept in newest.values()
                if not kept.record.is_gone and _holds(kept.record, words)
            ][:_MOST_SHOWN]

        return self.look_up(found, words, now_ms)

    def shelf(self, of: Callable[[Sequence[CarrierUse]], Sequence[Row]], words: str, now_ms: int) -> Found[Row]:
        """Look up the shelf, which is there before any Book is; ``of`` makes its rows with the carriers that are kept.

        Raises:
            FileError: the Book cannot be read.
        """
        known_carriers = self.look_up(carrier_uses, words, now_ms)
        return Found(
            rows=tuple(of(known_carriers.rows)),
            words=words,
            events=known_carriers.events,
            is_made_up=known_carriers.is_made_up,
            notes=known_carriers.notes,
        )

    def keep_work(self, work: KeptWork, job: Job, assets: Mapping[str, bytes], picture: bytes, now_ms: int) -> bool:
        """Keep a design or a template; return whether it went into the demo's Book.

        Raises:
            FileError: nothing was kept.
        """
        with self._lock:
            key = secrets.token_hex(16)
            keep_job(self._book(now_ms)[0].path, key, job, assets, picture)
            return self.note([(KEPT, replace(work, job=key))], now_ms)

    def keep_job(self, key: str, job: Job, assets: Mapping[str, bytes], picture: bytes, now_ms: int) -> None:
        """Keep a job as it is, by a key that a later event names.

        Raises:
            FileError: nothing was kept.
        """
        with self._lock:
            keep_job(self._book(now_ms)[0].path, key, job, assets, picture)

    def kept_job(self, key: str, now_ms: int) -> tuple[Job, dict[str, bytes]]:
        """Return a job that is kept, and its originals.

        Raises:
            FileError: it is not kept here.
        """
        with self._lock:
            return kept_job(self._book(now_ms)[0].path, key)

    def export(self, folder: Path, now_ms: int) -> list[str]:
        """Write all of the Book as plain files, in both formats; return their names.

        Raises:
            FileError: they cannot be written.
        """
        with self._lock:
            book = self._book(now_ms)[0]
            return [*export(book, folder, "json"), *export(book, folder, "csv")]

    def take_in(self, path: Path, now_ms: int) -> tuple[int, int]:
        """Add the events of an exported file; return how many were new, and how many were there already.

        Raises:
            FileError: it cannot be read, or a line is not what it should be; nothing was added.
        """
        with self._lock:
            return take_in(self._book(now_ms)[0], path, now_ms)

    def back_up(self, target: Path, now_ms: int) -> None:
        """Copy the Book into a file.

        Raises:
            FileError: it cannot be written.
        """
        with self._lock:
            self._book(now_ms)[0].back_up(target)

    def look_after(self, now_ms: int) -> tuple[str, ...]:
        """Check and back up the user's own Book where that is due; return what is to be said.

        Raises:
            FileError: it cannot be opened, or a backup cannot be written.
        """
        with self._lock:
            if self._is_made_up or not self._path().exists():
                return ()
            book, notes = self._book(now_ms)
            ended_badly = cast(Opened, self._opened).ended_badly
            self._opened = Opened(book=book)
        try:  # it takes long, and others may read and write meanwhile
            return (*notes, *look_after(book, now_ms, ended_badly=ended_badly))
        except DamagedBookError:
            with self._lock:
                book.close()
                self._opened = Opened(book=(rescued_book := rescued(book.path, now_ms)).book)
            return (*notes, *rescued_book.notes, *look_after(rescued_book.book, now_ms))

    def close(self) -> None:
        """Close the Book that is open."""
        with self._lock:
            if self._opened is not None:
                self._opened.book.close()
            if self._folder is not None:
                self._folder.cleanup()
            self._opened = self._folder = None

    def _book(self, now_ms: int) -> tuple[Book, tuple[str, ...]]:
        """Return the open Book, and what is to be said of its opening, once."""
        if self._opened is None:
            self._opened = self._made_up(now_ms) if self._is_made_up else open_book(self._path(), now_ms)
        opened, notes = self._opened, self._opened.notes
        if notes:
            self._opened = Opened(book=opened.book, ended_badly=opened.ended_badly)
        return opened.book, notes

    def _made_up(self, now_ms: int) -> Opened:
        self._folder = tempfile.TemporaryDirectory(prefix="honest-edge-demo-")
        book = Book(Path(self._folder.name) / "book.sqlite")
        book.add(demo_events(now_ms))
        return Opened(book=book)


def _holds(work: KeptWork, words: str) -> bool:
    text = f"{work.name} {work.words} {work.what}".casefold()
    return all(word.casefold() in text for word in words.split())


def priced(book: Book, run: RunRecord) -> RunRecord:
    """Return a run whose sheets cost what was paid last for their stock, where the stock itself says no price."""
    if run.sheet_price is not None or not run.stock:
        return run
    paid = (kept.record.price for kept in book.notes(MOVE, about=run.stock) if kept.record.what == "bought")
    return replace(run, sheet_price=next((price for price in paid if price is not None), None))


def rates_in(book: Book) -> Rates:
    """Return what things cost, as it was typed last."""
    noted = book.notes(RATES, most=1)
    return noted[0].record if noted else Rates()


def newest(kept: Sequence[Kept[SettingFound]]) -> list[Kept[SettingFound]]:
    """Return the newest of each session."""
    newest_of: dict[str, Kept[SettingFound]] = {}
    for one in kept:
        newest_of.setdefault(one.record.session, one)
    return list(newest_of.values())
