"""The log: what is acknowledged stays, two processes write at once, and every change of it is found."""

from __future__ import annotations

import os
import random
import resource
import sqlite3
import subprocess
import sys
import time
from contextlib import closing
from dataclasses import asdict, replace

import pytest
from hypothesis import given
from hypothesis import strategies as st

from honest_edge.core.values.book_records import BladeNote
from honest_edge.core.values.errors import FileError, UsageError
from honest_edge.core.values.log_event import LogEvent, RunRecord
from honest_edge.files.book import schema, store
from honest_edge.files.book.records import BLADE
from honest_edge.files.book.store import Book, chained, event_of, packed

NOON_MS = 1_790_000_000_000  # in September 2026
WRITER = """
import sys, uuid
from pathlib import Path
from honest_edge.core.values.log_event import LogEvent
from honest_edge.files.book.store import Book
book = Book(Path(sys.argv[1]))
for number in range(int(sys.argv[2])):
    key = uuid.uuid4().hex
    book.add([LogEvent(key=key, at_ms=1_790_000_000_000 + number, kind="note", data={"number": number})])
    print(key, flush=True)
"""


def event(at, **data):
    return LogEvent(key=f"{at:032x}", at_ms=NOON_MS + at, kind="note", data=data)


def run_event(number, **changes):
    run = RunRecord(**{"title": "Tea", "sheets": 2, "good": 11, "bad": 1, **changes})
    return LogEvent(key=f"{number:032x}", at_ms=NOON_MS + number, kind="run", data=asdict(run))


@pytest.fixture
def book(tmp_path):
    with Book(tmp_path / "book.sqlite") as made:
        yield made


def test_events_come_back_as_they_were_and_only_once(book):
    events = [event(1, words="Rain, “heavy”\n"), event(2, share=0.25, empty=None, whole=True)]
    assert book.add(events) == 2
    assert book.add([*events, event(3)]) == 1
    assert book.events() == [*events, event(3)]
    assert book.wrong() == []


NAMES = st.from_regex(r"[b-z]{1,6}", fullmatch=True)
NUMBERS = st.integers(-(2**53), 2**53) | st.floats(allow_nan=False, allow_infinity=False)


@given(st.dictionaries(NAMES, st.none() | st.booleans() | NUMBERS | st.text(max_size=40)))
def test_plain_data_survives_its_text(data):
    made = event(7, **data)
    try:
        text = packed(made)
    except UnicodeEncodeError:  # half a letter: no text holds it
        return
    assert event_of(made.key, made.at_ms, made.kind, text).data == dict(data)


def test_all_events_of_a_call_are_added_or_none(book):
    with pytest.raises(UsageError):
        book.add([event(1), LogEvent(key="2" * 32, at_ms=NOON_MS, kind="run", data={"title": "no counts"})])
    assert book.count() == 0


def test_runs_are_found_by_words_newest_first(book):
    book.add(
        [run_event(1), run_event(2, title="Mint 100%", reason="torn at the tip"), run_event(3, stock="matte film")]
    )
    assert [kept.run.title for kept in book.runs()] == ["Tea", "Mint 100%", "Tea"]
    assert [kept.at_ms - NOON_MS for kept in book.runs("tip torn")] == [2]
    assert [kept.run.title for kept in book.runs("100%")] == ["Mint 100%"]
    assert book.runs("100_") == []
    assert len(book.runs(most=2)) == 2


@pytest.mark.parametrize("change", ["UPDATE events SET data = '{}'", "DELETE FROM events"])
def test_events_cannot_be_changed_through_the_file_as_it_is(book, change):
    book.add([event(1)])
    with closing(sqlite3.connect(book.path)) as other, pytest.raises(sqlite3.IntegrityError, match="only added"):
        other.execute(change)


