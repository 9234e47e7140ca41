"""The usual day in one line: from a drop to files, and what is remembered of it."""

import pytest
from PyQt6.QtCore import Qt
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QFileDialog

from hands import click, drop, type_into, visit
from honest_edge.core.values.forms import PRESETS
from pictures import disc_png

BIG = disc_png(radius=280.0, size=640, ppi=300)
"""A disc of 47 mm."""


@pytest.fixture
def disc_file(tmp_path):
    path = tmp_path / "Disc.png"
    path.write_bytes(BIG)
    return path


@pytest.fixture
def line_window(make_window):
    return make_window(first_drop="line")


@pytest.fixture
def dropped(line_window, settle, disc_file):
    drop(line_window, [disc_file])
    settle(line_window)
    return line_window


def laid(window):
    return sum(map(len, window.workspace.overview.plan.pages))


def test_one_picture_becomes_twelve_stickers_on_disk_in_the_line(dropped, settle, qtbot, disc_file):
    window, line = dropped, dropped.make.line
    assert window.station == "sheet"
    assert line.isVisible()
    assert not window.cards.isVisible()
    assert not window.guide.isVisible()
    assert "as assumed" in line.words.text(), "what is assumed is never told as measured"
    type_into(line.width_field, "50")
    settle(window)
    assert window.workspace.result.cut_size_mm[0] == pytest.approx(50, abs=0.02)
    type_into(line.copies, "12")
    settle(window)
    assert laid(window) == 12
    assert not line.fills.isChecked()
    assert line.words.text().startswith("12 on one sheet, ")
    QTest.keyClick(window, Qt.Key.Key_Return, Qt.KeyboardModifier.ControlModifier)
    qtbot.waitUntil(lambda: "read back and whole" in window.bar.message.text())
    settle(window)
    assert (disc_file.parent / "Disc" / "Disc.pdf").exists() or list((disc_file.parent / "Disc").glob("*.pdf"))
    click(next(one for one in window.bar._actions if one.text() == "Go on to Run"))
    assert window.workshop.stack.currentWidget() is not None
    assert not line.isVisible()


def test_the_next_picture_of_its_kind_begins_as_the_last_was_made_and_says_so(
    dropped, make_window, settle, qtbot, tmp_path
):
    line = dropped.make.line
    type_into(line.width_field, "40")
    type_into(line.copies, "5")
    line.school.setCurrentIndex(line.school.findText("full bleed"))
    line.school.activated.emit(line.school.currentIndex())
    settle(dropped)
    assert dropped.workspace.design.edge.school == "bleed"
    assert line.habit.isHidden()
    click(line.write)
    qtbot.waitUntil(lambda: "read back and whole" in dropped.bar.message.text())
    settle(dropped)
    other = tmp_path / "other" / "Ring.png"
    other.parent.mkdir()
    other.write_bytes(BIG)
    window = make_window()
    drop(window, [other])
    settle(window)
    assert window.workspace.design.edge.school == "bleed"
    assert window.workspace.result.cut_size_mm[0] == pytest.approx(40, abs=0.02)
    assert laid(window) == 5
    line = window.make.line
    assert "cut-out picture last" in line.habit.text()
    click(line.usual)
    settle(window)
    assert window.workspace.design.edge.school == "border"
    assert window.workspace.design.fills
    assert line.habit.isHidden()


def test_several_pictures_share_the_line_with_a_field_for_the_copies_of_each(line_window, settle, tmp_path):
    paths = [tmp_path / f"{name}.png" for name in ("Ash", "Elm", "Oak")]
    for path in paths:
        path.write_bytes(BIG)
    drop(line_window, paths)
    settle(line_window)
    line, job = line_window.make.line, lambda: line_window.workspace.job
    counts = line.counts()
    assert list(counts) == [design.key for design in job().designs]
    for number, count in enumerate(counts.values(), 1):
        type_into(count, str(number))
    type_into(line.width_field, "30")
    settle(line_window)
    assert [design.copies for design in job().designs] == [1, 2, 3]
    assert laid(line_window) == 6
    results = line_window.workspace.overview.results
    assert all(result.cut_size_mm[0] == pytest.approx(30, abs=0.02) for result in results.values())
    click(line.fills)
    settle(line_window)
    assert all(design.fills for design in job().designs)
    assert laid(line_window) > 6


def test_pictures_dropped_while_the_line_is_open_join_it(dropped, settle, tmp_path):
    (tmp_path / "Elm.png").write_bytes(BIG)
    drop(dropped, [tmp_path / "Elm.png"])
    settle(dropped)
    assert dropped.make.line.isVisible()
    assert dropped.station == "sheet"
    assert len(dropped.make.line.counts()) == 2


