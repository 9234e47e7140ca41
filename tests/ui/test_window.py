"""The real window, driven as a user drives it."""

import json
import math
from dataclasses import replace
from pathlib import Path

import pytest
from PyQt6.QtCore import QEvent, QPoint, QPointF, Qt
from PyQt6.QtGui import QColor, QMouseEvent, QWheelEvent
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QApplication, QFileDialog, QGraphicsSimpleTextItem, QMessageBox

from bad_art import kinds_of_bad_art
from hands import click, drop, type_into, visit
from honest_edge.files import atomic_write
from honest_edge.ui.rooms.registry import ROOMS
from honest_edge.ui.shell.job_files import JobFiles
from honest_edge.ui.stations.files import write_files
from honest_edge.ui.stations.registry import STATIONS as ENTRIES
from honest_edge.ui.widgets.tokens import DARK, LIGHT

pytestmark = pytest.mark.slow

STATIONS = tuple(entry.key for entry in ENTRIES)
RADIUS_MM = 100 / 300 * 25.4


def test_an_empty_window_says_how_to_begin(window):
    assert "Ctrl+I" in window.table.caption
    assert {button.state for button in window.path_bar.buttons.values()} == {"empty"}
    assert "Add a picture" in window.stations["art"].panel.under.text()


def test_a_dropped_picture_becomes_a_design(window, settle, disc_file):
    drop(window, [disc_file])
    settle(window)
    (design,) = window.document.job.designs
    assert design.name == "Disc"
    assert design.width_mm == pytest.approx(240 / 300 * 25.4, abs=1e-3)
    assert window.workspace.result.ppi == pytest.approx(300, abs=0.1)
    assert "300 ppi" in window.stations["art"].panel.answer.text()


def test_several_pictures_and_one_bad_one(window, settle, disc_file, tmp_path):
    (tmp_path / "broken.png").write_bytes(b"not a picture")
    other = tmp_path / "other_disc.png"
    other.write_bytes(disc_file.read_bytes())
    drop(window, [disc_file, tmp_path / "broken.png", other])
    settle(window)
    assert [d.name for d in window.document.job.designs] == ["Disc", "Other disc"]
    assert "broken.png is no picture" in window.bar.message.text()
    QTest.keyClick(window, Qt.Key.Key_Z, Qt.KeyboardModifier.ControlModifier)
    assert window.document.job.designs == ()


def sizes(window):
    return window.stations["art"].panel.sizes


def test_the_sticker_as_cut_is_as_wide_as_typed_and_undone(with_disc, settle):
    window = with_disc
    field, _ = sizes(window).cut
    before = window.document.job.designs[0].width_mm
    assert field.text() == "20.93 mm"  # a disc of 200 px at 300 ppi, and the border of 2 mm all round
    type_into(field, "1 1/2 in")
    settle(window)
    assert window.workspace.result.cut_size_mm == pytest.approx((38.1, 38.1), abs=0.01)
    assert field.text() == "38.1 mm"
    assert sizes(window).art[0].text() == "34.1 mm"  # what is empty round the disc counts for nothing
    assert "149 ppi" in window.stations["art"].panel.answer.text()
    assert "soft" in window.stations["art"].panel.sharp.text()
    changed = window.document.job.designs[0].width_mm
    window.document.undo_stack.undo()
    assert window.document.job.designs[0].width_mm == before
    window.document.undo_stack.redo()
    assert window.document.job.designs[0].width_mm == changed


def test_the_art_inside_is_as_high_as_typed(with_disc, settle):
    type_into(sizes(with_disc).art[1], "50 mm")
    settle(with_disc)
    assert with_disc.workspace.result.art_size_mm == pytest.approx((50, 50), abs=0.01)
    assert with_disc.workspace.result.cut_size_mm == pytest.approx((54, 54), abs=0.01)
    said = [item.text() for item in with_disc.table.drawing().items() if isinstance(item, QGraphicsSimpleTextItem)]
    assert {"cut 54.0 mm", "art 50.0 mm"} <= set(said)  # the lines on the table say the same


@pytest.mark.parametrize(
    ("text", "words"),
    [
        ("0", "must be 1 to 2000 mm, not 0"),
        ("5 m", "not 5000"),
        ("wide", "is no length"),
        ("3 mm", "takes 4.0 mm of that"),
    ],
)
def test_a_wrong_width_is_said_and_changes_nothing(with_disc, text, words):
    window = with_disc
    before = window.document.job
    type_into(sizes(window).cut[0], text)
    assert window.document.job is before
    assert words in window.bar.message.text()
    assert sizes(window).cut[0].property("wrong") is True
    QTest.keyClick(sizes(window).cut[0], Qt.Key.Key_Escape)
    assert sizes(window).cut[0].property("wrong") is False


