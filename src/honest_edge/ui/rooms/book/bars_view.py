"""Amounts as bars under each other, each with its name and its number in words."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass

from PyQt6.QtCore import QRectF, Qt
from PyQt6.QtGui import QBrush, QColor, QPaintEvent, QPen

from honest_edge.ui.widgets.local import local
from honest_edge.ui.widgets.painting import Painted, painter_on
from honest_edge.ui.widgets.theme import figures, px, words
from honest_edge.ui.widgets.tokens import Tokens

_ROW, _BAR = 44, 12


@dataclass(frozen=True, slots=True)
class Bar:
    """One amount.

    Attributes:
        name: what it is of.
        amount: not below 0.
        number: how it is written.
        pattern: how it is filled, which tells it apart without its colour.
    """

    name: str
    amount: float
    number: str
    pattern: Qt.BrushStyle = Qt.BrushStyle.SolidPattern


class BarsView(Painted):
    """Paints bars to one scale; all of it is read out as words."""

    def __init__(self, name: str, tokens: Callable[[], Tokens]) -> None:
        super().__init__()
        self._tokens = tokens
        self.bars: tuple[Bar, ...] = ()
        self.setAccessibleName(name)

    def show_bars(self, bars: Sequence[Bar]) -> None:
        """Show other amounts."""
        self.bars = tuple(bars)
        self.setMinimumHeight(px(_ROW) * len(bars))
        self.setAccessibleDescription("; ".join(f"{bar.name}: {bar.number}" for bar in bars))
        self.update()

    def paintEvent(self, event: QPaintEvent | None) -> None:
        tokens, painter = self._tokens(), painter_on(self)
        most = max([bar.amount for bar in self.bars], default=0.0)
        for number, bar in enumerate(self.bars):
            top = px(_ROW) * number
            painter.setFont(words(12))
            painter.setPen(QColor(tokens.ink))
            line = QRectF(0, top, self.width(), px(20))
            painter.drawText(line, Qt.AlignmentFlag.AlignVCenter, bar.name)
            painter.setFont(figures(12))
            painter.drawText(line, Qt.AlignmentFlag.AlignVCenter | Qt.AlignmentFlag.AlignRight, local(bar.number))
            box = QRectF(0.5, top + px(22), max(1.0, (self.width() - 1) * bar.amount / most if most else 1.0), px(_BAR))
            painter.setPen(QPen(QColor(tokens.accent), 1))
            painter.setBrush(QBrush(QColor(tokens.accent), bar.pattern))
            painter.drawRoundedRect(box, 2, 2)
