"""One job, one folder: proposed from its name, kept with it, never taken from another."""

from dataclasses import replace

import pytest
from PyQt6.QtCore import Qt
from PyQt6.QtGui import QDesktopServices, QGuiApplication
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QApplication, QFileDialog, QMessageBox

from hands import click, visit
from honest_edge.core.values.job import Job
from honest_edge.files.job_folder import belongs_to, folder_name, proposed_folder
from pictures import disc_png


@pytest.fixture
def written(with_disc, settle):
    """A job of one disc whose files were written where they are proposed."""
    visit(with_disc, "files")
    click(with_disc.here.panel.write)
    settle(with_disc)
    return with_disc


def new_job(window, settle, path):
    window.jobs.may_leave = lambda: True
    window.jobs.new()
    window.take_files([path])
    settle(window)


@pytest.mark.parametrize(
    ("title", "name"), [("Tea / mint: 2*", "Tea mint 2"), ("...", "Stickers"), ("x" * 99, "x" * 60), ("Tee ü", "Tee ü")]
)
def test_a_folder_is_named_as_its_job_without_what_no_folder_may_be_named(title, name):
    assert folder_name(Job(title=title)) == name


def test_files_go_beside_the_art_into_a_folder_of_the_job_s_name_and_that_is_shown(
    written, settle, disc_file, monkeypatch
):
    window, folder, shown = written, disc_file.with_name("Disc"), []
    assert (folder / "print.pdf").exists()
    assert window.here.panel.folder.toolTip() == str(folder)
    assert str(folder) in window.bar.message.text()
    monkeypatch.setattr(QDesktopServices, "openUrl", lambda url: shown.append(url.toLocalFile()))
    click(window.bar._actions[0])
    click(window.here.panel.links.show_it)
    assert shown == [str(folder)] * 2
    click(window.here.panel.links.copy)
    assert QGuiApplication.clipboard().text() == str(folder)


def test_another_job_has_another_folder_and_nothing_of_the_first_is_said_of_it(written, settle, disc_file):
    window, other = written, disc_file.with_name("Other.png")
    other.write_bytes(disc_png(ppi=300, radius=60))
    new_job(window, settle, other)
    visit(window, "files")
    settle(window)
    assert window.here.panel.folder.toolTip() == str(disc_file.with_name("Other"))
    assert "changed" not in window.here.panel.findings.words


def test_files_of_another_job_are_not_replaced_and_one_press_leads_on(written, settle, disc_file, monkeypatch):
    window, first, other = written, disc_file.with_name("Disc"), disc_file.with_name("Other.png")
    other.write_bytes(disc_png(ppi=300, radius=60))
    before = (first / "print.pdf").read_bytes()
    new_job(window, settle, other)
    monkeypatch.setattr(QMessageBox, "question", lambda *_a: pytest.fail("it was asked"))
    window.document.out_folder = first
    visit(window, "files")
    click(window.here.panel.write)
    settle(window)
    assert "Another job’s files lie in" in window.bar.message.text()
    assert (first / "print.pdf").read_bytes() == before
    click(window.bar._actions[0])
    settle(window)
    assert (disc_file.with_name("Other") / "print.pdf").exists()


def test_a_name_that_is_taken_gets_a_number(written, disc_file):
    job, beside = written.document.job, disc_file.parent
    assert proposed_folder(job, beside) == beside / "Disc"  # its own
    same = replace(job, designs=(replace(job.designs[0], name="Dish", asset="0" * 64),))
    assert belongs_to(beside / "Disc", same) is False
    assert proposed_folder(replace(same, title="Disc"), beside) == beside / "Disc 2"
    (beside / "Mine").mkdir()
    assert proposed_folder(replace(same, title="Mine"), beside) == beside / "Mine"
    (beside / "Mine" / "print.pdf").write_bytes(b"of somebody")
    assert proposed_folder(replace(same, title="Mine"), beside) == beside / "Mine 2"


def test_replacing_one_s_own_files_is_asked_and_enter_leaves_them(written, settle, monkeypatch):
    asked = []
    monkeypatch.setattr(QMessageBox, "question", lambda *a: asked.append(a[-1]) or QMessageBox.StandardButton.No)
    click(written.here.panel.write)
    settle(written)
    assert asked == [QMessageBox.StandardButton.No]


def test_the_folder_is_kept_with_the_job(written, settle, tmp_path, monkeypatch):
    window, chosen = written, tmp_path / "chosen"
    monkeypatch.setattr(QFileDialog, "getExistingDirectory", lambda *_a: str(chosen))
    click(window.here.panel.choose)
    assert window.here.panel.folder.toolTip() == str(chosen)
    assert window.jobs._save_to(tmp_path / "tea.hedge", over=True)
    window.jobs.may_leave = lambda: True
    window.jobs.new()
    assert window.workspace.place.folder != chosen
    window.jobs.open_path(tmp_path / "tea.hedge")
    settle(window)
    assert window.workspace.place.folder == chosen


def test_dialogs_open_where_such_files_of_this_job_lie(with_disc, settle, disc_file, monkeypatch):
    window, asked = with_disc, []
    for name in ("getOpenFileNames", "getSaveFileName", "getOpenFileName"):
        monkeypatch.setattr(QFileDialog, name, lambda _parent, _title, start, *_a: asked.append(start) or ("", ""))
    monkeypatch.setattr(QFileDialog, "getExistingDirectory", lambda _parent, _title, start: asked.append(start) or "")
    window.intake.choose()
    window.jobs.save_as()
    visit(window, "files")
    click(window.here.panel.choose)
    assert asked == [str(disc_file.parent), str(disc_file.with_name("Disc.hedge")), str(disc_file.parent)]


def test_where_the_user_keeps_jobs_goes_before_the_art(with_disc, tmp_path):
    with_disc.set_prefs(replace(with_disc.prefs, out_folder=str(tmp_path / "jobs")))
    assert with_disc.workspace.place.folder == tmp_path / "jobs" / "Disc"


# -- by keys alone ---


def press(key, modifier=Qt.KeyboardModifier.NoModifier):
    QTest.keyClick(QApplication.focusWidget(), key, modifier)


def walk_to(window, control):
    """Press Tab until a control has the keys."""
    for _ in range(120):
        if QApplication.focusWidget() is control:
            return
        press(Qt.Key.Key_Tab)
    raise AssertionError(f"Tab never comes to {control.accessibleName() or control.text()}")


def test_from_a_picture_to_written_files_by_keys_alone_the_folder_included(
    window, settle, disc_file, tmp_path, monkeypatch
):
    ctrl, out = Qt.KeyboardModifier.ControlModifier, tmp_path / "chosen by keys"
    out.mkdir()
    monkeypatch.setattr(QFileDialog, "getOpenFileNames", lambda *_a, **_k: ([str(disc_file)], ""))
    monkeypatch.setattr(QFileDialog, "getExistingDirectory", lambda *_a, **_k: str(out))
    press(Qt.Key.Key_I, ctrl)
    settle(window)
    for station in ("art", "outline", "edge", "sheet", "proof"):
        assert window.station == station
        press(Qt.Key.Key_Return, ctrl)
        settle(window)
    panel = window.here.panel
    walk_to(window, panel.choose)
    press(Qt.Key.Key_Return)
    assert panel.folder.toolTip() == str(out)
    walk_to(window, panel.kind)
    press(Qt.Key.Key_Down)
    settle(window)
    walk_to(window, panel.write)
    press(Qt.Key.Key_Return)
    settle(window)
    assert {"print-1.png", "ticket.pdf"} <= {path.name for path in out.iterdir()}
