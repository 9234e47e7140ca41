"""Unsaved work after a crash: kept while one edits, offered by every later window until it is decided."""

import json
import os
import re
import subprocess
import sys
import threading
from dataclasses import replace
from pathlib import Path

import pytest
from PyQt6.QtCore import QTimer
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QLabel, QMessageBox, QPushButton

from hands import PATIENCE_S, click, crash
from honest_edge.files.atomic_write import MARKER
from honest_edge.files.recovery import RecoveryFolder
from honest_edge.ui.shell.job_files import JobFiles
from pictures import disc_png


def buttons(offer, words):
    return [made for made in offer.findChildren(QPushButton) if made.text() == words]


def offered(window, settle):
    window.jobs.offer_recovery()
    settle(window)
    return window.jobs.offer


@pytest.fixture
def after_a_crash(with_disc, make_window, settle):
    """A new window, and the job that the one before was killed with."""
    job = with_disc.document.job
    crash(with_disc)
    return make_window(), job


def test_unsaved_work_is_offered_with_title_time_and_pictures_and_brought_back(after_a_crash, settle, tmp_path):
    window, job = after_a_crash
    offer = offered(window, settle)
    words = " ".join(text.text() for text in offer.findChildren(type(window.bar.message)))
    assert re.search(r"Unsaved work on “Untitled” was kept: 1 design, \w+ \d+ \w+, \d\d:\d\d\.", words)
    assert any(not text.pixmap().isNull() for text in offer.findChildren(QLabel))
    click(buttons(offer, "Bring it back")[0])
    settle(window)
    assert window.document.job == job
    assert not window.document.is_saved
    assert not offer.isVisible()
    crash(window)  # the work went on in the same copy
    (kept,), _ = RecoveryFolder(tmp_path / "state" / "recovery").left()
    assert kept.job == job


@pytest.mark.parametrize("what", ["close", "open a job", "open a picture", "new", "demo", "fresh work", "a message"])
def test_nothing_but_an_answer_takes_the_offer_away(
    after_a_crash, make_window, settle, tmp_path, monkeypatch, root, what
):
    window, job = after_a_crash
    offer = offered(window, settle)
    monkeypatch.setattr(JobFiles, "ask_to_save", staticmethod(lambda *_a: QMessageBox.StandardButton.Discard))
    art = root / "demo" / "art"
    if what == "open a job":
        window.document.save(tmp_path / "other.hedge")
        window.take_files([tmp_path / "other.hedge"])
    elif what == "open a picture":
        window.take_files([next(art.glob("*.png"))])
    elif what == "new":
        window.jobs.new()
    elif what == "demo":
        window.jobs.open_demo()
    elif what == "fresh work":
        window.document.edit(replace(window.document.job, title="Fresh"), "title")
        window.document.keeper.keep()
    elif what == "a message":
        window.say("Something else.")
    if what != "close":
        assert offer.isVisible()
    assert window.close()
    again = make_window()
    offer = offered(again, settle)
    assert len(buttons(offer, "Bring it back")) == 1
    click(buttons(offer, "Bring it back")[0])
    settle(again)
    assert again.document.job == job


def test_it_is_thrown_away_at_the_second_press_only(after_a_crash, make_window, settle):
    window, _ = after_a_crash
    offer = offered(window, settle)
    throw = buttons(offer, "Throw it away")[0]
    click(throw)
    assert offer.isVisible()
    click(throw)
    assert not offer.isVisible()
    assert not offered(make_window(), settle).isVisible()


def test_two_windows_keep_two_copies(with_disc, make_window, settle, tmp_path):
    other = make_window()
    other.intake.start_with_words()
    settle(other)
    crash(with_disc)
    crash(other)
    third = make_window()
    offer = offered(third, settle)
    assert len(buttons(offer, "Bring it back")) == 2


def test_a_damaged_copy_is_named_and_kept(after_a_crash, settle, tmp_path):
    window, _ = after_a_crash
    (place,) = (tmp_path / "state" / "recovery").iterdir()
    (place / "job.json").write_bytes(b"{")
    offer = offered(window, settle)
    assert not offer.isVisible()
    assert "was put aside" in window.bar.message.text()
    assert (tmp_path / "state" / "recovery" / "damaged" / place.name / "job.json").exists()


def test_edits_that_never_rest_are_kept_all_the_same(with_disc, qtbot, tmp_path):
    """One every 0.9 s: a timer that each of them starts anew would never end."""
    window, folder = with_disc, tmp_path / "state" / "recovery"
    for number in range(40):  # a busy machine may need a few more than two
        window.document.edit(replace(window.document.job, title=f"Edit {number}"), "title")
        QTest.qWait(900)
        if kept := list(folder.glob("*/job.json")):
            break
    assert kept
    window.document.keeper.wait()
    assert b"Edit" in kept[0].read_bytes()


def test_work_that_is_saved_leaves_no_copy(with_disc, tmp_path):
    document = with_disc.document
    document.keeper.keep()
    document.keeper.wait()
    folder = tmp_path / "state" / "recovery"
    assert list(folder.glob("*/job.json"))
    document.save(tmp_path / "a.hedge")
    document.keeper.keep()
    document.keeper.wait()
    assert not list(folder.iterdir())


