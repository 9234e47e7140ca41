"""Pictures on the table: what a design prints, smooth at every scale."""

from __future__ import annotations

import math
from collections import OrderedDict
from typing import TYPE_CHECKING, cast
from weakref import WeakKeyDictionary

from PyQt6.QtCore import QRectF, Qt
from PyQt6.QtGui import QImage, QPainter, QPainterPath, QPen, QPixmap
from PyQt6.QtWidgets import QGraphicsItem, QGraphicsPathItem, QGraphicsScene, QStyleOptionGraphicsItem, QWidget

from honest_edge.ui.drawings.paths import area_path

if TYPE_CHECKING:
    import numpy as np
    from numpy.typing import NDArray

    from honest_edge.app.results.design_result import DesignResult

_LARGEST_SHOWN_PX = 3000


class PictureItem(QGraphicsItem):
    """A picture that stays smooth when shown far smaller than it is: halves of it are kept."""

    def __init__(self, pixels: NDArray[np.uint8], left_mm: float, top_mm: float, pixel_mm: float) -> None:
        super().__init__()
        self._pixels = pixels
        self._levels: _Levels | None = None  # of the scene, so known when it is shown there
        height, width = pixels.shape[:2]
        self._rect = QRectF(left_mm, top_mm, width * pixel_mm, height * pixel_mm)

    def boundingRect(self) -> QRectF:
        return self._rect

    def paint(
        self, painter: QPainter | None, _option: QStyleOptionGraphicsItem | None, _widget: QWidget | None = None
    ) -> None:
        if painter is None:
            return
        if self._levels is None:
            self._levels = _levels(self.scene(), self._pixels)
        matrix, pixel_mm = painter.worldTransform(), self._rect.width() / self._levels.width_px
        shown = math.hypot(matrix.m11(), matrix.m12()) * pixel_mm * painter.device().devicePixelRatioF()  # type: ignore[union-attr]
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
        in_place = step == 1 and pixels.flags.c_contiguous  # Qt can read it where it is
        self._shown = pixels if in_place else pixels[::step, ::step].copy()
        height, width = self._shown.shape[:2]
        buffer = cast("bytes", self._shown.data)  # any buffer will do
        self._images = [QImage(buffer, width, height, 4 * width, QImage.Format.Format_RGBA8888)]
        self._made: dict[int, QPixmap] = {}

    @property
    def held_bytes(self) -> int:
        """How much memory it holds on to: the picture, its halves and what the screen shows of them."""
        halves = sum(image.sizeInBytes() for image in self._images[1:])
        shown = sum(4 * picture.width() * picture.height() for picture in self._made.values())
        return int(self._pixels.nbytes) + halves + shown

    @property
    def width_px(self) -> int:
        """Width of the picture as it is kept."""
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


_MOST_KEPT_BYTES = 60_000_000
_kept: WeakKeyDictionary[QGraphicsScene, OrderedDict[int, _Levels]] = WeakKeyDictionary()
"""What each scene shows and showed lately; it goes with the scene."""


def _levels(scene: QGraphicsScene | None, pixels: NDArray[np.uint8]) -> _Levels:
    """Return a picture's levels, the same for the same pixels in a scene."""
    if scene is None:
        return _Levels(pixels)
    kept = _kept.setdefault(scene, OrderedDict())
    held = kept.pop(id(pixels), None) or _Levels(pixels)
    kept[id(pixels)] = held
    while len(kept) > 1 and sum(levels.held_bytes for levels in kept.values()) > _MOST_KEPT_BYTES:
        kept.popitem(last=False)
    return held


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


def original_item(result: DesignResult) -> PictureItem:
    """Return the untouched picture at its finished size."""
    return PictureItem(result.artwork.pixels, 0, 0, result.outline.pixel_mm)
