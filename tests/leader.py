"""What a user's hands do in a run, on the real window."""

from dataclasses import replace

from PyQt6.QtCore import Qt
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QLineEdit

from hands import click, type_into
from honest_edge.core.values.run_events import Moment

START_MS = 1_790_000_000_000


class Clock:
    """A clock that stands still until it is told to go on."""

    def __init__(self):
        self.seconds, self.boot, self.shift_s = 0.0, "one", 0.0

    def __call__(self):
        wall_ms = START_MS + round(1000 * (self.seconds + self.shift_s))
        return Moment(wall_ms=wall_ms, up_ms=round(1000 * self.seconds), boot=self.boot)


class Leader:
    """Leads a run in a window, step by step."""

    def __init__(self, window, settle, clock):
        self.window, self._settle, self.clock = window, settle, clock

    def settle(self):
        self._settle(self.window)

    @property
    def room(self):
        return self.window.workshop["run"]

    @property
    def keeper(self):
        return self.room.keeper

    @property
    def view(self):
        return self.room.view

    @property
    def step(self):
        return self.keeper.step()

    @property
    def state(self):
        return self.keeper.conductor.state

    @property
    def said(self):
        return self.window.bar.message.text()

    def visit(self):
        click(self.window.path_bar.buttons["run"])
        self.settle()

    def begin(self, *, practice=False, carriers=None, dry_min=20, laminated=False):
        if "run" not in self.window.workshop._made or not self.room.before.isVisible():
            self.visit()
        before = self.room.before
        before.practice.setChecked(practice)
        before.laminated.setChecked(laminated)
        if carriers is not None:
            before.carriers.setValue(carriers)
        before.drying.setValue(dry_min)
        click(before.begin)
        self.settle()
        if self.keeper.conductor is not None:
            assert self.view.primary.hasFocus() or not self.view.primary.isEnabled(), "the next press goes on"

    def space(self):
        QTest.keyClick(self.view, Qt.Key.Key_Space)
        self.settle()

    def escape(self):
        QTest.keyClick(self.view, Qt.Key.Key_Escape)
        self.settle()

    def press(self, words):
        """Press the way that begins so."""
        ways = [way for way in (self.view.primary, *self.view.ways) if way.isVisible() and way.text().startswith(words)]
        assert ways, [way.text() for way in self.view.ways if way.isVisible()]
        click(ways[0])
        self.settle()

    def ruler(self, *readings):
        fields = self.view.asking.findChildren(QLineEdit)
        for field, reading in zip(fields, readings, strict=False):
            if reading is not None:
                type_into(field, reading)
        self.settle()

    def go_on(self):
        """Do the step in hand as it is meant to be done."""
        step = self.step
        self.clock.seconds += 20
        if step.key == "measure":
            self.ruler("191.9", "255.4", "50")
        elif step.key in ("dry", "cutting"):
            self.clock.seconds += step.wait_s
            self.room.tick()
            if self.step.key != step.key:
                return
        elif step.key == "proof" and not self.keeper.is_practice and not self.state.sheet(step.sheet).proof:
            self.space()  # which writes the file
        elif step.key == "inspect" and self.keeper.shop is not None:
            self.press("Look as the practice bench would")
        if step.key == "measure" and self.keeper.shop is not None:
            self.press("Read the practice ruler")
            assert self.view.primary.hasFocus(), "the next press goes on"
        if (self.keeper.is_practice and step.key == "dry") or step.key != "dry":
            self.space()

    def until(self, *keys, sheet=None):
        """Go on to a step."""
        for _ in range(400):
            if self.step.key in keys and sheet in (None, self.step.sheet):
                return
            self.go_on()
        raise AssertionError(f"{keys} is never reached: {self.step}")

    def with_copies(self, copies):
        document = self.window.document
        design = replace(document.job.designs[0], copies=copies, fills=False)
        document.edit(document.job.with_design(design), "copies")
        self.settle()
