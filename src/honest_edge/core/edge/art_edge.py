"""What the art looks like at its edge: the colour that would be missed, and the detail that must not be cut."""

from __future__ import annotations

import math
from dataclasses import dataclass

import cv2
import numpy as np
import scipy
import shapely
from numpy.typing import NDArray

from honest_edge.core.edge.bleed import CORE_DEPTH_MM, rasterised, trusted_core
from honest_edge.core.geometry.paths import Floats, as_multipolygon
from honest_edge.core.imaging.background import Subject
from honest_edge.core.imaging.flood import Bytes, Mask, nearest
from honest_edge.core.imaging.reduce import reduced
from honest_edge.core.imaging.strokes import draw
from honest_edge.core.outline.outline import Outline
from honest_edge.core.outline.trace import trace_pixels
from honest_edge.core.values.lazy import lazy_property
from honest_edge.core.values.specs import Colour, Correction
from honest_edge.core.values.stock import Stock

SEEN_CONTRAST = 40.0
"""RGB distance below which two colours are taken for one at an edge; from experience, no published source."""

_DETAIL_PPI = 300  # detail is judged at about what a printer shows
_STRONG_CHANGE = 48.0  # RGB distance across three pixels that parts two colours
_LEAST_DETAIL_MM2 = 0.05
_MARGIN_MM = 2.5


@dataclass(frozen=True, kw_only=True, eq=False)
class EdgePicture:
    """The art on its stock, and which of its pixels take the colour of the nearest that can be trusted.

    Attributes:
        pixels: (h, w, 4) uint8 sRGB and alpha.
        core: (h, w), whose colours can be trusted.
        wanted: (h, w), what takes them: all outside, and the fringe.
    """

    pixels: Bytes
    core: Mask
    wanted: Mask

    @lazy_property
    def seen(self) -> Bytes:
        """(h, w, 3) uint8 sRGB, the colours carried outward; with the tolerance of ``nearest``."""
        carried = self.pixels.copy()
        if self.core.any():
            places = np.flatnonzero(self.wanted).astype(np.int32)
            whole = carried.view(np.uint32).reshape(-1)  # one number a pixel is quicker to look up than its channels
            whole[places] = whole[nearest(self.core, places)[0]]  # solid pixels: there the stock does not show
        return np.asarray(cv2.cvtColor(carried, cv2.COLOR_RGBA2RGB), np.uint8)

    @lazy_property
    def changes(self) -> Mask:
        """(h, w), where a strong change of colour parts two regions."""
        kernel = np.ones((3, 3), np.uint8)
        span = cv2.subtract(cv2.dilate(self.seen, kernel), cv2.erode(self.seen, kernel))
        square = cv2.transform(cv2.multiply(span, span, dtype=cv2.CV_32F), np.ones((1, 3), np.float32))
        return np.asarray(square > _STRONG_CHANGE**2)

    @lazy_property
    def _rim(self) -> tuple[Floats, scipy.spatial.cKDTree]:
        """The border of what can be trusted, (n, 2) rows and columns: a nearest pixel of an area lies on its border."""
        border = self.core & (cv2.erode(self.core.view(np.uint8), np.ones((3, 3), np.uint8)) == 0)
        at = np.column_stack(np.divmod(np.flatnonzero(border), self.core.shape[1]))
        return at, scipy.spatial.cKDTree(at, balanced_tree=False, compact_nodes=False)

    def colours(self, rows: NDArray[np.intp], columns: NDArray[np.intp]) -> Bytes:
        """Return the (n, 3) colours of a few pixels, without carrying those of all."""
        rows, columns = rows.copy(), columns.copy()
        carried = np.flatnonzero(self.wanted[rows, columns])
        if len(carried) and self.core.any():
            border, tree = self._rim
            _, index = tree.query(np.column_stack([rows[carried], columns[carried]]))
            rows[carried], columns[carried] = border[index].T
        return np.asarray(self.pixels[rows, columns, :3])


@dataclass(frozen=True, kw_only=True, eq=False)
class ArtEdge:
    """The art with its edge's colours carried outward, as seen on its stock.

    Attributes:
        picture: what is seen.
        left_mm, top_mm, pixel_mm: where its pixels lie in the art's frame.
        stock: what is printed on.
        rim_rgb: the one colour that is printed past the cut, where that is not the edge's own.
    """

    picture: EdgePicture
    left_mm: float
    top_mm: float
    pixel_mm: float
    stock: Stock
    rim_rgb: Colour | None = None

    def colours_at(self, points_mm: Floats) -> Bytes:
        """Return (n, 3) colours at (n, 2) places; beyond the picture, of its border."""
        height, width = self.picture.core.shape
        column = np.clip(((points_mm[:, 0] - self.left_mm) / self.pixel_mm).astype(int), 0, width - 1)
        row = np.clip(((points_mm[:, 1] - self.top_mm) / self.pixel_mm).astype(int), 0, height - 1)
        return self.picture.colours(row, column)

    def contrast_at(self, points_mm: Floats) -> Floats:
        """Return (n,) RGB distances of what is printed at the edge from the stock; infinite on clear film."""
        if self.stock.is_clear:
            return np.full(len(points_mm), np.inf)
        rim = None if self.rim_rgb is None else np.tile(self.rim_rgb, (len(points_mm), 1))
        gap = (self.colours_at(points_mm) if rim is None else rim).astype(np.float64) - np.array(self.stock.rgb)
        return np.asarray(np.sqrt(np.einsum("nc,nc->n", gap, gap)))


