"""Lines of cut that read on any ground: each lies on a thin casing of the opposite lightness."""

from __future__ import annotations

from PyQt6.QtGui import QColor, QPainter, QPainterPath, QPen
from PyQt6.QtWidgets import QGraphicsPathItem, QStyleOptionGraphicsItem, QWidget

from honest_edge.core.values.specs import LineKind
from honest_edge.ui.drawings.paths import line_pen
from honest_edge.ui.widgets.tokens import Tokens

_CASING_PX = 1.1  # on either side
_DARK, _PALE = QColor(20, 22, 28, 200), QColor(255, 255, 255, 215)


def casing_of(pen: QPen) -> QPen:
    """Return the pen that lies under another one: wider and of the opposite lightness."""
    casing = QPen(pen)
    casing.setColor(_PALE if pen.color().lightnessF() < 0.55 else _DARK)
    casing.setWidthF(pen.widthF() + 2 * _CASING_PX)
    return casing


class CasedLine(QGraphicsPathItem):
    """A path drawn with its casing."""

    def __init__(self, path: QPainterPath, pen: QPen) -> None:
        super().__init__(path)
        self.setPen(pen)

    def paint(
        self, painter: QPainter | None, option: QStyleOptionGraphicsItem | None, widget: QWidget | None = None
    ) -> None:
        if painter is not None:
            painter.strokePath(self.path(), casing_of(self.pen()))
        super().paint(painter, option, widget)


def cut_line(path: QPainterPath, kind: LineKind, tokens: Tokens) -> CasedLine:
    """Return a line of cut."""
    return CasedLine(path, line_pen(kind, tokens))
