"""The Book: a log in one SQLite file, to which events are only added, each bound to the one before by a hash."""

from __future__ import annotations

import contextlib
import hashlib
import os
import sqlite3
import threading
from collections.abc import Callable, Iterator, Sequence
from dataclasses import asdict, dataclass
from pathlib import Path
from typing import Any, Generic, Self, TypeVar

import msgspec

from honest_edge.core.values.errors import FileError, UsageError
from honest_edge.core.values.log_event import LogEvent, RunRecord
from honest_edge.files.book.records import KINDS, NoteKind
from honest_edge.files.book.schema import APPLICATION_ID, BUSY_MS, VERSION, migrate, set_up, transaction

T = TypeVar("T")
Record = TypeVar("Record")

RUN = "run"
_FIRST = "0" * 64
_RUN_COLUMNS = (
    "at_ms, title, stock, machine, printer, sheets, good, bad, reason, forecast, sheet_price, job, "
    "blade, cut_m, ink_cm2, minutes, setting"
)


@dataclass(frozen=True, slots=True, kw_only=True)
class KeptRun:
    """A run as it stands in the Book, with when it was, in UTC milliseconds."""

    at_ms: int
    run: RunRecord


@dataclass(frozen=True, slots=True, kw_only=True)
class Kept(Generic[Record]):
    """A note as it stands in the Book, with when it was, in UTC milliseconds."""

    at_ms: int
    record: Record


