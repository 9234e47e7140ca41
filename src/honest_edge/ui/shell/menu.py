"""The window's menu, its keys, and the tools at the right of the bar."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass
from functools import partial

from PyQt6.QtGui import QAction, QKeySequence, QUndoStack
from PyQt6.QtWidgets import QHBoxLayout, QMenu, QToolButton, QWidget

from honest_edge.core.values.forms import PRESETS
from honest_edge.ui.shell.art_intake import ArtIntake
from honest_edge.ui.shell.job_files import JobFiles
from honest_edge.ui.shell.station_shelf import Entry
from honest_edge.ui.table.light_table import LightTable


@dataclass(frozen=True, slots=True, kw_only=True)
class Choices:
    """What of the user's choices has a key of its own."""

    swap_unit: Callable[[], object]
    swap_theme: Callable[[], object]
    preferences: Callable[[], object]
    start_page: Callable[[], object]
    help: Callable[[], object]
    find: Callable[[], object]
    do_usual: Callable[[], object]
    guidance: Callable[[], object]
    remove_design: Callable[[], object]
    duplicate: Callable[[], object]
    replace_picture: Callable[[], object]
    rename: Callable[[], object]
    fill: Callable[[], object]
    make_line: Callable[[], object]
    quit: Callable[[], object]


class WindowMenu:
    """Every action of the window with its key; menus that are shut hear keys too."""

    def __init__(self, owner: QWidget, tools: QHBoxLayout) -> None:
        self._owner, self._tools = owner, tools
        self.menu = QMenu(owner)
        self.making = QMenu("Make a design", self.menu)

    def build(
        self,
        jobs: JobFiles,
        intake: ArtIntake,
        table: LightTable,
        choices: Choices,
        of_stations: Sequence[Entry],
    ) -> None:
        """Add everything in the order in which it is shown."""
        self._group(
            "Job",
            ("New job", "Ctrl+N", jobs.new),
            ("Open job…", "Ctrl+O", jobs.open),
            ("Open the demo job", "", jobs.open_demo),
            ("Start page", "Alt+Home", choices.start_page),
            ("Save", "Ctrl+S", jobs.save),
            ("Save as…", "Ctrl+Shift+S", jobs.save_as),
        )
        self._group(
            "Art",
            ("Add art…", "Ctrl+I", intake.choose),
            ("Paste a picture", "Ctrl+V", intake.paste),
            ("From the library, or into it", "Ctrl+L", intake.visit_library),
        )
        self._action(self.making, "Words", "Ctrl+Shift+N", intake.start_with_words)
        self.making.addSeparator()
        for preset in PRESETS:
            self._action(self.making, preset.name, "", partial(intake.start_with_form, preset))
        self.menu.addMenu(self.making)
        self._group(
            "This design",
            ("Duplicate", "Ctrl+D", choices.duplicate),
            ("Replace this design’s picture…", "Ctrl+Shift+I", choices.replace_picture),
            ("Rename this design…", "F2", choices.rename),
            ("Fill the sheet with this design", "", choices.fill),
            ("Remove this design", "", choices.remove_design),
        )
        self._group(
            "Make it",
            ("Make it in one line", "Ctrl+M", choices.make_line),
            ("Do the usual here", "Ctrl+Return", choices.do_usual),
            *of_stations,
        )
        self._build_view(table, choices)
        self.menu.addSeparator()
        self._add(
            ("Find anything, and all keys…", "Ctrl+/", choices.find),
            ("Handbook", "F1", choices.help),
            ("Preferences…", "Ctrl+,", choices.preferences),
            ("Quit", "Ctrl+Q", choices.quit),
        )

    def _build_view(self, table: LightTable, choices: Choices) -> None:
        view = self._group(
            "View",
            ("Show all of the table", "Ctrl+0", table.show_all),
            ("Closer", "Ctrl++", lambda: table.zoom_by(1.25)),
            ("Farther", "Ctrl+-", lambda: table.zoom_by(0.8)),
            ("Light or dark", "Ctrl+T", choices.swap_theme),
            ("Guidance on the path, or none", "", choices.guidance),
        )
        self.caliper = self._action(view, "Caliper: drag to measure", "M", lambda: None)
        self.caliper.setCheckable(True)
        self.caliper.toggled.connect(table.set_caliper)

    def build_tools(self, undo_stack: QUndoStack, unit: str, choices: Choices) -> None:
        """Put undo, redo, the unit and the menu itself into the bar."""
        undo = undo_stack.createUndoAction(self._owner, "Undo")
        redo = undo_stack.createRedoAction(self._owner, "Redo")
        for action, key in ((undo, QKeySequence.StandardKey.Undo), (redo, QKeySequence.StandardKey.Redo)):
            if action is not None:
                keys = [sequence.toString() for sequence in QKeySequence.keyBindings(key)]
                more = ["Ctrl+Y"] if action is redo else []  # which not every desktop has
                action.setShortcuts([QKeySequence(name) for name in dict.fromkeys([*keys, *more])])
                self._owner.addAction(action)
                self._keep_short(self._tool(action), action, action.text().split(" ")[0])
        self.units = QAction(unit, self._owner)
        self.units.setToolTip("Millimetres or inches (Ctrl+U)")
        self.units.setShortcut("Ctrl+U")
        self.units.triggered.connect(lambda _checked: choices.swap_unit())
        self._owner.addAction(self.units)
        self._tool(self.units)
        opener = QToolButton()
        opener.setText("Menu")
        opener.setMenu(self.menu)
        opener.setPopupMode(QToolButton.ToolButtonPopupMode.InstantPopup)
        opener.setToolTip("Everything else (F10)")
        opener.setShortcut("F10")
        self._tools.addWidget(opener)

    def _group(self, title: str, *entries: Entry) -> QMenu:
        """Add entries under one title, and return their menu."""
        group = QMenu(title, self.menu)
        for name, key, act in entries:
            self._action(group, name, key, act)
        self.menu.addMenu(group)
        return group

    def _add(self, *entries: Entry) -> None:
        for name, key, act in entries:
            self._action(self.menu, name, key, act)

    def _action(self, menu: QMenu, name: str, key: str, act: Callable[[], object]) -> QAction:
        action = QAction(name, self._owner)
        if key:
            action.setShortcut(key)
        action.triggered.connect(lambda _checked: act())
        menu.addAction(action)
        self._owner.addAction(action)
        return action

    def _tool(self, action: QAction) -> QToolButton:
        button = QToolButton()
        button.setDefaultAction(action)
        self._tools.addWidget(button)
        return button

    @staticmethod
    def _keep_short(made: QToolButton, action: QAction, name: str) -> None:
        """The stack writes the step into the action's text; the button keeps its place and size."""

        def show() -> None:
            made.setText(name)
            made.setToolTip(f"{action.text()} ({action.shortcut().toString()})")

        show()
        action.changed.connect(show)
