"""What the Edge station shows: the sticker as cut, weak places, detail, the grip, all schools side by side."""

from __future__ import annotations

import math
from collections.abc import Callable, Sequence
from typing import TYPE_CHECKING

from PyQt6.QtCore import QPointF, QRectF, QSizeF, Qt
from PyQt6.QtGui import QBrush, QColor, QFontMetricsF, QPainter, QPen, QTransform
from PyQt6.QtWidgets import (
    QGraphicsItem,
    QGraphicsPathItem,
    QGraphicsScene,
    QGraphicsSimpleTextItem,
    QStyleOptionGraphicsItem,
    QWidget,
)

from honest_edge.core.values.specs import SCHOOL_NAMES
from honest_edge.core.values.stock import Stock
from honest_edge.core.values.units import Unit
from honest_edge.ui.drawings.cased_line import cut_line
from honest_edge.ui.drawings.grip import Grip
from honest_edge.ui.drawings.items import SHADOW, BeadItem, PlaceMark, add, stock_brush
from honest_edge.ui.drawings.paths import area_path, nodes_of, painter_path, transform
from honest_edge.ui.drawings.picture_item import ink_item, original_item
from honest_edge.ui.widgets.local import from_the_left, local, shown_length
from honest_edge.ui.widgets.theme import px, words
from honest_edge.ui.widgets.tokens import PAPER_TOKENS, Tokens
from honest_edge.ui.widgets.words import one_in, percent

if TYPE_CHECKING:
    from honest_edge.app.results.design_result import DesignResult
    from honest_edge.app.results.edge_assessment import SchoolView
    from honest_edge.app.results.edge_preview import EdgePreview
    from honest_edge.core.edge.profile import WeakPlace

_WASTE_OPACITY = 0.42
_AIR = 0.16


class Callout(QGraphicsItem):
    """A ring round a place, and what is wrong there in words."""

    def __init__(self, title: str, detail: str, tokens: Tokens, *, leftward: bool, upward: bool) -> None:
        super().__init__()
        self.setFlag(QGraphicsItem.GraphicsItemFlag.ItemIgnoresTransformations)
        self._title, self._detail, self._tokens = title, detail, tokens
        self._leftward, self._upward = leftward, upward

    def boundingRect(self) -> QRectF:
        return QRectF(-px(400), -px(74), px(800), px(148))

    def paint(
        self, painter: QPainter | None, _option: QStyleOptionGraphicsItem | None, widget: QWidget | None = None
    ) -> None:
        if painter is None:
            return
        danger = QColor(self._tokens.danger)
        for pen in (QPen(QColor(self._tokens.panel), 4), QPen(danger, 2)):
            painter.setPen(pen)
            painter.drawEllipse(QPointF(0, 0), 12, 12)
        if not self._title:
            return
        painter.setFont(words(13))
        title, detail = (from_the_left(local(text)) for text in (self._title, self._detail))
        width = max(painter.fontMetrics().horizontalAdvance(text) for text in (title, detail)) + 24
        box = self._box(width, painter.transform().map(QPointF(0, 0)), widget)
        painter.setPen(QPen(danger, 1))
        painter.setBrush(QColor(self._tokens.panel))
        painter.drawRoundedRect(box, 6, 6)
        painter.setPen(danger)
        painter.drawText(QPointF(box.left() + 12, box.top() + px(19)), title)
        painter.setPen(QColor(self._tokens.ink))
        painter.drawText(QPointF(box.left() + 12, box.top() + px(37)), detail)

    def _box(self, width: float, place: QPointF, widget: QWidget | None) -> QRectF:
        """Return where the words stand: away from the art, or over it where the table ends."""
        leftward, upward, high = self._leftward, self._upward, px(46)
        if widget is not None:
            leftward = place.x() - 10 - width >= 0 if leftward else place.x() + 10 + width > widget.width()
            upward = place.y() - 20 - high >= 0 if upward else place.y() + 20 + high > widget.height()
        box = QRectF(-10 - width if leftward else 10, -20 - high if upward else 20, width, high)
        box.moveLeft(max(box.left(), 4 - place.x()))  # where there is room on neither side, it begins in sight
        return box


