"""What the Art station shows of a picture: its size, and what it is held against."""

from __future__ import annotations

from typing import TYPE_CHECKING

from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QColor, QPainter, QPainterPath, QPen, QTransform
from PyQt6.QtWidgets import (
    QGraphicsItem,
    QGraphicsPathItem,
    QGraphicsScene,
    QGraphicsSimpleTextItem,
    QStyleOptionGraphicsItem,
    QWidget,
)

from honest_edge.core.values.comparison import Comparison
from honest_edge.core.values.units import MM_PER_INCH, Unit, format_length
from honest_edge.ui.drawings.items import add, caption_item
from honest_edge.ui.drawings.picture_item import original_item
from honest_edge.ui.widgets.theme import Tokens, figures

if TYPE_CHECKING:
    from honest_edge.app.results.design_result import DesignResult


class RulerItem(QGraphicsItem):
    """A ruler that lies on the table and can be dragged."""

    def __init__(self, length_mm: float, tokens: Tokens, unit: Unit) -> None:
        super().__init__()
        self.setFlag(QGraphicsItem.GraphicsItemFlag.ItemIsMovable)
        self.setCursor(Qt.CursorShape.SizeAllCursor)
        self._unit_mm = 10.0 if unit == "mm" else MM_PER_INCH
        self._count = max(1, round(length_mm / self._unit_mm))
        self._parts = 10 if unit == "mm" else 16
        self._tokens, self._unit = tokens, unit
        self._rect = QRectF(0, 0, self._count * self._unit_mm, 0.09 * self._count * self._unit_mm)

    def boundingRect(self) -> QRectF:
        return self._rect

    def paint(
        self, painter: QPainter | None, _option: QStyleOptionGraphicsItem | None, _widget: QWidget | None = None
    ) -> None:
        if painter is None:
            return
        painter.setBrush(QColor(self._tokens.sand))
        pen = QPen(QColor(self._tokens.ink), 1)
        pen.setCosmetic(True)
        painter.setPen(pen)
        painter.drawRect(self._rect)
        scale = painter.worldTransform().m11()
        high = self._rect.height()
        for mark in range(self._count * self._parts + 1):
            x = mark * self._unit_mm / self._parts
            whole, half = mark % self._parts == 0, mark % (self._parts // 2) == 0
            if not whole and self._unit_mm / self._parts * scale < 3 and not half:
                continue
            painter.drawLine(QPointF(x, 0), QPointF(x, high * (0.5 if whole else 0.35 if half else 0.2)))
        painter.setFont(figures(11))
        painter.save()
        painter.scale(1 / scale, 1 / scale)
        every = max(1, round(24 / max(self._unit_mm * scale, 1)))
        for mark in range(every, self._count, every):
            number = mark * 10 if self._unit == "mm" else mark
            at = QPointF(mark * self._unit_mm * scale + 3, high * scale - 4)
            painter.drawText(at, f"{number:g}")
        painter.restore()


def lay_ruler(scene: QGraphicsScene, content: QRectF, tokens: Tokens, unit: Unit) -> QRectF:
    """Lay a ruler above the art and return where it lies."""
    item = RulerItem(content.width(), tokens, unit)
    item.setPos(content.left(), content.top() - item.boundingRect().height() - 0.02 * content.width())
    add(scene, item)
    return item.sceneBoundingRect()


def draw_art(
    scene: QGraphicsScene,
    result: DesignResult,
    tokens: Tokens,
    unit: Unit,
    *,
    compare: Comparison | None = None,
    ruler: bool = False,
) -> QRectF:
    """The original at its finished size, with its measures, and what it is held against."""
    scene.clear()
    width_mm, height_mm = result.width_mm, result.height_mm
    add(scene, original_item(result), tag="always")
    _dimension(scene, 0, width_mm, height_mm, format_length(width_mm, unit), tokens, upright=False)
    _dimension(scene, 0, height_mm, width_mm, format_length(height_mm, unit), tokens, upright=True)
    content = QRectF(0, 0, width_mm, height_mm)
    if compare is not None:
        content = content.united(_comparison(scene, compare, content.center(), tokens))
    if ruler:
        content = content.united(lay_ruler(scene, content, tokens, unit))
    return content


def _comparison(scene: QGraphicsScene, compare: Comparison, centre: QPointF, tokens: Tokens) -> QRectF:
    box = QRectF(0, 0, compare.width_mm, compare.height_mm)
    box.moveCenter(centre)
    path = QPainterPath()
    if compare.is_round:
        path.addEllipse(box)
    else:
        path.addRect(box)
    item = QGraphicsPathItem(path)
    pen = QPen(QColor(tokens.accent), 2, Qt.PenStyle.DashLine)
    pen.setCosmetic(True)
    item.setPen(pen)
    add(scene, item)
    caption_item(scene, compare.name, QPointF(centre.x(), box.top()), tokens.accent, above=True)
    return box


def _dimension(
    scene: QGraphicsScene, start: float, end: float, beside: float, text: str, tokens: Tokens, *, upright: bool
) -> None:
    """A measure line beside the art."""
    away = max(end - start, beside) * 0.05
    pen = QPen(QColor(tokens.ink), 1)
    pen.setCosmetic(True)
    at, jaw = beside + away, away * 0.35
    path = QPainterPath()
    for a, b in (((start, at), (end, at)), ((start, at - jaw), (start, at + jaw)), ((end, at - jaw), (end, at + jaw))):
        path.moveTo(*(reversed(a) if upright else a))
        path.lineTo(*(reversed(b) if upright else b))
    line = QGraphicsPathItem(path)
    line.setPen(pen)
    add(scene, line)
    caption = QGraphicsSimpleTextItem(text)
    caption.setFont(figures(13))
    caption.setBrush(QColor(tokens.ink))
    caption.setFlag(QGraphicsItem.GraphicsItemFlag.ItemIgnoresTransformations)
    bounds = caption.boundingRect()
    shift = QPointF(8, -bounds.height() / 2) if upright else QPointF(-bounds.width() / 2, 6)
    caption.setTransform(QTransform.fromTranslate(shift.x(), shift.y()))
    middle = (start + end) / 2
    caption.setPos(QPointF(at, middle) if upright else QPointF(middle, at))
    add(scene, caption)