class Book:
    """An open Book, to be used from any thread; two processes may have the same one open."""

    def __init__(self, path: Path) -> None:
        """Open a Book, made if there is none.

        Raises:
            FileError: it is of another program, of a newer version, damaged, or cannot be opened.
        """
        self.path = path
        self._lock = threading.Lock()
        with _in_words(path):
            path.parent.mkdir(parents=True, exist_ok=True)
            self._connection = _connected(path)
        self._file = _identity(path)

    def close(self) -> None:
        """Close it."""
        with self._lock, contextlib.suppress(sqlite3.Error):
            self._connection.close()

    def __enter__(self) -> Self:
        return self

    def __exit__(self, *_: object) -> None:
        self.close()

    # -- writing -------------------------------------------------------------------------------------

    def add(self, events: Sequence[LogEvent]) -> int:
        """Add events that are not there yet, all or none; they are on the disk when this returns.

        Returns:
            How many were new.

        Raises:
            FileError: nothing was added.
            UsageError: a run's data cannot be used.
        """

        def write(connection: sqlite3.Connection) -> int:
            with transaction(connection):
                return sum(self._added(connection, event) for event in events)

        self._put_back()
        return self._with(write)

    def _added(self, connection: sqlite3.Connection, event: LogEvent) -> bool:
        if connection.execute("SELECT 1 FROM events WHERE key = ?", (event.key,)).fetchone():
            return False
        row = connection.execute("SELECT seq, hash FROM events ORDER BY seq DESC LIMIT 1").fetchone()
        seq, previous = (0, _FIRST) if row is None else row
        data = packed(event)
        connection.execute(
            "INSERT INTO events VALUES (?, ?, ?, ?, ?, ?, ?)",
            (seq + 1, event.key, event.at_ms, event.kind, data, previous, chained(previous, event, data)),
        )
        if event.kind in KINDS:
            _index(connection, seq + 1, event.kind, event.at_ms, data)
        if event.kind == RUN:
            run = run_of(event)
            values = (seq + 1, event.at_ms, *asdict(run).values())
            connection.execute(
                f"INSERT INTO runs (seq, {_RUN_COLUMNS}) VALUES ({', '.join('?' * len(values))})", values
            )
        return True

    def _put_back(self) -> None:
        """Write the file again where it was taken away while it was open: what it held is still in hand."""
        if _identity(self.path) == self._file:
            return
        if self.path.exists():
            raise FileError(f"{self.path.name} was replaced by another file while it was open: start the window anew")

        def write(connection: sqlite3.Connection) -> None:
            self.path.parent.mkdir(parents=True, exist_ok=True)
            for rest in ("-wal", "-shm"):
                Path(f"{self.path}{rest}").unlink(missing_ok=True)
            with contextlib.closing(sqlite3.connect(self.path)) as again:
                connection.backup(again)

        self._with(write)
        with self._lock, _in_words(self.path):
            self._connection.close()
            self._connection = _connected(self.path)
        self._file = _identity(self.path)

    # -- reading -------------------------------------------------------------------------------------

    def events(self, kind: str | None = None) -> list[LogEvent]:
        """Return the events in the order in which they were added, of one kind or all."""
        where, values = ("", ()) if kind is None else ("WHERE kind = ?", (kind,))
        query = f"SELECT key, at_ms, kind, data FROM events {where} ORDER BY seq"
        rows = self._with(lambda connection: connection.execute(query, values).fetchall())
        return [event_of(*row) for row in rows]

    def runs(self, words: str = "", most: int = 500) -> list[KeptRun]:
        """Return runs, the newest first.

        Args:
            words: what must stand in the title, the stock, the machine, the printer or the reason; all of them.
            most: how many at most.
        """
        texts = "title || ' ' || stock || ' ' || machine || ' ' || printer || ' ' || reason"
        wanted = [f"%{_escaped(word)}%" for word in words.split()]
        where = " AND ".join(f"{texts} LIKE ? ESCAPE '~'" for _ in wanted) or "1"
        query = f"SELECT {_RUN_COLUMNS} FROM runs WHERE {where} ORDER BY at_ms DESC, seq DESC LIMIT ?"
        rows = self._with(lambda connection: connection.execute(query, (*wanted, most)).fetchall())
        return [_kept(row) for row in rows]

    def cut_by_blades(self) -> list[tuple[int, str, str, float]]:
        """Return of every run with a named blade when it was, the blade, the stock and the metres that it cut."""
        query = "SELECT at_ms, blade, stock, ifnull(cut_m, 0.0) FROM runs WHERE blade <> ''"
        return self._with(lambda connection: connection.execute(query).fetchall())

    def stocks_cut(self) -> list[str]:
        """Return the names of the stocks that runs took sheets of."""
        query = "SELECT DISTINCT stock FROM runs WHERE stock <> '' AND sheets > 0"
        return [row[0] for row in self._with(lambda connection: connection.execute(query).fetchall())]

    def sheets_used(self, stock: str, times_ms: Sequence[int]) -> list[tuple[int, int]]:
        """Return how many sheets of a stock runs took before, between and after some times, with when that began."""
        group = " + ".join("(at_ms > ?)" for _ in times_ms) or "0"
        query = f"SELECT min(at_ms), sum(sheets) FROM runs WHERE stock = ? GROUP BY {group} HAVING sum(sheets) > 0"
        return self._with(lambda connection: connection.execute(query, (stock, *times_ms)).fetchall())

    def last_run(self, stock: str, machine: str) -> KeptRun | None:
        """Return the newest run of a stock on a machine."""
        query = f"SELECT {_RUN_COLUMNS} FROM runs WHERE stock = ? AND machine = ? ORDER BY at_ms DESC, seq DESC LIMIT 1"
        row = self._with(lambda connection: connection.execute(query, (stock, machine)).fetchone())
        return None if row is None else _kept(row)

    def notes(
        self, kind: NoteKind[Record], *, about: str | None = None, words: str = "", most: int = 500
    ) -> list[Kept[Record]]:
        """Return notes of a kind, the newest first.

        Args:
            kind: which.
            about: what they are looked up by; None takes all.
            words: what must stand in them; all of it.
            most: how many at most; -1 for all.
        """
        wanted = [f"%{_escaped(word)}%" for word in words.split()]
        where = "".join(" AND e.data LIKE ? ESCAPE '~'" for _ in wanted)
        values: list[object] = [kind.kind]
        if about is not None:
            where, values = f" AND n.about = ?{where}", [*values, about]
        query = (
            "SELECT n.at_ms, e.data FROM notes n JOIN events e ON e.seq = n.seq "
            f"WHERE n.kind = ?{where} ORDER BY n.at_ms DESC, n.seq DESC LIMIT ?"
        )
        rows = self._with(lambda connection: connection.execute(query, (*values, *wanted, most)).fetchall())
        return [Kept(at_ms=at_ms, record=kind.read(data)) for at_ms, data in rows]

    def count(self) -> int:
        """Return how many events there are."""
        return int(self._with(lambda connection: connection.execute("SELECT count(*) FROM events").fetchone())[0])

    def version(self) -> int:
        """Return a number that changes when another process wrote (PRAGMA data_version)."""
        return int(self._with(lambda connection: connection.execute("PRAGMA data_version").fetchone())[0])

    # -- upkeep --------------------------------------------------------------------------------------

    def wrong(self) -> list[str]:
        """Return what is wrong with the file and with the chain, each in words; none where all is well."""

        def look(connection: sqlite3.Connection) -> list[str]:
            wrong = [row[0] for row in connection.execute("PRAGMA integrity_check(20)") if row[0] != "ok"]
            wrong += [
                f"a row of {row[0]} belongs to no event" for row in connection.execute("PRAGMA foreign_key_check")
            ]
            return wrong + _broken_links(connection)

        return self._beside(look)

    def back_up(self, target: Path) -> None:
        """Copy the Book into a file as it is now, whole or not at all (https://www.sqlite.org/backup.html).

        Raises:
            FileError: it cannot be written.
        """
        if target.exists() and _identity(target) == _identity(self.path):
            raise FileError(f"{target.name} is the Book itself: back it up under another name")
        staged = target.with_name(f".{target.name}.part")

        def copy(connection: sqlite3.Connection) -> None:
            staged.unlink(missing_ok=True)
            with contextlib.closing(sqlite3.connect(staged)) as target:
                connection.backup(target)
                target.execute("PRAGMA journal_mode = DELETE")

        try:
            with _in_words(target):
                target.parent.mkdir(parents=True, exist_ok=True)
            self._beside(copy, target)
            with _in_words(target):
                with staged.open("rb") as stream:
                    os.fsync(stream.fileno())
                staged.replace(target)
        finally:
            with contextlib.suppress(OSError):
                staged.unlink(missing_ok=True)

    def upkeep_ms(self, name: str) -> int:
        """Return when a piece of upkeep was last done, in UTC milliseconds; 0 where never."""
        query = "SELECT at_ms FROM upkeep WHERE name = ?"
        row = self._with(lambda connection: connection.execute(query, (name,)).fetchone())
        return 0 if row is None else int(row[0])

    def note_upkeep(self, name: str, at_ms: int) -> None:
        """Note when a piece of upkeep was done."""
        query = "INSERT INTO upkeep VALUES (?, ?) ON CONFLICT (name) DO UPDATE SET at_ms = excluded.at_ms"
        self._with(lambda connection: connection.execute(query, (name, at_ms)))

    def _beside(self, work: Callable[[sqlite3.Connection], T], path: Path | None = None) -> T:
        """Do what takes long over a connection of its own: nobody waits for it, and it sees the Book of one moment."""
        if _identity(self.path) != self._file:  # it was taken away: what is in hand is all there is
            return self._with(work, path)
        with (
            _in_words(path or self.path),
            contextlib.closing(sqlite3.connect(self.path, isolation_level=None)) as connection,
        ):
            connection.execute(f"PRAGMA busy_timeout = {BUSY_MS}")
            connection.execute("PRAGMA query_only = ON")
            return work(connection)

    def _with(self, work: Callable[[sqlite3.Connection], T], path: Path | None = None) -> T:
        with self._lock, _in_words(path or self.path):
            return work(self._connection)