@pytest.mark.parametrize(
    ("change", "words"),
    [
        ("UPDATE events SET data = '{\"number\":9}' WHERE seq = 2", "event 2 was changed after it was written"),
        ("UPDATE events SET at_ms = at_ms + 1 WHERE seq = 3", "event 3 was changed after it was written"),
        ("DELETE FROM events WHERE seq = 2", "events 2 to 2 are missing"),
        ("UPDATE events SET data = 'x' WHERE seq = 1", "event 1: The data of an event cannot be read"),
    ],
)
def test_what_was_changed_by_hand_is_found(book, change, words):
    book.add([event(number, number=number) for number in (1, 2, 3)])
    with closing(sqlite3.connect(book.path)) as other:
        other.executescript(f"DROP TRIGGER events_stay; DROP TRIGGER events_remain; {change};")
    found = book.wrong()
    assert len(found) == 1
    assert words in found[0]


def test_a_forged_event_with_a_hash_of_its_own_is_found_by_the_next(book):
    book.add([event(1, number=1), event(2)])
    forged = event(1, number=9)
    with closing(sqlite3.connect(book.path)) as other:
        other.execute("DROP TRIGGER events_stay")
        changed = (packed(forged), chained("0" * 64, forged, packed(forged)))
        other.execute("UPDATE events SET data = ?, hash = ? WHERE seq = 1", changed)
        other.commit()
    assert book.wrong() == ["event 2 does not follow the one before it"]


def test_the_chain_is_bound_by_every_part():
    base = event(1, number=1)
    others = (event(2, number=1), event(1, number=2), LogEvent(key=base.key, at_ms=base.at_ms, kind="run", data={}))
    hashes = {chained(previous, made, packed(made)) for previous in ("0" * 64, "1" * 64) for made in (base, *others)}
    assert len(hashes) == 8


def test_another_program_s_file_is_refused_and_left_alone(tmp_path):
    path = tmp_path / "other.sqlite"
    with closing(sqlite3.connect(path)) as other:
        other.execute("CREATE TABLE recipes (name)")
    before = path.read_bytes()
    with pytest.raises(FileError, match=r"other\.sqlite is a file of another program"):
        Book(path)
    assert path.read_bytes() == before


def test_a_newer_book_is_refused_with_both_versions(book):
    with closing(sqlite3.connect(book.path)) as other:
        other.execute(f"PRAGMA user_version = {schema.VERSION + 1}")
    with pytest.raises(FileError, match=f"version {schema.VERSION + 1}, here {schema.VERSION}"):
        Book(book.path)


def test_a_book_of_the_first_version_is_brought_along_with_its_runs(tmp_path, monkeypatch):
    path = tmp_path / "book.sqlite"
    old = run_event(1, blade="")
    data = {name: value for name, value in old.data.items() if name not in ("blade", "cut_m", "ink_cm2", "minutes")}
    old = LogEvent(key=old.key, at_ms=old.at_ms, kind="run", data=data)
    with closing(sqlite3.connect(path, isolation_level=None)) as raw:
        monkeypatch.setattr(schema, "MIGRATIONS", schema.MIGRATIONS[:1])
        monkeypatch.setattr(schema, "VERSION", 1)
        schema.migrate(raw)
        own = chained("0" * 64, old, packed(old))
        raw.execute(
            "INSERT INTO events VALUES (1, ?, ?, 'run', ?, ?, ?)", (old.key, old.at_ms, packed(old), "0" * 64, own)
        )
        values = [1, old.at_ms, *(data[name] for name in RUN_COLUMNS_OF_VERSION_1)]
        raw.execute(f"INSERT INTO runs VALUES ({', '.join('?' * len(values))})", values)
    monkeypatch.undo()
    with Book(path) as book:
        assert book.version() > 0
        (kept,) = book.runs()
        assert (kept.run.good, kept.run.blade, kept.run.cut_m) == (11, "", None)
        assert book.wrong() == []
        book.add([run_event(2, blade="No. 3", cut_m=4.5)])
        assert [kept.run.blade for kept in book.runs()] == ["No. 3", ""]


