"""The Book of one window: opened when it is first needed, and the demo's own while the demo job is open."""

from __future__ import annotations

import secrets
import tempfile
import threading
from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, replace
from pathlib import Path
from typing import cast

from honest_edge.app.book.demo_book import demo_events
from honest_edge.app.book.run_of_job import run_event
from honest_edge.core.values.job import Job
from honest_edge.core.values.log_event import LogEvent, RunRecord
from honest_edge.files.book.exchange import export
from honest_edge.files.book.keeping import Opened, look_after, open_book
from honest_edge.files.book.kept_jobs import keep_job, kept_job
from honest_edge.files.book.place import book_path
from honest_edge.files.book.store import Book, KeptRun


@dataclass(frozen=True, slots=True, kw_only=True)
class FoundRuns:
    """What was looked up.

    Attributes:
        runs: the newest first.
        words: what was looked for.
        events: how many the Book has in all.
        is_made_up: whether it is the demo's.
        notes: what was done about the Book while it was opened, once.
    """

    runs: tuple[KeptRun, ...]
    words: str
    events: int
    is_made_up: bool
    notes: tuple[str, ...]


class BookDesk:
    """Reads and writes the Book, to be asked away from the window's thread."""

    def __init__(self, path: Callable[[], Path] = book_path) -> None:
        """Take where the user's own Book lies."""
        self._path, self._lock = path, threading.RLock()
        self._opened: Opened | None = None
        self._is_made_up = False
        self._folder: tempfile.TemporaryDirectory[str] | None = None

    def turn_to(self, *, made_up: bool) -> None:
        """Turn to the demo's Book or to the user's own; what is kept goes to that one."""
        with self._lock:
            if made_up != self._is_made_up:
                self.close()
                self._is_made_up = made_up

    def runs(self, words: str, now_ms: int) -> FoundRuns:
        """Look up runs; none is made by looking.

        Raises:
            FileError: the Book cannot be read.
        """
        with self._lock:
            if not self._is_there():
                return FoundRuns(runs=(), words=words, events=0, is_made_up=False, notes=())
            book, notes = self._book(now_ms)
            return FoundRuns(
                runs=tuple(book.runs(words)),
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

    def keep(self, events: Sequence[LogEvent], now_ms: int) -> bool:
        """Add events; return whether they went into the demo's Book.

        Raises:
            FileError: nothing was added.
        """
        with self._lock:
            self._book(now_ms)[0].add(events)
            return self._is_made_up

    def keep_run(self, run: RunRecord, job: Job, assets: Mapping[str, bytes], now_ms: int) -> bool:
        """Add a run and the job that was cut; return whether they went into the demo's Book.

        Raises:
            FileError: nothing was added.
        """
        with self._lock:
            key = secrets.token_hex(16)
            keep_job(self._book(now_ms)[0].path, key, job, assets)
            return self.keep([run_event(replace(run, job=key), now_ms)], now_ms)

    def job_of(self, run: RunRecord, now_ms: int) -> tuple[Job, dict[str, bytes]]:
        """Return the job of a run as it was, and its originals.

        Raises:
            FileError: it is not kept here.
        """
        with self._lock:
            return kept_job(self._book(now_ms)[0].path, run.job)

    def export(self, folder: Path, now_ms: int) -> list[str]:
        """Write all of the Book as plain files, in both formats; return their names.

        Raises:
            FileError: they cannot be written.
        """
        with self._lock:
            book = self._book(now_ms)[0]
            return [*export(book, folder, "json"), *export(book, folder, "csv")]

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
            _, notes = self._book(now_ms)
            after = look_after(cast(Opened, self._opened), now_ms)
            self._opened = Opened(book=after.book)
            return (*notes, *after.notes)

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
