"""A grip on the drawing that a hand drags: as large as a hand needs it at every scale."""

from __future__ import annotations

from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QColor, QPainter, QPen
from PyQt6.QtWidgets import QGraphicsItem, QGraphicsSceneMouseEvent, QStyleOptionGraphicsItem, QWidget

from honest_edge.ui.widgets.tokens import PAPER_TOKENS

_REACH_PX = 10.0


class Grip(QGraphicsItem):
    """A knob over the drawing; what it looks like and what dragging it does, a subclass says."""

    def __init__(self, at: QPointF, cursor: Qt.CursorShape, tip: str) -> None:
        super().__init__()
        self.setFlag(QGraphicsItem.GraphicsItemFlag.ItemIgnoresTransformations)
        self.setPos(at)
        self.setZValue(1000)
        self.setCursor(cursor)
        self.setToolTip(tip)
        self._start: QPointF | None = None

    def _draw_knob(self, painter: QPainter) -> None:
        """Draw the knob about the origin in pixels."""
        raise NotImplementedError

    def _on_drag(self, start: QPointF, place: QPointF) -> None:
        """The grip was taken at ``start`` and is at ``place`` now, both in scene millimetres."""
        raise NotImplementedError

    def _on_release(self, start: QPointF, place: QPointF) -> None:
        """The grip was let go."""
        raise NotImplementedError

    def boundingRect(self) -> QRectF:
        return QRectF(-_REACH_PX, -_REACH_PX, 2 * _REACH_PX, 2 * _REACH_PX)

    def paint(
        self, painter: QPainter | None, _option: QStyleOptionGraphicsItem | None, _widget: QWidget | None = None
    ) -> None:
        if painter is None:
            return
        painter.setPen(QPen(QColor(PAPER_TOKENS.accent), 2))
        painter.setBrush(QColor("white"))
        self._draw_knob(painter)

    def mousePressEvent(self, event: QGraphicsSceneMouseEvent | None) -> None:
        if event is not None:
            self._start = event.scenePos()
            event.accept()

    def mouseMoveEvent(self, event: QGraphicsSceneMouseEvent | None) -> None:
        if event is not None and self._start is not None:
            self._on_drag(self._start, event.scenePos())

    def mouseReleaseEvent(self, event: QGraphicsSceneMouseEvent | None) -> None:
        if event is not None and self._start is not None:
            start, self._start = self._start, None
            self._on_release(start, event.scenePos())
