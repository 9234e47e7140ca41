"""The layers of a design on the table: seen as they print, picked, dragged, snapped and scaled."""

from __future__ import annotations

from collections.abc import Sequence
from typing import TYPE_CHECKING

import shapely
from PyQt6.QtCore import QLineF, QObject, QPoint, QPointF, QRectF, Qt, pyqtSignal
from PyQt6.QtGui import QBrush, QColor, QPainter, QPainterPath, QPen, QPixmap, QPolygonF, QTransform
from PyQt6.QtWidgets import (
    QGraphicsItem,
    QGraphicsPathItem,
    QGraphicsScene,
    QGraphicsSceneContextMenuEvent,
    QGraphicsSceneMouseEvent,
    QStyleOptionGraphicsItem,
    QWidget,
)

from honest_edge.core.layers.arrange import box_round, snapped, with_groups
from honest_edge.core.layers.stack import Content, Entry, Stack, layer_matrix
from honest_edge.core.values.layers import Layer
from honest_edge.core.values.sheets import Stock
from honest_edge.core.values.specs import LineKind
from honest_edge.ui.drawing import area_path, line_pen, painter_path, qimage, transform
from honest_edge.ui.scenes import PictureItem, stock_brush
from honest_edge.ui.theme import PAPER_TOKENS, Tokens

if TYPE_CHECKING:
    from honest_edge.app.layer_view import LayerView

_SNAP_PX = 6
_ADDING = Qt.KeyboardModifier.ShiftModifier | Qt.KeyboardModifier.ControlModifier


class LayerHands(QObject):
    """What the hand did to layers, told once it lets go."""

    picked = pyqtSignal(tuple)
    moved = pyqtSignal(tuple, float, float)
    scaled = pyqtSignal(str, float)
    menu_wanted = pyqtSignal(QPoint)


class LayerItem(QGraphicsItem):
    """One layer: a box that can be taken, with what it prints inside."""

    def __init__(self, layer: Layer, content: Content, table: LayersOnTable) -> None:
        super().__init__()
        self.layer, self.frame, self._table = layer, _frame(layer, content), table
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


class ScaleGrip(QGraphicsItem):
    """A grip at a corner that makes a layer larger or smaller about its middle."""

    def __init__(self, at: QPointF, middle: QPointF, table: LayersOnTable) -> None:
        super().__init__()
        self.setFlag(QGraphicsItem.GraphicsItemFlag.ItemIgnoresTransformations)
        self.setPos(at)
        self.setZValue(1000)
        self.setCursor(Qt.CursorShape.SizeFDiagCursor)
        self.setToolTip("Drag to change the size")
        self._middle, self._table = middle, table
        self._reach = max(QLineF(at, middle).length(), 1e-6)
        self._factor: float | None = None

    def boundingRect(self) -> QRectF:
        return QRectF(-9, -9, 18, 18)

    def paint(
        self, painter: QPainter | None, _option: QStyleOptionGraphicsItem | None, _widget: QWidget | None = None
    ) -> None:
        if painter is None:
            return
        painter.setPen(QPen(QColor(PAPER_TOKENS.accent), 2))
        painter.setBrush(QColor("white"))
        painter.drawRoundedRect(QRectF(-5, -5, 10, 10), 2, 2)

    def mousePressEvent(self, event: QGraphicsSceneMouseEvent | None) -> None:
        if event is not None:
            self._factor = 1.0
            event.accept()

    def mouseMoveEvent(self, event: QGraphicsSceneMouseEvent | None) -> None:
        if event is not None and self._factor is not None:
            self._factor = max(0.05, QLineF(event.scenePos(), self._middle).length() / self._reach)
            self.setPos(event.scenePos())
            self._table.stretch(self._factor, self._middle)

    def mouseReleaseEvent(self, event: QGraphicsSceneMouseEvent | None) -> None:
        if event is not None and self._factor is not None:
            factor, self._factor = self._factor, None
            self._table.let_go(factor)


