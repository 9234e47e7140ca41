"""The rulers along two sides of the table."""

from __future__ import annotations

import math
from collections.abc import Sequence

from PyQt6.QtCore import QPointF
from PyQt6.QtGui import QColor, QPainter, QPaintEvent, QPen
from PyQt6.QtWidgets import QGraphicsView, QWidget

from honest_edge.core.values.units import MM_PER_INCH, Unit
from honest_edge.ui.widgets.local import local
from honest_edge.ui.widgets.painting import painter_on
from honest_edge.ui.widgets.theme import figures, px
from honest_edge.ui.widgets.tokens import Tokens

_RULER_PX = 22


def ruler_px() -> int:
    """Return how wide a ruler is."""
    return px(_RULER_PX)


class Measured(QGraphicsView):
    """What a ruler measures: a view of a scene in millimetres."""

    tokens: Tokens
    unit: Unit

    @property
    def pixels_per_mm(self) -> float:
        """Screen pixels per millimetre at the present scale."""
        return self.transform().m11()


class Ruler(QWidget):
    """Marks lengths along one side of the table."""

    def __init__(self, table: Measured, *, upright: bool) -> None:
        super().__init__(table)
        self._table, self._upright = table, upright

    def paintEvent(self, _event: QPaintEvent | None) -> None:
        painter = painter_on(self, is_smooth=False)
        tokens = self._table.tokens
        painter.fillRect(self.rect(), QColor(tokens.table))
        painter.setPen(QPen(QColor(tokens.soft), 1))
        painter.setFont(figures(11))
        unit_mm = 1.0 if self._table.unit == "mm" else MM_PER_INCH
        per_unit = self._table.pixels_per_mm * unit_mm
        step, parts = ruler_step(per_unit, self._table.unit)
        origin = self._table.mapFromScene(QPointF(0, 0))
        start = origin.y() if self._upright else origin.x()
        length = self.height() if self._upright else self.width()
        first = math.floor(-start / (step * per_unit))
        for mark in range(first, math.ceil((length - start) / (step * per_unit)) + 1):
            for part in range(parts):
                at = start + (mark + part / parts) * step * per_unit
                self._tick(painter, at, 10 if part == 0 else 4)
            text = local(f"{mark * step:g}")
            self._text(painter, start + mark * step * per_unit, text)

    def _tick(self, painter: QPainter, at: float, size: int) -> None:
        if self._upright:
            painter.drawLine(QPointF(ruler_px() - size, at), QPointF(ruler_px(), at))
        else:
            painter.drawLine(QPointF(at, ruler_px() - size), QPointF(at, ruler_px()))

    def _text(self, painter: QPainter, at: float, text: str) -> None:
        if not self._upright:
            painter.drawText(QPointF(at + 3, px(11)), text)
            return
        painter.save()
        painter.translate(px(10), at - 3)
        painter.rotate(-90)
        painter.drawText(QPointF(0, 0), text)
        painter.restore()


def ruler_step(pixels_per_unit: float, unit: Unit) -> tuple[float, int]:
    """Return the numbered step, at least 56 px apart, and into how many parts it is divided."""
    steps: Sequence[tuple[float, int]]
    if unit != "mm":
        steps = (
            (1 / 64, 2),
            (1 / 32, 2),
            (1 / 16, 4),
            (1 / 8, 2),
            (1 / 4, 4),
            (1 / 2, 4),
            (1.0, 8),
            (2.0, 8),
            (5.0, 5),
        )
    else:
        steps = tuple((base * 10.0**power, 10 if base == 1 else 5) for power in range(-2, 4) for base in (1, 2, 5))
    for step, parts in steps:
        if step * pixels_per_unit >= 56:
            return step, parts
    return steps[-1]
