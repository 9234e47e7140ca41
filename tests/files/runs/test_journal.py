"""Runs on the disk: what was written down stays, what was not never happened."""

import hashlib
import os
import signal
import subprocess
import sys
import textwrap
from dataclasses import replace

import pytest

from honest_edge.core.values.errors import BlockedError, FileError, UsageError
from honest_edge.core.values.run_seal import code_of, parse_sign, sheet_sign
from honest_edge.files.runs.journal import JOURNAL, PRINT, SEAL, Journal, left_runs, parse_run, seal_hash
from sealed import event, seal

PRINTED = b"%PDF made up"


@pytest.fixture
def sealed():
    return seal(print_sha256=hashlib.sha256(PRINTED).hexdigest())


def begin(folder, sealed):
    return Journal.begin(folder, sealed, PRINTED)


def test_what_was_written_is_there_again(tmp_path, sealed):
    journal = begin(tmp_path, sealed)
    journal.add(event("printed", 1))
    journal.add(event("measured", 1, kind="true", values=(191.9, None, 50.0)))
    journal.close()
    again = Journal.take_up(tmp_path / sealed.run)
    assert again.seal == sealed
    assert again.events == [event("printed", 1), event("measured", 1, kind="true", values=(191.9, None, 50.0))]
    assert again.print_file() == PRINTED
    again.close()


def test_a_torn_last_line_never_happened(tmp_path, sealed):
    journal = begin(tmp_path, sealed)
    journal.add(event("printed", 1))
    journal.add(event("dry", 1))
    journal.close()
    path = tmp_path / sealed.run / JOURNAL
    whole = path.read_bytes()
    first = whole.index(b"\n") + 1
    for length in range(first, len(whole)):
        path.write_bytes(whole[:length])
        again = Journal.take_up(tmp_path / sealed.run)
        assert again.events == [event("printed", 1)]
        again.add(event("dry", 1))
        again.close()
        assert path.read_bytes() == whole  # and it goes on where it was torn


def test_a_line_changed_by_hand_is_said(tmp_path, sealed):
    journal = begin(tmp_path, sealed)
    for what in ("printed", "dry"):
        journal.add(event(what, 1))
    journal.close()
    path = tmp_path / sealed.run / JOURNAL
    path.write_bytes(path.read_bytes().replace(b'"printed"', b'"laminated"'))
    with pytest.raises(FileError, match="damaged in line 1"):
        Journal.take_up(tmp_path / sealed.run)


def test_a_changed_seal_is_said_by_its_journal(tmp_path, sealed):
    journal = begin(tmp_path, sealed)
    journal.add(event("printed", 1))
    journal.close()
    path = tmp_path / sealed.run / SEAL
    path.write_bytes(path.read_bytes().replace(b'"title":"Mint"', b'"title":"Sage"'))
    with pytest.raises(FileError, match="damaged in line 1"):
        Journal.take_up(tmp_path / sealed.run)


def test_a_changed_print_is_never_printed(tmp_path, sealed):
    begin(tmp_path, sealed).close()
    (tmp_path / sealed.run / PRINT).write_bytes(b"%PDF other")
    with pytest.raises(FileError, match="changed since it was sealed"):
        Journal.take_up(tmp_path / sealed.run)


def test_two_windows_never_lead_one_run(tmp_path, sealed):
    journal = begin(tmp_path, sealed)
    with pytest.raises(BlockedError, match="Another window has this run"):
        Journal.take_up(tmp_path / sealed.run)
    assert [run.is_taken for run in left_runs(tmp_path)[0]] == [True]
    journal.close()
    assert [run.is_taken for run in left_runs(tmp_path)[0]] == [False]
    Journal.take_up(tmp_path / sealed.run).close()


def test_a_run_that_cannot_be_read_hides_no_other(tmp_path, sealed):
    begin(tmp_path, sealed).close()
    other = tmp_path / ("ab" * 16)
    other.mkdir()
    (other / SEAL).write_bytes(b"{")
    found, said = left_runs(tmp_path)
    assert [run.seal.run for run in found] == [sealed.run]
    assert len(said) == 1
    assert "cannot be read" in said[0]


def test_a_full_disk_loses_nothing_and_says_so(tmp_path, sealed, monkeypatch):
    journal = begin(tmp_path, sealed)
    journal.add(event("printed", 1))

    def full(_handle):
        raise OSError(28, "No space left on device")

    with monkeypatch.context() as patch:
        patch.setattr("os.fsync", full)
        with pytest.raises(FileError, match="make room on the disk"):
            journal.add(event("dry", 1))
    journal.add(event("dry", 1))
    journal.close()
    again = Journal.take_up(tmp_path / sealed.run)
    assert [one.what for one in again.events] == ["printed", "dry"]
    again.close()


def test_a_killed_process_loses_no_event_that_it_acknowledged(tmp_path, sealed):
    """SIGKILL at any moment: all that was said to be written is there, and the lock is free."""
    begin(tmp_path, sealed).close()
    program = textwrap.dedent(
        f"""
        from pathlib import Path
        from honest_edge.files.runs.journal import Journal
        from sealed import event
        journal = Journal.take_up(Path({str(tmp_path / sealed.run)!r}))
        for number in range(100_000):
            journal.add(event("dry", 1, words=str(len(journal.events))))
            print(len(journal.events), flush=True)
        """
    )
    for after in (3, 40, 150):
        acknowledged = 0
        command = [sys.executable, "-c", program]
        with subprocess.Popen(command, stdout=subprocess.PIPE, text=True, env=_environment()) as process:
            for line in process.stdout:
                acknowledged = int(line)
                if acknowledged % after == 0:
                    process.send_signal(signal.SIGKILL)
        again = Journal.take_up(tmp_path / sealed.run)
        assert len(again.events) in (acknowledged, acknowledged + 1)
        again.close()


def _environment():
    return {**os.environ, "PYTHONPATH": os.pathsep.join(path for path in (os.getcwd(), *sys.path) if path)}


def test_a_project_keeps_a_run_whole_or_says_that_it_was_changed(tmp_path, sealed):
    journal = begin(tmp_path, sealed)
    journal.add(event("printed", 1))
    text = journal.text()
    journal.close()
    found, events = parse_run(text, "a")
    assert found == sealed
    assert events == (event("printed", 1),)
    with pytest.raises(FileError, match=r"changed by hand|damaged"):
        parse_run(text.replace(b'"printed"', b'"laminated"'), "a")
    with pytest.raises(FileError, match="cannot be read"):
        parse_run(b"[]", "a")


def test_a_seal_is_one_number_for_all_that_it_holds(sealed):
    assert seal_hash(sealed) == seal_hash(replace(sealed))
    assert seal_hash(sealed) != seal_hash(replace(sealed, sheets=(0,)))
    assert seal_hash(sealed) != seal_hash(replace(sealed, bears_mm=sealed.bears_mm + 1e-6))


def test_the_sign_of_a_sheet_is_read_again_however_it_is_typed(sealed):
    sign = sheet_sign(sealed.run, 12)
    assert parse_sign(sign) == (code_of(sealed.run), 12)
    assert parse_sign(sign.lower().replace("1", "l").replace("0", "o").replace("-", " ")) == parse_sign(sign)
    for wrong in ("", "12", "ABC-1", sign.replace("-", ""), sign + "x"):
        with pytest.raises(UsageError, match="no sign of a sheet"):
            parse_sign(wrong)
