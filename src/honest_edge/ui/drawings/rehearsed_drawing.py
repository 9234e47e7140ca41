"""What a rehearsal puts on the table: the sheet as it came out, its stickers on a tray, and what is folded or glued."""

from __future__ import annotations

from collections.abc import Sequence
from typing import TYPE_CHECKING

from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QBrush, QColor, QPainterPath, QPen, QTransform
from PyQt6.QtWidgets import QGraphicsItem, QGraphicsPathItem, QGraphicsScene

from honest_edge.ui.drawings.cased_line import cut_line
from honest_edge.ui.drawings.items import SHADOW, PlaceMark, add, box_item, caption_item, stock_brush
from honest_edge.ui.drawings.paths import geometry_path, painter_path, transform
from honest_edge.ui.drawings.picture_item import ink_item
from honest_edge.ui.widgets.tokens import PAPER_TOKENS, Tokens

if TYPE_CHECKING:
    from honest_edge.app.rehearsal.drawn import DrawnCopy
    from honest_edge.app.results.design_result import DesignResult
    from honest_edge.app.results.overview import Overview

_TRAY_GAP_MM, _TRAY_MM = 12.0, 130.0
_MOST_SHOWN = 18
_LARGEST, _HIGHEST_MM = 0.8, 44.0


def draw_rehearsed(
    scene: QGraphicsScene,
    overview: Overview,
    copies: Sequence[DrawnCopy],
    tracks_mm: Sequence[tuple[float, float]],
    tokens: Tokens,
) -> QRectF:
    """Draw a sheet as it came out, and its stickers on a tray beside it: the good ones, and what was spoiled."""
    scene.clear()
    plan, sheet = overview.plan, overview.job.sheet
    assert plan is not None
    paper = QRectF(0, 0, plan.width_mm, plan.height_mm)
    box_item(scene, paper.translated(1.0, 1.6), brush=QBrush(SHADOW))
    box_item(scene, paper, brush=stock_brush(sheet.stock))
    for copy in copies:
        _draw_copy(scene, overview.laid[copy.laid], copy)
    _draw_tracks(scene, paper, tracks_mm, across_is_x=sheet.machine.feed_side in ("top", "bottom"))
    for copy in copies:
        if copy.spoiled_mm is not None:
            add(scene, PlaceMark(*copy.spoiled_mm, "", PAPER_TOKENS.danger, PAPER_TOKENS.panel))
    tray = _draw_tray(scene, overview, copies, tokens, paper)
    return paper.united(tray).united(_draw_together(scene, overview, copies, tokens, tray))


def _draw_copy(scene: QGraphicsScene, result: DesignResult, copy: DrawnCopy) -> None:
    if copy.fate != "wrong side":
        ink = ink_item(result)
        ink.setTransform(ink.transform() * transform(copy.print_matrix))
        add(scene, ink)
    if copy.cut_matrix is not None:
        matrix = transform(copy.cut_matrix)
        for line in result.cut.all_paths:
            add(scene, cut_line(matrix.map(painter_path([line.curve])), line.kind, PAPER_TOKENS))


def _draw_tracks(
    scene: QGraphicsScene, paper: QRectF, tracks_mm: Sequence[tuple[float, float]], *, across_is_x: bool
) -> None:
    """Draw where rollers smeared wet ink."""
    smear = QColor(60, 60, 66, 70)
    for left, right in tracks_mm:
        middle = paper.center()
        box = (
            QRectF(middle.x() + left, paper.top(), right - left, paper.height())
            if across_is_x
            else QRectF(paper.left(), middle.y() + left, paper.width(), right - left)
        )
        box_item(scene, box, brush=QBrush(smear, Qt.BrushStyle.Dense4Pattern))


def _draw_tray(
    scene: QGraphicsScene, overview: Overview, copies: Sequence[DrawnCopy], tokens: Tokens, paper: QRectF
) -> QRectF:
    left = paper.right() + _TRAY_GAP_MM
    whole = QRectF(left, paper.top(), _TRAY_MM, 1.0)
    top = paper.top() + 8.0
    spoiled = [copy for copy in copies if copy.fate != "good"]
    for title, some, colour in (
        (f"{len(copies) - len(spoiled)} good", [copy for copy in copies if copy.fate == "good"], tokens.fine),
        (f"{len(spoiled)} spoiled", spoiled, tokens.danger if spoiled else tokens.soft),
    ):
        caption_item(scene, title, QPointF(left + 14, top), colour, ground=tokens.table)
        top = _draw_stickers(scene, overview, some[:_MOST_SHOWN], QRectF(left, top + 8, _TRAY_MM, 0.0))
        if len(some) > _MOST_SHOWN:
            caption_item(scene, f"and {len(some) - _MOST_SHOWN} more", QPointF(left + 20, top), tokens.soft)
            top += 8
        top += 12
    return whole.united(QRectF(left, paper.top(), _TRAY_MM, top - paper.top()))