def art_edge_of(subject: Subject, outline: Outline, stock: Stock) -> ArtEdge:
    """Return the art as its edge shows it, whatever will be cut and bled."""
    factor = max(1, math.floor(25.4 / outline.pixel_mm / _DETAIL_PPI))
    pixel_mm = outline.pixel_mm * factor
    art = reduced(subject.pixels, factor)
    margin = max(2, round(_MARGIN_MM / pixel_mm))
    wide = np.pad(art, ((margin, margin), (margin, margin), (0, 0)))
    origin = (-margin * pixel_mm, -margin * pixel_mm)
    outside = rasterised(outline.area, wide.shape[:2], origin, pixel_mm) == 0
    core = trusted_core(wide[..., 3], CORE_DEPTH_MM / pixel_mm) & ~outside
    pixels = wide.reshape(-1, 4)
    thin = np.flatnonzero((wide[..., 3] < 255) & ~outside)
    share = pixels[thin, 3:].astype(np.float32) / 255
    paper = np.array((255, 255, 255) if stock.is_clear else stock.rgb, np.float32)
    pixels[thin, :3] = np.rint(pixels[thin, :3] * share + paper * (1 - share))
    near_rim = cv2.dilate(outside.view(np.uint8), np.ones((3, 3), np.uint8), iterations=math.ceil(0.17 / pixel_mm)) > 0
    picture = EdgePicture(pixels=wide, core=core, wanted=outside | (near_rim & ~core))
    return ArtEdge(picture=picture, left_mm=origin[0], top_mm=origin[1], pixel_mm=pixel_mm, stock=stock)


def detail_inside(
    art_edge: ArtEdge, cut: shapely.MultiPolygon, by_hand: tuple[Correction, ...], width_mm: float
) -> shapely.MultiPolygon:
    """Return what must not be cut of art that reaches the cut.

    That is every region of another colour that the cut as planned does not touch: cutting into it would be
    seen as a slip. What runs off the edge anyway, a stripe or a gradient, is no detail. Strokes by hand add
    and take away.

    Args:
        art_edge: the art.
        cut: what the cut encloses, in millimetres.
        by_hand: strokes in widths of the picture; "guard" must not be cut, "spare" may be.
        width_mm: the picture's width.
    """
    changes = art_edge.picture.changes
    shape, origin = changes.shape, (art_edge.left_mm, art_edge.top_mm)
    inside = rasterised(cut, shape, origin, art_edge.pixel_mm) > 0
    border = inside & ~(cv2.erode(inside.view(np.uint8), np.ones((3, 3), np.uint8)) > 0)
    _, labels = cv2.connectedComponents((~changes).view(np.uint8), connectivity=4, ltype=cv2.CV_32S)
    touched = np.zeros(int(labels.max()) + 1, bool)
    seeds = cv2.dilate(border.view(np.uint8), np.ones((3, 3), np.uint8), iterations=2) > 0
    touched[labels[seeds]] = True
    touched[0] = False
    flooded = (touched[labels] | border).view(np.uint8)
    # a change is spread over three pixels: its middle lies one and a half from either colour, so not beside it
    detail = inside & (cv2.dilate(flooded, np.ones((3, 3), np.uint8)) == 0) & ~_between(labels * touched[labels])
    for stroke in by_hand:
        mask = np.zeros(shape, np.uint8)
        origin_px = (-art_edge.left_mm / art_edge.pixel_mm, -art_edge.top_mm / art_edge.pixel_mm)
        draw(mask, stroke, width_px=width_mm / art_edge.pixel_mm, origin_px=origin_px)
        detail = detail | ((mask > 127) & inside) if stroke.kind == "guard" else detail & (mask <= 127)
    detail = _without_dust(detail, _LEAST_DETAIL_MM2 / art_edge.pixel_mm**2)
    pixels = trace_pixels(detail.view(np.uint8) * np.uint8(255), corner_deg=None)
    return as_multipolygon(shapely.transform(pixels, lambda points: points * art_edge.pixel_mm + origin))


def _between(regions: NDArray[np.int32]) -> Mask:
    """Return where two regions that both reach the cut meet: a soft change between them is spread over more pixels."""
    around, numbers = np.ones((5, 5), np.uint8), regions.astype(np.float32)
    lowest = cv2.erode(np.where(regions == 0, np.float32(np.inf), numbers), around)
    return np.asarray((cv2.dilate(numbers, around) > lowest) & np.isfinite(lowest))


def _without_dust(mask: Mask, least_px: float) -> Mask:
    _, labels, stats, _ = cv2.connectedComponentsWithStats(mask.view(np.uint8), connectivity=8)
    large = stats[:, cv2.CC_STAT_AREA] >= least_px
    large[0] = False
    return np.asarray(large[labels])