def _kept(row: Sequence[Any]) -> KeptRun:
    at_ms, *rest = row
    return KeptRun(at_ms=at_ms, run=RunRecord(**dict(zip(_RUN_COLUMNS.split(", ")[1:], rest, strict=True))))


def packed(event: LogEvent) -> str:
    """Return an event's data as one text, the same for the same data."""
    return msgspec.json.encode(dict(sorted(event.data.items()))).decode()


def chained(previous: str, event: LogEvent, data: str) -> str:
    """Return the hash that binds an event to the one before: SHA-256 over all its parts, each with its length."""
    parts = (previous, event.key, str(event.at_ms), event.kind, data)
    return hashlib.sha256("".join(f"{len(part.encode())}:{part}" for part in parts).encode()).hexdigest()


def event_of(key: str, at_ms: int, kind: str, data: str) -> LogEvent:
    """Return an event as it was kept.

    Raises:
        UsageError: its data is no plain data.
    """
    try:
        return LogEvent(key=key, at_ms=at_ms, kind=kind, data=msgspec.json.decode(data, type=dict))
    except msgspec.DecodeError as error:
        raise UsageError(f"The data of an event cannot be read: {error}") from None


def run_of(event: LogEvent) -> RunRecord:
    """Return the run that an event tells of.

    Raises:
        UsageError: it lacks something, or cannot be used.
    """
    try:
        return msgspec.convert(dict(event.data), type=RunRecord)
    except msgspec.ValidationError as error:
        raise UsageError(f"A run cannot be read: {error}") from None


def _broken_links(connection: sqlite3.Connection) -> list[str]:
    """Return where the chain is broken."""
    broken: list[str] = []
    expected, previous = 1, _FIRST
    for seq, key, at_ms, kind, data, before, own in connection.execute("SELECT * FROM events ORDER BY seq"):
        if seq != expected:
            broken.append(f"events {expected} to {seq - 1} are missing")
        elif before != previous:
            broken.append(f"event {seq} does not follow the one before it")
        try:
            if chained(before, event_of(key, at_ms, kind, data), data) != own:
                broken.append(f"event {seq} was changed after it was written")
        except UsageError as error:
            broken.append(f"event {seq}: {error}")
        expected, previous = seq + 1, own
    return broken


