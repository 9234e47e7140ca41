"""Keeping the Book safe: backups by the day and the week, checks, and what happens to a damaged one."""

from __future__ import annotations

import contextlib
import shutil
import sqlite3
from collections.abc import Iterator
from dataclasses import dataclass
from datetime import UTC, date, datetime
from pathlib import Path

from honest_edge.core.values.errors import FileError, HonestEdgeError, UsageError
from honest_edge.core.values.log_event import LogEvent
from honest_edge.files.book.store import Book, DamagedBookError, chained, event_of

DAYS, WEEKS = 7, 4
"""How many backups are kept: one a day, then one a week."""
_WEEK_MS = 7 * 86_400_000
_BACKUP, _CHECK = "backup", "check"


@dataclass(frozen=True, slots=True, kw_only=True)
class Opened:
    """An open Book, what was done about it in words, and whether it should be checked soon."""

    book: Book
    notes: tuple[str, ...] = ()
    ended_badly: bool = False


def open_book(path: Path, now_ms: int) -> Opened:
    """Open a Book; in the place of a damaged one the newest good backup, with what can still be read of it.

    Args:
        path: the file; it is made if there is none.
        now_ms: the present, in UTC milliseconds.

    Raises:
        FileError: it is of another program or a newer version, or cannot be opened.
    """
    wal = Path(f"{path}-wal")
    ended_badly = wal.exists() and wal.stat().st_size > 0  # or another window has it open: a check does no harm
    try:
        return Opened(book=Book(path), ended_badly=ended_badly)
    except DamagedBookError:
        return rescued(path, now_ms)


def look_after(book: Book, now_ms: int, *, ended_badly: bool = False) -> tuple[str, ...]:
    """Check the Book after a bad end and once a week, and back it up once a day.

    That takes long, and others may read and write meanwhile.

    Returns:
        What is to be said, each one sentence.

    Raises:
        DamagedBookError: it is damaged: ``rescued`` gives one to go on with.
        FileError: a backup cannot be written.
    """
    notes: list[str] = []
    if ended_badly or now_ms - book.upkeep_ms(_CHECK) >= _WEEK_MS:
        notes += [f"The Book {book.path.name}: {words}" for words in book.wrong()]
        book.note_upkeep(_CHECK, now_ms)
    if _day(now_ms) != _day(book.upkeep_ms(_BACKUP)) and book.count():
        folder = backup_folder(book.path)
        book.back_up(folder / f"{book.path.stem}-{_day(now_ms)}.sqlite")
        book.note_upkeep(_BACKUP, now_ms)
        _prune(book.path)
    return tuple(notes)


def backup_folder(path: Path) -> Path:
    """Return where a Book's own backups lie."""
    return path.parent / "backups"


def backups(path: Path) -> list[tuple[date, Path]]:
    """Return a Book's own backups by their day, the newest first."""
    by_day = []
    for file in backup_folder(path).glob(f"{path.stem}-*.sqlite"):
        with contextlib.suppress(ValueError):
            by_day.append((date.fromisoformat(file.stem.removeprefix(f"{path.stem}-")), file))
    return sorted(by_day, reverse=True)


def _prune(path: Path) -> None:
    """Remove backups that are neither of the last days nor the last of one of the last weeks."""
    present = backups(path)
    kept = {file for _, file in present[:DAYS]}
    weeks: dict[tuple[int, int], Path] = {}
    for day, file in present:
        weeks.setdefault(day.isocalendar()[:2], file)
    kept |= set(list(weeks.values())[:WEEKS])
    for _, file in present:
        if file not in kept:
            file.unlink(missing_ok=True)


def rescued(path: Path, now_ms: int) -> Opened:
    """Put a damaged Book aside, open the newest good backup in its place, and merge what can still be read.

    Raises:
        FileError: files cannot be moved.
    """
    aside = path.with_name(f"{path.stem}.damaged-{now_ms}{path.suffix}")
    try:
        for rest in ("", "-wal", "-shm"):
            source = Path(f"{path}{rest}")
            if source.exists():
                source.replace(f"{aside}{rest}")
        good = _newest_good(path)
        if good is not None:
            shutil.copyfile(good, path)
    except OSError as error:
        raise FileError(f"The Book {path.name} is damaged and cannot be put aside: {error.strerror}") from None
    book = Book(path)
    before = book.count()
    salvaged, lost = _salvaged(aside)
    added = book.add(salvaged)
    took = f"the backup {good.name} with {before} events took its place" if good else "there was no backup"
    missing = f"{lost} more cannot be read" if lost else "nothing that can be counted is missing"
    return Opened(
        book=book,
        notes=(f"The Book was damaged and kept as {aside.name}; {took}; {added} were taken over from it; {missing}",),
    )


def _newest_good(path: Path) -> Path | None:
    for _, file in backups(path):
        with contextlib.suppress(HonestEdgeError), Book(file) as book:
            if not book.wrong():
                return file
    return None


def _salvaged(path: Path) -> tuple[list[LogEvent], int]:
    """Return the events of a damaged Book that are as they were written, and how many are not, as far as it tells."""
    sound, most = [], 0
    try:
        with contextlib.closing(sqlite3.connect(path)) as connection:
            for seq, event in _readable(connection):
                most = max(most, seq)
                if event is not None:
                    sound.append(event)
    except sqlite3.Error:
        return sound, 0
    return sound, most - len(sound)


def _readable(connection: sqlite3.Connection) -> Iterator[tuple[int, LogEvent | None]]:
    """Yield numbers and events one by one, for a damaged page ends what reads on over it."""
    (most,) = connection.execute("SELECT max(seq) FROM events").fetchone()
    for seq in range(1, (most or 0) + 1):
        event = None
        with contextlib.suppress(sqlite3.Error, UsageError):
            row = connection.execute("SELECT * FROM events WHERE seq = ?", (seq,)).fetchone()
            if row is not None:
                _, key, at_ms, kind, data, previous, own = row
                read = event_of(key, at_ms, kind, data)
                event = read if chained(previous, read, data) == own else None
        yield seq, event


def _day(at_ms: int) -> date:
    return datetime.fromtimestamp(at_ms / 1000, UTC).date()
