"""The sheet that was measured, with an arrow at every place: where the cut lies, much enlarged."""

from __future__ import annotations

import math
from collections.abc import Callable, Sequence
from typing import TYPE_CHECKING

from PyQt6.QtCore import QEvent, QPointF, QRectF, Qt
from PyQt6.QtGui import QColor, QHelpEvent, QImage, QPainter, QPaintEvent, QPen, QPolygonF
from PyQt6.QtWidgets import QSizePolicy, QToolTip

from honest_edge.ui.widgets.painting import Painted, painter_on
from honest_edge.ui.widgets.theme import px, words
from honest_edge.ui.widgets.tokens import Tokens

if TYPE_CHECKING:
    from honest_edge.app.bench.straightened import Straightened
    from honest_edge.core.values.measured import MeasuredPlace

_ENLARGED, _LONGEST_MM = (10, 20, 50, 100), 18.0
_MARGIN_MM, _DISC_MM, _HOLE_MM = 22.0, 5.0, 3.0


class SheetView(Painted):
    """Paints places and arrows over the scan, or over a plain sheet where there is none."""

    def __init__(self, tokens: Callable[[], Tokens]) -> None:
        super().__init__()
        self._tokens = tokens
        self._places: Sequence[MeasuredPlace] = ()
        self._picture: QImage | None = None
        self._size_mm = (210.0, 297.0)
        self.empty = ""
        self.setMinimumHeight(160)
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Expanding)
        self.setAccessibleName("The measured sheet")

    def show_places(self, places: Sequence[MeasuredPlace], picture: Straightened | None) -> None:
        """Show another sheet, over its picture where there is one."""
        self._places = places
        self._picture = None
        if picture is not None:
            self._picture = QImage(
                picture.levels, picture.width_px, picture.height_px, picture.width_px, QImage.Format.Format_Grayscale8
            ).copy()
            self._size_mm = picture.width_mm, picture.height_mm
        elif places:
            across, down = (max(abs(getattr(p, name)) for p in places) for name in ("x_mm", "y_mm"))
            self._size_mm = 2 * (across + _MARGIN_MM), 2 * (down + _MARGIN_MM)
        self.setAccessibleDescription("; ".join(self.as_table()))
        self.update()

    @property
    def enlarged(self) -> int:
        """How many times arrows are enlarged: as far as the longest stays short of its neighbours."""
        longest = max((math.hypot(p.dx_mm, p.dy_mm) for p in self._places if p.used), default=0.0)
        return max((times for times in _ENLARGED if times * longest <= _LONGEST_MM), default=_ENLARGED[0])

    def as_table(self) -> list[str]:
        """Return all that is drawn as lines of words."""
        return [
            f"{p.x_mm:.0f}, {p.y_mm:.0f} mm: {_said(p)}" for p in self._places
        ]  # fmt: skip

    # -- painting ------------------------------------------------------------------------------------

    @property
    def _scale(self) -> float:
        wide, high = self._size_mm
        return min((self.width() - px(32)) / wide, (self.height() - px(60)) / high)

    def _paper(self) -> QRectF:
        wide, high = (side * self._scale for side in self._size_mm)
        return QRectF((self.width() - wide) / 2, px(16), wide, high)

    def _at(self, x_mm: float, y_mm: float) -> QPointF:
        return self._paper().center() + QPointF(x_mm * self._scale, y_mm * self._scale)

    def paintEvent(self, event: QPaintEvent | None) -> None:
        tokens = self._tokens()
        painter = painter_on(self)
        painter.setRenderHint(QPainter.RenderHint.SmoothPixmapTransform)
        painter.fillRect(self.rect(), QColor(tokens.table))
        paper = self._paper()
        painter.fillRect(paper.translated(px(4), px(5)), QColor(0, 0, 0, 28))
        painter.fillRect(paper, QColor("white"))
        painter.setFont(words(12))
        if not self._places:
            painter.setPen(QColor("#5C5F68"))
            painter.drawText(
                paper.adjusted(20, 20, -20, -20), Qt.AlignmentFlag.AlignCenter | Qt.TextFlag.TextWordWrap, self.empty
            )
            return
        if self._picture is not None:
            painter.setOpacity(0.45)
            painter.drawImage(paper, self._picture)
            painter.setOpacity(1.0)
        for place in self._places:
            self._paint_place(painter, place)
        painter.setPen(QColor(tokens.soft))
        line = QRectF(0, paper.bottom() + px(10), self.width(), px(22))
        painter.drawText(
            line, Qt.AlignmentFlag.AlignCenter, f"how the cut lies against the print, {self.enlarged} times enlarged"
        )

    def _paint_place(self, painter: QPainter, place: MeasuredPlace) -> None:
        at = self._at(place.x_mm, place.y_mm)
        disc, hole = max(4.0, _DISC_MM * self._scale), max(2.4, _HOLE_MM * self._scale)
        if not place.used:
            painter.setPen(QPen(QColor("#8A5A00"), 1.6))
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.drawEllipse(at, disc, disc)
            reach = disc * 0.6
            painter.drawLine(at + QPointF(-reach, -reach), at + QPointF(reach, reach))
            painter.drawLine(at + QPointF(-reach, reach), at + QPointF(reach, -reach))
            return
        if self._picture is None:
            painter.setPen(Qt.PenStyle.NoPen)
            painter.setBrush(QColor("#3A3D47"))
            painter.drawEllipse(at, disc, disc)
            painter.setBrush(QColor("#ECE7DC"))
            painter.drawEllipse(at, hole, hole)
        times = self.enlarged
        end = self._at(place.x_mm + times * place.dx_mm, place.y_mm + times * place.dy_mm)
        for colour, width in (("#FFFFFF", 4.6), ("#2A4FC1", 2.0)):
            painter.setPen(QPen(QColor(colour), width, Qt.PenStyle.SolidLine, Qt.PenCapStyle.RoundCap))
            painter.drawLine(at, end)
            _paint_head(painter, at, end)

    def event(self, event: QEvent | None) -> bool:
        """Say on hover what was found at a place, or why it is left out."""
        if isinstance(event, QHelpEvent):
            near = [p for p in self._places if _distance(self._at(p.x_mm, p.y_mm), QPointF(event.pos())) < px(16)]
            QToolTip.showText(event.globalPos(), _said(near[0]) if near else "", self)
            return True
        return super().event(event)


def _distance(one: QPointF, other: QPointF) -> float:
    return math.hypot(one.x() - other.x(), one.y() - other.y())


def _paint_head(painter: QPainter, start: QPointF, end: QPointF) -> None:
    length = _distance(start, end)
    if length < 3:
        return
    along = (end - start) / length
    across = QPointF(-along.y(), along.x())
    back = end - along * min(6.0, length / 2)
    painter.drawPolyline(QPolygonF([back + across * 3.2, end, back - across * 3.2]))


def _said(place: MeasuredPlace) -> str:
    if not place.used:
        return f"left out: {place.why}" if place.why else "left out"
    x = f"{abs(place.dx_mm):.2f} mm to the {'right' if place.dx_mm >= 0 else 'left'}"
    return f"{x}, {abs(place.dy_mm):.2f} mm {'downward' if place.dy_mm >= 0 else 'upward'}"
