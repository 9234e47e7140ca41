"""A random walk through the real widgets: nothing breaks, nothing is stuck, undo leads back exactly to the start.

Seeded. HONEST_EDGE_WALK=3000 walks farther, HONEST_EDGE_WALK_SEED another way. A watchdog measures how long
the window's thread computes at a stretch, in its own processor time, so that other work of the machine does not count.
"""

import os
import random
import re
from dataclasses import replace
from pathlib import Path

import pytest
from PyQt6.QtCore import QCoreApplication, Qt
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import (
    QAbstractButton,
    QCheckBox,
    QComboBox,
    QDialog,
    QFileDialog,
    QLineEdit,
    QMessageBox,
    QPlainTextEdit,
    QSlider,
    QSpinBox,
    QToolButton,
)

from honest_edge.app.results.pipeline import Pipeline
from honest_edge.core.values.forms import PRESETS
from honest_edge.ui.widgets import dialogs
from pictures import coverage, disc_png, png, rgba, star
from watchdog import HELD_S, Watchdog

pytestmark = pytest.mark.slow


SHORT, LONG = 150, int(os.environ.get("HONEST_EDGE_WALK", "2000"))
SEED = int(os.environ.get("HONEST_EDGE_WALK_SEED", "4"))
MOST_GROWN = 1.5
"""Results are kept up to a bound, and every station is made once; more would be a leak."""

TYPED = ("0", "1", "2.5 mm", "12", "1/8 in", "40 mm", "-3", "many", "", "7")
LEFT_ALONE = ("Print…", "Write", "Edit…", "Wait")  # dialogs of the system, and what takes as long as one likes


class Walk:
    """Acts on whatever of the window can be acted on."""

    def __init__(self, window, chance, settle, art):
        self.window, self.chance, self._settle, self.art = window, chance, settle, art
        self.watchdog = Watchdog()

    def step(self):
        act = self.chance.choices(
            (self.use_a_control, self.go, self.take, self.click_table, self.key, self.undo, self.visit, self.drop),
            (20, 4, 4, 4, 2, 4, 1, 1),
        )[0]
        self.watchdog.begin()
        act()
        self.watchdog.end()
        if self.chance.random() < 0.03:
            self._settle(self.window)
        else:
            QTest.qWait(1)

    def controls(self):
        panel = self.window.here.panel
        kinds = (QAbstractButton, QComboBox, QSpinBox, QLineEdit, QPlainTextEdit, QSlider)
        found = [child for kind in kinds for child in panel.findChildren(kind)]
        opens_a_menu = [child for child in found if isinstance(child, QToolButton) and child.menu() is not None]
        there = [child for child in found if child.isVisibleTo(panel) and child.isEnabled()]
        return [child for child in there if child not in opens_a_menu]

    def use_a_control(self):
        there = self.controls()
        if not there:  # nothing can be done there before there is a layout
            return
        control = self.chance.choice(there)
        words = control.text() if isinstance(control, QAbstractButton) else control.accessibleName()
        if words.startswith(LEFT_ALONE):
            return
        self.doing(f"{type(control).__name__} “{words}”")
        if isinstance(control, QAbstractButton):
            if not (isinstance(control, QCheckBox) and self.chance.random() < 0.3):
                control.click()
        elif isinstance(control, QComboBox):
            if control.count():
                control.setCurrentIndex(self.chance.randrange(control.count()))
                control.activated.emit(control.currentIndex())
        elif isinstance(control, QSpinBox):
            control.setValue(self.chance.randint(control.minimum(), min(control.maximum(), 30)))
        elif isinstance(control, QSlider):
            control.setValue(self.chance.randint(control.minimum(), control.maximum()))
        elif isinstance(control, QPlainTextEdit):
            control.setPlainText(self.chance.choice(("Mint", "A\nB", "", "{name}", "ä 茶 شاي")))
        else:
            control.setText(self.chance.choice(TYPED))
            control.editingFinished.emit()

    def go(self):
        self.doing("another station")
        self.window.go_to(self.chance.choice(self.window.stations.entries).key)

    def visit(self):
        """A room: none of them touches the job."""
        self.doing("a room")
        self.window.go_to(self.chance.choice(("bench", "book:runs", "book:stock", "book:library", "practice", "run")))

    def drop(self):
        """Art is dropped while other work runs; at most ten designs, so that all is computed within a moment."""
        self.doing("art is dropped")
        if len(self.window.document.job.designs) < 10:
            self.window.take_files([self.chance.choice(self.art)])

    def take(self):
        self.doing("another design")
        designs = self.window.document.job.designs
        if designs:
            self.window.take(self.chance.choice(designs).key)

    def click_table(self):
        self.doing("a click on the table")
        viewport = self.window.table.viewport()
        x, y = self.chance.randrange(viewport.width()), self.chance.randrange(viewport.height())
        QTest.mouseClick(
            viewport, Qt.MouseButton.LeftButton, pos=viewport.rect().topLeft() + type(viewport.pos())(x, y)
        )

    def key(self):
        self.doing("a key")
        keys = (Qt.Key.Key_0, Qt.Key.Key_M, Qt.Key.Key_Escape, Qt.Key.Key_Left, Qt.Key.Key_Right, Qt.Key.Key_G)
        QTest.keyClick(self.window.table, self.chance.choice(keys))

    def undo(self):
        self.doing("undo or redo")
        stack = self.window.document.undo_stack
        (stack.undo if self.chance.random() < 0.6 else stack.redo)()

    def doing(self, words):
        self.watchdog.doing = f"{words} at {self.window.station}"


