"""Small things that stations put on the table: marks, captions, boxes, bare stock."""

from __future__ import annotations

from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QBrush, QColor, QPainter, QPen, QTransform
from PyQt6.QtWidgets import (
    QGraphicsItem,
    QGraphicsRectItem,
    QGraphicsScene,
    QGraphicsSimpleTextItem,
    QStyleOptionGraphicsItem,
    QWidget,
)

from honest_edge.core.values.stock import Stock
from honest_edge.ui.widgets.local import from_the_left, local
from honest_edge.ui.widgets.theme import px, words

SHADOW = QColor(0, 0, 0, 26)
"""Under paper."""


class BeadItem(QGraphicsItem):
    """The bead at a kiss cut's start."""

    def __init__(self, at: QPointF, colour: str) -> None:
        super().__init__()
        self.setFlag(QGraphicsItem.GraphicsItemFlag.ItemIgnoresTransformations)
        self.setPos(at)
        self._colour = QColor(colour)

    def boundingRect(self) -> QRectF:
        return QRectF(-4, -4, 8, 8)

    def paint(
        self, painter: QPainter | None, _option: QStyleOptionGraphicsItem | None, _widget: QWidget | None = None
    ) -> None:
        if painter is not None:
            painter.setPen(Qt.PenStyle.NoPen)
            painter.setBrush(self._colour)
            painter.drawEllipse(QPointF(0, 0), 3.0, 3.0)


class PlaceMark(QGraphicsItem):
    """A ring round a place and a few words beside it, of constant size on the screen."""

    def __init__(self, x_mm: float, y_mm: float, text: str, colour: str, ground: str) -> None:
        super().__init__()
        self.setFlag(QGraphicsItem.GraphicsItemFlag.ItemIgnoresTransformations)
        self.setPos(x_mm, y_mm)
        self.text, self._colour, self._ground = text, QColor(colour), QColor(ground)

    def boundingRect(self) -> QRectF:
        return QRectF(-14, -px(16), px(260), px(32))

    def paint(
        self, painter: QPainter | None, _option: QStyleOptionGraphicsItem | None, _widget: QWidget | None = None
    ) -> None:
        if painter is None:
            return
        painter.setPen(QPen(self._ground, 4))
        painter.drawEllipse(QPointF(0, 0), 10, 10)
        painter.setPen(QPen(self._colour, 2))
        painter.drawEllipse(QPointF(0, 0), 10, 10)
        if not self.text:
            return
        painter.setFont(words(12))
        text = from_the_left(local(self.text))
        box = QRectF(14, -px(11), painter.fontMetrics().horizontalAdvance(text) + 12, px(22))
        painter.setBrush(self._ground)
        painter.setPen(QPen(self._colour, 1))
        painter.drawRoundedRect(box, 5, 5)
        painter.drawText(box, Qt.AlignmentFlag.AlignCenter, text)


def add(scene: QGraphicsScene, item: QGraphicsItem, *, tag: str = "after") -> None:
    """Add an item that is shown before or after, as its tag says, or always."""
    item.setData(0, tag)
    scene.addItem(item)


def stock_brush(stock: Stock) -> QBrush:
    """Return what bare stock looks like: its own colour, or the table through clear film."""
    return QBrush(QColor(0, 0, 0, 14)) if stock.is_clear else QBrush(QColor(*stock.rgb))


def caption_item(
    scene: QGraphicsScene, text: str, centre: QPointF, colour: str, *, above: bool = False, ground: str = ""
) -> None:
    """Add words of constant size on the screen; with a ground they can be read over whatever lies there."""
    item = QGraphicsSimpleTextItem(local(text))
    item.setFont(words(11))
    item.setBrush(QColor(colour))
    item.setFlag(QGraphicsItem.GraphicsItemFlag.ItemIgnoresTransformations)
    bounds = item.boundingRect()
    up = bounds.height() + 3 if above else bounds.height() / 2
    item.setTransform(QTransform.fromTranslate(-bounds.width() / 2, -up))
    item.setPos(centre)
    if ground:
        behind = QGraphicsRectItem(bounds.adjusted(-3, 0, 3, 0), item)
        behind.setFlag(QGraphicsItem.GraphicsItemFlag.ItemStacksBehindParent)
        behind.setPen(QPen(Qt.PenStyle.NoPen))
        behind.setBrush(QColor(ground))
        item.setZValue(1)
    add(scene, item)


def box_item(scene: QGraphicsScene, rect: QRectF, *, brush: QBrush | None = None, pen: QPen | None = None) -> None:
    """Add a rectangle."""
    item = QGraphicsRectItem(rect)
    item.setPen(pen or QPen(Qt.PenStyle.NoPen))
    if brush is not None:
        item.setBrush(brush)
    add(scene, item)
