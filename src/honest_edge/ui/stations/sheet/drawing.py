"""What the Sheet station adds to a sheet: a cut file held against it, and the way of the blade."""

from __future__ import annotations

from typing import TYPE_CHECKING

from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QColor, QPainter, QPainterPath, QPen, QPolygonF
from PyQt6.QtWidgets import QGraphicsItem, QGraphicsPathItem, QGraphicsScene, QStyleOptionGraphicsItem, QWidget

from honest_edge.ui.drawings.items import add
from honest_edge.ui.widgets.theme import words
from honest_edge.ui.widgets.tokens import PAPER_TOKENS

if TYPE_CHECKING:
    from honest_edge.app.views.blade_path import BladePath
    from honest_edge.app.views.cut_comparison import CutComparison


class StartItem(QGraphicsItem):
    """Where a cut begins, with its number in the order of cutting."""

    def __init__(self, at: QPointF, number: int) -> None:
        super().__init__()
        self.setFlag(QGraphicsItem.GraphicsItemFlag.ItemIgnoresTransformations)
        self.setPos(at)
        self._number = str(number)
        self._badge = QRectF(3, -15, 9 + 6 * len(self._number), 14)

    def boundingRect(self) -> QRectF:
        return self._badge.united(QRectF(-4, -4, 8, 8))

    def paint(
        self, painter: QPainter | None, _option: QStyleOptionGraphicsItem | None, _widget: QWidget | None = None
    ) -> None:
        if painter is None:
            return
        painter.setPen(QPen(QColor("white"), 1))
        painter.setBrush(QColor(PAPER_TOKENS.accent))
        painter.drawEllipse(QPointF(0, 0), 3.0, 3.0)
        painter.drawRoundedRect(self._badge, 4, 4)
        painter.setFont(words(10))
        painter.drawText(self._badge, Qt.AlignmentFlag.AlignCenter, self._number)


def draw_comparison(scene: QGraphicsScene, found: CutComparison) -> None:
    """Draw the lines of a cut file over a sheet."""
    path = QPainterPath()
    for line in found.lines:
        path.addPolygon(QPolygonF([QPointF(x, y) for x, y in line.tolist()]))
    item = QGraphicsPathItem(path)
    pen = QPen(QColor(PAPER_TOKENS.danger), 2, Qt.PenStyle.DotLine)
    pen.setCosmetic(True)
    item.setPen(pen)
    add(scene, item, tag="comparison")


def draw_blade_path(scene: QGraphicsScene, way: BladePath) -> None:
    """Draw where the blade's axis goes: along every cut, lifted between them, and where each begins."""
    axis, lifted = QPainterPath(), QPainterPath()
    lifted.moveTo(0, 0)
    for _, points in way.cuts:
        axis.addPolygon(QPolygonF([QPointF(x, y) for x, y in points.tolist()]))
        lifted.lineTo(*points[0].tolist())
        lifted.moveTo(*points[-1].tolist())
    for path, style, width in ((lifted, Qt.PenStyle.DashLine, 1.0), (axis, Qt.PenStyle.SolidLine, 1.6)):
        item = QGraphicsPathItem(path)
        pen = QPen(QColor(PAPER_TOKENS.accent), width, style)
        pen.setCosmetic(True)
        item.setPen(pen)
        add(scene, item, tag="blade")
    for number, (_, points) in enumerate(way.cuts, 1):
        add(scene, StartItem(QPointF(*points[0].tolist()), number), tag="blade")
