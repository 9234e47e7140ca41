"""Asks what came out of the cutter, to be kept in the Book."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from PyQt6.QtWidgets import QDialog, QLineEdit, QVBoxLayout, QWidget

from honest_edge.core.values.log_event import MOST_TEXT
from honest_edge.ui.widgets.fields import (
    Form,
    button,
    label,
    row,
)
from honest_edge.ui.widgets.typed import Count, NumberField
from honest_edge.ui.widgets.unwheeled import DropDown

_MOST = 100_000


@dataclass(frozen=True, slots=True, kw_only=True)
class Outcome:
    """What came out: sheets used, pieces good and bad, why; with which blade and setting, in how many minutes."""

    sheets: int
    good: int
    bad: int
    reason: str
    blade: str = ""
    minutes: float | None = None
    setting: str = ""


class CutDialog(QDialog):
    """Begins with everything good; what was bad is taken from it."""

    def __init__(
        self,
        parent: QWidget | None,
        *,
        title: str,
        sheets: int,
        copies: int,
        blades: Sequence[str] = (),
        setting: str = "",
    ) -> None:
        """Take the job's title, what was planned, the names of the blades in use, and the setting that is known."""
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
        self.blade = DropDown()
        self.blade.setAccessibleName("Blade")
        self.blade.setEditable(True)
        self.blade.addItems([*blades, ""])
        self.setting = QLineEdit(setting)
        self.setting.setPlaceholderText("force 84 …")
        self.minutes = NumberField("Minutes of your hands", allow_empty=True)
        self.minutes.setPlaceholderText("not known")
        self.minutes.committed.connect(self.minutes.show_number)
        for name, control in (
            ("Sheets used", self.sheets),
            ("Good pieces", self.good),
            ("Bad pieces", self.bad),
            ("Why some were bad", self.reason),
            ("Blade", self.blade),
            ("The machine was set to", self.setting),
            ("Minutes of your hands", self.minutes),
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
            sheets=self.sheets.value(),
            good=self.good.value(),
            bad=self.bad.value(),
            reason=self.reason.text().strip(),
            blade=self.blade.currentText().strip(),
            minutes=self.minutes.number,
            setting=self.setting.text().strip(),
        )


def ask_outcome(
    parent: QWidget | None, *, title: str, sheets: int, copies: int, blades: Sequence[str] = (), setting: str = ""
) -> Outcome | None:
    """Ask; None where nothing is to be kept."""
    dialog = CutDialog(parent, title=title, sheets=sheets, copies=copies, blades=blades, setting=setting)
    return dialog.outcome() if dialog.exec() else None