RUN_COLUMNS_OF_VERSION_1 = (
    "title", "stock", "machine", "printer", "sheets", "good", "bad", "reason", "forecast", "sheet_price", "job",
)  # fmt: skip


def test_where_no_memory_is_shared_as_on_a_network_folder_the_book_works_without_its_log_ahead(tmp_path, monkeypatch):
    """SQLite's own VFS of lock files (https://www.sqlite.org/vfs.html) knows no WAL, as network folders do not."""
    connect = sqlite3.connect

    def by_lock_files(path, **more):
        return connect(f"file:{path}?vfs=unix-dotfile", uri=True, **more)

    monkeypatch.setattr(sqlite3, "connect", by_lock_files)
    with Book(tmp_path / "book.sqlite") as book:
        assert book._with(lambda connection: connection.execute("PRAGMA journal_mode").fetchone()) == ("delete",)
        book.add([run_event(1), event(2)])
    with Book(tmp_path / "book.sqlite") as book:
        assert book.count() == 2
        assert book.wrong() == []
        book.back_up(tmp_path / "copy.sqlite")
    monkeypatch.undo()
    with Book(tmp_path / "copy.sqlite") as copy:
        assert copy.count() == 2


def test_a_step_that_fails_changes_nothing(tmp_path, monkeypatch):
    path = tmp_path / "book.sqlite"
    with Book(path) as book:
        book.add([event(1)])
    monkeypatch.setattr(schema, "MIGRATIONS", (*schema.MIGRATIONS, "CREATE TABLE more (x) STRICT; SELECT no_such();"))
    with closing(sqlite3.connect(path, isolation_level=None)) as connection:
        with pytest.raises(sqlite3.OperationalError):
            schema.migrate(connection)
        assert connection.execute("PRAGMA user_version").fetchone() == (len(schema.MIGRATIONS) - 1,)
        assert not connection.execute("SELECT 1 FROM sqlite_schema WHERE name = 'more'").fetchall()


def test_what_sqlite_forgets_is_set(book):
    def pragma(name):
        return book._with(lambda connection: connection.execute(f"PRAGMA {name}").fetchone()[0])

    assert [pragma(name) for name in ("journal_mode", "synchronous", "foreign_keys", "trusted_schema")] == [
        "wal",
        2,
        1,
        0,
    ]


def test_a_full_disk_is_said_and_loses_nothing(book):
    book.add([event(1)])
    pages = book._with(lambda connection: connection.execute("PRAGMA page_count").fetchone()[0])
    book._with(lambda connection: connection.execute(f"PRAGMA max_page_count = {pages}"))  # as SQLite tests it itself
    with pytest.raises(FileError, match="the disk is full"):
        book.add([event(number, words="w" * 300) for number in range(2, 200)])
    assert book.events() == [event(1)]


def test_a_file_that_may_not_grow_is_said(tmp_path):
    code = (
        "import resource, signal, sys; from pathlib import Path; signal.signal(signal.SIGXFSZ, signal.SIG_IGN)\n"
        "from honest_edge.files.book.store import Book; from honest_edge.core.values.log_event import LogEvent\n"
        "book = Book(Path(sys.argv[1])); resource.setrlimit(resource.RLIMIT_FSIZE, (4096, resource.RLIM_INFINITY))\n"
        "try:\n    book.add([LogEvent(key='a' * 32, at_ms=1_790_000_000_000, kind='note', data={'w': 'w' * 9000})])\n"
        "except Exception as error:\n    print(type(error).__name__, error)\n"
    )
    said = subprocess.run(
        [sys.executable, "-c", code, tmp_path / "book.sqlite"], capture_output=True, text=True, check=True
    )
    assert said.stdout.startswith("FileError The Book book.sqlite: ")
    assert resource.RLIM_INFINITY  # the limit was another process's


