"""Preferences: the choices of this user that belong to no job."""

from __future__ import annotations

from dataclasses import replace
from functools import partial

from PyQt6.QtCore import pyqtSignal
from PyQt6.QtWidgets import QDialog, QFileDialog, QVBoxLayout, QWidget

from honest_edge.core.values.papers import PAPER_TITLE
from honest_edge.files.prefs import Prefs
from honest_edge.ui.widgets.fields import Choice, ElidedLabel, Form, button, label, row
from honest_edge.ui.widgets.theme import px

_THEMES = (
    ("system", "as the system has it"),
    ("light", "light"),
    ("dark", "dark"),
    ("light-high", "light, high contrast"),
    ("dark-high", "dark, high contrast"),
)
_UNITS = (("mm", "millimetres"), ("in", "inches"))
_INCHES = (("fraction", "fractions, 1/16 in"), ("decimal", "decimals, 0.06 in"))
_PAPERS = tuple((paper, title) for paper, title in PAPER_TITLE.items() if paper != "own")
_FIRST_DROPS = (("line", "in one line above the sheet"), ("stations", "step by step, from Art on"))
_GUIDES = (("on", "say what most people do"), ("off", "no guidance"))
_FOLDERS = (
    ("folder", "Jobs", "asked for when it is needed"),
    ("out_folder", "Written files", "beside the art of each job"),
)
_WIDTH_PX = 440


class PreferencesDialog(QDialog):
    """Each choice holds at once; there is nothing to confirm."""

    changed = pyqtSignal(object)
    """All choices, as they are now."""

    def __init__(self, prefs: Prefs, parent: QWidget) -> None:
        super().__init__(parent)
        self.setWindowTitle("Preferences")
        self.setFixedWidth(px(_WIDTH_PX))
        self.prefs = prefs
        column = QVBoxLayout(self)
        column.setContentsMargins(20, 18, 20, 16)
        column.setSpacing(12)
        form = Form(control_px=200)
        self.theme = self._choice("Colours", _THEMES, "theme")
        self.unit = self._choice("Lengths", _UNITS, "unit")
        self.inches = self._choice("Inches as", _INCHES, "inches")
        self.paper = self._choice("Paper of a new job", _PAPERS, "paper")
        self.guide = self._choice("On the path", _GUIDES, "guide")
        form.add("Colours", self.theme, "The system’s own choice, of contrast too, is followed while it changes.")
        form.add("Lengths", self.unit, "Any unit can be typed whatever is shown (Ctrl+U)")
        form.add("Inches as", self.inches, "What is no exact fraction is shown with decimals.")
        form.add("Paper of a new job", self.paper)
        self.first_drop = self._choice("First art of a job", _FIRST_DROPS, "first_drop")
        form.add(
            "First art of a job", self.first_drop, "What is dropped first can be made in one line, or step by step"
        )
        form.add("On the path", self.guide, "A line at each station, with a button that does the usual")
        column.addWidget(form)
        self.folders: dict[str, ElidedLabel] = {}
        for field, name, _ in _FOLDERS:
            column.addWidget(label(f"{name}, folder", "heading"))
            shown = ElidedLabel()
            shown.setAccessibleName(f"{name}, folder")
            self.folders[field] = shown
            choose = button("Choose…", partial(self._choose_folder, field, name))
            choose.setAccessibleName(f"Choose the folder: {name.lower()}")
            choose.setFixedWidth(px(90))
            column.addLayout(row(shown, choose))
        column.addStretch(1)
        close = button("Close", self.accept)
        close.setFixedWidth(px(90))
        column.addLayout(row(label(""), close))
        self._show()

    def _choice(self, name: str, options: tuple[tuple[str, str], ...], field: str) -> Choice:
        choice = Choice(name, options)
        choice.chosen.connect(lambda value: self._set(**{field: value}))
        return choice

    def _choose_folder(self, field: str, name: str) -> None:
        folder = QFileDialog.getExistingDirectory(self, name, getattr(self.prefs, field))
        if folder:
            self._set(**{field: folder})

    def _set(self, **changes: str) -> None:
        self.prefs = replace(self.prefs, **changes)  # type: ignore[arg-type]  # the choices offer no others
        self._show()
        self.changed.emit(self.prefs)

    def _show(self) -> None:
        self.theme.show_value(self.prefs.theme)
        self.unit.show_value(self.prefs.unit)
        self.inches.show_value(self.prefs.inches)
        self.paper.show_value(self.prefs.paper)
        self.first_drop.show_value(self.prefs.first_drop)
        self.guide.show_value(self.prefs.guide)
        for field, _, otherwise in _FOLDERS:
            self.folders[field].set_full_text(getattr(self.prefs, field) or otherwise)