def resident_bytes_at_rest():
    """How much memory this process has once the window has rested and given some back (proc(5))."""
    QTest.qWait(3000)
    found = re.search(r"VmRSS:\s+(\d+) kB", Path("/proc/self/status").read_text())
    return int(found[1]) * 1000


@pytest.fixture
def shared_pipeline():
    """One that keeps as much as a user's: the memory of a walk is measured."""
    assets = {}
    return assets, Pipeline(assets)


@pytest.fixture
def no_dialogs(monkeypatch):
    """Whatever asks is answered with nothing."""
    for name in ("getOpenFileName", "getSaveFileName"):
        monkeypatch.setattr(QFileDialog, name, lambda *_a: ("", ""))
    monkeypatch.setattr(QFileDialog, "getOpenFileNames", lambda *_a: ([], ""))
    monkeypatch.setattr(QFileDialog, "getExistingDirectory", lambda *_a: "")
    monkeypatch.setattr(QMessageBox, "question", lambda *_a: QMessageBox.StandardButton.Cancel)
    monkeypatch.setattr(QDialog, "exec", lambda _dialog: QDialog.DialogCode.Rejected)
    for name in [name for name in dir(dialogs) if name.startswith("ask_")]:
        monkeypatch.setattr(dialogs, name, lambda *_a, **_k: None)


@pytest.fixture
def with_a_few(window, settle, tmp_path):
    """Two small pictures, words and a tag: every kind of design, and results within a moment."""
    (tmp_path / "disc.png").write_bytes(disc_png())
    (tmp_path / "star.png").write_bytes(png(rgba(coverage(star(95, 40) + 100, 200, 200)), dpi=(150, 150)))
    window.take_files([tmp_path / "disc.png", tmp_path / "star.png"])
    settle(window)
    window.intake.start_with_words()
    window.intake.start_with_form(next(preset for preset in PRESETS if preset.form.kind == "tag"))
    settle(window)
    job = window.document.job
    few = tuple(replace(design, copies=1, fills=False) for design in job.designs)
    window.document.start(replace(job, designs=few, sheet=replace(job.sheet, paper="a5")), {}, None)
    window.intake.get_ready([e.load for e in (*window.stations.entries, *window.workshop.entries)], pictures=1)
    settle(window)
    for place in ("bench", "book", "art"):  # a button at a station leads to a room: each is made once
        window.go_to(place)
        settle(window)
    return window


@pytest.mark.parametrize("actions", [SHORT, pytest.param(LONG, marks=pytest.mark.long)])
def test_a_walk_breaks_nothing_and_undo_leads_back(
    with_a_few, settle, monkeypatch, no_dialogs, capsys, tmp_path, actions
):  # fmt: skip
    window = with_a_few
    faults = []
    monkeypatch.setattr(window, "show_fault", faults.append)
    for task in window._tasks:
        task.faulted.connect(faults.append)
    start, before = window.document.job, resident_bytes_at_rest()
    walk = Walk(window, random.Random(SEED), settle, sorted(tmp_path.glob("*.png")))
    for number in range(actions):
        walk.step()
        assert not faults, f"step {number}, {walk.watchdog.doing}: {faults[0]}"
    settle(window)
    while window.document.undo_stack.canUndo():
        window.document.undo_stack.undo()
    QCoreApplication.processEvents()
    settle(window)
    assert window.document.job == start
    assert set(window.workspace.overview.results) == {design.key for design in start.designs}
    assert window.workspace.is_known
    slow, after = sorted(walk.watchdog.held, reverse=True), resident_bytes_at_rest()
    with capsys.disabled():
        print(f"\n{before / 1e6:.0f} MB before, {after / 1e6:.0f} MB after", end="")
        for spent, doing in slow[:12]:
            print(f"\nheld {1000 * spent:.0f} ms: {doing}", end="")
    assert not slow or slow[0][0] < HELD_S
    assert after <= MOST_GROWN * before
