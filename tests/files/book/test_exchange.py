"""The Book as plain files, and back."""

from __future__ import annotations

import csv
import io
from dataclasses import asdict

import pytest

from honest_edge.core.values.errors import FileError
from honest_edge.core.values.log_event import LogEvent, RunRecord
from honest_edge.files.book.exchange import export, take_in
from honest_edge.files.book.store import Book

NOW_MS = 1_790_000_000_000
TITLE = 'Tea, "mint"\r\nand sage; “früh” ☕'


@pytest.fixture
def book(tmp_path):
    with Book(tmp_path / "book.sqlite") as made:
        made.add(
            [
                LogEvent(
                    key=f"{number:032x}",
                    at_ms=NOW_MS - 1_000_000 + 7 * number,
                    kind="run",
                    data=asdict(RunRecord(title=TITLE, sheets=1, good=9, bad=number, forecast=0.1 * number)),
                )
                for number in range(6)
            ]
        )
        yield made


@pytest.mark.parametrize(("form", "name"), [("json", "book.jsonl"), ("csv", "book.csv")])
def test_what_is_written_is_read_back_to_the_millisecond(book, tmp_path, form, name):
    assert name in export(book, tmp_path / "out", form)
    with Book(tmp_path / "again.sqlite") as again:
        assert take_in(again, tmp_path / "out" / name, NOW_MS) == (6, 0)
        assert again.events() == book.events()
        assert [kept.run for kept in again.runs()] == [kept.run for kept in book.runs()]
        assert take_in(again, tmp_path / "out" / name, NOW_MS) == (0, 6)


def test_csv_is_that_of_rfc_4180(book, tmp_path):
    export(book, tmp_path, "csv")
    data = (tmp_path / "runs.csv").read_bytes()
    assert data.endswith(b"\r\n")  # RFC 4180, 2.1 and 2.2
    assert TITLE.replace('"', '""').encode() in data  # 2.6 and 2.7: in quotes, line ends as they are, quotes doubled
    heading, *rows = csv.reader(io.StringIO(data.decode(), newline=""), strict=True)
    assert {len(row) for row in rows} == {len(heading)}  # 2.4
    assert [row[heading.index("title")] for row in rows] == [TITLE] * 6
    assert [float(row[heading.index("forecast")]) for row in rows] == [0.1 * number for number in range(6)]


LINE = '{"key":"%s","at":"2026-09-01T10:00:00Z","kind":"note","data":{}}'


@pytest.mark.parametrize(
    ("name", "text", "words"),
    [
        ("a.csv", "when,what\r\n1,2\r\n", "has the columns when, what; wanted are key, at, kind, data"),
        ("a.csv", "", "has the columns ; wanted are"),
        ("a.csv", "key,at,kind,data\r\n1,2\r\n", "line 2: it has 2 fields; 4 are wanted"),
        ("a.csv", f"key,at,kind,data\r\n{'a' * 32},yesterday,note,{{}}\r\n", "line 2: Invalid isoformat"),
        ("a.csv", f"key,at,kind,data\r\n{'a' * 32},2026-09-01T10:00:00,note,{{}}\r\n", "line 2: its time has no zone"),
        ("a.jsonl", LINE % ("a" * 32) + "\n" + LINE % "abc", "line 2: “abc” is no key of an event"),
        ("a.jsonl", (LINE % ("a" * 32)).replace("2026", "2036"), "line 1: 2036-09-01 lies in the future"),
        ("a.jsonl", (LINE % ("a" * 32)).replace("2026", "1926"), "lies outside of 2000 to 2100"),
        ("a.jsonl", (LINE % ("a" * 32)).replace('"data":{}', '"data":{"x":[1]}'), "“x” of an event is no plain value"),
        ("a.jsonl", (LINE % ("a" * 32)).replace('"note"', '"run"'), "A run cannot be read"),
        ("a.jsonl", "{", "line 1: "),
    ],
)
def test_what_cannot_be_taken_in_is_said_with_its_line_and_adds_nothing(tmp_path, name, text, words):
    (tmp_path / name).write_text(text, newline="")
    with Book(tmp_path / "book.sqlite") as book:
        with pytest.raises(FileError, match=r"nothing was added|wanted are") as caught:
            take_in(book, tmp_path / name, NOW_MS)
        assert words in str(caught.value)
        assert book.count() == 0


def test_rows_that_stand_twice_are_taken_once(tmp_path):
    (tmp_path / "a.jsonl").write_text("\n".join(LINE % ("a" * 32) for _ in range(3)))
    with Book(tmp_path / "book.sqlite") as book:
        assert take_in(book, tmp_path / "a.jsonl", NOW_MS) == (1, 2)


def test_bytes_that_are_no_text_are_said(tmp_path):
    (tmp_path / "a.csv").write_bytes(b"\xff\xfe\x00")
    with Book(tmp_path / "book.sqlite") as book, pytest.raises(FileError, match="no text in UTF-8"):
        take_in(book, tmp_path / "a.csv", NOW_MS)