def draw_edge(
    scene: QGraphicsScene,
    result: DesignResult,
    weak_places: Sequence[WeakPlace],
    stock: Stock,
    tokens: Tokens,
    unit: Unit,
) -> QRectF:
    """The sticker as cut, what is printed beyond the cut paler, and the places where the bench's error would show."""
    scene.clear()
    left, top, right, bottom = result.cut.area.bounds
    untouched = original_item(result)
    untouched.setVisible(False)
    add(scene, untouched, tag="before")
    cut = painter_path(result.cut.curves)
    shadow = QGraphicsPathItem(cut.translated(0.5, 0.9))
    shadow.setBrush(SHADOW)
    shadow.setPen(QPen(Qt.PenStyle.NoPen))
    add(scene, shadow)
    waste = ink_item(result)
    waste.setOpacity(_WASTE_OPACITY)
    add(scene, waste)
    paper = QGraphicsPathItem(cut)
    paper.setBrush(stock_brush(stock))
    paper.setPen(QPen(Qt.PenStyle.NoPen))
    paper.setFlag(QGraphicsItem.GraphicsItemFlag.ItemClipsChildrenToShape)
    add(scene, paper)
    inner = ink_item(result)
    inner.setParentItem(paper)
    _cut_line(scene, result)
    for index, weak_place in reversed(list(enumerate(weak_places))):
        title, detail = weak_place_words(weak_place, stock, unit) if index == 0 else ("", "")
        leftward, upward = weak_place.x_mm < (left + right) / 2, weak_place.y_mm < (top + bottom) / 2
        mark = Callout(title, detail, tokens, leftward=leftward, upward=upward)
        mark.setPos(weak_place.x_mm, weak_place.y_mm)
        add(scene, mark)
    return QRectF(left, top, right - left, bottom - top)


def weak_place_words(weak_place: WeakPlace, stock: Stock, unit: Unit) -> tuple[str, str]:
    """Return what would be seen at a weak_place, how often, and how little room there is."""
    room = shown_length(weak_place.room_mm, unit, digits=2 if unit == "mm" else 3)
    often = one_in(weak_place.chance)
    if weak_place.trouble == "white":
        name = stock.bare_name[:1].upper() + stock.bare_name[1:]
        return f"{name} would show here: {often}", f"ink reaches only {room} past the cut"
    if weak_place.trouble == "kiss":
        return f"This kiss cut would leave its ring here: {often}", f"it may land only {room} to that side"
    return f"Detail would be cut here: {often}", f"it begins only {room} inside the cut"


def _cut_line(scene: QGraphicsScene, result: DesignResult) -> None:
    add(scene, cut_line(painter_path(result.cut.curves), result.cut.line_kind, PAPER_TOKENS))
    for path in result.cut.lines:
        add(scene, cut_line(painter_path([path.curve]), path.kind, PAPER_TOKENS))
    if result.cut.line_kind == "kiss":
        for curve in result.cut.curves:
            add(scene, BeadItem(nodes_of([curve])[0], PAPER_TOKENS.kiss))


class OffsetHandle(Grip):
    """A grip on the cut, or on the ring round a sticker, that is dragged outward or inward."""

    def __init__(
        self,
        at: QPointF,
        outward: QPointF,
        offset_mm: float,
        sign: float,
        moved: Callable[[float], None],
        released: Callable[[float], None],
        tip: str = "Drag to set the offset",
    ) -> None:
        super().__init__(at, Qt.CursorShape.SizeAllCursor, tip)
        self._at, self._outward, self._offset_mm, self._sign = at, outward, offset_mm, sign
        self._moved, self._released = moved, released

    def _draw_knob(self, painter: QPainter) -> None:
        painter.drawEllipse(QPointF(0, 0), 7, 7)
        way = self._outward * 4
        painter.drawLine(-way, way)

    def _on_drag(self, start: QPointF, place: QPointF) -> None:
        offset_mm = self._offset(start, place)
        self.setPos(self._at + self._outward * self._sign * (offset_mm - self._offset_mm))
        self._moved(offset_mm)

    def _on_release(self, start: QPointF, place: QPointF) -> None:
        self._released(self._offset(start, place))

    def _offset(self, start: QPointF, place: QPointF) -> float:
        moved = QPointF.dotProduct(place - start, self._outward) * self._sign
        return round(min(max(0.0, self._offset_mm + moved), 50.0), 2)


