"""A sheet on the light table: paper, marks, keep-outs, used areas, and copies that a hand can move."""

from __future__ import annotations

from collections.abc import Sequence
from typing import TYPE_CHECKING

from PyQt6.QtCore import QObject, QPoint, QPointF, QRectF, Qt, pyqtSignal
from PyQt6.QtGui import QBrush, QColor, QPainter, QPainterPath, QPen, QTransform
from PyQt6.QtWidgets import (
    QGraphicsItem,
    QGraphicsPathItem,
    QGraphicsScene,
    QGraphicsSceneContextMenuEvent,
    QGraphicsSceneMouseEvent,
    QStyleOptionGraphicsItem,
    QWidget,
)

from honest_edge.core.sheet.media import Box
from honest_edge.core.values.sheet import SheetSpec
from honest_edge.ui.drawings.cased_line import cut_line
from honest_edge.ui.drawings.items import SHADOW, BeadItem, add, box_item, caption_item, stock_brush
from honest_edge.ui.drawings.paths import area_path, nodes_of, painter_path, transform
from honest_edge.ui.drawings.picture_item import PictureItem, ink_item
from honest_edge.ui.widgets.tokens import PAPER_TOKENS

if TYPE_CHECKING:
    import numpy as np
    from numpy.typing import NDArray

    from honest_edge.app.results.design_result import DesignResult
    from honest_edge.core.sheet.plan import Placement, Plan

_STIPPLE = QColor("#B9AE98")
_PIN_PX = 5.0


class SheetHands(QObject):
    """What hands do to copies."""

    moved = pyqtSignal(int, float, float)
    """Number of the copy on its sheet, and how far it was dragged in mm."""
    menu_wanted = pyqtSignal(int, QPoint)


class CopyItem(QGraphicsItem):
    """One copy, which a hand can drag; a pin marks one that was placed by hand."""

    def __init__(
        self, number: int, placement: Placement, name: str, area: QPainterPath, hands: SheetHands | None
    ) -> None:
        super().__init__()
        self._number, self._hands, self._is_pinned = number, hands, placement.is_pinned
        self._path: QPainterPath = transform(placement.matrix).map(area)
        self._bounds = self._path.boundingRect()
        self.setData(0, "after")
        self.setData(1, number)
        if hands is not None:
            self.setFlag(QGraphicsItem.GraphicsItemFlag.ItemIsMovable)
            self.setCursor(Qt.CursorShape.SizeAllCursor)
            self.setToolTip(f"{name}: drag to place it by hand; right click for more")

    def boundingRect(self) -> QRectF:
        return self._bounds

    def shape(self) -> QPainterPath:
        return self._path

    def paint(
        self, painter: QPainter | None, _option: QStyleOptionGraphicsItem | None, _widget: QWidget | None = None
    ) -> None:
        if painter is None or not self._is_pinned:
            return
        scale = painter.worldTransform().m11() or 1.0
        radius = _PIN_PX / scale
        painter.setPen(QPen(QColor("white"), 1.5 / scale))
        painter.setBrush(QColor(PAPER_TOKENS.accent))
        painter.drawEllipse(self._bounds.center(), radius, radius)

    def mouseReleaseEvent(self, event: QGraphicsSceneMouseEvent | None) -> None:
        super().mouseReleaseEvent(event)
        way = self.pos()
        if self._hands is not None and not way.isNull():
            self._hands.moved.emit(self._number, way.x(), way.y())

    def contextMenuEvent(self, event: QGraphicsSceneContextMenuEvent | None) -> None:
        if event is not None and self._hands is not None:
            self._hands.menu_wanted.emit(self._number, event.screenPos())


def draw_sheet(
    scene: QGraphicsScene,
    page: int,
    plan: Plan,
    results: Sequence[DesignResult],
    sheet: SheetSpec,
    hands: SheetHands | None = None,
) -> QRectF:
    """Draw one sheet; with ``hands`` its copies can be moved."""
    scene.clear()
    paper = QRectF(0, 0, plan.width_mm, plan.height_mm)
    box_item(scene, paper.translated(1.0, 1.6), brush=QBrush(SHADOW))
    stock = plan.stocks[page]
    box_item(scene, paper, brush=stock_brush(stock or sheet.stock))
    _keep_outs(scene, plan, sheet, with_marks=stock is None)
    if page == 0 and stock is None:
        _used(scene, sheet)
    for mark in plan.marks if stock is None and not sheet.machine.prints_own_marks else ():
        printed = QGraphicsPathItem(painter_path(mark.rings))
        printed.setBrush(QBrush(QColor(*sheet.marks.rgb)))
        printed.setPen(QPen(Qt.PenStyle.NoPen))
        add(scene, printed)
    areas = {one: area_path(results[one].cut.area) for one in {placement.design for placement in plan.pages[page]}}
    for number, placement in enumerate(plan.pages[page]):
        result = results[placement.design]
        holder = CopyItem(number, placement, result.design.name, areas[placement.design], hands)
        _dress_copy(holder, placement, result, is_printed=stock is None)
        scene.addItem(holder)
    return paper


