"""What the light table shows at each station, drawn from results."""

from __future__ import annotations

import math
from collections import OrderedDict
from collections.abc import Sequence
from typing import TYPE_CHECKING

from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QBrush, QColor, QPainter, QPainterPath, QPen, QPixmap, QTransform
from PyQt6.QtWidgets import (
    QGraphicsItem,
    QGraphicsPathItem,
    QGraphicsRectItem,
    QGraphicsScene,
    QGraphicsSimpleTextItem,
    QStyleOptionGraphicsItem,
    QWidget,
)

from honest_edge.core.values.comparison import Comparison
from honest_edge.core.values.sheets import Stock
from honest_edge.core.values.units import Unit, format_length
from honest_edge.ui import outline_scene
from honest_edge.ui.drawing import area_path, line_pen, nodes_of, painter_path, qimage
from honest_edge.ui.theme import PAPER_TOKENS, Tokens, figures, words
from honest_edge.ui.words import one_in

if TYPE_CHECKING:
    import numpy as np
    from numpy.typing import NDArray

    from honest_edge.app.pipeline import DesignResult
    from honest_edge.app.preview import Preview
    from honest_edge.core.edge.profile import Spot
    from honest_edge.core.sheet.media import Box

_SHADOW = QColor(0, 0, 0, 26)
_WASTE_OPACITY = 0.42
_LARGEST_SHOWN_PX = 3000


class NodesItem(QGraphicsItem):
    """The nodes of curves, as small squares of constant size on the screen."""

    def __init__(self, nodes: Sequence[QPointF], colour: str) -> None:
        super().__init__()
        self._nodes, self._colour = nodes, QColor(colour)
        xs, ys = [n.x() for n in nodes], [n.y() for n in nodes]
        self._bounds = QRectF(min(xs), min(ys), max(xs) - min(xs), max(ys) - min(ys)).adjusted(-5, -5, 5, 5)

    def boundingRect(self) -> QRectF:
        return self._bounds

    def paint(
        self, painter: QPainter | None, _option: QStyleOptionGraphicsItem | None, _widget: QWidget | None = None
    ) -> None:
        if painter is None:
            return
        scale = painter.worldTransform().m11()
        half = 2.6 / scale
        pen = QPen(self._colour, 1.2)
        pen.setCosmetic(True)
        painter.setPen(pen)
        painter.setBrush(QColor("white"))
        for node in self._nodes:
            painter.drawRect(QRectF(node.x() - half, node.y() - half, 2 * half, 2 * half))


class BeadItem(QGraphicsItem):
    """The bead at a kiss cut's start."""

    def __init__(self, at: QPointF, colour: str) -> None:
        super().__init__()
        self.setFlag(QGraphicsItem.GraphicsItemFlag.ItemIgnoresTransformations)
        self.setPos(at)
        self._colour = QColor(colour)

    def boundingRect(self) -> QRectF:
        return QRectF(-4, -4, 8, 8)

    def paint(
        self, painter: QPainter | None, _option: QStyleOptionGraphicsItem | None, _widget: QWidget | None = None
    ) -> None:
        if painter is not None:
            painter.setPen(Qt.PenStyle.NoPen)
            painter.setBrush(self._colour)
            painter.drawEllipse(QPointF(0, 0), 3.0, 3.0)


class PictureItem(QGraphicsItem):
    """A picture that stays smooth when shown far smaller than it is: halves of it are kept."""

    def __init__(self, pixels: NDArray[np.uint8], left_mm: float, top_mm: float, pixel_mm: float) -> None:
        super().__init__()
        self._levels = _levels(pixels)
        height, width = pixels.shape[:2]
        self._rect = QRectF(left_mm, top_mm, width * pixel_mm, height * pixel_mm)
        self._pixel_mm = self._rect.width() / self._levels.width_px

    def boundingRect(self) -> QRectF:
        return self._rect

    def paint(
        self, painter: QPainter | None, _option: QStyleOptionGraphicsItem | None, _widget: QWidget | None = None
    ) -> None:
        if painter is None:
            return
        matrix = painter.worldTransform()
        shown = math.hypot(matrix.m11(), matrix.m12()) * self._pixel_mm * painter.device().devicePixelRatioF()  # type: ignore[union-attr]
        level = max(0, math.floor(-math.log2(max(shown, 1e-6))))
        painter.setRenderHint(QPainter.RenderHint.SmoothPixmapTransform, shown < 4)
        picture = self._levels.at(level)
        painter.drawPixmap(self._rect, picture, QRectF(picture.rect()))