class LayersOnTable:
    """Draws a layered design and turns what the hand does into signals."""

    def __init__(self, hands: LayerHands) -> None:
        self._hands = hands
        self._items: dict[str, LayerItem] = {}
        self._marks: list[QGraphicsItem] = []
        self._chosen: tuple[str, ...] = ()
        self._move = (0.0, 0.0)

    def draw(
        self,
        scene: QGraphicsScene,
        layers: Sequence[Layer],
        view: LayerView,
        chosen: tuple[str, ...],
        stock: Stock,
        tokens: Tokens,
    ) -> QRectF:
        """Draw the layers as they print, and frames round those in hand; return what they span."""
        scene.clear()
        self._stock = stock
        self._scene, self._tokens, self._layers, self._view = scene, tokens, tuple(layers), view
        self._items, self._marks = {}, []
        for layer in layers:
            if not layer.is_hidden and layer.key in view.contents:
                self._items[layer.key] = LayerItem(layer, view.contents[layer.key], self)
        if view.stack is not None and view.stack.form is not None:
            self._lay_paper(view.stack)
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
        self._mark()

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

    def ask_menu(self, place: QPoint) -> None:
        """Ask for the menu of what can be done with the layers in hand."""
        self._hands.menu_wanted.emit(place)

    def drag(self, across: float, down: float, *, snap: bool) -> None:
        """Show the layers in hand where they would lie."""
        items = [item for item in self._taken if not item.layer.is_locked]
        if not items:
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
        """Show the one layer in hand at another size."""
        grown = QTransform.fromTranslate(middle.x(), middle.y()).scale(factor, factor)
        grown.translate(-middle.x(), -middle.y())
        for item in self._taken:
            item.setTransform(grown)

    def let_go(self, factor: float) -> None:
        """Tell the size at which the grip was let go."""
        if len(self._chosen) == 1 and abs(factor - 1) > 1e-3:
            self._hands.scaled.emit(self._chosen[0], factor)

    @property
    def _taken(self) -> list[LayerItem]:
        return [self._items[key] for key in self._chosen]

    def _snapped(self, across: float, down: float) -> tuple[float, float, list[QLineF]]:
        views = self._scene.views()
        reach = _SNAP_PX / max(views[0].transform().m11(), 1e-6) if views else 0.5
        boxes = self._view.boxes
        mine = [boxes[key] for key in self._chosen]
        others = [box for key, box in boxes.items() if key not in self._chosen and key in self._items]
        found = snapped(box_round(mine), others, across, down, reach)
        span = self._span()
        lines = []
        if found.x_mm is not None:
            lines.append(QLineF(found.x_mm, span.top(), found.x_mm, span.bottom()))
        if found.y_mm is not None:
            lines.append(QLineF(span.left(), found.y_mm, span.right(), found.y_mm))
        return found.across_mm, found.down_mm, lines

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

    def _lay_paper(self, stack: Stack) -> None:
        """Put bare stock under a form, and the cut round it."""
        assert stack.form is not None
        path = area_path(stack.form)
        paper = QGraphicsPathItem(path)
        paper.setPen(QPen(Qt.PenStyle.NoPen))
        paper.setBrush(stock_brush(self._stock))
        paper.setData(0, "always")
        self._scene.addItem(paper)
        self._draw_line("through", path)

    def _draw_line(self, kind: LineKind, path: QPainterPath) -> None:
        item = QGraphicsPathItem(path)
        item.setPen(line_pen(kind, PAPER_TOKENS))
        self._add_mark(item)

    def _print(self, entry: Entry) -> None:
        item = _printed(entry)
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
        item.setParentItem(owner)

    def _outline(self, item: LayerItem, content: Content) -> None:
        """Show a layer that prints nothing by its outline: a guide, or one that takes from others."""
        path = QGraphicsPathItem(transform(layer_matrix(item.layer)).map(area_path(content.whole)), item)
        pen = QPen(QColor(PAPER_TOKENS.soft), 1.2, Qt.PenStyle.DashLine)
        pen.setCosmetic(True)
        path.setPen(pen)

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
            made = QGraphicsPathItem(frames)
            made.setPen(pen)
            self._marks.append(made)
        if len(self._taken) == 1 and not self._taken[0].layer.is_locked and self._move == (0.0, 0.0):
            corner = self._taken[0].frame.at(2)
            middle = QPointF(self._taken[0].layer.x_mm, self._taken[0].layer.y_mm)
            self._marks.append(ScaleGrip(corner, middle, self))
        for mark in self._marks:
            mark.setZValue(900)
            mark.setData(0, "always")
            self._scene.addItem(mark)


