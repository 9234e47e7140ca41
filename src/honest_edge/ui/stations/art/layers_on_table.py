"""The layers of a design on the table: seen as they print, picked, dragged, snapped and scaled."""

from __future__ import annotations

from collections.abc import Sequence
from typing import TYPE_CHECKING

import shapely
from PyQt6.QtCore import QLineF, QPoint, QPointF, QRectF, Qt
from PyQt6.QtGui import QBrush, QColor, QPainterPath, QPen, QTransform
from PyQt6.QtWidgets import (
    QGraphicsItem,
    QGraphicsPathItem,
    QGraphicsScene,
)

from honest_edge.core.layers.arrange import box_round, snapped, with_groups
from honest_edge.core.layers.stack import Content, Entry, layer_matrix
from honest_edge.core.values.layers import Layer
from honest_edge.core.values.specs import LineKind
from honest_edge.core.values.stock import Stock
from honest_edge.ui.drawings.cased_line import cut_line
from honest_edge.ui.drawings.items import stock_brush
from honest_edge.ui.drawings.paths import area_path, painter_path, transform
from honest_edge.ui.stations.art.layer_items import LayerHands, LayerItem, ScaleGrip
from honest_edge.ui.stations.art.layer_print import printed_item, whole_fill_item
from honest_edge.ui.widgets.tokens import PAPER_TOKENS, Tokens

if TYPE_CHECKING:
    from honest_edge.app.views.layer_view import LayerView

_SNAP_PX = 6