def test_a_field_does_not_round_the_job(with_disc):
    window = with_disc
    field = sizes(window).cut[0]
    exact = window.document.job.designs[0].width_mm
    field.setFocus()
    QTest.keyClick(field, Qt.Key.Key_Return)
    assert window.document.job.designs[0].width_mm == exact
    assert not window.document.undo_stack.canUndo() or window.document.undo_stack.count() == 1


def test_choosing_a_school_moves_the_cut(with_disc, settle):
    window = with_disc
    visit(window, "edge")
    areas = {}
    for school in ("border", "bleed", "inside", "bare"):
        click(window.stations["edge"].panel.schools[school])
        settle(window)
        areas[school] = window.workspace.result.cut.area.area
    assert areas["border"] > areas["bleed"] == areas["bare"] > areas["inside"]
    assert window.stations["edge"].panel.schools["bare"].isChecked()


def test_a_click_on_the_strip_moves_the_table_there(with_disc, settle):
    window = with_disc
    visit(window, "edge")
    click(window.stations["edge"].panel.schools["bare"])
    settle(window)
    plot = window.stations["edge"].edge_strip._plot()
    QTest.mouseClick(window.stations["edge"].edge_strip, Qt.MouseButton.LeftButton, pos=plot.center().toPoint())
    weak_place = window.stations["edge"].edge_strip.weak_places[0]
    middle = window.table.mapToScene(window.table.viewport().rect().center())
    assert (middle.x(), middle.y()) == pytest.approx((weak_place.x_mm, weak_place.y_mm), abs=0.2)
    assert window.table.zoom >= 6
    QTest.keyClick(window.stations["edge"].edge_strip, Qt.Key.Key_Right)
    assert window.stations["edge"].edge_strip.current >= 0
    assert window.stations["edge"].edge_strip.readout(10).startswith("at 1.00 mm: ink ")


def test_the_cut_line_is_drawn_where_it_is_at_two_scales(with_disc, settle):
    window = with_disc
    visit(window, "edge")
    settle(window)
    cut_radius = RADIUS_MM + 2.0
    aside = 120 / 300 * 25.4 + cut_radius * math.sqrt(0.5)  # clear of the grip and of the bead
    for zoom in (3.0, 9.0):
        window.table.set_zoom(zoom)
        window.table.centerOn(QPointF(aside, aside))
        QApplication.processEvents()
        picture = window.table.viewport().grab().toImage()
        at = window.table.mapFromScene(QPointF(aside, aside))
        near = [QColor(picture.pixel(at.x() + dx, at.y() + dy)) for dx in range(-3, 4) for dy in range(-3, 4)]
        kiss = QColor(LIGHT.kiss)
        closest = min(abs(c.red() - kiss.red()) + abs(c.green() - kiss.green()) for c in near)
        assert closest < 70  # beside white it is 327


def test_zoom_stays_within_its_limits(with_disc):
    table = with_disc.table
    for turn, limit in ((1200, 64.0), (-1200, 0.05)):
        for _ in range(40):
            middle = QPointF(table.viewport().rect().center())
            wheel = QWheelEvent(
                middle,
                table.viewport().mapToGlobal(middle),
                QPoint(),
                QPoint(0, turn),
                Qt.MouseButton.NoButton,
                Qt.KeyboardModifier.NoModifier,
                Qt.ScrollPhase.NoScrollPhase,
                False,
            )
            table.wheelEvent(wheel)
        assert table.zoom == pytest.approx(limit)
    QTest.keyClick(with_disc, Qt.Key.Key_0, Qt.KeyboardModifier.ControlModifier)
    assert 0.5 < table.zoom < 64


def test_the_caliper_measures_millimetres(with_disc):
    window, table = with_disc, with_disc.table
    QTest.keyClick(window, Qt.Key.Key_M)
    assert table.caliper
    start, end = table.mapFromScene(QPointF(2, 3)), table.mapFromScene(QPointF(12, 3))
    QTest.mousePress(table.viewport(), Qt.MouseButton.LeftButton, pos=start)
    QTest.mouseMove(table.viewport(), end)
    move = QMouseEvent(
        QEvent.Type.MouseMove,
        QPointF(end),
        Qt.MouseButton.NoButton,
        Qt.MouseButton.LeftButton,
        Qt.KeyboardModifier.NoModifier,
    )
    table.mouseMoveEvent(move)
    assert table.caliper_mm == pytest.approx(10, abs=2 / table.pixels_per_mm)


