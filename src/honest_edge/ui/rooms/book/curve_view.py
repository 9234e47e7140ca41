"""A curve of how likely a cut is clean at each setting, with what was tried under it."""

from __future__ import annotations

from collections.abc import Callable
from math import floor, log2, log10
from typing import TYPE_CHECKING

from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QColor, QFontMetricsF, QKeyEvent, QMouseEvent, QPainter, QPaintEvent, QPen, QPolygonF
from PyQt6.QtWidgets import QSizePolicy

from honest_edge.core.values.book_records import value_name
from honest_edge.ui.widgets.local import local
from honest_edge.ui.widgets.painting import Painted, painter_on
from honest_edge.ui.widgets.theme import figures, px, words
from honest_edge.ui.widgets.tokens import Tokens

if TYPE_CHECKING:
    from honest_edge.app.book.cut_trial import TrialState
    from honest_edge.core.values.book_records import LadderLook

_LEFT, _TOP, _RIGHT, _ROW = 46, 42, 14, 16
TORN, CLEAN, MARKED = "torn", "clean", "liner marked"


def state_of_square(look: LadderLook, number: int) -> str | None:
    """Return what a square showed; None where nobody looked any more."""
    if number < look.first_clean:
        return TORN
    if number == look.first_marked:
        return MARKED
    return CLEAN if number < look.first_marked else None