def _index(connection: sqlite3.Connection, seq: int, kind: str, at_ms: int, data: str) -> None:
    """Let an event be looked up.

    Raises:
        UsageError: its data cannot be used.
    """
    known = KINDS[kind]
    connection.execute("INSERT INTO notes VALUES (?, ?, ?, ?)", (seq, kind, known.about(known.read(data)), at_ms))


def _index_what_is_known_now(connection: sqlite3.Connection) -> None:
    """Let events be looked up that came from a newer version, once their kinds are known; once for every such kind."""
    done = {row[0] for row in connection.execute("SELECT name FROM upkeep WHERE name LIKE 'kind %'")}
    new = [kind for kind in KINDS if f"kind {kind}" not in done]
    if not new:
        return
    with contextlib.suppress(sqlite3.OperationalError), transaction(connection):  # where it may be written
        for kind in new:
            lacking = connection.execute(
                "SELECT seq, at_ms, data FROM events e WHERE kind = ? "
                "AND NOT EXISTS (SELECT 1 FROM notes n WHERE n.seq = e.seq)",
                (kind,),
            ).fetchall()
            for seq, at_ms, data in lacking:
                with contextlib.suppress(UsageError):  # it stays what it was: kept, and not looked up
                    _index(connection, seq, kind, at_ms, data)
            connection.execute("INSERT OR REPLACE INTO upkeep VALUES (?, 0)", (f"kind {kind}",))


def _connected(path: Path) -> sqlite3.Connection:
    """Return a connection to a Book of this version."""
    connection = sqlite3.connect(path, isolation_level=None, check_same_thread=False)
    try:
        _check_is_ours(connection, path)
        set_up(connection)
        if connection.execute("PRAGMA user_version").fetchone()[0] < VERSION:
            migrate(connection)
        _index_what_is_known_now(connection)
    except BaseException:
        connection.close()
        raise
    return connection


def _check_is_ours(connection: sqlite3.Connection, path: Path) -> None:
    (application,) = connection.execute("PRAGMA application_id").fetchone()
    (version,) = connection.execute("PRAGMA user_version").fetchone()
    (tables,) = connection.execute("SELECT count(*) FROM sqlite_schema").fetchone()
    if application != APPLICATION_ID and tables:
        raise FileError(f"{path.name} is a file of another program, not a Book: name another with --book")
    if version > VERSION:
        raise FileError(
            f"{path.name} was written by a newer Honest Edge (version {version}, here {VERSION}): update this one, or "
            "name another Book with --book"
        )


def _identity(path: Path) -> tuple[int, int] | None:
    try:
        status = path.stat()
    except OSError:
        return None
    return status.st_dev, status.st_ino


def _escaped(word: str) -> str:
    return "".join(f"~{letter}" if letter in "%_~" else letter for letter in word)


_REASONS = {
    sqlite3.SQLITE_FULL: "the disk is full; what was in it stays",
    sqlite3.SQLITE_READONLY: "it may only be read: give yourself the right to write it, or name another with --book",
    sqlite3.SQLITE_NOTADB: "it is no Book, or damaged from its first byte",
    sqlite3.SQLITE_CORRUPT: "it is damaged",
    sqlite3.SQLITE_BUSY: "another window has been writing for more than five seconds: try again",
    sqlite3.SQLITE_CANTOPEN: "it cannot be opened or made there",
    sqlite3.SQLITE_IOERR: "the disk does not answer as it should",
}


@contextlib.contextmanager
def _in_words(path: Path) -> Iterator[None]:
    """Say what SQLite and the file system complain of."""
    try:
        yield
    except sqlite3.Error as error:
        code = getattr(error, "sqlite_errorcode", 0) & 0xFF  # the rest of the number only refines it
        raise DamagedBookError(path, code) if code in _DAMAGE else FileError(_said(path, code, error)) from None
    except OSError as error:
        raise FileError(f"The Book {path.name}: {error.strerror or error}") from None


_DAMAGE = (sqlite3.SQLITE_NOTADB, sqlite3.SQLITE_CORRUPT)


def _said(path: Path, code: int, error: sqlite3.Error | None = None) -> str:
    return f"The Book {path.name}: {_REASONS.get(code, str(error))}"


class DamagedBookError(FileError):
    """The file is damaged, and a backup may take its place."""

    def __init__(self, path: Path, code: int) -> None:
        super().__init__(_said(path, code))