def draw_preview(scene: QGraphicsScene, preview: EdgePreview, tokens: Tokens) -> None:
    """The cut or the rings that are being dragged, dashed, beside those in force."""
    for old in scene.items():
        if old.data(1) == "dragged":
            scene.removeItem(old)
    item = QGraphicsPathItem(area_path(preview.area))
    pen = QPen(QColor(tokens.accent), 1.6, Qt.PenStyle.DashLine)
    pen.setCosmetic(True)
    item.setPen(pen)
    item.setData(0, "always")
    item.setData(1, "dragged")
    scene.addItem(item)


def add_handle(
    scene: QGraphicsScene, result: DesignResult, moved: Callable[[float], None], released: Callable[[float], None]
) -> OffsetHandle:
    """Put the grip on the rightmost place of the cut."""
    edge = result.edge
    at = int(edge.points_mm[:, 0].argmax())
    recipe = result.design.edge
    handle = OffsetHandle(
        QPointF(*edge.points_mm[at].tolist()),
        QPointF(*edge.normals[at].tolist()),
        recipe.offset_mm,
        -1.0 if recipe.school == "inside" else 1.0,
        moved,
        released,
    )
    handle.setData(0, "always")
    scene.addItem(handle)
    return handle


def add_ring_handle(
    scene: QGraphicsScene, result: DesignResult, moved: Callable[[float], None], released: Callable[[float], None]
) -> OffsetHandle | None:
    """Put a grip on the right of the first ring of a sheet of stickers; None where it has no rings."""
    kiss = result.kiss
    ringed = next((one for one in kiss.stickers if one.is_cleared), None) if kiss is not None else None
    if ringed is None:
        return None
    x_mm, y_mm = max(place for part in ringed.cut.geoms for place in part.exterior.coords)
    at, tip = QPointF(x_mm + ringed.ring_mm, y_mm), "Drag to set how wide the rings round the stickers are"
    before_mm = round(ringed.ring_mm, 2)

    def let_go(ring_mm: float) -> None:
        if ring_mm != before_mm:  # a mere click makes no rings alike that differ
            released(ring_mm)

    handle = OffsetHandle(at, QPointF(1, 0), ringed.ring_mm, 1.0, moved, let_go, tip)
    handle.setData(0, "always")
    scene.addItem(handle)
    return handle


def draw_detail(scene: QGraphicsScene, result: DesignResult, tokens: Tokens) -> None:
    """Hatch what must not be cut, where any of it lies near the cut."""
    if not result.model.is_inked or result.model.detail.is_empty or not len(result.model.detail_points):
        return
    item = QGraphicsPathItem(area_path(result.model.detail))
    pen = QPen(QColor(tokens.danger), 1, Qt.PenStyle.DotLine)
    pen.setCosmetic(True)
    item.setPen(pen)
    item.setData(0, "after")
    scene.addItem(item)


def mark_losses(scene: QGraphicsScene, result: DesignResult, tokens: Tokens) -> None:
    """Mark the parts that an inward offset split or swallowed."""
    for loss in result.inset:
        text = "nothing is left of this part" if loss.pieces == 0 else f"falls into {loss.pieces} pieces"
        mark = PlaceMark(loss.x_mm, loss.y_mm, text, tokens.look, tokens.panel)
        mark.setData(0, "after")
        scene.addItem(mark)


