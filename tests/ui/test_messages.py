"""What is said goes when it is no longer so; the name is that of the design in hand."""

from PyQt6.QtCore import QSize, Qt
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QApplication

from hands import click, drop, type_into, visit
from honest_edge.ui.shell.first_frame import opening_size
from pictures import disc_png


def is_said(window, words):
    return window.bar.isVisible() and words in window.bar.message.text()


def test_a_refused_value_is_forgotten_when_a_good_one_is_typed_or_the_hand_goes_on(with_disc, settle):
    window = with_disc
    field = window.stations["art"].panel.sizes.cut[0]
    type_into(field, "wide")
    assert is_said(window, "is no length")
    type_into(field, "40 mm")
    settle(window)
    assert not window.bar.isVisible()
    type_into(field, "wide")
    visit(window, "outline")
    assert not window.bar.isVisible()


def test_files_are_said_to_be_written_until_the_job_is_another_one(with_disc, settle, tmp_path):
    window = with_disc

    window.document.out_folder = tmp_path / "out"
    (tmp_path / "out").mkdir()
    visit(window, "files")
    click(window.stations["files"].panel.write)
    settle(window)
    assert is_said(window, "files are in")
    visit(window, "art")
    assert is_said(window, "files are in")  # they still are what is shown
    type_into(window.stations["art"].panel.sizes.cut[0], "30 mm")
    assert not window.bar.isVisible()


def test_a_removal_that_was_undone_is_not_said_any_more(with_disc, settle):
    window = with_disc
    window.acts.remove(window.workspace.current)
    assert is_said(window, "was removed")
    window.document.undo_stack.undo()
    assert not window.bar.isVisible()


def test_the_name_is_that_of_the_design_in_hand_at_once_and_what_was_typed_is_kept(with_disc, settle, tmp_path):
    window = with_disc
    field = window.stations["art"].panel.name
    field.setFocus()
    field.selectAll()
    QTest.keyClicks(field, "Mint lid")  # and no Enter
    (tmp_path / "other.png").write_bytes(disc_png(ppi=150))
    drop(window, [tmp_path / "other.png"])
    settle(window)
    assert [design.name for design in window.document.job.designs] == ["Mint lid", "Other"]
    assert field.text() == "Other"
    assert not field.hasFocus()
    window.take(window.document.job.designs[0].key)
    assert field.text() == "Mint lid"


def test_new_words_are_typed_over_at_once(window, settle):
    window.activateWindow()
    QTest.keyClick(window, Qt.Key.Key_N, Qt.KeyboardModifier.ControlModifier | Qt.KeyboardModifier.ShiftModifier)
    settle(window)
    focused = QApplication.focusWidget()
    assert focused is window.stations["art"].layers.fields.text
    QTest.keyClicks(focused, "Mint")
    QTest.qWait(450)
    settle(window)
    assert window.document.job.designs[0].layers[0].lettering.text == "Mint"


def test_the_window_opens_within_the_screen():
    assert opening_size(QSize(1920, 1080)) == QSize(1280, 800)
    small = opening_size(QSize(1280, 800))
    assert small.width() <= 1276
    assert small.height() <= 760
