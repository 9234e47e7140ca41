"""Asks what came out of the cutter, to be kept in the Book."""

from __future__ import annotations

from dataclasses import dataclass

from PyQt6.QtWidgets import QDialog, QLineEdit, QVBoxLayout, QWidget

from honest_edge.core.values.log_event import MOST_TEXT
from honest_edge.ui.widgets.fields import Count, Form, button, label, row

_MOST = 100_000


@dataclass(frozen=True, slots=True, kw_only=True)
class Outcome:
    """What came out: sheets used, pieces good and bad, and why."""

    sheets: int
    good: int
    bad: int
    reason: str


class CutDialog(QDialog):
    """Begins with everything good; what was bad is taken from it."""

    def __init__(self, parent: QWidget | None, *, title: str, sheets: int, copies: int) -> None:
        super().__init__(parent)
        self.setWindowTitle("I cut this")
        self._copies = copies
        column = QVBoxLayout(self)
        column.setContentsMargins(18, 16, 18, 16)
        column.setSpacing(12)
        column.addWidget(label(f"What came out of “{title}”?", "heading"))
        form = Form(control_px=220)
        self.sheets, self.good, self.bad = (
            Count("Sheets used", 0, 10_000),
            Count("Good pieces", 0, _MOST),
            Count("Bad pieces", 0, _MOST),
        )
        self.reason = QLineEdit()
        self.reason.setMaxLength(MOST_TEXT)
        self.reason.setPlaceholderText("fed askew, torn …")
        for name, control in (
            ("Sheets used", self.sheets),
            ("Good pieces", self.good),
            ("Bad pieces", self.bad),
            ("Why some were bad", self.reason),
        ):
            form.add(name, control)
        column.addWidget(form)
        self.sheets.setValue(sheets)
        self.good.setValue(copies)
        self.bad.committed.connect(self._take_from_good)
        self.keep = button("Keep in the Book", self.accept, filled=True)
        self.keep.setDefault(True)
        for control in (self.good, self.bad):
            control.committed.connect(lambda _count: self.keep.setEnabled(self.good.value() + self.bad.value() > 0))
        column.addLayout(row(button("Cancel", self.reject), self.keep))
        self.bad.setFocus()
        self.bad.selectAll()

    def _take_from_good(self, bad: int) -> None:
        if bad <= self._copies:
            self.good.setValue(self._copies - bad)

    def outcome(self) -> Outcome:
        """Return what was typed."""
        return Outcome(
            sheets=self.sheets.value(), good=self.good.value(), bad=self.bad.value(), reason=self.reason.text().strip()
        )


def ask_outcome(parent: QWidget | None, *, title: str, sheets: int, copies: int) -> Outcome | None:
    """Ask; None where nothing is to be kept."""
    dialog = CutDialog(parent, title=title, sheets=sheets, copies=copies)
    return dialog.outcome() if dialog.exec() else None