def draw_schools(
    scene: QGraphicsScene, views: Sequence[SchoolView], stock: Stock, tokens: Tokens, space: QSizeF
) -> QRectF:
    """Each school's likely worst sticker of 20, cut as its error moves the cut, as large as the pixels allow."""
    scene.clear()
    sizes = [view.result.cut.area.bounds for view in views if view.result is not None]
    if not sizes:
        return QRectF(0, 0, 1, 1)
    wide = max(right - left for left, _, right, _ in sizes)
    high = max(bottom - top for _, top, _, bottom in sizes)
    hint = px(24)  # below all of it the table says what this is
    room = QSizeF(space.width(), space.height() - hint)
    scale, columns, cell_x, cell_y = _grid(room, wide * (1 + _AIR), high * (1 + _AIR), len(views))
    for index, view in enumerate(views):
        middle = QPointF((index % columns + 0.5) * cell_x, index // columns * cell_y + high / 2)
        _draw_school(scene, view, stock, tokens, middle, high)
    return QRectF(0, 0, columns * cell_x, math.ceil(len(views) / columns) * cell_y + hint / scale)


def _grid(space: QSizeF, wide: float, high: float, count: int) -> tuple[float, int, float, float]:
    """Lay things out in as many columns as show them the largest, with words of constant size under each.

    Args:
        space: room on the screen, in pixels.
        wide: the things' width in millimetres.
        high: their height.
        count: how many there are.

    Returns:
        pixels a millimetre, columns, and width and height of a cell in millimetres.
    """
    metrics = QFontMetricsF(words(13))
    words_x, words_y = metrics.horizontalAdvance("White border") + 6, 2 * metrics.height() + 10
    layouts = []
    for columns in (1, 2, count):
        cell_x, cell_y = space.width() / columns, space.height() / math.ceil(count / columns)
        scale = min(cell_x / wide, (cell_y - words_y) / high)
        if cell_x >= words_x and scale > 0:
            layouts.append((scale, columns))
    scale, columns = max(layouts, default=(1.0, 2))
    return scale, columns, max(wide, words_x / scale), high + words_y / scale


def _draw_school(
    scene: QGraphicsScene, view: SchoolView, stock: Stock, tokens: Tokens, middle: QPointF, high: float
) -> None:
    name = SCHOOL_NAMES[view.school]
    result = view.result
    text = f"{name}\nnot possible" if result is None else f"{name}\n{percent(result.forecast.share_clean)} clean"
    if result is not None:
        where = result.model.middle
        move = QTransform.fromTranslate(middle.x() - where[0], middle.y() - where[1])
        drift = transform(result.forecast.likely_worst().affine(where))
        _draw_cut(scene, result, stock, drift, move)
    _words(scene, text, QPointF(middle.x(), middle.y() + high / 2), tokens)


def _draw_cut(scene: QGraphicsScene, result: DesignResult, stock: Stock, drift: QTransform, move: QTransform) -> None:
    """The print seen through the cut that landed elsewhere."""
    cut = move.map(drift.map(painter_path(result.cut.curves)))
    shadow = QGraphicsPathItem(cut.translated(0.5, 0.9))
    shadow.setBrush(QBrush(QColor(0, 0, 0, 30)))
    shadow.setPen(QPen(Qt.PenStyle.NoPen))
    paper = QGraphicsPathItem(cut)
    paper.setBrush(stock_brush(stock))
    outline = QPen(QColor(PAPER_TOKENS.soft), 0.8)
    outline.setCosmetic(True)
    paper.setPen(outline)
    paper.setFlag(QGraphicsItem.GraphicsItemFlag.ItemClipsChildrenToShape)
    for item in (shadow, paper):
        item.setData(0, "always")
        scene.addItem(item)
    ink = ink_item(result)
    ink.setTransform(ink.transform() * move)
    ink.setParentItem(paper)


def _words(scene: QGraphicsScene, text: str, at: QPointF, tokens: Tokens) -> None:
    item = QGraphicsSimpleTextItem(local(text))
    item.setFont(words(13))
    item.setBrush(QColor(tokens.ink))
    item.setFlag(QGraphicsItem.GraphicsItemFlag.ItemIgnoresTransformations)
    item.setTransform(QTransform.fromTranslate(-item.boundingRect().width() / 2, 8))
    item.setPos(at)
    item.setData(0, "always")
    scene.addItem(item)
