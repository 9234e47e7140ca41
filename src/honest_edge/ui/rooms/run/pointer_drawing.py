"""What a pen is to draw, and what is seen round the practice pointer."""

from __future__ import annotations

from typing import TYPE_CHECKING

from PyQt6.QtCore import QPointF, QRect, QRectF, Qt
from PyQt6.QtGui import QColor, QPainter, QPen, QPolygonF, QTransform

from honest_edge.core.sheet.pen_test import LINES, REACH_MM
from honest_edge.ui.widgets.theme import px, words
from honest_edge.ui.widgets.tokens import PAPER_TOKENS

if TYPE_CHECKING:
    from honest_edge.core.values.sheet import SheetSpec
    from honest_edge.ui.rooms.run.machine_views import Around

_WHITE = QColor("white")


def paint_pen(painter: QPainter, room: QRect) -> None:
    """Draw what a machine draws whose numbers begin at the bottom left and run to the right: an example."""
    side = min(room.width(), room.height()) - 2 * px(28)
    paper = QRectF((room.width() - side) / 2, (room.height() - side) / 2, side, side)
    painter.fillRect(paper, _WHITE)
    painter.setPen(QPen(QColor(PAPER_TOKENS.ink), 3, Qt.PenStyle.SolidLine, Qt.PenCapStyle.RoundCap))
    scale = side / REACH_MM
    for line in LINES:
        places = [QPointF(paper.left() + scale * x, paper.bottom() - scale * y) for x, y in line]
        painter.drawPolyline(QPolygonF(places))
    painter.setFont(words(13))
    for (x, y), said in (((12, 30), "the angle"), ((45, 14), "the arrow"), ((74, 120), "an arm of the cross")):
        painter.drawText(QPointF(paper.left() + scale * x, paper.bottom() - scale * y), said)


def paint_around(painter: QPainter, room: QRect, sheet: SheetSpec, around: Around) -> None:
    """Draw paper and marks as the practice pointer stands over them, and its crosshair."""
    middle = QPointF(room.width() / 2, room.height() / 2)
    scale = min(room.width(), room.height()) / around.wide_mm
    place = QTransform.fromTranslate(middle.x(), middle.y()).scale(scale, scale)
    painter.setClipRect(room)
    painter.setPen(Qt.PenStyle.NoPen)
    for brush, shapes in (
        (QColor(*sheet.stock.rgb), (around.paper,)),
        (QColor(*sheet.machine.marks.rgb), around.marks),
    ):
        painter.setBrush(brush)
        for shape in shapes:
            painter.drawPolygon(place.map(QPolygonF([QPointF(x, y) for x, y in shape.tolist()])))
    reach = px(26)
    for colour, width in ((_WHITE, 5.0), (QColor(PAPER_TOKENS.danger), 1.6)):
        painter.setPen(QPen(colour, width))
        for across in (QPointF(reach, 0), QPointF(0, reach)):
            painter.drawLine(middle - across, middle - across / 8)
            painter.drawLine(middle + across / 8, middle + across)