def _frame(layer: Layer, content: Content) -> QPolygonF:
    """Return the box round what a layer holds, turned with it: top left first, clockwise."""
    left, top, right, bottom = (float(edge) for edge in content.whole.bounds)
    if content.pixels is not None:
        height, width = content.pixels.shape[:2]
        right, bottom = width * content.pixel_mm / 2, height * content.pixel_mm / 2
        left, top = -right, -bottom
    corners = QPolygonF([QPointF(left, top), QPointF(right, top), QPointF(right, bottom), QPointF(left, bottom)])
    return transform(layer_matrix(layer)).map(corners)


def _printed(entry: Entry) -> QGraphicsItem:
    """Return what one entry prints."""
    content = entry.content
    if content.pixels is not None:
        height, width = content.pixels.shape[:2]
        left, top = -width * content.pixel_mm / 2, -height * content.pixel_mm / 2
        picture = PictureItem(content.pixels, left, top, content.pixel_mm)
        picture.setTransform(transform(entry.matrix))
        if entry.lost.is_empty:
            return picture
        kept = QPainterPath()
        kept.addRect(picture.mapRectToParent(picture.boundingRect()))
        holder = QGraphicsPathItem(kept.subtracted(area_path(entry.lost)))
        holder.setPen(QPen(Qt.PenStyle.NoPen))
        holder.setFlag(QGraphicsItem.GraphicsItemFlag.ItemClipsChildrenToShape)
        picture.setParentItem(holder)
        return holder
    item = _plain(area_path(entry.area), entry)
    if content.fill is not None:
        return _filled(item, entry)
    if content.unfattened is None:
        return item
    both = QGraphicsPathItem()  # the letters as they are, and as the font has them while the key is held
    before = _plain(transform(entry.matrix).map(area_path(content.unfattened)), entry)
    for part, tag in ((item, "after"), (before, "before")):
        part.setParentItem(both)
        part.setData(0, tag)
    before.setVisible(False)
    return both


def _plain(path: QPainterPath, entry: Entry) -> QGraphicsPathItem:
    item = QGraphicsPathItem(path)
    item.setPen(QPen(Qt.PenStyle.NoPen))
    item.setBrush(QColor(*entry.rgb))
    return item


def _filled(item: QGraphicsPathItem, entry: Entry) -> QGraphicsItem:
    """Lay the picture that fills a form over its plain colour."""
    fill = entry.content.fill
    assert fill is not None
    left, top, right, bottom = (float(edge) for edge in entry.content.area.bounds)
    height, width = fill.shape[:2]
    picture = QPixmap.fromImage(qimage(fill))
    if entry.repeat_mm:
        scale, corner = entry.repeat_mm / width, QPointF(left, top)
    else:
        scale = max((right - left) / width, (bottom - top) / height)
        corner = QPointF((left + right - width * scale) / 2, (top + bottom - height * scale) / 2)
    brush = QBrush(picture)
    local = QTransform.fromTranslate(corner.x(), corner.y()).scale(scale, scale)
    brush.setTransform(local * transform(entry.matrix))
    over = QGraphicsPathItem(item.path(), item)
    over.setPen(QPen(Qt.PenStyle.NoPen))
    over.setBrush(brush)
    return item


def nudge_of(key: int, modifiers: Qt.KeyboardModifier) -> tuple[float, float] | None:
    """Return the move that an arrow key makes, in millimetres; larger with Shift."""
    step = 5.0 if modifiers & Qt.KeyboardModifier.ShiftModifier else 0.5
    ways = {Qt.Key.Key_Left: (-1, 0), Qt.Key.Key_Right: (1, 0), Qt.Key.Key_Up: (0, -1), Qt.Key.Key_Down: (0, 1)}
    way = ways.get(Qt.Key(key))
    return None if way is None else (way[0] * step, way[1] * step)
