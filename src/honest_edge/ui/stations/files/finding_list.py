"""What needs a look before files are written: each with a way to its place, and a button that mends it."""

from __future__ import annotations

from collections.abc import Sequence

from PyQt6.QtCore import pyqtSignal
from PyQt6.QtWidgets import QFrame, QPushButton, QVBoxLayout, QWidget

from honest_edge.core.values.findings import Finding
from honest_edge.ui.widgets.fields import button, label, row


class FindingList(QFrame):
    """Rows that are made anew whenever what they show changes."""

    show_wanted = pyqtSignal(object)
    fix_wanted = pyqtSignal(object)

    def __init__(self) -> None:
        super().__init__()
        self.setProperty("card", "look")
        self._column = QVBoxLayout(self)
        self._column.setContentsMargins(12, 10, 12, 10)
        self._column.setSpacing(6)
        self._column.addWidget(label("Needs a look first", "look"))
        self._rows: list[QWidget] = []
        self._shown: tuple[tuple[str, Finding], ...] = ()
        self.fixes: list[QPushButton] = []

    def show_findings(self, findings: Sequence[tuple[str, Finding]]) -> None:
        """List findings, each with its message as it is shown."""
        self.setVisible(bool(findings))
        if tuple(findings) == self._shown:
            return
        self._shown = tuple(findings)
        for old in self._rows:
            self._column.removeWidget(old)
            old.setParent(None)
            old.deleteLater()
        self.fixes = []
        self._rows = [self._row(words, finding) for words, finding in findings]
        for made in self._rows:
            self._column.addWidget(made)

    def _row(self, words: str, finding: Finding) -> QWidget:
        holder = QWidget()
        column = QVBoxLayout(holder)
        column.setContentsMargins(0, 0, 0, 6)
        column.setSpacing(4)
        text = label(f"{words}.")
        text.setToolTip(finding.advice)
        column.addWidget(text)
        show = button("Show it", lambda: self.show_wanted.emit(finding), link=True)
        show.setAccessibleName(f"Show it: {words}")
        ways: list[QWidget] = [show]
        if finding.fix is not None:
            fix = button(finding.fix.words, lambda: self.fix_wanted.emit(finding))
            fix.setAccessibleDescription(words)
            self.fixes.append(fix)
            ways.append(fix)
        column.addLayout(row(*ways))
        return holder