class LayersOnTable:
    """Draws a layered design and turns what the hand does into signals."""

    def __init__(self, hands: LayerHands) -> None:
        self._hands = hands
        self._items: dict[str, LayerItem] = {}
        self._marks: list[QGraphicsItem] = []
        self._chosen: tuple[str, ...] = ()
        self._move = (0.0, 0.0)
        self._inner: QGraphicsItem | None = None

    def draw(
        self,
        scene: QGraphicsScene,
        layers: Sequence[Layer],
        view: LayerView,
        chosen: tuple[str, ...],
        stock: Stock,
        tokens: Tokens,
        *,
        is_placing: bool = False,
    ) -> QRectF:
        """Draw the layers as they print, and frames round those in hand; return what they span.

        ``is_placing``: a hand moves the picture inside the one form in hand; all of it is shown, faint.
        """
        scene.clear()
        self._inner, self._is_placing = None, is_placing
        self._stock = stock
        self._scene, self._tokens, self._layers, self._view = scene, tokens, tuple(layers), view
        self._items, self._marks = {}, []
        for layer in layers:
            if not layer.is_hidden and layer.key in view.contents:
                self._items[layer.key] = LayerItem(layer, view.contents[layer.key], self)
        if view.paper is not None:
            self._lay_paper(view.paper)
        if view.stack is not None and view.stack.form is not None:
            self._draw_line("through", area_path(view.stack.form))
        for entry in view.glued.entries if view.glued is not None else ():
            self._print(entry)
        for key, item in self._items.items():
            if not item.childItems():
                self._outline(item, view.contents[key])
            item.setData(0, "always")
            scene.addItem(item)
        for line in view.stack.lines if view.stack is not None else ():
            self._draw_line(line.kind, painter_path([line.curve]))
        self._mark_gaps()
        self._mark_apart()
        for key in view.too_long:
            if key in self._items:
                self._mark_too_long(self._items[key])
        self.choose(chosen)
        return self._span()

    def choose(self, chosen: tuple[str, ...]) -> None:
        """Take other layers in hand."""
        self._chosen = tuple(key for key in chosen if key in self._items)
        self._show_inner()
        self._mark()

    def _show_inner(self) -> None:
        if self._inner is not None:
            self._scene.removeItem(self._inner)
            self._inner = None
        stack = self._view.stack
        if not self._is_placing or len(self._chosen) != 1 or stack is None:
            return
        for entry in stack.entries:
            if entry.layer is not None and entry.layer.key == self._chosen[0] and entry.content.fill is not None:
                self._inner = whole_fill_item(entry)
                self._inner.setAcceptedMouseButtons(Qt.MouseButton.NoButton)
                self._inner.setZValue(650)
                self._inner.setData(0, "always")
                self._scene.addItem(self._inner)

    def pick(self, key: str, *, adding: bool) -> None:
        """Take the layer under the pointer in hand, with its group."""
        unit = with_groups(self._layers, (key,))
        if adding:
            chosen = tuple(k for k in self._chosen if k not in unit) if key in self._chosen else (*self._chosen, *unit)
        else:
            chosen = self._chosen if key in self._chosen else unit
        if chosen != self._chosen:
            self.choose(chosen)
            self._hands.picked.emit(chosen)

    def part_for_picture(self, x_mm: float, y_mm: float) -> tuple[str, float] | None:
        """Return the topmost layer at a place, and how wide it is, where a picture may take its place."""
        place = QPointF(x_mm, y_mm)
        for key, item in reversed(self._items.items()):
            if item.shape().contains(place):
                return (key, item.frame.boundingRect().width()) if item.layer.takes_picture else None
        return None

    def ask_menu(self, place: QPoint) -> None:
        """Ask for the menu of what can be done with the layers in hand."""
        self._hands.menu_wanted.emit(place)

    def drag(self, across: float, down: float, *, snap: bool) -> None:
        """Show the layers in hand where they would lie."""
        items = [item for item in self._taken if not item.layer.is_locked]
        if not items:
            return
        if self._inner is not None:
            self._move = (across, down)
            self._inner.setPos(across, down)
            return
        lines: list[QLineF] = []
        if snap:
            across, down, lines = self._snapped(across, down)
        self._move = (across, down)
        for item in items:
            item.setPos(across, down)
        self._mark(lines)

    def drop(self) -> None:
        """Tell where the layers in hand came to lie."""
        (across, down), self._move = self._move, (0.0, 0.0)
        self._mark()
        if across or down:
            self._hands.moved.emit(self._chosen, across, down)

    def stretch(self, factor: float, middle: QPointF) -> None:
        """Show what is in hand at another size."""
        grown = QTransform.fromTranslate(middle.x(), middle.y()).scale(factor, factor)
        grown.translate(-middle.x(), -middle.y())
        if self._inner is not None:
            self._inner.setTransformOriginPoint(self._inner.boundingRect().center())
            self._inner.setScale(factor)
            return
        for item in self._taken:
            item.setTransform(grown)

    def let_go(self, factor: float, middle: QPointF) -> None:
        """Tell the size at which the grip was let go."""
        if self._chosen and abs(factor - 1) > 1e-3:
            self._hands.scaled.emit(self._chosen, factor, middle)

    @property
    def _taken(self) -> list[LayerItem]:
        return [self._items[key] for key in self._chosen]

    def _snapped(self, across: float, down: float) -> tuple[float, float, list[QLineF]]:
        views = self._scene.views()
        reach = _SNAP_PX / max(views[0].transform().m11(), 1e-6) if views else 0.5
        boxes = self._view.boxes
        mine = [boxes[key] for key in self._chosen]
        others = [box for key, box in boxes.items() if key not in self._chosen and key in self._items]
        form = None if self._view.stack is None else self._view.stack.form
        if form is not None:  # its edges and its middle hold, too
            left, top, right, bottom = (float(edge) for edge in form.bounds)
            others.append((left, top, right, bottom))
        snap = snapped(box_round(mine), others, across, down, reach)
        span = self._span()
        lines = []
        if snap.x_mm is not None:
            lines.append(QLineF(snap.x_mm, span.top(), snap.x_mm, span.bottom()))
        if snap.y_mm is not None:
            lines.append(QLineF(span.left(), snap.y_mm, span.right(), snap.y_mm))
        return snap.across_mm, snap.down_mm, lines

    def _span(self) -> QRectF:
        """Return what the view shows whole: the form, or all layers."""
        form = None if self._view.stack is None else self._view.stack.form
        if form is not None:
            left, top, right, bottom = (float(edge) for edge in form.bounds)
            return QRectF(left, top, right - left, bottom - top)
        boxes = [box for key, box in self._view.boxes.items() if key in self._items]
        if self._view.stack is not None:
            left, top, right, bottom = (float(edge) for edge in self._view.stack.area.bounds)
            boxes.append((left, top, right, bottom))
        if not boxes:
            return QRectF(0, 0, 50, 50)
        left, top, right, bottom = box_round(boxes)
        return QRectF(left, top, right - left, bottom - top)

    def _mark_gaps(self) -> None:
        """Hatch what would show the stock or the table through."""
        for gap in self._view.stack.gaps if self._view.stack is not None else ():
            item = QGraphicsPathItem(area_path(shapely.MultiPolygon([gap])))
            pen = QPen(QColor(self._tokens.look), 1.4)
            pen.setCosmetic(True)
            item.setPen(pen)
            item.setBrush(QBrush(QColor(self._tokens.look), Qt.BrushStyle.BDiagPattern))
            item.setToolTip("See-through: the stock shows here")
            self._add_mark(item)

    def _mark_too_long(self, item: LayerItem) -> None:
        """Frame words that do not fit their room."""
        path = QPainterPath()
        path.addPolygon(item.frame)
        path.closeSubpath()
        mark = QGraphicsPathItem(path)
        pen = QPen(QColor(PAPER_TOKENS.danger), 2)
        pen.setCosmetic(True)
        mark.setPen(pen)
        mark.setToolTip("Too long for its room")
        self._add_mark(mark)

    def _mark_apart(self) -> None:
        """Draw the cuts of a design that is not flattened: each layer by itself."""
        stack = self._view.stack
        if stack is not None and stack.form is None and not self._view.design.is_flattened:
            self._draw_line("through", area_path(shapely.MultiPolygon(stack.apart)))

    def _add_mark(self, item: QGraphicsPathItem) -> None:
        item.setZValue(700)
        item.setAcceptedMouseButtons(Qt.MouseButton.NoButton)
        item.setData(0, "always")
        self._scene.addItem(item)

    def _lay_paper(self, area: shapely.MultiPolygon) -> None:
        """Put bare stock under what is printed, as far as it is cut out, so that dark art is seen on a dark table."""
        paper = QGraphicsPathItem(area_path(area))
        paper.setPen(QPen(Qt.PenStyle.NoPen))
        paper.setBrush(stock_brush(self._stock))
        paper.setData(0, "always")
        self._scene.addItem(paper)

    def _draw_line(self, kind: LineKind, path: QPainterPath) -> None:
        self._add_mark(cut_line(path, kind, PAPER_TOKENS))

    def _print(self, entry: Entry) -> None:
        item = printed_item(entry)
        for part in (item, *item.childItems()):  # drawn once at each scale: a drag only moves pictures of it
            part.setCacheMode(QGraphicsItem.CacheMode.DeviceCoordinateCache)
        layer = entry.layer
        owner = None if layer is None else self._items.get(layer.key)
        if layer is None or owner is None:
            item.setData(0, "always")
            self._scene.addItem(item)
            return
        # what is known may be a moment older than where the layer was put since
        item.setPos(owner.layer.x_mm - layer.x_mm, owner.layer.y_mm - layer.y_mm)
        item.setOpacity(layer.opacity_percent / 100)
        item.setParentItem(owner)

    def _outline(self, item: LayerItem, content: Content) -> None:
        """Show a layer that prints nothing by its outline: a guide, or one that takes from others."""
        path = QGraphicsPathItem(transform(layer_matrix(item.layer)).map(area_path(content.whole)), item)
        pen = QPen(QColor(PAPER_TOKENS.soft), 1.2, Qt.PenStyle.DashLine)
        pen.setCosmetic(True)
        path.setPen(pen)

    def _add_grip(self) -> None:
        """Lay the grip for the size at a corner of what is in hand: of one layer, or of the box round several."""
        layers = [item.layer for item in self._taken]
        if self._move != (0.0, 0.0) or any(one.is_locked for one in layers):
            return
        if len(layers) == 1 and layers[0].grown is None:
            corner, middle = self._taken[0].frame.at(2), QPointF(layers[0].x_mm, layers[0].y_mm)
            self._marks.append(ScaleGrip(corner, middle, self))
        elif len(layers) > 1:
            left, top, right, bottom = box_round([self._view.boxes[key] for key in self._chosen])
            middle = QPointF((left + right) / 2, (top + bottom) / 2)
            self._marks.append(ScaleGrip(QPointF(right, bottom), middle, self))

    def _mark(self, lines: Sequence[QLineF] = ()) -> None:
        """Frame what is in hand, and show the lines that it snaps to."""
        for mark in self._marks:
            self._scene.removeItem(mark)
        self._marks = []
        frames = QPainterPath()
        for item in self._taken:
            frames.addPolygon(item.frame.translated(item.pos()))
            frames.closeSubpath()
        for line in lines:
            frames.moveTo(line.p1())
            frames.lineTo(line.p2())
        ground, dashes = QPen(QColor("white"), 2.0), QPen(QColor(PAPER_TOKENS.accent), 2.0, Qt.PenStyle.DashLine)
        for pen in (ground, dashes):  # two colours, so that one of them stands out from any art
            pen.setCosmetic(True)
            marked = QGraphicsPathItem(frames)
            marked.setPen(pen)
            self._marks.append(marked)
        self._add_grip()
        for mark in self._marks:
            mark.setZValue(900)
            mark.setData(0, "always")
            self._scene.addItem(mark)
