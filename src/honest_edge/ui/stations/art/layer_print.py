"""What one layer prints, as items of the table."""

from __future__ import annotations

from PyQt6.QtCore import Qt
from PyQt6.QtGui import QBrush, QColor, QPainterPath, QPen, QPixmap
from PyQt6.QtWidgets import QGraphicsItem, QGraphicsPathItem

from honest_edge.core.layers.paint import fill_matrix
from honest_edge.core.layers.stack import Entry
from honest_edge.ui.drawings.paths import area_path, qimage, transform
from honest_edge.ui.drawings.picture_item import PictureItem


def printed_item(entry: Entry) -> QGraphicsItem:
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
    brush = QBrush(QPixmap.fromImage(qimage(fill)))
    brush.setTransform(transform(fill_matrix(entry)) * transform(entry.matrix))
    shown = item.path()
    if not entry.repeat_mm:
        height, width = fill.shape[:2]
        whole = QPainterPath()
        whole.addRect(0, 0, width, height)
        shown = shown.intersected(brush.transform().map(whole))  # beside it lies the plain colour
    over = QGraphicsPathItem(shown, item)
    over.setPen(QPen(Qt.PenStyle.NoPen))
    over.setBrush(brush)
    return item


def whole_fill_item(entry: Entry) -> QGraphicsItem:
    """Return all of the picture that fills a form, faint, where it lies."""
    assert entry.content.fill is not None
    item = PictureItem(entry.content.fill, 0, 0, 1.0)
    item.setTransform(transform(fill_matrix(entry)) * transform(entry.matrix))
    item.setOpacity(0.35)
    return item
