"""One part of the error over months: every measured sheet with its uncertainty, and what was done to the bench."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from typing import TYPE_CHECKING

from PyQt6.QtCore import QDateTime, QLocale, QPointF, QRectF, Qt, pyqtSignal
from PyQt6.QtGui import QColor, QKeyEvent, QMouseEvent, QPainter, QPaintEvent, QPen, QPolygonF
from PyQt6.QtWidgets import QSizePolicy

from honest_edge.ui.widgets.local import local
from honest_edge.ui.widgets.painting import Painted, painter_on
from honest_edge.ui.widgets.theme import figures, px, words
from honest_edge.ui.widgets.tokens import Tokens

if TYPE_CHECKING:
    from honest_edge.app.bench.view import HistoryPoint

_LEFT, _RIGHT, _TOP, _BOTTOM = 52, 24, 22, 24


class HistoryView(Painted):
    """Across is time, upward the part in hand; a sheet is picked by a click or with the arrow keys."""

    picked = pyqtSignal(int)
    """Another sheet is in hand, by its number from 0."""

    def __init__(self, tokens: Callable[[], Tokens]) -> None:
        super().__init__()
        self._tokens = tokens
        self._points: Sequence[HistoryPoint] = ()
        self._events: Sequence[tuple[int, str]] = ()
        self._factor, self._unit = 1.0, "mm"
        self.current = -1
        self.setMinimumHeight(px(150))
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Fixed)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setAccessibleName("Measured sheets over time")

    def show_points(
        self,
        points: Sequence[HistoryPoint],
        events: Sequence[tuple[int, str]],
        *,
        factor: float,
        unit: str,
        current: int,
    ) -> None:
        """Show the sheets of one part, in their order; ``factor`` turns its numbers into ``unit``."""
        self._points, self._events, self._factor, self._unit = points, events, factor, unit
        self.current = current
        self.setAccessibleDescription("; ".join(self.as_table()))
        self.update()

    def as_table(self) -> list[str]:
        """Return all that is drawn as lines of words."""
        lines = [
            f"{_day(p.at_ms)}: {p.value * self._factor:+.3f} {self._unit}, give or take "
            f"{p.give_or_take * self._factor:.3f}{'' if p.counts else ', set aside'}"
            for p in self._points
        ]
        return [*lines, *(f"{_day(at_ms)}: {name}" for at_ms, name in self._events)]

    # -- picking -------------------------------------------------------------------------------------

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        if event is not None and self._points:
            x = event.position().x()
            self._pick(min(range(len(self._points)), key=lambda n: abs(self._x(self._points[n].at_ms) - x)))

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        moves = {Qt.Key.Key_Left: -1, Qt.Key.Key_Right: 1}
        if event is not None and event.key() in moves and self._points:
            self._pick(min(max(self.current + moves[Qt.Key(event.key())], 0), len(self._points) - 1))
            return
        super().keyPressEvent(event)

    def _pick(self, number: int) -> None:
        self.current = number
        self.picked.emit(number)
        self.update()

    # -- painting ------------------------------------------------------------------------------------

    def _x(self, at_ms: int) -> float:
        times = [p.at_ms for p in self._points]
        first, last = times[0], times[-1]
        share = 0.5 if last == first else (at_ms - first) / (last - first)
        return px(_LEFT) + share * (self.width() - px(_LEFT) - px(_RIGHT))

    def _range(self) -> tuple[float, float]:
        reach = [p.value * self._factor + way * p.give_or_take * self._factor for p in self._points for way in (-1, 1)]
        low, high = min(*reach, 0.0), max(*reach, 0.0)
        air = max(0.12 * (high - low), 0.02 * self._factor)
        return low - air, high + air

    def _y(self, value: float) -> float:
        low, high = self._range()
        return px(_TOP) + (high - value) / (high - low) * (self.height() - px(_TOP) - px(_BOTTOM))

    def paintEvent(self, event: QPaintEvent | None) -> None:
        tokens = self._tokens()
        painter = painter_on(self)
        if not self._points:
            return
        painter.setFont(figures(11))
        for value in self._ticks():
            painter.setPen(QPen(QColor(tokens.hairline), 1))
            painter.drawLine(QPointF(px(_LEFT), self._y(value)), QPointF(self.width() - px(_RIGHT), self._y(value)))
            painter.setPen(QColor(tokens.soft))
            painter.drawText(
                QRectF(0, self._y(value) - px(8), px(_LEFT) - 8, px(16)),
                Qt.AlignmentFlag.AlignRight,
                local(f"{value:.2f}"),
            )
        self._paint_band(painter, tokens)
        self._paint_events(painter, tokens)
        for number, point in enumerate(self._points):
            at = QPointF(self._x(point.at_ms), self._y(point.value * self._factor))
            colour = QColor(tokens.accent if point.counts else tokens.soft)
            painter.setPen(QPen(colour, 2))
            painter.setBrush(colour if number == self.current else QColor(tokens.panel))
            painter.drawEllipse(at, 4.5, 4.5)
        painter.setFont(words(11))
        painter.setPen(QColor(tokens.soft))
        low = QRectF(px(_LEFT) - 20, self.height() - px(18), self.width() - px(_LEFT) - px(_RIGHT) + 40, px(18))
        painter.drawText(low, Qt.AlignmentFlag.AlignLeft, _day(self._points[0].at_ms))
        if len(self._points) > 1:
            painter.drawText(low, Qt.AlignmentFlag.AlignRight, _day(self._points[-1].at_ms))

    def _ticks(self) -> list[float]:
        low, high = self._range()
        step = next(s for s in (0.01, 0.02, 0.05, 0.1, 0.2, 0.5, 1.0, 2.0, 5.0, 10.0, 100.0) if (high - low) / s <= 5)
        first = int(low / step) - 1
        return [n * step for n in range(first, first + 9) if low <= n * step <= high]

    def _paint_band(self, painter: QPainter, tokens: Tokens) -> None:
        points = [p for p in self._points if p.counts]
        upper = [QPointF(self._x(p.at_ms), self._y((p.value + p.give_or_take) * self._factor)) for p in points]
        lower = [QPointF(self._x(p.at_ms), self._y((p.value - p.give_or_take) * self._factor)) for p in points]
        painter.setPen(Qt.PenStyle.NoPen)
        painter.setBrush(QColor(tokens.tint))
        if len(points) > 1:
            painter.drawPolygon(QPolygonF([*upper, *reversed(lower)]))
        painter.setPen(QPen(QColor(tokens.accent), 2))
        painter.drawPolyline(QPolygonF([QPointF(self._x(p.at_ms), self._y(p.value * self._factor)) for p in points]))
        for up, down in zip(upper, lower, strict=True):
            painter.drawLine(up, down)

    def _paint_events(self, painter: QPainter, tokens: Tokens) -> None:
        painter.setFont(words(11))
        first, last = self._points[0].at_ms, self._points[-1].at_ms
        for at_ms, name in self._events:
            if not first <= at_ms <= last:
                continue
            x = self._x(at_ms)
            painter.setPen(QPen(QColor(tokens.look), 1.4, Qt.PenStyle.DashLine))
            painter.drawLine(QPointF(x, 6), QPointF(x, self.height() - px(_BOTTOM)))
            wide = painter.fontMetrics().horizontalAdvance(name)
            left = x - wide - 6 if x + wide + 8 > self.width() else x + 6
            painter.drawText(QPointF(left, px(15)), name)


def _day(at_ms: int) -> str:
    day = QDateTime.fromMSecsSinceEpoch(at_ms)
    return QLocale().toString(day, "d MMM yyyy")