class _Levels:
    """A picture and halves of it, each made when it is first shown."""

    def __init__(self, pixels: NDArray[np.uint8]) -> None:
        # what is far larger than any screen is shown from every n-th pixel
        step = max(1, max(pixels.shape[:2]) // _LARGEST_SHOWN_PX)
        self._pixels = pixels  # held, so that its address stays its own
        self._images = [qimage(pixels[::step, ::step])]
        self._made: dict[int, QPixmap] = {}

    @property
    def width_px(self) -> int:
        return self._images[0].width()

    def at(self, level: int) -> QPixmap:
        """Return the picture halved so often, or as often as it can be."""
        while len(self._images) <= level and min(self._images[-1].width(), self._images[-1].height()) > 32:
            last = self._images[-1]
            half = last.scaled(
                last.width() // 2,
                last.height() // 2,
                Qt.AspectRatioMode.IgnoreAspectRatio,
                Qt.TransformationMode.SmoothTransformation,
            )
            self._images.append(half)
        level = min(level, len(self._images) - 1)
        if level not in self._made:
            self._made[level] = QPixmap.fromImage(self._images[level])
        return self._made[level]


_MOST_KEPT = 24
_kept: OrderedDict[int, _Levels] = OrderedDict()


def _levels(pixels: NDArray[np.uint8]) -> _Levels:
    """Return a picture's levels, the same for the same pixels."""
    found = _kept.pop(id(pixels), None) or _Levels(pixels)
    _kept[id(pixels)] = found
    while len(_kept) > _MOST_KEPT:
        _kept.popitem(last=False)
    return found


class Callout(QGraphicsItem):
    """A ring round a place, and what is wrong there in words."""

    def __init__(self, title: str, detail: str, tokens: Tokens, *, leftward: bool, upward: bool) -> None:
        super().__init__()
        self.setFlag(QGraphicsItem.GraphicsItemFlag.ItemIgnoresTransformations)
        self._title, self._detail, self._tokens = title, detail, tokens
        self._leftward, self._upward = leftward, upward

    def boundingRect(self) -> QRectF:
        return QRectF(-340, -74, 680, 148)

    def paint(
        self, painter: QPainter | None, _option: QStyleOptionGraphicsItem | None, widget: QWidget | None = None
    ) -> None:
        if painter is None:
            return
        danger = QColor(self._tokens.danger)
        painter.setPen(QPen(danger, 2))
        painter.drawEllipse(QPointF(0, 0), 12, 12)
        if not self._title:
            return
        painter.setFont(words(13))
        title_width = painter.fontMetrics().horizontalAdvance(self._title)
        detail_width = painter.fontMetrics().horizontalAdvance(self._detail)
        width = max(title_width, detail_width) + 24
        box = self._box(width, painter.transform().map(QPointF(0, 0)), widget)
        painter.setPen(QPen(danger, 1))
        painter.setBrush(QColor(self._tokens.panel))
        painter.drawRoundedRect(box, 6, 6)
        painter.setPen(danger)
        painter.drawText(QPointF(box.left() + 12, box.top() + 19), self._title)
        painter.setPen(QColor(self._tokens.ink))
        painter.drawText(QPointF(box.left() + 12, box.top() + 37), self._detail)

    def _box(self, width: float, place: QPointF, widget: QWidget | None) -> QRectF:
        """Return where the words stand: away from the art, or over it where the table ends."""
        leftward, upward = self._leftward, self._upward
        if widget is not None:
            leftward = place.x() - 10 - width >= 0 if leftward else place.x() + 10 + width > widget.width()
            upward = place.y() - 66 >= 0 if upward else place.y() + 66 > widget.height()
        return QRectF(-10 - width if leftward else 10, -66 if upward else 20, width, 46)


def draw_art(
    scene: QGraphicsScene,
    result: DesignResult,
    tokens: Tokens,
    unit: Unit,
    *,
    compare: Comparison | None = None,
    ruler: bool = False,
) -> QRectF:
    """The original at its finished size, with its measures, and what it is held against."""
    scene.clear()
    width_mm, height_mm = result.width_mm, result.height_mm
    _picture(scene, result)
    _dimension(scene, 0, width_mm, height_mm, format_length(width_mm, unit), tokens, upright=False)
    _dimension(scene, 0, height_mm, width_mm, format_length(height_mm, unit), tokens, upright=True)
    content = QRectF(0, 0, width_mm, height_mm)
    if compare is not None:
        content = content.united(_comparison(scene, compare, content.center(), tokens))
    if ruler:
        content = content.united(outline_scene.lay_ruler(scene, content, tokens, unit))
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


def draw_outline(
    scene: QGraphicsScene,
    result: DesignResult,
    tokens: Tokens,
    unit: Unit,
    *,
    show_nodes: bool,
    show_deviation: bool,
) -> QRectF:
    """The art without its background, the outline round it, and what about it needs a decision."""
    scene.clear()
    _picture(scene, result, tag="before", visible=False)
    add(scene, PictureItem(result.subject.pixels, 0, 0, result.outline.pixel_mm))
    if show_deviation:
        outline_scene.draw_deviation(scene, result, tokens)
    path = QGraphicsPathItem(painter_path(result.outline_curves))
    path.setPen(line_pen("through", tokens))
    add(scene, path)
    if show_nodes:
        add(scene, NodesItem(nodes_of(result.outline_curves), tokens.through))
    outline_scene.draw_decisions(scene, result, tokens, unit)
    return QRectF(0, 0, result.width_mm, result.height_mm)


def draw_preview(scene: QGraphicsScene, preview: Preview, tokens: Tokens) -> None:
    """A first look at a changed outline, dashed until the exact one is there."""
    scene.clear()
    add(scene, PictureItem(preview.pixels, 0, 0, preview.pixel_mm))
    path = QGraphicsPathItem(area_path(preview.area))
    pen = line_pen("through", tokens)
    pen.setStyle(Qt.PenStyle.DashLine)
    path.setPen(pen)
    add(scene, path)


def draw_edge(
    scene: QGraphicsScene, result: DesignResult, spots: Sequence[Spot], stock: Stock, tokens: Tokens, unit: Unit
) -> QRectF:
    """The sticker as cut, what is printed beyond the cut paler, and the places where the bench's error would show."""
    scene.clear()
    left, top, right, bottom = result.cut.area.bounds
    _picture(scene, result, tag="before", visible=False)
    cut = painter_path(result.cut.curves)
    shadow = QGraphicsPathItem(cut.translated(0.5, 0.9))
    shadow.setBrush(_SHADOW)
    shadow.setPen(QPen(Qt.PenStyle.NoPen))
    add(scene, shadow)
    _ink(scene, result, opacity=_WASTE_OPACITY)
    paper = QGraphicsPathItem(cut)
    paper.setBrush(stock_brush(stock))
    paper.setPen(QPen(Qt.PenStyle.NoPen))
    paper.setFlag(QGraphicsItem.GraphicsItemFlag.ItemClipsChildrenToShape)
    add(scene, paper)
    inner = ink_item(result)
    inner.setParentItem(paper)
    _cut_line(scene, result, QTransform())
    for index, spot in reversed(list(enumerate(spots))):
        title, detail = spot_words(spot, stock, unit) if index == 0 else ("", "")
        leftward, upward = spot.x_mm < (left + right) / 2, spot.y_mm < (top + bottom) / 2
        mark = Callout(title, detail, tokens, leftward=leftward, upward=upward)
        mark.setPos(spot.x_mm, spot.y_mm)
        add(scene, mark)
    return QRectF(left, top, right - left, bottom - top)


def stock_brush(stock: Stock) -> QBrush:
    """Return what bare stock looks like: its own colour, or the table through clear film."""
    return QBrush(QColor(0, 0, 0, 14)) if stock.is_clear else QBrush(QColor(*stock.rgb))


def spot_words(spot: Spot, stock: Stock, unit: Unit) -> tuple[str, str]:
    """Return what would be seen at a spot, how often, and how little room there is."""
    room = format_length(spot.room_mm, unit, digits=2 if unit == "mm" else 3)
    often = one_in(spot.chance)
    if spot.trouble == "white":
        name = stock.bare_name[:1].upper() + stock.bare_name[1:]
        return f"{name} would show here: {often}", f"ink reaches only {room} past the cut"
    return f"Detail would be cut here: {often}", f"it begins only {room} inside the cut"


def _cut_line(scene: QGraphicsScene, result: DesignResult, matrix: QTransform) -> None:
    line = QGraphicsPathItem(matrix.map(painter_path(result.cut.curves)))
    line.setPen(line_pen(result.cut.line_kind, PAPER_TOKENS))
    add(scene, line)
    for path in result.cut.lines:
        extra = QGraphicsPathItem(matrix.map(painter_path([path.curve])))
        extra.setPen(line_pen(path.kind, PAPER_TOKENS))
        add(scene, extra)
    if result.cut.line_kind == "kiss":
        for curve in result.cut.curves:
            add(scene, BeadItem(matrix.map(nodes_of([curve])[0]), PAPER_TOKENS.kiss))


def caption_item(scene: QGraphicsScene, text: str, centre: QPointF, colour: str, *, above: bool = False) -> None:
    """Add words of constant size on the screen."""
    item = QGraphicsSimpleTextItem(text)
    item.setFont(words(11))
    item.setBrush(QColor(colour))
    item.setFlag(QGraphicsItem.GraphicsItemFlag.ItemIgnoresTransformations)
    bounds = item.boundingRect()
    up = bounds.height() + 3 if above else bounds.height() / 2
    item.setTransform(QTransform.fromTranslate(-bounds.width() / 2, -up))
    item.setPos(centre)
    add(scene, item)


def rect_of(box: Box) -> QRectF:
    """Return a box as Qt takes it."""
    return QRectF(box.left, box.top, box.width, box.height)


def box_item(scene: QGraphicsScene, rect: QRectF, *, brush: QBrush | None = None, pen: QPen | None = None) -> None:
    """Add a rectangle."""
    item = QGraphicsRectItem(rect)
    item.setPen(pen or QPen(Qt.PenStyle.NoPen))
    if brush is not None:
        item.setBrush(brush)
    add(scene, item)


def _picture(scene: QGraphicsScene, result: DesignResult, *, tag: str = "", visible: bool = True) -> None:
    item = PictureItem(result.artwork.pixels, 0, 0, result.outline.pixel_mm)
    item.setVisible(visible)
    add(scene, item, tag=tag or "always")


def ink_item(result: DesignResult) -> QGraphicsItem:
    """The printed picture in the art's frame, clipped to its exact boundary where it has one."""
    art = result.art
    picture = PictureItem(art.pixels, art.left_mm, art.top_mm, art.pixel_mm)
    holder = QGraphicsPathItem()
    holder.setPen(QPen(Qt.PenStyle.NoPen))
    if art.ink_area is None:
        left, top, right, bottom = art.bounds_mm
        bounds = QPainterPath()
        bounds.addRect(QRectF(left, top, right - left, bottom - top))
        holder.setPath(bounds)
    else:
        holder.setPath(area_path(art.ink_area))
        holder.setFlag(QGraphicsItem.GraphicsItemFlag.ItemClipsChildrenToShape)
    picture.setParentItem(holder)
    return holder


def _ink(scene: QGraphicsScene, result: DesignResult, *, opacity: float = 1.0) -> QGraphicsItem:
    item = ink_item(result)
    item.setOpacity(opacity)
    add(scene, item)
    return item


def _dimension(
    scene: QGraphicsScene, start: float, end: float, beside: float, text: str, tokens: Tokens, *, upright: bool
) -> None:
    """A measure line beside the art."""
    away = max(end - start, beside) * 0.05
    pen = QPen(QColor(tokens.ink), 1)
    pen.setCosmetic(True)
    at, jaw = beside + away, away * 0.35
    path = QPainterPath()
    for a, b in (((start, at), (end, at)), ((start, at - jaw), (start, at + jaw)), ((end, at - jaw), (end, at + jaw))):
        path.moveTo(*(reversed(a) if upright else a))
        path.lineTo(*(reversed(b) if upright else b))
    line = QGraphicsPathItem(path)
    line.setPen(pen)
    add(scene, line)
    caption = QGraphicsSimpleTextItem(text)
    caption.setFont(figures(13))
    caption.setBrush(QColor(tokens.ink))
    caption.setFlag(QGraphicsItem.GraphicsItemFlag.ItemIgnoresTransformations)
    bounds = caption.boundingRect()
    shift = QPointF(8, -bounds.height() / 2) if upright else QPointF(-bounds.width() / 2, 6)
    caption.setTransform(QTransform.fromTranslate(shift.x(), shift.y()))
    middle = (start + end) / 2
    caption.setPos(QPointF(at, middle) if upright else QPointF(middle, at))
    add(scene, caption)


def add(scene: QGraphicsScene, item: QGraphicsItem, *, tag: str = "after") -> None:
    """Add an item that is shown before or after, as its tag says, or always."""
    item.setData(0, tag)
    scene.addItem(item)