class CurveView(Painted):
    """Across are settings, upward the chance of a clean cut; squares that were looked at stand in rows below."""

    def __init__(self, tokens: Callable[[], Tokens]) -> None:
        super().__init__()
        self._tokens = tokens
        self._state: TrialState | None = None
        self._read: int | None = None
        self.setMinimumHeight(px(210))
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Expanding)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setMouseTracking(True)
        self.setAccessibleName("Chance of a clean cut by setting")

    def show_state(self, state: TrialState | None) -> None:
        """Show another trial, or none."""
        self._state, self._read = state, None
        self.setAccessibleDescription("" if state is None else "; ".join(self.as_table()))
        self.update()

    def as_table(self) -> list[str]:
        """Return all that is drawn as lines of words."""
        state = self._state
        if state is None:
            return []
        lines = []
        for number, look in enumerate(state.trial.looks, 1):
            seen = [
                f"{square:g} {state_of_square(look, n) or 'not looked at'}" for n, square in enumerate(look.squares)
            ]
            lines.append(f"ladder {number}: {', '.join(seen)}")
        step = max(1, len(state.settings) // 8)
        lines += [
            f"{s:.3g}: {100 * c:.0f} % clean"
            for s, c in zip(state.settings[::step].tolist(), state.chances[::step].tolist(), strict=True)
        ]
        return lines

    # -- reading off ---------------------------------------------------------------------------------

    def mouseMoveEvent(self, event: QMouseEvent | None) -> None:
        if event is not None and self._state is not None:
            share = (event.position().x() - px(_LEFT)) / max(1.0, self.width() - px(_LEFT) - px(_RIGHT))
            self._read_at(round(share * (len(self._state.settings) - 1)))

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        moves = {Qt.Key.Key_Left: -2, Qt.Key.Key_Right: 2}
        if event is not None and self._state is not None and event.key() in moves:
            start = len(self._state.settings) // 2 if self._read is None else self._read
            self._read_at(start + moves[Qt.Key(event.key())])
            return
        super().keyPressEvent(event)

    def _read_at(self, index: int) -> None:
        if self._state is not None:
            self._read = min(max(index, 0), len(self._state.settings) - 1)
            self.setToolTip("")
            self.update()

    def reading(self) -> str:
        """Return what the curve says where it is read, in words."""
        if self._state is None or self._read is None:
            return ""
        chance = float(self._state.chances[self._read])
        return local(
            f"{self._state.trial.subject.name} {self._state.settings[self._read]:.3g}: {100 * chance:.0f} % clean"
        )

    # -- painting ------------------------------------------------------------------------------------

    def _x(self, setting: float) -> float:
        state = self._state
        if state is None:
            return 0.0
        low, high = log2(float(state.settings[0])), log2(float(state.settings[-1]))
        return px(_LEFT) + (log2(setting) - low) / (high - low) * (self.width() - px(_LEFT) - px(_RIGHT))

    @property
    def _bottom(self) -> float:
        rows = 0 if self._state is None else len(self._state.trial.looks)
        return self.height() - px(24) - rows * px(_ROW)

    def _y(self, chance: float) -> float:
        return self._bottom - chance * (self._bottom - px(_TOP))

    def paintEvent(self, event: QPaintEvent | None) -> None:
        state, tokens = self._state, self._tokens()
        if state is None:
            return
        painter = painter_on(self)
        self._paint_window(painter, state, tokens)
        painter.setPen(QPen(QColor(tokens.hairline), 1))
        painter.setFont(figures(11))
        for chance in (0.0, 0.5, 1.0):
            painter.setPen(QPen(QColor(tokens.hairline), 1))
            painter.drawLine(QPointF(px(_LEFT), self._y(chance)), QPointF(self.width() - px(_RIGHT), self._y(chance)))
            painter.setPen(QColor(tokens.soft))
            box = QRectF(0, self._y(chance) - px(8), px(_LEFT) - 6, px(16))
            painter.drawText(box, Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter, f"{100 * chance:.0f} %")
        line = [
            QPointF(self._x(s), self._y(c))
            for s, c in zip(state.settings.tolist(), state.chances.tolist(), strict=True)
        ]
        painter.setPen(QPen(QColor(tokens.accent), 2.2))
        painter.drawPolyline(QPolygonF(line))
        for number, look in enumerate(state.trial.looks):
            self._paint_look(painter, look, number, tokens)
        self._paint_scale(painter, state, tokens)
        self._paint_reading(painter, tokens)

    def _paint_window(self, painter: QPainter, state: TrialState, tokens: Tokens) -> None:
        window = state.window
        if window.low is not None and window.high is not None:
            left, right = self._x(window.low), self._x(window.high)
            painter.fillRect(QRectF(left, px(_TOP), right - left, self._bottom - px(_TOP)), QColor(tokens.tint))
        painter.setPen(QPen(QColor(tokens.ink), 1.2, Qt.PenStyle.DashLine))
        x = self._x(window.best)
        painter.drawLine(QPointF(x, px(_TOP) - 4), QPointF(x, self._bottom))
        painter.setFont(figures(12))
        painter.setPen(QColor(tokens.ink))
        painter.drawText(
            QRectF(x - px(60), px(20), px(120), px(_TOP) - px(24)),
            Qt.AlignmentFlag.AlignCenter,
            local(value_name(window.best, state.trial.names)),
        )

    def _paint_look(self, painter: QPainter, look: LadderLook, number: int, tokens: Tokens) -> None:
        """A row of marks: an open triangle torn, a full disc clean, a crossed square liner marked."""
        y = self._bottom + px(_ROW) * (number + 0.7)
        painter.setFont(words(10))
        painter.setPen(QColor(tokens.soft))
        painter.drawText(QRectF(0, y - px(8), px(_LEFT) - 6, px(16)), Qt.AlignmentFlag.AlignRight, f"{number + 1}")
        for index, setting in enumerate(look.squares):
            place, state = QPointF(self._x(setting), y), state_of_square(look, index)
            paint_mark(painter, place, state, tokens)

    def _paint_scale(self, painter: QPainter, state: TrialState, tokens: Tokens) -> None:
        painter.setFont(figures(11))
        painter.setPen(QColor(tokens.soft))
        metrics, last = QFontMetricsF(painter.font()), -1e9
        names = state.trial.names
        every = [float(n) for n in range(1, len(names.split("\n")) + 1)] if names else []
        for setting in every or round_numbers(float(state.settings[0]), float(state.settings[-1])):
            text = value_name(setting, names)
            half = metrics.horizontalAdvance(text) / 2
            x = min(max(self._x(setting), half), self.width() - half)
            if x - half > last + 8:
                painter.drawText(QPointF(x - half, self.height() - 6), local(text))
                last = x + half
        self._paint_key(painter, tokens)

    def _paint_key(self, painter: QPainter, tokens: Tokens) -> None:
        """What the marks mean, in the upper corner."""
        painter.setFont(words(11))
        metrics, x = QFontMetricsF(painter.font()), self.width() - float(px(_RIGHT))
        for name in (MARKED, CLEAN, TORN):
            x -= metrics.horizontalAdvance(name)
            painter.setPen(QColor(tokens.soft))
            painter.drawText(QPointF(x, px(12)), name)
            paint_mark(painter, QPointF(x - 10, px(8)), name, tokens, 4.0)
            x -= 30

    def _paint_reading(self, painter: QPainter, tokens: Tokens) -> None:
        if self._state is None or self._read is None:
            return
        x, y = self._x(float(self._state.settings[self._read])), self._y(float(self._state.chances[self._read]))
        painter.setPen(QPen(QColor(tokens.ink), 1))
        painter.setBrush(QColor(tokens.accent))
        painter.drawEllipse(QPointF(x, y), 4, 4)
        painter.setFont(words(11))
        text = self.reading()
        width = QFontMetricsF(painter.font()).horizontalAdvance(text) + 12
        box = QRectF(
            min(max(x - width / 2, px(_LEFT)), self.width() - px(_RIGHT) - width),
            y - px(30) if y > px(60) else y + 10,
            width,
            px(20),
        )
        painter.setBrush(QColor(tokens.panel))
        painter.setPen(QPen(QColor(tokens.hairline), 1))
        painter.drawRoundedRect(box, 4, 4)
        painter.setPen(QColor(tokens.ink))
        painter.drawText(box, Qt.AlignmentFlag.AlignCenter, text)


def round_numbers(low: float, high: float) -> list[float]:
    """Return round numbers from low to high for a scale of ratios."""
    start = floor(log10(low))
    rounds = [m * 10.0**power for power in range(start, floor(log10(high)) + 1) for m in (1, 1.5, 2, 3, 4, 5, 7)]
    return [round(number, 9) for number in rounds if low <= number <= high]


def paint_mark(painter: QPainter, place: QPointF, state: str | None, tokens: Tokens, size: float = 4.5) -> None:
    """Paint what a square showed: its shape tells it without its colour."""
    x, y = place.x(), place.y()
    painter.setBrush(Qt.BrushStyle.NoBrush)
    if state == TORN:
        painter.setPen(QPen(QColor(tokens.danger), 1.6))
        painter.drawPolygon(QPolygonF([QPointF(x, y - size), QPointF(x + size, y + size), QPointF(x - size, y + size)]))
    elif state == CLEAN:
        painter.setPen(Qt.PenStyle.NoPen)
        painter.setBrush(QColor(tokens.fine))
        painter.drawEllipse(place, size, size)
    elif state == MARKED:
        painter.setPen(QPen(QColor(tokens.look), 1.6))
        painter.drawRect(QRectF(x - size, y - size, 2 * size, 2 * size))
        painter.drawLine(QPointF(x - size, y - size), QPointF(x + size, y + size))
    else:
        painter.setPen(QPen(QColor(tokens.hairline), 1.6))
        painter.drawPoint(place)