def test_a_copy_that_cannot_be_kept_is_said_once(with_disc, monkeypatch, qtbot):
    window = with_disc

    def full(*_arguments):
        raise OSError(28, "No space left on device")

    with monkeypatch.context() as patched:
        patched.setattr("honest_edge.files.atomic_write.os.fsync", full)
        window.document.keeper.keep()
        qtbot.waitUntil(lambda: "the disk is full" in window.bar.message.text())
        assert "Save the job yourself meanwhile" in window.bar.message.text()
        window.bar.hide()
        window.document.keeper.keep()
        window.document.keeper.wait()
        QTest.qWait(50)
        assert not window.bar.isVisible()
    window.document.keeper.keep()
    window.document.keeper.wait()


def test_a_job_that_was_changed_by_another_window_is_not_saved_over_unasked(
    with_disc, make_window, settle, tmp_path, monkeypatch
):
    path, first = tmp_path / "one.hedge", with_disc
    first.document.save(path)
    second = make_window()
    second.jobs.open_path(path)
    settle(second)
    second.document.edit(replace(second.document.job, title="Second"), "title")
    assert second.jobs.save()
    before = path.read_bytes()
    first.document.edit(replace(first.document.job, title="First"), "title")
    answers = [QMessageBox.StandardButton.Cancel, QMessageBox.StandardButton.Yes]
    monkeypatch.setattr(JobFiles, "ask_to_overwrite", staticmethod(lambda *_a: answers.pop(0)))
    assert not first.jobs.save()
    assert path.read_bytes() == before
    assert first.jobs.save()
    assert path.read_bytes() != before
    assert answers == []
    first.document.edit(replace(first.document.job, title="First again"), "title")
    assert first.jobs.save()  # what it wrote itself is no change
    path.unlink()
    first.document.edit(replace(first.document.job, title="Once more"), "title")
    assert first.jobs.save()
    assert path.exists()


def test_files_whose_writing_was_interrupted_are_finished_at_the_next_start(window, settle, tmp_path):
    for name, data in {"print.pdf": b"new", "cut-1.svg": b"old", ".cut-1.svg.abcd_123.part": b"new cut"}.items():
        (tmp_path / name).write_bytes(data)
    said = {"written": [[".print.pdf.abcd_123.part", "print.pdf"], [".cut-1.svg.abcd_123.part", "cut-1.svg"]]}
    (tmp_path / MARKER).write_text(json.dumps(said | {"removed": [], "kept": []}))
    window.set_prefs(replace(window.prefs, written_folder=str(tmp_path)))
    window.jobs.offer_recovery()
    settle(window)
    assert "Writing print.pdf, cut-1.svg to" in window.bar.message.text()
    assert (tmp_path / "cut-1.svg").read_bytes() == b"new cut"
    assert not (tmp_path / MARKER).exists()


@pytest.mark.parametrize("act", ["save", "open"])
def test_any_fault_while_saving_or_opening_is_said(with_disc, tmp_path, monkeypatch, act):
    window, path = with_disc, tmp_path / "one.hedge"
    window.document.save(path)

    def broken(*_arguments):
        raise ZeroDivisionError("no")

    monkeypatch.setattr(f"honest_edge.files.project_writer.{'save' if act == 'save' else 'load'}_project", broken)
    window.document.edit(replace(window.document.job, title="New"), "title")
    if act == "save":
        assert not window.jobs.save()
    else:
        window.jobs.open_path(path)
    assert "failed for a reason that should not be (ZeroDivisionError('no'))" in window.bar.message.text()
    assert not window.document.is_saved
    assert window.document.job.title == "New"


def test_names_that_are_no_utf_8_are_taken_and_saved(window, settle, tmp_path):

    path = Path(os.fsdecode(os.fsencode(tmp_path) + b"/caf\xe9.png"))
    path.write_bytes(disc_png())
    window.take_files([path])
    settle(window)
    assert window.document.job.designs[0].file_name == "caf\ufffd.png"
    odd = Path(os.fsdecode(os.fsencode(tmp_path) + b"/th\xe9.hedge"))
    assert window.jobs._save_to(odd, over=False)
    assert odd.exists()
    window.jobs.open_path(odd)
    assert window.document.path == odd


def test_closing_shows_what_is_being_finished(window):
    begun, go_on, shown = threading.Event(), threading.Event(), []

    def work(*, report, cancelled):
        begun.set()
        assert go_on.wait(PATIENCE_S)  # a step that cannot be called off

    def look():
        if not window.bar.isVisible():
            QTimer.singleShot(50, look)
            return
        shown.append((window.isVisible(), window.bar.message.text()))
        go_on.set()

    window.new_task().submit(work)
    assert begun.wait(PATIENCE_S)  # what has not begun is called off, and nothing waits for it
    QTimer.singleShot(50, look)
    assert window.close()
    assert shown == [(True, "Finishing what was begun …")]


@pytest.mark.parametrize("encoding", ["ascii", "latin-1"])
def test_a_name_that_the_terminal_has_no_letters_for_is_said_all_the_same(root, tmp_path, encoding):
    (tmp_path / "茶.png").write_bytes(disc_png())
    ran = subprocess.run(
        [sys.executable, "-m", "honest_edge", "outline", str(tmp_path / "茶.png"), "--art-width", "20mm"],
        env=os.environ | {"PYTHONPATH": str(root / "src"), "LC_ALL": "C", "PYTHONIOENCODING": encoding},
        capture_output=True,
        check=False,
    )
    assert ran.returncode == 0, ran.stderr
    assert b"\\u8336.png: art 20.0 mm" in ran.stdout
