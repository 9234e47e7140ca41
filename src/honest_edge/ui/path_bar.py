"""The path of stations along the top: a state by shape and colour, why on hover."""

from __future__ import annotations

from PyQt6.QtCore import QPointF, QRectF, QSize, Qt, pyqtSignal
from PyQt6.QtGui import QColor, QFont, QFontMetrics, QPainter, QPaintEvent, QPen, QPolygonF
from PyQt6.QtWidgets import QAbstractButton, QHBoxLayout, QWidget

from honest_edge.app.overview import STATIONS, Overview, State, Station
from honest_edge.ui.theme import Tokens, words

TITLE: dict[Station, str] = {"art": "Art", "outline": "Outline", "edge": "Edge", "sheet": "Sheet", "files": "Files"}
QUESTION: dict[Station, str] = {
    "art": "Is it the right size, and sharp?",
    "outline": "Where does the sticker end?",
    "edge": "How should the edge come out?",
    "sheet": "How do they fit?",
    "files": "Ready to write?",
}
_BRIEF: dict[Station, str] = {
    "art": "right size, sharp?",
    "outline": "where does it end?",
    "edge": "border, bleed, inside?",
    "sheet": "how do they fit?",
    "files": "ready to write?",
}
_STATE_WORDS: dict[State, str] = {"done": "done", "look": "needs a look", "blocked": "blocked", "empty": "not yet"}


class StationButton(QAbstractButton):
    """One station: shape for its state, name, and what it asks."""

    def __init__(self, station: Station, number: int, tokens: Tokens) -> None:
        super().__init__()
        self.station, self.tokens = station, tokens
        self.state: State = "empty"
        self.setCheckable(True)
        self.setAutoExclusive(True)
        self.setShortcut(f"Ctrl+{number}")
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self._number = number
        self.set_state("empty", "")

    def set_state(self, state: State, why: str) -> None:
        """Show a state and explain it on hover and to screen readers."""
        self.state = state
        text = f"{TITLE[self.station]}: {_STATE_WORDS[state]}" + (f". {why}" if why else "")
        self.setToolTip(f"{text}\nCtrl+{self._number}")
        self.setAccessibleName(TITLE[self.station])
        self.setAccessibleDescription(text)
        self.update()

    def sizeHint(self) -> QSize:
        return QSize(QFontMetrics(words(12)).horizontalAdvance(_BRIEF[self.station]) + 46, 52)

    def minimumSizeHint(self) -> QSize:
        return QSize(82, 52)

    def paintEvent(self, _event: QPaintEvent | None) -> None:
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        if self.isChecked() or self.underMouse():
            painter.setPen(Qt.PenStyle.NoPen)
            painter.setBrush(QColor(self.tokens.tint))
            painter.drawRoundedRect(QRectF(self.rect()), 8, 8)
        if self.hasFocus():
            painter.setPen(QPen(QColor(self.tokens.accent), 2))
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.drawRoundedRect(QRectF(self.rect()).adjusted(1, 1, -1, -1), 8, 8)
        paint_state(painter, QPointF(18, 18), self.state, self.isChecked(), self.tokens)
        painter.setPen(QColor(self.tokens.accent if self.isChecked() else self.tokens.ink))
        painter.setFont(words(14, QFont.Weight.DemiBold))
        painter.drawText(QPointF(34, 23), TITLE[self.station])
        painter.setPen(QColor(self.tokens.soft))
        painter.setFont(words(12))
        brief = painter.fontMetrics().elidedText(
            _BRIEF[self.station], Qt.TextElideMode.ElideRight, max(self.width() - 40, 10)
        )
        painter.drawText(QPointF(34, 41), brief)


def paint_state(painter: QPainter, at: QPointF, state: State, here: bool, tokens: Tokens) -> None:
    """Draw a state: ticked disc, triangle, barred square, ring; a filled disc marks the station one is at."""
    painter.setPen(Qt.PenStyle.NoPen)
    if state == "look":
        painter.setBrush(QColor(tokens.look))
        painter.drawPolygon(QPolygonF([at + QPointF(0, -7), at + QPointF(7.5, 6), at + QPointF(-7.5, 6)]))
        painter.setPen(QPen(QColor(tokens.panel), 1.8))
        painter.drawLine(at + QPointF(0, -2.5), at + QPointF(0, 1.5))
        painter.drawPoint(at + QPointF(0, 4))
    elif state == "blocked":
        painter.setBrush(QColor(tokens.danger))
        painter.drawRoundedRect(QRectF(at.x() - 6.5, at.y() - 6.5, 13, 13), 2, 2)
        painter.setPen(QPen(QColor(tokens.panel), 2))
        painter.drawLine(at + QPointF(-3.5, 0), at + QPointF(3.5, 0))
    elif here:
        painter.setBrush(QColor(tokens.accent))
        painter.drawEllipse(at, 6.5, 6.5)
    elif state == "done":
        painter.setBrush(QColor(tokens.fine))
        painter.drawEllipse(at, 6.5, 6.5)
        painter.setPen(QPen(QColor(tokens.panel), 1.8))
        painter.drawPolyline(QPolygonF([at + QPointF(-3, 0), at + QPointF(-0.8, 2.4), at + QPointF(3.2, -2.4)]))
    else:
        painter.setPen(QPen(QColor(tokens.soft), 1.6))
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.drawEllipse(at, 5.8, 5.8)


class PathBar(QWidget):
    """All stations in the order of work."""

    chosen = pyqtSignal(str)

    def __init__(self, tokens: Tokens) -> None:
        super().__init__()
        layout = QHBoxLayout(self)
        layout.setContentsMargins(0, 0, 0, 0)
        layout.setSpacing(6)
        self.buttons = {station: StationButton(station, n, tokens) for n, station in enumerate(STATIONS, 1)}
        for station, made in self.buttons.items():
            layout.addWidget(made)
            made.clicked.connect(lambda _checked, station=station: self.chosen.emit(station))
        self.buttons["art"].setChecked(True)

    def show_overview(self, seen: Overview) -> None:
        """Show every station's state."""
        for station, made in self.buttons.items():
            made.set_state(*seen.state(station))

    def set_tokens(self, tokens: Tokens) -> None:
        """Change the theme."""
        for made in self.buttons.values():
            made.tokens = tokens
            made.update()