def draw_first_look(scene: QGraphicsScene, pixels: NDArray[np.uint8], width_mm: float, sheet: SheetSpec) -> QRectF:
    """Draw a picture in the middle of the bare paper."""
    scene.clear()
    paper = QRectF(0, 0, *sheet.size_mm)
    box_item(scene, paper.translated(1.0, 1.6), brush=QBrush(SHADOW))
    box_item(scene, paper, brush=stock_brush(sheet.stock))
    pixel_mm = width_mm / pixels.shape[1]
    high_mm = pixels.shape[0] * pixel_mm
    add(scene, PictureItem(pixels, (paper.width() - width_mm) / 2, (paper.height() - high_mm) / 2, pixel_mm))
    return paper


def _dress_copy(holder: CopyItem, placement: Placement, result: DesignResult, *, is_printed: bool) -> None:
    """Put a copy's ink and its lines into its item."""
    matrix = transform(placement.matrix)
    if is_printed:
        ink = ink_item(result)
        ink.setTransform(ink.transform() * matrix)
        _put_in(holder, ink)
    _put_in(holder, cut_line(matrix.map(painter_path(result.cut.curves)), result.cut.line_kind, PAPER_TOKENS))
    for path in result.cut.lines:
        _put_in(holder, cut_line(matrix.map(painter_path([path.curve])), path.kind, PAPER_TOKENS))
    if result.cut.line_kind == "kiss":
        for curve in result.cut.curves:
            _put_in(holder, BeadItem(_first_node(matrix, nodes_of([curve])), PAPER_TOKENS.kiss))


def _first_node(matrix: QTransform, nodes: list[QPointF]) -> QPointF:
    return matrix.map(nodes[0])


def _put_in(holder: CopyItem, item: QGraphicsItem) -> None:
    item.setParentItem(holder)
    item.setFlag(QGraphicsItem.GraphicsItemFlag.ItemStacksBehindParent)
    item.setAcceptedMouseButtons(Qt.MouseButton.NoButton)


def _keep_outs(scene: QGraphicsScene, plan: Plan, sheet: SheetSpec, *, with_marks: bool) -> None:
    stipple, rims = QBrush(_STIPPLE, Qt.BrushStyle.Dense6Pattern), sheet.rims_mm
    paper, printable = QPainterPath(), QPainterPath()
    paper.addRect(QRectF(0, 0, plan.width_mm, plan.height_mm))
    printable.addRect(rect_of(Box(0.0, 0.0, plan.width_mm, plan.height_mm).inside(rims)))
    rim = QGraphicsPathItem(paper.subtracted(printable))
    rim.setBrush(stipple)
    rim.setPen(QPen(Qt.PenStyle.NoPen))
    add(scene, rim)
    usable = QPen(QColor("#8C8471"), 1, Qt.PenStyle.DashLine)
    usable.setCosmetic(True)
    box_item(scene, rect_of(plan.usable), pen=usable)
    for mark in plan.marks if with_marks else ():
        for keep_out in mark.keep_outs:
            box_item(scene, rect_of(keep_out), brush=stipple)
        if sheet.marks.kind != "frame":
            caption_item(scene, "marks", rect_of(mark.keep_outs[0]).center(), PAPER_TOKENS.soft)
    if rims.top:
        caption_item(scene, "printer’s rim", QPointF(plan.width_mm / 2, rims.top / 2), PAPER_TOKENS.soft)


def _used(scene: QGraphicsScene, sheet: SheetSpec) -> None:
    hatch = QBrush(_STIPPLE, Qt.BrushStyle.BDiagPattern)
    edge = QPen(_STIPPLE, 1)
    edge.setCosmetic(True)
    for box in sheet.used:
        left, top, right, bottom = box
        box_item(scene, QRectF(left, top, right - left, bottom - top), brush=hatch, pen=edge)
    if sheet.used:
        left, top, right, bottom = sheet.used[0]
        caption_item(scene, "used", QPointF((left + right) / 2, (top + bottom) / 2), PAPER_TOKENS.ink)


def rect_of(box: Box) -> QRectF:
    """Return a box as Qt takes it."""
    return QRectF(box.left, box.top, box.width, box.height)
