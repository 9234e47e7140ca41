"""The four corners of a page that was photographed aslant, to be dragged on the photograph."""

from __future__ import annotations

from collections.abc import Callable

from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QColor, QPainter, QPen, QPolygonF
from PyQt6.QtWidgets import QGraphicsPolygonItem, QGraphicsScene

from honest_edge.core.imaging.upright import Corners
from honest_edge.ui.drawings.grip import Grip
from honest_edge.ui.widgets.tokens import PAPER_TOKENS

INSET: Corners = ((0.1, 0.1), (0.9, 0.1), (0.9, 0.9), (0.1, 0.9))
"""Where they begin when none were found."""
_NAMES = ("upper left", "upper right", "lower right", "lower left")


class CornersOnTable:
    """Four grips and the lines between them; tells where they are whenever one is let go."""

    def __init__(self, corners: Corners, size_mm: tuple[float, float], moved: Callable[[Corners], object]) -> None:
        """Take the corners, width and height of the photograph, and who is told."""
        self._places = [QPointF(x * size_mm[0], y * size_mm[1]) for x, y in corners]
        self._size_mm, self._moved = size_mm, moved
        self._frame = QGraphicsPolygonItem()

    def draw(self, scene: QGraphicsScene) -> None:
        """Lay the lines and the grips over what is in a scene."""
        pen = QPen(QColor(PAPER_TOKENS.accent), 2)
        pen.setCosmetic(True)
        self._frame.setPen(pen)
        self._frame.setZValue(900)
        self._frame.setData(0, "always")
        self._show_frame()
        scene.addItem(self._frame)
        for number, place in enumerate(self._places):
            grip = _CornerGrip(number, place, self)
            grip.setData(0, "always")
            scene.addItem(grip)

    def move(self, number: int, place: QPointF) -> None:
        """Put a corner elsewhere, on the photograph."""
        width, height = self._size_mm
        self._places[number] = QPointF(min(max(place.x(), 0.0), width), min(max(place.y(), 0.0), height))
        self._show_frame()

    def place(self, number: int) -> QPointF:
        """Return where a corner is."""
        return self._places[number]

    def let_go(self) -> None:
        """Tell where the corners are."""
        width, height = self._size_mm
        corners = tuple((place.x() / width, place.y() / height) for place in self._places)
        self._moved(corners)  # type: ignore[arg-type]  # four of them

    def _show_frame(self) -> None:
        self._frame.setPolygon(QPolygonF(self._places))


class _CornerGrip(Grip):
    """A ring at one corner, whose middle stays free to be seen."""

    def __init__(self, number: int, at: QPointF, table: CornersOnTable) -> None:
        super().__init__(at, Qt.CursorShape.CrossCursor, f"Drag to the page’s {_NAMES[number]} corner")
        self._number, self._table = number, table

    def _draw_knob(self, painter: QPainter) -> None:
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.drawEllipse(QRectF(-9, -9, 18, 18))
        painter.drawPoint(QPointF(0, 0))

    def _on_drag(self, start: QPointF, place: QPointF) -> None:
        self._table.move(self._number, place)
        self.setPos(self._table.place(self._number))

    def _on_release(self, start: QPointF, place: QPointF) -> None:
        self._table.let_go()