def test_holding_b_shows_the_untouched_picture(with_disc):
    window = with_disc
    visit(window, "edge")

    def shown(tag):
        return any(item.isVisible() for item in window.table.drawing().items() if item.data(0) == tag)

    QTest.keyPress(window, Qt.Key.Key_B)
    assert shown("before")
    assert not shown("after")
    QTest.keyRelease(window, Qt.Key.Key_B)
    assert shown("after")
    assert not shown("before")


def test_units_and_theme_are_remembered(window, make_window):
    QTest.keyClick(window, Qt.Key.Key_U, Qt.KeyboardModifier.ControlModifier)
    QTest.keyClick(window, Qt.Key.Key_T, Qt.KeyboardModifier.ControlModifier)
    visit(window, "sheet")
    assert window.stations["sheet"].panel.gap.text() == "0.1 in"
    again = make_window()
    again.go_to("art")
    assert (again.prefs.unit, again.prefs.theme) == ("in", "dark")
    assert QColor(again.table.grab().toImage().pixel(400, 300)).name().upper() == DARK.table
    assert again.menu.units.text() == "in"


def test_a_job_is_saved_opened_and_asked_about(with_disc, settle, make_window, tmp_path, monkeypatch):
    window = with_disc
    place = tmp_path / "my job"
    monkeypatch.setattr(QFileDialog, "getSaveFileName", lambda *_a: (str(place), ""))
    assert window.windowTitle().startswith("*")
    QTest.keyClick(window, Qt.Key.Key_S, Qt.KeyboardModifier.ControlModifier)
    saved = place.with_name("my job.hedge")
    assert saved.exists()
    assert window.windowTitle() == "my job – Honest Edge"
    other = make_window()
    drop(other, [saved])
    settle(other)
    assert other.document.job == window.document.job
    type_into(sizes(other).cut[0], "30 mm")
    asked = []
    monkeypatch.setattr(
        JobFiles, "ask_to_save", staticmethod(lambda *_a: asked.append(1) or QMessageBox.StandardButton.Cancel)
    )
    assert not other.close()
    assert asked
    assert other.isVisible()


def test_a_job_that_cannot_be_opened_leaves_the_present_one(with_disc, tmp_path):
    window = with_disc
    before = window.document.job
    window.document.undo_stack.setClean()
    (tmp_path / "bad.hedge").write_bytes(b"PK\x03\x04 nothing")
    drop(window, [tmp_path / "bad.hedge"])
    assert "no whole Honest Edge project" in window.bar.message.text()
    assert window.document.job is before


def test_files_are_written_and_replaced_only_when_asked(with_some_of_the_demo, settle, tmp_path, monkeypatch):
    window, out = with_some_of_the_demo("Lavender", "Tin wrap"), tmp_path / "out"
    out.mkdir()
    window.document.out_folder = out
    visit(window, "files")
    click(window.stations["files"].panel.write)
    settle(window)
    names = sorted(path.name for path in out.iterdir())
    sheets = len(window.workspace.overview.plan.pages)
    cuts = [f"cut-{n}.{kind}" for n in range(1, sheets + 1) for kind in ("dxf", "svg")]
    assert names == [*cuts, "print.pdf", "report.json", "ticket.pdf"]
    assert f"{len(names)} files are in" in window.bar.message.text()
    # two designs, of which one is a label for each of three rows
    assert len(json.loads((out / "report.json").read_text())["designs"]) == 4
    (out / "print.pdf").write_bytes(b"mine")
    asked = []
    monkeypatch.setattr(write_files, "ask_to_replace", lambda _p, _f, taken, _stale: asked.append(taken) or False)
    click(window.stations["files"].panel.write)
    settle(window)
    assert "print.pdf" in asked[0]
    assert (out / "print.pdf").read_bytes() == b"mine"


def test_sheets_that_are_needed_no_longer_are_taken_away_if_agreed(with_disc, settle, tmp_path, monkeypatch):
    window, out, questions = with_disc, tmp_path / "out", []
    window.document.out_folder = out
    monkeypatch.setattr(
        QMessageBox, "question", lambda *a, **_k: questions.append(a[2]) or QMessageBox.StandardButton.Yes
    )
    (design,) = window.document.job.designs
    for copies in (100, 3):
        window.document.edit(window.document.job.with_design(replace(design, copies=copies)), "copies")
        settle(window)
        visit(window, "files")
        click(window.stations["files"].panel.write)
        settle(window)
    assert "Taken away, as no part of it any more: cut-2.svg, cut-2.dxf" in questions[0]
    assert sorted(path.name for path in out.iterdir()) == sorted(
        ["cut-1.svg", "cut-1.dxf", "print.pdf", "report.json", "ticket.pdf"]
    )


