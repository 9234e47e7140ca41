"""What the Outline station marks on the table: gaps, loose and left-out parts, holes, places too narrow."""

from __future__ import annotations

from typing import TYPE_CHECKING

from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QColor, QPainter, QPainterPath, QPen
from PyQt6.QtWidgets import (
    QGraphicsItem,
    QGraphicsLineItem,
    QGraphicsPathItem,
    QGraphicsScene,
    QStyleOptionGraphicsItem,
    QWidget,
)

from honest_edge.core.values.units import MM_PER_INCH, Unit, format_length
from honest_edge.ui.drawing import area_path, line_pen, painter_path
from honest_edge.ui.theme import Tokens, figures, words

if TYPE_CHECKING:
    import shapely

    from honest_edge.app.pipeline import DesignResult

_EXAGGERATION = 20.0
_MOST_MARKS = 60
_MOST_WORDS = 3  # rings may crowd, words may not


class PlaceMark(QGraphicsItem):
    """A ring round a place and a few words beside it, of constant size on the screen."""

    def __init__(self, x_mm: float, y_mm: float, text: str, colour: str, ground: str) -> None:
        super().__init__()
        self.setFlag(QGraphicsItem.GraphicsItemFlag.ItemIgnoresTransformations)
        self.setPos(x_mm, y_mm)
        self.text, self._colour, self._ground = text, QColor(colour), QColor(ground)

    def boundingRect(self) -> QRectF:
        return QRectF(-14, -16, 260, 32)

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
        box = QRectF(14, -11, painter.fontMetrics().horizontalAdvance(self.text) + 12, 22)
        painter.setBrush(self._ground)
        painter.setPen(QPen(self._colour, 1))
        painter.drawRoundedRect(box, 5, 5)
        painter.drawText(box, Qt.AlignmentFlag.AlignCenter, self.text)


class RulerItem(QGraphicsItem):
    """A ruler that lies on the table and can be dragged."""

    def __init__(self, length_mm: float, tokens: Tokens, unit: Unit) -> None:
        super().__init__()
        self.setFlag(QGraphicsItem.GraphicsItemFlag.ItemIsMovable)
        self.setCursor(Qt.CursorShape.SizeAllCursor)
        self._unit_mm = MM_PER_INCH if unit == "in" else 10.0
        self._count = max(1, round(length_mm / self._unit_mm))
        self._parts = 16 if unit == "in" else 10
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
            number = mark if self._unit == "in" else mark * 10
            at = QPointF(mark * self._unit_mm * scale + 3, high * scale - 4)
            painter.drawText(at, f"{number:g}")
        painter.restore()


def lay_ruler(scene: QGraphicsScene, content: QRectF, tokens: Tokens, unit: Unit) -> QRectF:
    """Lay a ruler above the art and return where it lies."""
    item = RulerItem(content.width(), tokens, unit)
    item.setPos(content.left(), content.top() - item.boundingRect().height() - 0.02 * content.width())
    _add(scene, item)
    return item.sceneBoundingRect()


def draw_decisions(scene: QGraphicsScene, result: DesignResult, tokens: Tokens, unit: Unit) -> None:
    """Mark gaps, parts that are loose or left out, holes and what is too narrow."""
    for part in result.outline.parts[: _MOST_MARKS * 4]:
        if not part.kept:
            _pieces(scene, [part.polygon], tokens.soft, Qt.PenStyle.DotLine, fill="")
    for hole in result.outline.holes[: _MOST_MARKS * 4]:
        if not hole.kept:
            _pieces(scene, [hole.polygon], tokens.soft, Qt.PenStyle.DotLine, fill="")
    if result.narrow or len(result.cut.area.geoms) > 1:  # these are places of the cut, so it is shown
        cut = QGraphicsPathItem(painter_path(result.cut.curves))
        pen = line_pen(result.cut.line_kind, tokens)
        cut.setPen(pen)
        cut.setOpacity(0.55)
        _add(scene, cut)
    pieces = sorted(result.cut.area.geoms, key=lambda piece: -piece.area)
    if len(pieces) > 1:
        _pieces(scene, pieces[1:], tokens.look, Qt.PenStyle.DashLine, fill=tokens.look)
        for index, piece in enumerate(pieces[1:_MOST_MARKS]):
            left, top, right, _ = piece.bounds
            words_of = "loose" if index < _MOST_WORDS else ""
            _add(scene, PlaceMark((left + right) / 2, top, words_of, tokens.look, tokens.panel))
    for index, place in enumerate(result.narrow[:_MOST_MARKS]):
        words_of = f"narrow {place.kind}" if index < _MOST_WORDS else ""
        _add(scene, PlaceMark(place.x_mm, place.y_mm, words_of, tokens.look, tokens.panel))
    width_mm = result.width_mm
    for leak in result.subject.leaks:
        (x0, y0), (x1, y1) = leak.start, leak.end
        colour = tokens.fine if leak.dammed else tokens.danger
        line = QGraphicsLineItem(x0 * width_mm, y0 * width_mm, x1 * width_mm, y1 * width_mm)
        pen = QPen(QColor(colour), 3)
        pen.setCosmetic(True)
        line.setPen(pen)
        _add(scene, line)
        gap = format_length(leak.width * width_mm, unit, digits=2 if unit == "mm" else 3)
        text = f"{gap}, dammed" if leak.dammed else f"gap of {gap}?"
        x, y = leak.middle
        _add(scene, PlaceMark(x * width_mm, y * width_mm, text, colour, tokens.panel))


def _pieces(
    scene: QGraphicsScene, polygons: list[shapely.Polygon], colour: str, style: Qt.PenStyle, *, fill: str
) -> None:
    import shapely

    item = QGraphicsPathItem(area_path(shapely.MultiPolygon(polygons)))
    pen = QPen(QColor(colour), 1.6, style)
    pen.setCosmetic(True)
    item.setPen(pen)
    if fill:
        tint = QColor(fill)
        tint.setAlpha(40)
        item.setBrush(tint)
    _add(scene, item)


def draw_deviation(scene: QGraphicsScene, result: DesignResult, tokens: Tokens) -> None:
    """Draw how far the curve strays from the raw edge, many times as large, as a ribbon along the outline."""
    from honest_edge.core.outline.outline import deviations

    path = QPainterPath()
    for raw, gap in deviations(result.outline_curves, result.outline.area):
        first = True
        for (x, y), (dx, dy) in zip(raw.tolist(), (gap * _EXAGGERATION).tolist(), strict=True):
            at = QPointF(x + dx, y + dy)
            if first:
                path.moveTo(at)
            else:
                path.lineTo(at)
            first = False
        path.closeSubpath()
    item = QGraphicsPathItem(path)
    pen = QPen(QColor(tokens.danger), 1.2)
    pen.setCosmetic(True)
    item.setPen(pen)
    _add(scene, item)


def _add(scene: QGraphicsScene, item: QGraphicsItem) -> None:
    item.setData(0, "after")
    scene.addItem(item)