def test_a_book_that_may_only_be_read_says_so(book, monkeypatch):
    book.add([event(1)])
    book._with(lambda connection: connection.execute("PRAGMA query_only = ON"))
    with pytest.raises(FileError, match="it may only be read"):
        book.add([event(2)])
    assert book.events() == [event(1)]


def test_a_book_deleted_while_open_is_put_back(book):
    book.add([event(1)])
    book.path.unlink()
    book.add([event(2)])
    with Book(book.path) as again:
        assert again.events() == [event(1), event(2)]
        assert again.wrong() == []


def test_a_book_replaced_while_open_is_not_written_over(book):
    book.add([event(1)])
    book.path.unlink()
    book.path.write_bytes(b"another")
    with pytest.raises(FileError, match="was replaced by another file"):
        book.add([event(2)])
    assert book.path.read_bytes() == b"another"


def test_what_another_window_wrote_is_seen(book):
    before = book.version()
    with Book(book.path) as other:
        other.add([event(1)])
        assert book.version() != before
        assert book.events() == [event(1)]
        book.add([event(2)])
        assert other.events() == [event(1), event(2)]


@pytest.mark.slow
def test_two_processes_write_at_once(tmp_path):
    path = tmp_path / "book.sqlite"
    Book(path).close()
    writers = [
        subprocess.Popen([sys.executable, "-c", WRITER, path, "150"], stdout=subprocess.PIPE, text=True)
        for _ in range(2)
    ]
    keys = [key for writer in writers for key in writer.communicate()[0].split()]
    assert len(keys) == len(set(keys)) == 300
    with Book(path) as book:
        assert {made.key for made in book.events()} == set(keys)
        assert book.wrong() == []


@pytest.mark.slow
def test_a_killed_process_loses_no_acknowledged_event(tmp_path):
    path, acknowledged, chance = tmp_path / "book.sqlite", [], random.Random(15)
    for _ in range(50):
        writer = subprocess.Popen(
            [sys.executable, "-c", WRITER, path, "100000"], stdout=subprocess.PIPE, stderr=subprocess.DEVNULL, text=True
        )
        acknowledged.append(writer.stdout.readline().strip())
        time.sleep(chance.uniform(0, 0.03))
        writer.kill()
        rest = writer.communicate()[0]
        acknowledged += rest[: rest.rfind("\n") + 1].split()
    with Book(path) as book:
        kept = {made.key for made in book.events()}
        assert not set(acknowledged) - kept
        assert book.wrong() == []
    assert len(acknowledged) > 100


def test_a_backup_is_on_the_disk_before_it_takes_its_name(book, tmp_path, monkeypatch):
    book.add([run_event(1)])
    target = tmp_path / "copy.sqlite"
    flushed = []
    real = os.fsync

    def seen(handle):
        flushed.append((os.path.basename(os.readlink(f"/proc/self/fd/{handle}")), target.exists()))
        real(handle)

    monkeypatch.setattr(os, "fsync", seen)
    book.back_up(target)
    assert (".copy.sqlite.part", False) in flushed


def test_what_a_newer_version_told_is_looked_up_once_its_kind_is_known(tmp_path, monkeypatch):
    """Imported while its kind was unknown, it is kept all the same, and indexed by the version that knows it."""
    path = tmp_path / "book.sqlite"
    blade = BLADE.event(BladeNote(blade="A", what="fitted"), f"{7:032x}", 1_790_000_000_000)
    odd = replace(blade, key=f"{8:032x}", data={"blade": 7})
    with monkeypatch.context() as older:
        older.delitem(store.KINDS, "blade")
        with Book(path) as book:
            book.add([blade, odd, event(2)])
    with Book(path) as book:
        assert [kept.record.blade for kept in book.notes(BLADE)] == ["A"]
        assert book.wrong() == []
        assert book.count() == 3
    with Book(path) as book:  # once
        assert len(book.notes(BLADE)) == 1
