"""What the Proof station puts on the table: numbered places, and rehearsed sheets with their stickers."""

from __future__ import annotations

from collections.abc import Sequence
from typing import TYPE_CHECKING

from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QColor, QPainter, QPen
from PyQt6.QtWidgets import QGraphicsItem, QGraphicsPathItem, QGraphicsScene, QStyleOptionGraphicsItem, QWidget

from honest_edge.ui.drawings.cased_line import cut_line
from honest_edge.ui.drawings.items import PlaceMark, add, stock_brush
from honest_edge.ui.drawings.paths import geometry_path, painter_path
from honest_edge.ui.drawings.picture_item import ink_item
from honest_edge.ui.stations.proof.rows import paint_badge, severity_colour
from honest_edge.ui.widgets.tokens import PAPER_TOKENS

if TYPE_CHECKING:
    import shapely

    from honest_edge.app.results.design_result import DesignResult
    from honest_edge.app.results.overview import Overview
    from honest_edge.app.views.proof_view import ShownPlace

_SMALL_MM = 4.0
_TRAY_GAP_MM, _TRAY_MM = 12.0, 110.0
_MOST_SHOWN = 18


class NumberMark(QGraphicsItem):
    """A finding's number beside its place, of constant size on the screen; the one in hand is larger."""

    def __init__(self, at: QPointF, number: int, colour: str, ground: str, *, is_selected: bool) -> None:
        super().__init__()
        self.setFlag(QGraphicsItem.GraphicsItemFlag.ItemIgnoresTransformations)
        self.setPos(at)
        self.setZValue(20 if is_selected else 10)
        self.number, self._colour, self._ground = number, QColor(colour), QColor(ground)
        high = 28.0 if is_selected else 22.0
        wide = high + 6 * max(0, len(str(number)) - 2)
        self._box = QRectF(9, -9 - high, wide, high)

    def boundingRect(self) -> QRectF:
        return self._box.united(QRectF(-3, -14, 14, 16)).adjusted(-3, -3, 3, 3)

    def paint(
        self, painter: QPainter | None, _option: QStyleOptionGraphicsItem | None, _widget: QWidget | None = None
    ) -> None:
        if painter is None:
            return
        painter.setPen(QPen(self._ground, 4))
        painter.drawLine(QPointF(0, 0), QPointF(10, -10))
        painter.setPen(QPen(self._colour, 2))
        painter.drawLine(QPointF(0, 0), QPointF(10, -10))
        painter.setPen(Qt.PenStyle.NoPen)
        painter.setBrush(self._ground)
        painter.drawRoundedRect(
            self._box.adjusted(-2, -2, 2, 2), self._box.height() / 2 + 2, self._box.height() / 2 + 2
        )
        paint_badge(painter, self._box, str(self.number), self._colour, self._ground)


def draw_places(scene: QGraphicsScene, places: Sequence[ShownPlace], selected: int | None) -> None:
    """Draw every place with its line or area, numbered where its finding is seen first."""
    for place in places:
        row = place.row
        colour = severity_colour(PAPER_TOKENS, row.finding.severity, is_left=bool(row.finding.left))
        _draw_geometry(scene, place.geometry, colour, is_selected=row.number == selected)
    taken: list[QPointF] = []
    for place in places:
        if place.is_first:
            finding = place.row.finding
            colour = severity_colour(PAPER_TOKENS, finding.severity, is_left=bool(finding.left))
            at = _apart(_anchor(place.geometry), taken)
            taken.append(at)
            mark = NumberMark(
                at, place.row.number, colour, PAPER_TOKENS.panel, is_selected=place.row.number == selected
            )
            mark.setToolTip(place.row.words)
            mark.setData(2, place.row.number)
            add(scene, mark)


def _anchor(geometry: shapely.Geometry) -> QPointF:
    """Return where a number stands: at the upper right of its place."""
    left, top, right, _ = geometry.bounds  # type: ignore[attr-defined]
    return QPointF((left + right) / 2 if right - left > _SMALL_MM else right, top)


def _apart(at: QPointF, taken: Sequence[QPointF]) -> QPointF:
    """Return a place a little to the right of others that are the same."""
    while any((at - other).manhattanLength() < 1.0 for other in taken):
        at = at + QPointF(8.0, 0.0)
    return at


def _draw_geometry(scene: QGraphicsScene, geometry: shapely.Geometry, colour: str, *, is_selected: bool) -> None:
    path = geometry_path(geometry)
    if path is None:
        left, top, _, _ = geometry.bounds  # type: ignore[attr-defined]
        add(scene, PlaceMark(left, top, "", colour, PAPER_TOKENS.panel))
        return
    for width, tint in ((5.0 if is_selected else 4.0, PAPER_TOKENS.panel), (3.0 if is_selected else 1.8, colour)):
        item = QGraphicsPathItem(path)
        pen = QPen(QColor(tint), width)
        pen.setCosmetic(True)
        item.setPen(pen)
        add(scene, item)


def draw_design(scene: QGraphicsScene, result: DesignResult, overview: Overview) -> QRectF:
    """Draw one design by itself, where no sheet is laid out."""
    scene.clear()
    path = painter_path(result.cut.curves)
    ground = QGraphicsPathItem(path)
    ground.setPen(QPen(Qt.PenStyle.NoPen))
    ground.setBrush(stock_brush(overview.job.sheet.stock))
    add(scene, ground)
    add(scene, ink_item(result))
    for line in result.cut.all_paths:
        add(scene, cut_line(painter_path([line.curve]), line.kind, PAPER_TOKENS))
    return path.boundingRect()
