"""Making a target: how it is read, how many places, where its files go."""

from __future__ import annotations

import secrets
from dataclasses import replace
from pathlib import Path
from typing import TYPE_CHECKING

from PyQt6.QtWidgets import QDialog, QFileDialog, QVBoxLayout

from honest_edge.core.values.measured import ErrorParts
from honest_edge.core.values.papers import PAPER_TITLE
from honest_edge.core.values.sheet import SheetSpec
from honest_edge.ui.shared.asker import Teller
from honest_edge.ui.shared.host import Host
from honest_edge.ui.widgets.fields import (
    Choice,
    Form,
    button,
    label,
    row,
)
from honest_edge.ui.widgets.theme import px
from honest_edge.ui.widgets.typed import Count

if TYPE_CHECKING:
    from honest_edge.app.book.desk import BookDesk

_LETTERS = "ABCDEFGHJKLMNPQRSTUVWXYZ23456789"
_KINDS = (("picture", "a scan or a photograph"), ("eye", "my eye"))
_PLACES = {"picture": ("9", "12", "16", "20", "30"), "eye": ("5", "6", "8", "9")}
_USUAL = {"picture": "12", "eye": "9"}
_TOLD = {
    "picture": "Printed discs; a smaller disc is cut inside each and lifted out. Then lay the sheet on a scanner, best "
    "twice, the second time turned by half a turn; or photograph all of it.",
    "eye": "Pairs of combs; each is cut as one toothed piece that peels in one pull. Then read two numbers a place: "
    "where tick and tooth line up.",
}


def free_key() -> str:
    """Return a name for sheets of a target that no other has."""
    return "".join(secrets.choice(_LETTERS) for _ in range(8))


class TargetDialog(QDialog):
    """Writes the files of a target for the job's machine, printer and marks."""

    def __init__(self, host: Host, ask: Teller, correction: ErrorParts) -> None:
        super().__init__(host.table.window())
        self._host, self._ask, self._correction = host, ask, correction
        self.setWindowTitle("Measure my bench")
        column = QVBoxLayout(self)
        column.setContentsMargins(px(18), px(16), px(18), px(16))
        column.setSpacing(px(12))
        column.addWidget(label("Print and cut a target", "heading"))
        sheet = host.workspace.job.sheet
        column.addWidget(label(f"For {sheet.machine.name} with {sheet.printer.name}, its marks and its rim.", "soft"))
        form = Form(control_px=220)
        self.kind = Choice("It is read by", _KINDS)
        self.kind.chosen.connect(self._show_kind)
        self.paper = Choice(
            "Paper",
            tuple((name, title) for name, title in PAPER_TITLE.items() if name != "own" or sheet.paper == "own"),
        )
        self.paper.show_value(sheet.paper)
        self.places = Choice("Places", ())
        self.sheets = Count("Sheets", 1, 10)
        self.sheets.setValue(1)
        for name, control, tip in (
            ("It is read by", self.kind, "A picture is ten times finer than the eye; the eye needs no scanner."),
            ("Paper", self.paper, "As in the printer."),
            ("Places", self.places, "More places tell rotation and scale better."),
            ("Sheets", self.sheets, "One sheet tells where it lies, three tell how much sheets differ."),
        ):
            form.add(name, control, tip)
        column.addWidget(form)
        self.told = label("", "soft")
        column.addWidget(self.told)
        if not correction.is_none:
            column.addWidget(label("Its cut is moved as all cut files of this bench are: it proves that.", "soft"))
        self.write = button("Write print and cut files…", self._choose, filled=True)
        self.write.setDefault(True)
        column.addStretch(1)
        column.addLayout(row(button("Cancel", self.reject), self.write))
        self.setMinimumWidth(px(440))
        self._show_kind("picture")

    def _show_kind(self, kind: str) -> None:
        self.places.clear()
        for count in _PLACES[kind]:
            self.places.addItem(count, count)
        self.places.setCurrentText(_USUAL[kind])
        self.told.setText(_TOLD[kind])

    def _choose(self) -> None:
        folder = QFileDialog.getExistingDirectory(self, "Write the target to", self._host.prefs.out_folder)
        if folder:
            self.write_to(Path(folder))

    @property
    def sheet(self) -> SheetSpec:
        """The sheet that the target is for."""
        return replace(self._host.workspace.job.sheet, paper=self.paper.currentData(), used=())

    def write_to(self, folder: Path) -> None:
        """Write the files into a folder of their own, in the background."""
        sheet, kind, correction = self.sheet, self.kind.currentData(), self._correction
        places, sheets, key = int(self.places.currentText()), self.sheets.value(), free_key()

        def work(_desk: BookDesk, _now_ms: int) -> Path:
            from honest_edge.app.bench.targets import target_files
            from honest_edge.files.atomic_write import write_set

            files = target_files(sheet, key, kind=kind, places=places, sheets=sheets, correction=correction)
            where = folder / f"target {key}"
            write_set(where, files, replace=False)
            return where

        self._ask(work, self._written)

    def _written(self, where: Path) -> None:
        self._host.say(
            f"Written to “{where.name}”: print it at 100 %, cut it, lift out what is cut, then measure it here.",
            tone="fine",
        )
        self.accept()
