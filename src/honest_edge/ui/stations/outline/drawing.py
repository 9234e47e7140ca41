"""What the Outline station shows: the outline, gaps, loose and left-out parts, holes, places too narrow."""

from __future__ import annotations

from collections.abc import Sequence
from typing import TYPE_CHECKING

from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QColor, QPainter, QPainterPath, QPen, QPolygonF
from PyQt6.QtWidgets import (
    QGraphicsItem,
    QGraphicsLineItem,
    QGraphicsPathItem,
    QGraphicsScene,
    QStyleOptionGraphicsItem,
    QWidget,
)

from honest_edge.core.values.units import Unit
from honest_edge.ui.drawings.cased_line import CasedLine, cut_line
from honest_edge.ui.drawings.items import PlaceMark, add
from honest_edge.ui.drawings.paths import area_path, line_pen, nodes_of, painter_path
from honest_edge.ui.drawings.picture_item import PictureItem, original_item
from honest_edge.ui.widgets.local import shown_length
from honest_edge.ui.widgets.tokens import Tokens

if TYPE_CHECKING:
    import shapely

    from honest_edge.app.results.design_result import DesignResult
    from honest_edge.app.results.fitted_outline import FittedOutline
    from honest_edge.app.results.outline_preview import OutlinePreview

_EXAGGERATION = 20.0
_MOST_MARKS = 60
_WIDE = 0.1  # in widths of the picture: no slip of the pen, but the open side of a shape
_MOST_WORDS = 3  # rings may crowd, words may not


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


def draw_outline(
    scene: QGraphicsScene,
    result: DesignResult,
    fitted: FittedOutline | None,
    tokens: Tokens,
    unit: Unit,
    *,
    show_nodes: bool,
    show_deviation: bool,
) -> QRectF:
    """The art without its background, the outline round it, and what about it needs a decision.

    Until its curves are fitted the outline is shown as it was traced, which no eye tells apart.
    """
    scene.clear()
    untouched = original_item(result)
    untouched.setVisible(False)
    add(scene, untouched, tag="before")
    add(scene, PictureItem(result.subject.pixels, 0, 0, result.outline.pixel_mm))
    if fitted is None:
        add(scene, cut_line(area_path(result.outline.area), "through", tokens))
    else:
        if show_deviation:
            draw_deviation(scene, fitted, tokens)
        add(scene, cut_line(painter_path(fitted.curves), "through", tokens))
        if show_nodes:
            add(scene, NodesItem(nodes_of(fitted.curves), tokens.through))
    if result.subject.method == "subject":
        _draw_loop(scene, result, tokens)
    draw_decisions(scene, result, tokens, unit)
    return QRectF(0, 0, result.width_mm, result.height_mm)


def _draw_loop(scene: QGraphicsScene, result: DesignResult, tokens: Tokens) -> None:
    """Draw the loop round the subject, where there is one."""
    loops = [step for step in result.design.outline.corrections if step.kind == "around"]
    for step in loops[-1:]:
        path = QPainterPath()
        path.addPolygon(QPolygonF([QPointF(x * result.width_mm, y * result.width_mm) for x, y in step.points]))
        path.closeSubpath()
        item = QGraphicsPathItem(path)
        pen = QPen(QColor(tokens.accent), 1.4, Qt.PenStyle.DashLine)
        pen.setCosmetic(True)
        item.setPen(pen)
        add(scene, item)


def draw_preview(scene: QGraphicsScene, preview: OutlinePreview, tokens: Tokens) -> None:
    """A first look at a changed outline, dashed until the exact one is there."""
    scene.clear()
    add(scene, PictureItem(preview.pixels, 0, 0, preview.pixel_mm))
    pen = line_pen("through", tokens)
    pen.setStyle(Qt.PenStyle.DashLine)
    add(scene, CasedLine(area_path(preview.area), pen))


def draw_decisions(scene: QGraphicsScene, result: DesignResult, tokens: Tokens, unit: Unit) -> None:
    """Mark gaps, parts that are loose or left out, holes and what is too narrow."""
    for part in result.outline.parts[: _MOST_MARKS * 4]:
        if not part.kept:
            _pieces(scene, [part.polygon], tokens.soft, Qt.PenStyle.DotLine, fill="")
    for hole in result.outline.holes[: _MOST_MARKS * 4]:
        if not hole.kept:
            _pieces(scene, [hole.polygon], tokens.soft, Qt.PenStyle.DotLine, fill="")
    if result.narrow or len(result.cut.area.geoms) > 1:  # these are places of the cut, so it is shown
        cut = cut_line(painter_path(result.cut.curves), result.cut.line_kind, tokens)
        cut.setOpacity(0.55)
        add(scene, cut)
    pieces = sorted(result.cut.area.geoms, key=lambda piece: -piece.area)
    if len(pieces) > 1:
        _pieces(scene, pieces[1:], tokens.look, Qt.PenStyle.DashLine, fill=tokens.look)
        for index, piece in enumerate(pieces[1:_MOST_MARKS]):
            left, top, right, _ = piece.bounds
            words_of = "loose" if index < _MOST_WORDS else ""
            add(scene, PlaceMark((left + right) / 2, top, words_of, tokens.look, tokens.panel))
    for index, place in enumerate(result.narrow[:_MOST_MARKS]):
        words_of = f"narrow {place.kind}" if index < _MOST_WORDS else ""
        add(scene, PlaceMark(place.x_mm, place.y_mm, words_of, tokens.look, tokens.panel))
    from honest_edge.core.imaging.leaks import told

    width_mm, written = result.width_mm, told(result.subject.leaks)
    for leak in result.subject.leaks:
        (x0, y0), (x1, y1) = leak.start, leak.end
        colour = tokens.fine if leak.dammed else tokens.danger
        line = QGraphicsLineItem(x0 * width_mm, y0 * width_mm, x1 * width_mm, y1 * width_mm)
        pen = QPen(QColor(colour), 3)
        pen.setCosmetic(True)
        line.setPen(pen)
        add(scene, line)
        if leak not in written:
            continue  # its line is enough: words would lie on words
        gap = shown_length(leak.width * width_mm, unit, digits=2 if unit == "mm" else 3)
        question = f"the inside is open here, {gap}: close it?" if leak.width > _WIDE else f"gap of {gap}?"
        text = f"{gap}, closed" if leak.dammed else question
        x, y = leak.middle
        add(scene, PlaceMark(x * width_mm, y * width_mm, text, colour, tokens.panel))


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
    add(scene, item)


def draw_deviation(scene: QGraphicsScene, fitted: FittedOutline, tokens: Tokens) -> None:
    """Draw how far the curve strays from the raw edge, many times as large, as a ribbon along the outline."""
    from honest_edge.core.outline.outline import deviations

    path = QPainterPath()
    for raw, gap in deviations(fitted.curves, fitted.outline.area):
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
    add(scene, item)
