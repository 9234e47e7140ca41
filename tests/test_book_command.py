"""The command ``book``."""

from __future__ import annotations

import sqlite3
from contextlib import closing
from dataclasses import asdict

import pytest

from honest_edge import cli
from honest_edge.core.values.log_event import LogEvent, RunRecord
from honest_edge.files.book.place import VARIABLE, book_path
from honest_edge.files.book.store import Book


@pytest.fixture
def kept(tmp_path):
    path = tmp_path / "book.sqlite"
    with Book(path) as book:
        run = RunRecord(title="Tea", sheets=1, good=11, bad=1)
        book.add([LogEvent(key="a" * 32, at_ms=1_790_000_000_000, kind="run", data=asdict(run))])
    return path


def test_a_book_is_read_out_and_into_another(kept, tmp_path, capsys, monkeypatch):
    assert cli.main(["book", "export", "--out", str(tmp_path / "out"), "--book", str(kept)]) == 0
    assert "book.jsonl, 1 event" in capsys.readouterr().out
    monkeypatch.setenv(VARIABLE, str(tmp_path / "other.sqlite"))
    assert cli.main(["book", "import", str(tmp_path / "out" / "book.jsonl")]) == 0
    assert cli.main(["book", "import", str(tmp_path / "out" / "book.jsonl")]) == 0
    assert "0 events added, 1 were there already" in capsys.readouterr().out
    assert cli.main(["book", "check"]) == 0
    assert "other.sqlite: 1 event, whole and unchanged" in capsys.readouterr().out


def test_a_copy_is_a_book_of_its_own(kept, tmp_path, capsys):
    assert cli.main(["book", "backup", str(tmp_path / "copy.sqlite"), "--book", str(kept)]) == 0
    assert cli.main(["book", "check", "--book", str(tmp_path / "copy.sqlite")]) == 0
    assert "copy.sqlite: 1 event" in capsys.readouterr().out


def test_a_changed_book_fails_the_check(kept, capsys):
    with closing(sqlite3.connect(kept)) as other:
        other.executescript("DROP TRIGGER events_stay; UPDATE events SET at_ms = at_ms + 1")
    assert cli.main(["book", "check", "--book", str(kept)]) == 1
    assert "event 1 was changed after it was written" in capsys.readouterr().out


@pytest.mark.parametrize("act", [["export", "--out", "x"], ["check"], ["backup", "x"]])
def test_no_book_is_made_by_looking_for_one(act, tmp_path, capsys):
    assert cli.main(["book", *act, "--book", str(tmp_path / "none.sqlite")]) == 2
    assert "There is no Book at" in capsys.readouterr().err
    assert not (tmp_path / "none.sqlite").exists()


def test_a_named_book_comes_before_the_environment_s_and_that_before_one_s_own(monkeypatch, tmp_path):
    monkeypatch.setenv(VARIABLE, str(tmp_path / "b"))
    assert book_path(tmp_path / "a") == tmp_path / "a"
    assert book_path() == tmp_path / "b"
    monkeypatch.delenv(VARIABLE)
    assert book_path().name == "book.sqlite"
