"""Backups, checks, and a damaged Book with what is saved of it."""

from __future__ import annotations

import sqlite3
from contextlib import closing
from datetime import UTC, datetime, timedelta

import pytest

from honest_edge.core.values.errors import FileError
from honest_edge.core.values.log_event import LogEvent
from honest_edge.files.book import keeping
from honest_edge.files.book.keeping import Opened, backups, look_after, open_book, rescued
from honest_edge.files.book.store import Book, DamagedBookError

START = datetime(2026, 3, 2, 9, tzinfo=UTC)  # a Monday


def ms(moment):
    return round(moment.timestamp() * 1000)


def event(number, words=""):
    return LogEvent(key=f"{number:032x}", at_ms=ms(START) + number, kind="note", data={"words": words})


def written(path, numbers, words="w" * 200):
    with Book(path) as book:
        book.add([event(number, words) for number in numbers])


def days_after(path, days):
    return looked_after(Book(path), ms(START + timedelta(days=days)))


def looked_after(book, now_ms, **how):
    """Look after a Book as a desk does; return the one to go on with."""
    try:
        return Opened(book=book, notes=look_after(book, now_ms, **how))
    except DamagedBookError:
        book.close()
        return rescued(book.path, now_ms)


def test_one_backup_a_day_for_a_week_and_one_a_week_for_four(tmp_path):
    path = tmp_path / "book.sqlite"
    for day in range(45):
        written(path, [day])
        days_after(path, day).book.close()
        days_after(path, day + 0.2).book.close()
    found = [day for day, _ in backups(path)]
    last = (START + timedelta(days=44)).date()  # a Wednesday
    assert found[:7] == [last - timedelta(days=days) for days in range(7)]
    sundays = [last - timedelta(days=days) for days in (10, 17)]
    assert found[7:] == sundays  # with the last of this week and of the one before, four weeks
    with Book(backups(path)[0][1]) as book:
        assert book.count() == 45
        assert book.wrong() == []


def test_a_backup_is_whole_while_another_writes_and_replaces_the_one_before(tmp_path):
    path = tmp_path / "book.sqlite"
    written(path, range(50))
    with Book(path) as book, Book(path) as other:
        other.add([event(50)])
        for _ in range(2):
            book.back_up(tmp_path / "stick" / "copy.sqlite")
    with Book(tmp_path / "stick" / "copy.sqlite") as copy:
        assert copy.count() == 51
    assert not list((tmp_path / "stick").glob(".*"))


def test_a_book_is_not_backed_up_over_itself(tmp_path):
    path = tmp_path / "book.sqlite"
    written(path, [1])
    (tmp_path / "link.sqlite").symlink_to(path)
    with Book(path) as book:
        for target in (path, tmp_path / "link.sqlite"):
            with pytest.raises(FileError, match="is the Book itself"):
                book.back_up(target)
        book.add([event(2)])
        assert book.count() == 2


def test_a_backup_that_cannot_be_written_is_said(tmp_path):
    path = tmp_path / "book.sqlite"
    written(path, [1])
    (tmp_path / "file").write_text("no folder")
    with Book(path) as book, pytest.raises(FileError, match=r"The Book copy\.sqlite"):
        book.back_up(tmp_path / "file" / "copy.sqlite")


def test_a_damaged_book_gives_way_to_the_newest_good_backup_with_what_is_saved(tmp_path):
    path = tmp_path / "book.sqlite"
    written(path, range(40))
    days_after(path, 0).book.close()
    written(path, range(40, 400))
    with closing(sqlite3.connect(path)) as connection:
        connection.execute("PRAGMA wal_checkpoint(TRUNCATE)")
    data = bytearray(path.read_bytes())
    data[4096 * 40 : 4096 * 43] = b"\xff" * 4096 * 3
    path.write_bytes(data)
    found = looked_after(Book(path), ms(START + timedelta(days=1)), ended_badly=True)
    (note,) = found.notes
    assert "kept as book.damaged-" in note
    assert "the backup book-2026-03-02.sqlite with 40 events took its place" in note
    count = found.book.count()
    assert 250 < count < 400
    assert f"{count - 40} were taken over from it; {400 - count} more cannot be read" in note
    assert found.book.wrong() == []
    (aside,) = tmp_path.glob("book.damaged-*.sqlite")
    assert aside.read_bytes()[: len(data)] == bytes(data)
    found.book.close()


def test_a_book_without_its_head_is_kept_and_another_begun(tmp_path):
    path = tmp_path / "book.sqlite"
    written(path, range(10))
    with closing(sqlite3.connect(path)) as connection:
        connection.execute("PRAGMA wal_checkpoint(TRUNCATE)")
    path.write_bytes(b"\0" * 4096 + path.read_bytes()[4096:])
    with open_book(path, ms(START)).book as book:
        assert book.count() == 0
    assert list(tmp_path.glob("book.damaged-*.sqlite"))


@pytest.mark.parametrize("damage", ["zeros", "changed by hand"])
def test_a_damaged_backup_is_passed_over(tmp_path, damage):
    path = tmp_path / "book.sqlite"
    written(path, range(5))
    days_after(path, 0).book.close()
    written(path, range(5, 9))
    days_after(path, 1).book.close()
    newest = backups(path)[0][1]
    if damage == "zeros":
        newest.write_bytes(b"\0" * newest.stat().st_size)
    else:
        with closing(sqlite3.connect(newest)) as connection:
            connection.executescript("DROP TRIGGER events_stay; UPDATE events SET data = '{}' WHERE seq = 3")
    path.write_bytes(b"not a Book at all" * 400)
    for rest in ("-wal", "-shm"):
        (tmp_path / f"book.sqlite{rest}").unlink(missing_ok=True)
    opened = open_book(path, ms(START))
    assert "book-2026-03-02.sqlite with 5 events" in opened.notes[0]
    opened.book.close()


def test_a_bad_end_is_noticed_and_the_week_s_check_is_made(tmp_path, monkeypatch):
    path = tmp_path / "book.sqlite"
    looked = []
    monkeypatch.setattr(Book, "wrong", lambda self: looked.append(1) or [])
    written(path, [1])
    for day in (0, 1, 6.9):
        days_after(path, day).book.close()
    assert len(looked) == 1
    days_after(path, 7.1).book.close()
    assert len(looked) == 2
    (tmp_path / "book.sqlite-wal").write_bytes(b"left by a crash")
    opened = open_book(path, ms(START))
    assert opened.ended_badly
    looked_after(opened.book, ms(START + timedelta(days=7.2)), ended_badly=True).book.close()
    assert len(looked) == 3


def test_an_empty_book_is_not_backed_up(tmp_path):
    days_after(tmp_path / "book.sqlite", 0).book.close()
    assert not keeping.backups(tmp_path / "book.sqlite")
