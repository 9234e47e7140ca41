"""The demo job, whole, at every station.

In one file, so that what it takes seconds to compute is computed once.
"""

from dataclasses import replace

import pytest
from PIL import Image
from PyQt6.QtCore import Qt
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QApplication, QComboBox, QLabel, QLineEdit, QSpinBox

from hands import click, type_into, visit
from honest_edge.app.edits.open_art import demo_project
from honest_edge.files.runs.journal import runs_folder
from honest_edge.ui.shell import take_pictures as walk
from honest_edge.ui.stations.registry import STATIONS as ENTRIES
from leader import Clock, Leader
from memory import let_go

pytestmark = pytest.mark.slow


STATIONS = tuple(entry.key for entry in ENTRIES)


def test_the_demo_fills_tray_and_stations(with_demo):
    window = with_demo
    assert window.tray.shelf.count() == 10
    assert all(not window.tray.shelf.item(row).icon().isNull() for row in range(10))
    states = {station: window.path_bar.buttons[station].state for station in STATIONS}
    assert states == {
        "art": "look",
        "outline": "look",
        "edge": "look",
        "sheet": "done",
        "proof": "look",
        "files": "done",
    }
    assert "Bee: 222 ppi" in window.path_bar.buttons["art"].toolTip()
    for station in STATIONS:
        visit(window, station)
        assert window.stations[station].panel.answer.text() not in ("", "–")
        assert window.table.drawing().items()


def test_proof_finds_what_the_demo_shows_and_nothing_else(with_demo):
    found = with_demo.workspace.overview.findings
    assert {(f.severity, f.check) for f in found} == {
        ("look", "ppi"),
        ("look", "leaks"),
        ("look", "drift"),
        ("note", "shrunk"),
    }
    assert len(found) == 4


def test_sheets_are_leafed_through(with_demo):
    window = with_demo
    visit(window, "sheet")
    panel = window.stations["sheet"].panel
    sheets = len(window.workspace.overview.plan.pages)
    assert sheets > 1
    for number in range(1, sheets + 1):
        assert panel.page_words.text().startswith(f"Sheet {number} of {sheets}")
        assert panel.after.isEnabled() == (number < sheets)
        click(panel.after)
    panel.paper.setCurrentIndex(panel.paper.findData("a4"))
    panel.paper.activated.emit(panel.paper.currentIndex())
    assert window.document.job.sheet.paper == "a4"


def test_outline_settings_reach_the_result(with_demo, settle):
    window = with_demo
    window.take(next(d.key for d in window.document.job.designs if d.name == "Teapot"))
    visit(window, "outline")
    assert window.workspace.result.outline.hole_count == 1
    panel = window.stations["outline"].panel
    type_into(panel.hole, "")
    settle(window)
    assert window.workspace.result.outline.hole_count == 0
    panel.nodes.click()
    assert any(type(item).__name__ == "NodesItem" for item in window.table.drawing().items())
    type_into(panel.tolerance.field, "loose")
    assert "is no number" in window.bar.message.text()
    type_into(panel.speck, "-3")
    assert "smallest part must be" in window.bar.message.text()


def test_a_design_is_removed_and_brought_back(with_demo):
    window = with_demo
    window.tray.shelf.setFocus()
    QTest.keyClick(window.tray.shelf, Qt.Key.Key_Delete)
    assert window.tray.shelf.count() == 9
    click(window.bar._actions[0])
    assert window.tray.shelf.count() == 10


@pytest.mark.parametrize("size", [(1024, 640), (1280, 800), (1920, 1080)])
def test_nothing_sticks_out_of_the_window(with_demo, size):
    window = with_demo
    window.resize(*size)
    QApplication.processEvents()
    assert window.width() == size[0]
    for station in STATIONS:
        visit(window, station)
        button = window.path_bar.buttons[station]
        corner = button.mapTo(window, button.rect().bottomRight())
        assert corner.x() < window.width()
        panel = window.stations[station].panel
        assert panel.widget().minimumSizeHint().width() <= panel.viewport().width() + 1, station
    visit(window, "art")
    for design in window.document.job.designs:
        window.take(design.key)
        for layer in design.layers:  # each kind of layer has fields of its own
            window.stations["art"].layers.take((layer.key,))
            panel = window.stations["art"].panel
            QApplication.processEvents()
            assert panel.widget().minimumSizeHint().width() <= panel.viewport().width() + 1, layer.title