def _draw_stickers(scene: QGraphicsScene, overview: Overview, copies: Sequence[DrawnCopy], room: QRectF) -> float:
    """Lay stickers in rows, half as large as they are; return where the last row ends."""
    x, y, high = room.left(), room.top(), 0.0
    for copy in copies:
        result = overview.laid[copy.laid]
        path, ink_to_cut = _peeled(result, copy)
        bounds = path.boundingRect()
        scale = min(_LARGEST, room.width() / max(bounds.width(), 1.0), _HIGHEST_MM / max(bounds.height(), 1.0))
        if x > room.left() and x + scale * bounds.width() > room.right():
            x, y, high = room.left(), y + high + 3.0, 0.0
        place = QTransform.fromTranslate(-bounds.left(), -bounds.top())
        place = place * QTransform.fromScale(scale, scale) * QTransform.fromTranslate(x, y)
        _draw_sticker(scene, overview, result, copy, path, ink_to_cut, place)
        x += scale * bounds.width() + 3.0
        high = max(high, scale * bounds.height())
    return y + high


def _peeled(result: DesignResult, copy: DrawnCopy) -> tuple[QPainterPath, QTransform]:
    """Return a sticker's outline in its own frame, and where its print lies on it."""
    path = painter_path(result.cut.curves)
    if copy.cut_matrix is None:
        return path, QTransform()
    back, is_possible = transform(copy.cut_matrix).inverted()
    return path, transform(copy.print_matrix) * back if is_possible else QTransform()


def _draw_sticker(
    scene: QGraphicsScene,
    overview: Overview,
    result: DesignResult,
    copy: DrawnCopy,
    path: QPainterPath,
    ink_to_cut: QTransform,
    place: QTransform,
) -> None:
    holder = QGraphicsPathItem(path)
    holder.setPen(QPen(Qt.PenStyle.NoPen))
    holder.setBrush(stock_brush(overview.job.sheet.stock))
    holder.setFlag(QGraphicsItem.GraphicsItemFlag.ItemClipsChildrenToShape)
    holder.setTransform(place)
    if copy.fate not in ("wrong side", "elsewhere"):
        ink = ink_item(result)
        ink.setTransform(ink.transform() * ink_to_cut)
        ink.setParentItem(holder)
    add(scene, holder)
    rim = QGraphicsPathItem(path)
    pen = QPen(QColor(PAPER_TOKENS.soft), 1)
    pen.setCosmetic(True)
    rim.setPen(pen)
    rim.setTransform(place)
    add(scene, rim)
    if copy.spoiled_mm is not None and copy.cut_matrix is not None:
        back, _ = transform(copy.cut_matrix).inverted()
        at = place.map(back.map(QPointF(*copy.spoiled_mm)))
        add(scene, PlaceMark(at.x(), at.y(), "", PAPER_TOKENS.danger, PAPER_TOKENS.panel))


def _draw_together(
    scene: QGraphicsScene, overview: Overview, copies: Sequence[DrawnCopy], tokens: Tokens, tray: QRectF
) -> QRectF:
    """Draw what is folded and what is glued of the sheet, below its stickers."""
    from honest_edge.app.views.put_together import folded_faces, glued_parts

    top, whole = tray.bottom() + 8.0, QRectF(tray)
    for laid in sorted({copy.laid for copy in copies}):
        result = overview.laid[laid]
        faces = folded_faces(result)
        parts = glued_parts(result.design.key, overview.laid)
        if not faces and not parts:
            continue
        holder = QGraphicsPathItem()
        for face in faces:
            _put_face(holder, result, face.region, transform(face.matrix), overview)
        for part in parts:
            stock = part.result.stock
            _put_part(holder, part.result, transform(part.matrix), stock_brush(stock or overview.job.sheet.stock))
        bounds = holder.childrenBoundingRect()
        scale = min(0.7, _TRAY_MM / max(bounds.width(), 1.0), 90.0 / max(bounds.height(), 1.0))
        place = QTransform.fromTranslate(-bounds.left(), -bounds.top()) * QTransform.fromScale(scale, scale)
        holder.setTransform(place * QTransform.fromTranslate(tray.left(), top + 6))
        add(scene, holder)
        caption_item(scene, "folded" if faces else "glued, back to front", QPointF(tray.left() + 18, top), tokens.soft)
        top += scale * bounds.height() + 18
        whole = whole.united(QRectF(tray.left(), tray.top(), tray.width(), top - tray.top()))
    return whole


def _put_face(
    holder: QGraphicsPathItem, result: DesignResult, region: object, place: QTransform, overview: Overview
) -> None:
    path = geometry_path(region) or QPainterPath()  # type: ignore[arg-type]
    clip = QGraphicsPathItem(path, holder)
    clip.setTransform(place)
    clip.setBrush(stock_brush(overview.job.sheet.stock))
    pen = QPen(QColor(PAPER_TOKENS.soft), 1)
    pen.setCosmetic(True)
    clip.setPen(pen)
    clip.setFlag(QGraphicsItem.GraphicsItemFlag.ItemClipsChildrenToShape)
    ink_item(result).setParentItem(clip)


def _put_part(holder: QGraphicsPathItem, result: DesignResult, place: QTransform, stock: QBrush) -> None:
    clip = QGraphicsPathItem(painter_path(result.cut.curves), holder)
    clip.setTransform(place)
    clip.setBrush(stock)
    pen = QPen(QColor(PAPER_TOKENS.soft), 1)
    pen.setCosmetic(True)
    clip.setPen(pen)
    clip.setFlag(QGraphicsItem.GraphicsItemFlag.ItemClipsChildrenToShape)
    if result.stock is None:
        ink_item(result).setParentItem(clip)