def test_a_full_disk_is_said_calmly_and_nothing_is_lost(with_disc, settle, tmp_path, monkeypatch):
    window, out = with_disc, tmp_path / "out"

    def full(_handle):
        raise OSError(28, "No space left on device")

    monkeypatch.setattr(atomic_write.os, "fsync", full)
    window.document.out_folder = out
    visit(window, "files")
    click(window.stations["files"].panel.write)
    settle(window)
    assert "disk is full" in window.bar.message.text()
    assert not list(out.iterdir())
    monkeypatch.setattr(QFileDialog, "getSaveFileName", lambda *_a: (str(tmp_path / "job.hedge"), ""))
    assert not window.jobs.save()
    assert not window.document.is_saved


def test_bad_art_is_said_in_one_calm_line(window, settle, tmp_path):
    for name, code, words in kinds_of_bad_art(tmp_path):
        drop(window, [tmp_path / name])
        settle(window)
        words = "holds no picture" if name == "folder.png" else words
        if code == 2:  # the file itself: it never becomes a design
            said = window.bar.message.text()
            assert not window.document.job.designs, name
        else:  # the art: the design stays, so that it can be mended
            said = window.stations["art"].panel.under.text()
            assert window.path_bar.buttons["outline"].state == "blocked", name
            window.document.undo_stack.undo()
        assert words in said, name
        assert "\n" not in said, name


def test_a_design_too_large_blocks_the_sheet_and_nothing_else(with_disc, settle):
    window = with_disc
    type_into(sizes(window).cut[0], "40 cm")
    settle(window)
    assert window.path_bar.buttons["sheet"].state == "blocked"
    assert window.path_bar.buttons["edge"].state == "done"
    visit(window, "sheet")
    assert "make it smaller" in window.stations["sheet"].panel.warnings.words
    visit(window, "files")
    assert not window.stations["files"].panel.write.isEnabled()


def test_copies_stay_within_their_range(with_disc, settle):
    count = with_disc.stations["art"].panel.copies.count
    assert (count.minimum(), count.maximum()) == (0, 10_000)
    count.setFocus()
    count.selectAll()
    QTest.keyClicks(count, "10000")
    QTest.keyClick(count, Qt.Key.Key_Return)
    assert with_disc.document.job.designs[0].copies <= 10_000
    count.selectAll()
    QTest.keyClicks(count, "0")
    QTest.keyClick(count, Qt.Key.Key_Return)
    settle(with_disc)
    assert with_disc.document.job.designs[0].copies == 0  # it may lie on a sheet of stickers only
    assert "No copies are wanted" in with_disc.path_bar.buttons["sheet"].toolTip()


def test_marks_that_cannot_be_printed_are_refused_in_words(with_disc, settle):
    window = with_disc
    visit(window, "sheet")
    type_into(window.stations["sheet"].panel.marks.inset, "1 mm")
    settle(window)
    assert "printer cannot print" in window.stations["sheet"].panel.warnings.words
    type_into(window.stations["sheet"].panel.marks.inset, "14 mm")
    settle(window)
    assert "1 sheet" in window.stations["sheet"].panel.answer.text()
    type_into(window.stations["sheet"].panel.marks.length, "2 m")
    assert "mark length must be" in window.bar.message.text()


def test_an_edit_while_older_work_runs_shows_the_newest(with_disc, settle):
    window = with_disc
    visit(window, "edge")
    for offset in ("3 mm", "1 mm", "4 mm", "2.5 mm"):
        type_into(window.stations["edge"].panel.offset, offset)
    settle(window)
    left, _, right, _ = window.workspace.result.cut.area.bounds
    assert right - left == pytest.approx(2 * (RADIUS_MM + 2.5), abs=0.05)


def test_long_names_are_shortened_in_the_middle(with_disc):
    window = with_disc
    long_name = "A very long name of a design that never ends " * 3
    type_into(window.stations["art"].panel.name, long_name)
    assert window.document.job.designs[0].name == long_name.strip()
    window.top_bar.title.set_full_text(long_name)
    assert "…" in window.top_bar.title.text()
    assert window.top_bar.title.toolTip() == long_name


def test_docs_show_every_view(root: Path):
    shots = {path.name for path in (root / "docs" / "screenshots").iterdir()}
    assert {f"{place}.png" for place in (*STATIONS, *(room.key for room in ROOMS))} <= shots
    assert len(shots) < 20