def test_every_control_has_a_name_for_screen_readers(with_demo):
    for panel in (*(with_demo.stations[key].panel for key in STATIONS), with_demo.stations["art"].picture):
        for kind in (QLineEdit, QComboBox, QSpinBox):
            for control in panel.findChildren(kind):
                if control.objectName() != "qt_spinbox_lineedit":
                    assert control.accessibleName(), f"{panel.question.text()}: {control}"


def test_writing_can_be_cancelled(with_demo, settle, tmp_path, monkeypatch):
    window, out = with_demo, tmp_path / "out"
    window.document.out_folder = out
    visit(window, "files")
    click(window.stations["files"].panel.write)
    click(window.stations["files"].panel.cancel)
    settle(window)
    assert "cancelled" in window.bar.message.text()
    assert not out.exists()


@pytest.mark.long
def test_pictures_of_every_view_are_taken(window, tmp_path, monkeypatch):
    grab = walk._grab

    def grab_and_let_go(*shown):
        grab(*shown)
        let_go()  # a user looks at one view for longer

    def small_demo():
        """One of each: what the views show is the same, and laid out in a moment."""
        demo = demo_project()
        alone = tuple(replace(one, copies=min(one.copies, 1), spares=0) for one in demo.job.designs)
        return replace(demo, job=replace(demo.job, designs=alone, layout=(), pins=(), prints=()))

    monkeypatch.setattr(walk, "demo_project", small_demo)
    monkeypatch.setattr(walk, "_grab", grab_and_let_go)
    assert walk.take_pictures(window, tmp_path / "pictures", "dark", "mm") == 0
    taken = sorted((tmp_path / "pictures").iterdir())
    views = ("art", "bench", "book", "edge-border", "edge", "edge-schools", "files", "outline", "proof", "rehearsal")
    sheets = ("run", "run-schedule", "sheet", "sheet-blade")
    book = ("book-blades", "book-library", "book-shelf", "book-stock", "book-test-cuts")
    layers = ("layers-card", "layers-sheet", "layers-tag", "layers-wrap")
    around = ("start", "practice", "handbook")
    assert {p.name for p in taken} == {f"{name}-dark.png" for name in (*views, *sheets, *book, *layers, *around)}
    for path in taken:
        with Image.open(path) as picture:
            assert picture.size == ((880, 660) if path.name.startswith("handbook") else (1280, 800))
            least = 100 if path.name.startswith(("bench-", "book-")) else 500  # lists and charts have no pictures
            assert len(picture.convert("RGB").getcolors(1 << 24)) > least


@pytest.mark.long
def test_the_demo_is_run_on_the_practice_bench_alone(with_demo, settle):
    leader = Leader(with_demo, settle, Clock())
    leader.visit()
    assert leader.room.before.practice.isChecked()
    assert not leader.room.before.practice.isEnabled()
    leader.begin(practice=True)
    leader.until("set")
    told = [made.text() for made in leader.view.figures.findChildren(QLabel)]
    assert told[:2] == ["kiss", "force 44"]  # of the made-up Book's ladders on this paper
    assert told[2:] == ["crease", "not known", "through", "not known"]
    leader.until("inspect")
    leader.press("Look as the practice bench would")
    leader.space()
    assert leader.state.sheet(1).bad is not None
    notes = with_demo.desk()().look_up(lambda book: book.events("inspected"), "", 1_790_000_000_000)
    assert notes.is_made_up
    assert notes.rows
    assert not runs_folder().parent.joinpath("book.sqlite").exists()
