"""The path of stations along the top: a state by shape and colour, why on hover."""

from __future__ import annotations

from collections.abc import Sequence

from PyQt6.QtCore import QPointF, QRectF, QSize, Qt, pyqtSignal
from PyQt6.QtGui import QColor, QFont, QFontMetrics, QPainter, QPaintEvent, QPen, QPolygonF, QResizeEvent
from PyQt6.QtWidgets import QAbstractButton, QHBoxLayout, QWidget

from honest_edge.app.results.overview import Overview, State
from honest_edge.ui.station.contract import StationEntry
from honest_edge.ui.widgets.theme import Tokens, px, words

_STATE_WORDS: dict[State, str] = {"done": "done", "look": "needs a look", "blocked": "blocked", "empty": "not yet"}


class StationButton(QAbstractButton):
    """One station: shape for its state, name, and what it asks."""

    def __init__(self, entry: StationEntry, number: int, tokens: Tokens) -> None:
        super().__init__()
        self.entry, self.tokens = entry, tokens
        self.state: State = "empty"
        self.setCheckable(True)
        self.setAutoExclusive(True)
        self.setShortcut(f"Ctrl+{number}")
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.has_brief = True
        """Whether the question is written: either whole or not at all, so the bar decides for all its buttons."""
        self._number = number
        self.set_state("empty", "")

    def set_state(self, state: State, why: str) -> None:
        """Show a state and explain it on hover and to screen readers."""
        self.state = state
        text = f"{self.entry.title}: {_STATE_WORDS[state]}" + (f". {why}" if why else "")
        self.setToolTip(f"{text}\nCtrl+{self._number}")
        self.setAccessibleName(self.entry.title)
        self.setAccessibleDescription(text)
        self.update()

    @property
    def brief_fits(self) -> bool:
        """Whether there is room for the question."""
        return QFontMetrics(words(12)).horizontalAdvance(self.entry.brief) <= self.width() - px(40)

    def sizeHint(self) -> QSize:
        return QSize(QFontMetrics(words(12)).horizontalAdvance(self.entry.brief) + px(46), px(52))

    def minimumSizeHint(self) -> QSize:
        return QSize(px(82), px(52))

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
        down = 0 if self.has_brief else px(8)
        paint_state(painter, QPointF(px(18), px(18) + down), self.state, self.isChecked(), self.tokens)
        painter.setPen(QColor(self.tokens.accent if self.isChecked() else self.tokens.ink))
        painter.setFont(words(14, QFont.Weight.DemiBold))
        painter.drawText(QPointF(px(34), px(23) + down), self.entry.title)
        if self.has_brief:
            painter.setPen(QColor(self.tokens.soft))
            painter.setFont(words(12))
            painter.drawText(QPointF(px(34), px(41)), self.entry.brief)


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

    def __init__(self, tokens: Tokens, entries: Sequence[StationEntry]) -> None:
        super().__init__()
        layout = QHBoxLayout(self)
        layout.setContentsMargins(0, 0, 0, 0)
        layout.setSpacing(6)
        self.buttons = {entry.key: StationButton(entry, n, tokens) for n, entry in enumerate(entries, 1)}
        for key, made in self.buttons.items():
            layout.addWidget(made)
            made.clicked.connect(lambda _checked, key=key: self.chosen.emit(key))
        self.show_here(entries[0].key)

    def resizeEvent(self, event: QResizeEvent | None) -> None:
        super().resizeEvent(event)
        self.layout().activate()  # type: ignore[union-attr]  # it has one from the start
        has_room = all(made.brief_fits for made in self.buttons.values())
        for made in self.buttons.values():
            made.has_brief = has_room
            made.update()

    def show_here(self, station: str) -> None:
        """Mark the station that is visited."""
        self.buttons[station].setChecked(True)

    def show_overview(self, overview: Overview) -> None:
        """Show every station's state."""
        for station, made in self.buttons.items():
            made.set_state(*overview.state(station))

    def set_tokens(self, tokens: Tokens) -> None:
        """Change the theme."""
        for made in self.buttons.values():
            made.tokens = tokens
            made.update()
