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
from honest_edge.core.values.units import MM_PER_INCH, Unit
from honest_edge.ui.drawings.cased_line import cut_line
from honest_edge.ui.drawings.items import add, caption_item
from honest_edge.ui.drawings.paths import painter_path
from honest_edge.ui.drawings.picture_item import original_item
from honest_edge.ui.widgets.local import local, shown_length
from honest_edge.ui.widgets.theme import figures
from honest_edge.ui.widgets.tokens import Tokens

_SAME_MM = 0.05  # sizes that differ by less are said once

if TYPE_CHECKING:
    import shapely

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
            painter.drawText(at, local(f"{number:g}"))
        painter.restore()


def lay_ruler(
    scene: QGraphicsScene, content: QRectF, tokens: Tokens, unit: Unit, *, length_mm: float | None = None
) -> QRectF:
    """Lay a ruler above the art, as long as that or as was said, and return where it lies."""
    item = RulerItem(length_mm or content.width(), tokens, unit)
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
    """The original with the line of its cut, their measures, and what it is held against."""
    scene.clear()
    add(scene, original_item(result), tag="always")
    _draw_cut(scene, result, tokens)
    content = _draw_sizes(scene, result, tokens, unit)
    if compare is not None:
        content = content.united(_comparison(scene, compare, content.center(), tokens))
    if ruler:
        content = content.united(lay_ruler(scene, content, tokens, unit, length_mm=result.cut_size_mm[0]))
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


def _draw_cut(scene: QGraphicsScene, result: DesignResult, tokens: Tokens) -> None:
    line = cut_line(painter_path(result.cut.curves), result.cut.line_kind, tokens)
    line.setOpacity(0.6)
    add(scene, line)


def _draw_sizes(scene: QGraphicsScene, result: DesignResult, tokens: Tokens, unit: Unit) -> QRectF:
    """Measure the sticker as cut below and right of it, the art above and left; return what all of it takes.

    The lines lie outside the whole picture, so that they are read on the table's ground alone.
    """
    cut, art = (QRectF(*_box(area)) for area in (result.cut.area, result.outline.area))
    whole = cut.united(QRectF(0, 0, result.width_mm, result.height_mm))
    away = 0.04 * max(whole.width(), whole.height())
    same = abs(cut.width() - art.width()) + abs(cut.height() - art.height()) < _SAME_MM
    name = "cut and art" if same else "cut"
    _dimension(scene, cut, whole.bottom() + away, f"{name} {shown_length(cut.width(), unit)}", tokens, upright=False)
    _dimension(scene, cut, whole.right() + away, f"{name} {shown_length(cut.height(), unit)}", tokens, upright=True)
    if same:
        return whole.adjusted(0, 0, 2 * away, 2 * away)
    _dimension(scene, art, whole.top() - away, f"art {shown_length(art.width(), unit)}", tokens, upright=False)
    _dimension(scene, art, whole.left() - away, f"art {shown_length(art.height(), unit)}", tokens, upright=True)
    return whole.adjusted(-2 * away, -2 * away, 2 * away, 2 * away)


def _box(area: shapely.MultiPolygon) -> tuple[float, float, float, float]:
    left, top, right, bottom = (float(edge) for edge in area.bounds)
    return left, top, right - left, bottom - top


def _dimension(scene: QGraphicsScene, box: QRectF, at: float, text: str, tokens: Tokens, *, upright: bool) -> None:
    """A measure line beside a box, at a height or, upright, at a distance from the left."""
    start, end = (box.top(), box.bottom()) if upright else (box.left(), box.right())
    before = at < (box.left() if upright else box.top())
    jaw = 0.018 * max(box.width(), box.height())
    path = QPainterPath()
    for a, b in (((start, at), (end, at)), ((start, at - jaw), (start, at + jaw)), ((end, at - jaw), (end, at + jaw))):
        path.moveTo(*(reversed(a) if upright else a))
        path.lineTo(*(reversed(b) if upright else b))
    pen = QPen(QColor(tokens.ink), 1)
    pen.setCosmetic(True)
    line = QGraphicsPathItem(path)
    line.setPen(pen)
    add(scene, line)
    caption = QGraphicsSimpleTextItem(text)
    caption.setFont(figures(13))
    caption.setBrush(QColor(tokens.ink))
    caption.setFlag(QGraphicsItem.GraphicsItemFlag.ItemIgnoresTransformations)
    bounds = caption.boundingRect()
    aside = -bounds.height() - 5 if before else 5
    turn = QTransform().rotate(-90) if upright else QTransform()
    # turned upright, the way away from the line is to the right
    caption.setTransform(QTransform.fromTranslate(-bounds.width() / 2, aside) * turn)
    middle = (start + end) / 2
    caption.setPos(QPointF(at, middle) if upright else QPointF(middle, at))
    add(scene, caption)