def test_what_blocks_is_mended_in_the_line_by_its_button(line_window, settle, tmp_path):
    path = tmp_path / "Soft.png"
    path.write_bytes(disc_png(ppi=50))
    drop(line_window, [path])
    settle(line_window)
    line = line_window.make.line
    assert "50 ppi" in line.words.text()
    assert not line.write.isEnabled()
    assert line.mend.isVisible()
    click(line.mend)
    settle(line_window)
    assert line.write.isEnabled()
    assert "on one sheet" in line.words.text()


def test_what_fits_no_sheet_is_said_before_that_it_is_soft(line_window, settle, tmp_path):
    path = tmp_path / "Poster.png"
    path.write_bytes(disc_png(radius=200, size=420, ppi=24))
    drop(line_window, [path])
    settle(line_window)
    line = line_window.make.line
    assert "make it smaller" in line.words.text()
    click(line.mend)
    settle(line_window)
    assert line_window.workspace.overview.plan is not None


def test_pressed_before_all_is_computed_it_writes_as_soon_as_it_is(dropped, settle, qtbot):
    line_window = dropped
    type_into(line_window.make.line.width_field, "45")
    assert not line_window.workspace.is_known
    click(line_window.make.line.write)
    assert line_window.make.is_waiting
    qtbot.waitUntil(lambda: "read back and whole" in line_window.bar.message.text())
    settle(line_window)


def test_the_line_and_the_stations_are_one_job(dropped, settle):
    window, line = dropped, dropped.make.line
    click(line.closer)
    settle(window)
    assert window.station == "art"
    assert window.cards.isVisible()
    assert line.isHidden()
    type_into(window.stations["art"].panel.sizes.cut[0], "33")
    settle(window)
    visit(window, "sheet")
    assert line.isHidden(), "who looked closer is on the path"
    QTest.keyClick(window, Qt.Key.Key_M, Qt.KeyboardModifier.ControlModifier)
    assert line.isVisible()
    click(window.path_bar.buttons["sheet"])
    assert window.cards.isVisible(), "the station itself is one press away"
    assert line.isHidden()
    window.make.open()
    settle(window)
    assert line.width_field.length_mm == pytest.approx(33, abs=0.02)
    window.document.undo_stack.undo()
    settle(window)
    assert line.width_field.length_mm != pytest.approx(33, abs=0.02)


def test_refused_sizes_change_nothing(dropped, settle):
    before = dropped.workspace.job
    type_into(dropped.make.line.width_field, "3")
    settle(dropped)
    assert dropped.workspace.job == before
    assert "border round the art" in dropped.bar.message.text()


def test_who_goes_step_by_step_begins_at_art(make_window, settle, disc_file):
    window = make_window()
    drop(window, [disc_file])
    settle(window)
    assert window.station == "art"
    assert window.make.line.isHidden()


def test_how_the_next_picture_begins_is_set_on_the_start_page(make_window, settle, disc_file):
    window = make_window(first_drop="line")
    line = window.start.page.begin
    assert line.isVisible()
    assert line.width_field.text() == ""
    type_into(line.width_field, "40")
    type_into(line.copies, "5")
    assert not line.fills.isChecked()
    line.school.show_value("bleed")
    line.school.chosen.emit("bleed")
    line.paper.show_value("a5")
    line.paper.chosen.emit("a5")
    drop(window, [disc_file])
    settle(window)
    design = window.workspace.design
    assert (design.copies, design.fills, design.edge.school) == (5, False, "bleed")
    assert window.workspace.job.sheet.paper == "a5"
    assert window.workspace.result.cut_size_mm[0] == pytest.approx(40, abs=0.02)
    assert window.make.line.copies.value() == 5
    assert window.make.line.habit.text() == "As you set it on the start page."


def test_the_start_page_asks_nothing_of_whoever_goes_step_by_step(window):
    assert not window.start.page.begin.isVisible()


def test_files_chosen_by_keys_become_what_they_would_if_they_were_dropped(
    window, settle, disc_file, tmp_path, monkeypatch
):
    table = tmp_path / "jars.csv"
    table.write_text("name,copies\nMint,2\nSage,3\n")
    chosen = [[str(table)], [str(disc_file)], []]
    monkeypatch.setattr(QFileDialog, "getOpenFileNames", lambda *_a: (chosen.pop(0), ""))
    window.intake.choose()
    settle(window)
    assert window.workspace.design.table is not None, "a table became labels"
    window.document.start(window.jobs.fresh_job(), {}, None)
    window.intake.start_with_form(PRESETS[0])
    settle(window)
    window.intake.choose()
    settle(window)
    sheet = next(one for one in window.document.job.designs if one.form is not None)
    assert sheet.stickers, "a picture became a sticker of the sheet in hand"
    before = window.document.job
    window.intake.choose()  # nothing was chosen
    assert window.document.job == before
