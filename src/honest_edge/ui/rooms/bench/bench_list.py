"""The benches that are known: the job's own first, the practice bench last."""

from __future__ import annotations

from collections.abc import Sequence
from typing import TYPE_CHECKING

from PyQt6.QtCore import pyqtSignal
from PyQt6.QtWidgets import QButtonGroup, QVBoxLayout, QWidget

from honest_edge.ui.widgets.fields import ChoiceCard, counted, label
from honest_edge.ui.widgets.theme import eased_px, px

if TYPE_CHECKING:
    from honest_edge.app.bench.view import BenchRow
    from honest_edge.core.values.bench_records import BenchSubject

WIDTH_PX = 216


class BenchList(QWidget):
    """One card a bench."""

    chosen = pyqtSignal(object)
    """Another bench is taken in hand."""

    def __init__(self) -> None:
        super().__init__()
        self.setFixedWidth(eased_px(WIDTH_PX))
        column = QVBoxLayout(self)
        column.setContentsMargins(px(12), px(14), px(12), px(14))
        column.setSpacing(px(8))
        heading = label("My benches")
        heading.setObjectName("question")
        column.addWidget(heading)
        self._cards = QVBoxLayout()
        self._cards.setSpacing(px(8))
        column.addLayout(self._cards)
        column.addStretch(1)
        self._group = QButtonGroup(self)
        self._rows: tuple[BenchRow, ...] = ()
        self.cards: list[ChoiceCard] = []

    def show_rows(self, rows: Sequence[BenchRow], here: BenchSubject) -> None:
        """Show other benches, or another of them in hand."""
        if tuple(rows) != self._rows:
            self._rows = tuple(rows)
            self._make_cards()
        for row, card in zip(self._rows, self.cards, strict=True):
            card.setChecked(row.bench == here)

    def _make_cards(self) -> None:
        for card in self.cards:
            self._group.removeButton(card)
            self._cards.removeWidget(card)
            card.deleteLater()
        self.cards = []
        for row in self._rows:
            state = counted(row.sheets, "sheet") if row.sheets else "assumed"
            detail = (
                f"simulated, {state if row.sheets else 'nothing cut yet'}"
                if row.is_practice
                else f"with {row.bench.printer}, {state}"
            )
            card = ChoiceCard(row.bench.machine, detail)
            card.clicked.connect(lambda _on, bench=row.bench: self.chosen.emit(bench))
            self._group.addButton(card)
            self._cards.addWidget(card)
            self.cards.append(card)
