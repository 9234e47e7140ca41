"""Runs on the disk: what was written down stays, what was not never happened."""

import hashlib
import json
import os
import shutil
import signal
import subprocess
import sys
import textwrap
from dataclasses import replace

import pytest

from honest_edge.core.values.errors import BlockedError, FileError, UsageError
from honest_edge.core.values.run_seal import code_of, parse_sign, sheet_sign
from honest_edge.files.runs.journal import (
    JOURNAL,
    LOCK,
    PRINT,
    SEAL,
    Journal,
    left_runs,
    parse_run,
    seal_bytes,
    seal_hash,
)
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
    readings = {"verdict": "true", "across_mm": 191.9, "down_mm": None, "ruler_mm": 50.0}
    journal.add(event("measured", 1, **readings))
    journal.close()
    again = Journal.take_up(tmp_path / sealed.run)
    assert again.seal == sealed
    assert again.events == [event("printed", 1), event("measured", 1, **readings)]
    assert again.print_file() == PRINTED
    again.close()


def test_a_torn_last_line_never_happened(tmp_path, sealed):
    journal = begin(tmp_path, sealed)
    journal.add(event("printed", 1))
    lock = tmp_path / sealed.run / LOCK
    come = lock.read_bytes()
    journal.add(event("dry", 1))
    journal.close()
    path = tmp_path / sealed.run / JOURNAL
    whole = path.read_bytes()
    first = whole.index(b"\n") + 1
    for length in range(first, len(whole)):
        path.write_bytes(whole[:length])
        lock.write_bytes(come)  # which is written once a line is whole
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
            journal.add(event("dry", 1))
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


LED = ("printed", "dry", "laminated")


@pytest.fixture
def led(tmp_path, sealed):
    """The folder of a run in which three things happened, and what a project keeps of it."""
    journal = begin(tmp_path, sealed)
    for what in LED:
        journal.add(event(what, 1))
    text = journal.text()
    journal.close()
    return tmp_path / sealed.run, text


@pytest.mark.parametrize("left", [0, 1, 2])
def test_a_journal_that_lost_whole_lines_is_missed_and_a_project_gives_them_back(led, left):
    folder, text = led
    journal = folder / JOURNAL
    whole = journal.read_bytes()
    journal.write_bytes(b"".join(whole.splitlines(keepends=True)[:left]))
    with pytest.raises(FileError, match=f"lost its last {3 - left} of 3 events"):
        Journal.take_up(folder)
    again = Journal.take_up(folder, text)
    assert tuple(one.what for one in again.events) == LED
    assert f"lacked {3 - left} events" in again.notes[0]
    again.close()
    assert journal.read_bytes() == whole


def test_a_project_that_lags_behind_takes_nothing_away_and_one_that_differs_is_said(led):
    folder, text = led
    older = json.loads(text)
    older["journal"] = older["journal"][:1]
    again = Journal.take_up(folder, json.dumps(older, separators=(",", ":"), ensure_ascii=False).encode())
    assert (len(again.events), again.notes) == (3, ())
    again.close()
    other = Journal.begin(folder.parent / "other", again.seal, PRINTED)
    other.add(event("printed", 2))
    again = Journal.take_up(folder, other.text())
    assert len(again.events) == 3
    assert "what is here counts" in again.notes[0]
    again.close()
    other.close()


def test_a_copied_folder_is_told_and_never_led_beside_its_first(led):
    folder, _ = led
    copy = folder.with_name("ab" * 16)
    shutil.copytree(folder, copy)
    with pytest.raises(FileError, match="is a copy of the run"):
        Journal.take_up(copy)
    found, said = left_runs(folder.parent)
    assert ([run.folder for run in found], len(said)) == ([folder], 1)
    elsewhere = folder.parent / "elsewhere" / folder.name
    shutil.copytree(folder, elsewhere)
    again = Journal.take_up(elsewhere)
    assert "was copied or restored" in again.notes[0]
    again.close()
    again = Journal.take_up(elsewhere)
    assert again.notes == ()  # it was said once
    again.close()


@pytest.mark.parametrize("hostile", ["folder", "link"])
def test_a_lock_that_is_none_hides_no_other_run(led, tmp_path, hostile):
    folder, _ = led
    (folder / LOCK).unlink()
    if hostile == "folder":
        (folder / LOCK).mkdir()
    else:
        (folder / LOCK).symlink_to(tmp_path / "nowhere")
    with pytest.raises(FileError, match="cannot be opened"):
        Journal.take_up(folder)
    assert len(left_runs(folder.parent)[1]) == 1
    assert not (tmp_path / "nowhere").exists()


DEEP = b"[" * 100_000 + b"]" * 100_000


@pytest.mark.parametrize(
    ("place", "was", "hostile", "words"),
    [
        (JOURNAL, b'"boot":"one"', b'"boot":' + DEEP, "damaged in line 1"),
        (SEAL, b'"title":"Mint"', b'"sparkle":' + DEEP + b',"title":"Mint"', "nested more than 100 deep"),
        (SEAL, b'"title":"Mint"', b'"title":[' + b"0," * 5_000_001 + b"0]", "values, more than"),
        (SEAL, b'"straight":"1111"', b'"straight":"111"', "24 numbers|not eight each"),
        (SEAL, b'"straight":"1111"', b'"straight":"1112"', "not eight each"),
        (SEAL, b'"drying_s":1200', b'"drying_s":1e300', "drying must be"),
        (SEAL, b'"design":0', b'"design":7', "a design that it does not have"),
        (SEAL, b'"proof_order":[11,', b'"proof_order":[12,', "none of its stickers"),
        (SEAL, b'"mark_names":["top left",', b'"mark_names":[', "marks that lie nowhere"),
    ],
)
def test_what_others_may_have_written_is_refused_in_one_line(led, place, was, hostile, words):
    folder, text = led
    path = folder / place
    assert was in path.read_bytes()
    path.write_bytes(path.read_bytes().replace(was, hostile, 1))
    with pytest.raises(FileError, match=words) as said:
        Journal.take_up(folder)
    assert len(str(said.value)) < 400
    assert "\n" not in str(said.value)
    with pytest.raises(FileError, match=r"cannot be read|damaged"):
        parse_run(text.replace(was, hostile, 1), "a")


def test_a_seal_is_one_number_for_all_that_it_holds(sealed):
    def number(run):
        return seal_hash(seal_bytes(run))

    assert number(sealed) == number(replace(sealed))
    assert number(sealed) != number(replace(sealed, sheets=(0,)))
    assert number(sealed) != number(replace(sealed, bears_mm=sealed.bears_mm + 1e-6))


def test_the_sign_of_a_sheet_is_read_again_however_it_is_typed(sealed):
    sign = sheet_sign(sealed.run, 12)
    assert parse_sign(sign) == (code_of(sealed.run), 12)
    assert parse_sign(sign.lower().replace("1", "l").replace("0", "o").replace("-", " ")) == parse_sign(sign)
    for wrong in ("", "12", "ABC-1", sign.replace("-", ""), sign + "x"):
        with pytest.raises(UsageError, match="no sign of a sheet"):
            parse_sign(wrong)
