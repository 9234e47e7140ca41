"""A layer as a hand takes it on the table, and the grip that scales it."""

from __future__ import annotations

from typing import Protocol

from PyQt6.QtCore import QLineF, QObject, QPoint, QPointF, QRectF, Qt, pyqtSignal
from PyQt6.QtGui import QPainter, QPainterPath, QPolygonF
from PyQt6.QtWidgets import (
    QGraphicsItem,
    QGraphicsSceneContextMenuEvent,
    QGraphicsSceneMouseEvent,
    QStyleOptionGraphicsItem,
    QWidget,
)

from honest_edge.core.layers.stack import Content, layer_matrix
from honest_edge.core.values.layers import Layer
from honest_edge.ui.drawings.grip import Grip
from honest_edge.ui.drawings.paths import area_path, transform

_ADDING = Qt.KeyboardModifier.ShiftModifier | Qt.KeyboardModifier.ControlModifier


class LayerTable(Protocol):
    """What items tell of a hand while it still moves."""

    def pick(self, key: str, *, adding: bool) -> None:
        """A layer was pressed."""

    def ask_menu(self, place: QPoint) -> None:
        """The menu of the layers in hand is wanted."""

    def drag(self, across: float, down: float, *, snap: bool) -> None:
        """The layers in hand are dragged."""

    def drop(self) -> None:
        """They are let go."""

    def stretch(self, factor: float, middle: QPointF) -> None:
        """The one layer in hand is scaled."""

    def let_go(self, factor: float, middle: QPointF) -> None:
        """The grip is let go."""


class LayerHands(QObject):
    """What the hand did to layers, told once it lets go."""

    picked = pyqtSignal(tuple)
    moved = pyqtSignal(tuple, float, float)
    scaled = pyqtSignal(tuple, float, QPointF)
    menu_wanted = pyqtSignal(QPoint)


class LayerItem(QGraphicsItem):
    """One layer: a box that can be taken, with what it prints inside."""

    def __init__(self, layer: Layer, content: Content, table: LayerTable) -> None:
        super().__init__()
        self.layer, self.frame, self._table = layer, frame_of(layer, content), table
        self._hold = QPainterPath()  # letters are taken by the box round them, all else by what it covers
        if layer.lettering is not None:
            self._hold.addPolygon(self.frame)
        else:
            self._hold = transform(layer_matrix(layer)).map(area_path(content.whole))
        self._start: QPointF | None = None
        self.setToolTip(layer.title + (" (locked)" if layer.is_locked else ""))

    def boundingRect(self) -> QRectF:
        return self.frame.boundingRect()

    def shape(self) -> QPainterPath:
        return self._hold

    def paint(
        self, painter: QPainter | None, _option: QStyleOptionGraphicsItem | None, _widget: QWidget | None = None
    ) -> None:
        """Show nothing of its own; its children print."""

    def mousePressEvent(self, event: QGraphicsSceneMouseEvent | None) -> None:
        if event is None or event.button() != Qt.MouseButton.LeftButton:
            return
        self._table.pick(self.layer.key, adding=bool(event.modifiers() & _ADDING))
        if self.layer.is_locked:
            event.ignore()  # the table moves instead
            return
        self._start = event.scenePos()
        event.accept()

    def contextMenuEvent(self, event: QGraphicsSceneContextMenuEvent | None) -> None:
        if event is not None:
            self._table.pick(self.layer.key, adding=False)
            self._table.ask_menu(event.screenPos())

    def mouseMoveEvent(self, event: QGraphicsSceneMouseEvent | None) -> None:
        if event is not None and self._start is not None:
            way = event.scenePos() - self._start
            free = bool(event.modifiers() & Qt.KeyboardModifier.AltModifier)
            self._table.drag(way.x(), way.y(), snap=not free)

    def mouseReleaseEvent(self, event: QGraphicsSceneMouseEvent | None) -> None:
        if event is not None and self._start is not None:
            self._start = None
            self._table.drop()


class ScaleGrip(Grip):
    """A grip at a corner that makes a layer larger or smaller about its middle."""

    def __init__(self, at: QPointF, middle: QPointF, table: LayerTable) -> None:
        super().__init__(at, Qt.CursorShape.SizeFDiagCursor, "Drag to change the size")
        self._middle, self._table = middle, table
        self._reach = max(QLineF(at, middle).length(), 1e-6)
        self._factor = 1.0

    def _draw_knob(self, painter: QPainter) -> None:
        painter.drawRoundedRect(QRectF(-5, -5, 10, 10), 2, 2)

    def _on_drag(self, start: QPointF, place: QPointF) -> None:
        self._factor = max(0.05, QLineF(place, self._middle).length() / self._reach)
        self.setPos(place)
        self._table.stretch(self._factor, self._middle)

    def _on_release(self, start: QPointF, place: QPointF) -> None:
        factor, self._factor = self._factor, 1.0  # pressed again and not moved, it changes nothing
        self._table.let_go(factor, self._middle)


def frame_of(layer: Layer, content: Content) -> QPolygonF:
    """Return the box round what a layer holds, turned with it: top left first, clockwise."""
    left, top, right, bottom = (float(edge) for edge in content.whole.bounds)
    if content.pixels is not None:
        height, width = content.pixels.shape[:2]
        right, bottom = width * content.pixel_mm / 2, height * content.pixel_mm / 2
        left, top = -right, -bottom
    corners = QPolygonF([QPointF(left, top), QPointF(right, top), QPointF(right, bottom), QPointF(left, bottom)])
    return transform(layer_matrix(layer)).map(corners)


def nudge_of(key: int, modifiers: Qt.KeyboardModifier) -> tuple[float, float] | None:
    """Return the move that an arrow key makes, in millimetres; larger with Shift."""
    step = 5.0 if modifiers & Qt.KeyboardModifier.ShiftModifier else 0.5
    ways = {Qt.Key.Key_Left: (-1, 0), Qt.Key.Key_Right: (1, 0), Qt.Key.Key_Up: (0, -1), Qt.Key.Key_Down: (0, 1)}
    way = ways.get(Qt.Key(key))
    return None if way is None else (way[0] * step, way[1] * step)
