"""The printed layers as one picture and one contour."""

from __future__ import annotations

import math
from dataclasses import dataclass

import cv2
import numpy as np
import shapely
from numpy.typing import NDArray

from honest_edge.core.geometry.lines import CutPath
from honest_edge.core.geometry.paths import Floats, as_multipolygon
from honest_edge.core.imaging.flood import Bytes
from honest_edge.core.layers.stack import Entry, Stack
from honest_edge.core.values.errors import BlockedError
from honest_edge.core.values.units import MM_PER_INCH

COARSE_PPI, FINE_PPI = 300, 600
_FINE_PIXELS = 6_000_000  # up to here lettering is printed at the finer of the two
_MOST_PIXELS = 120_000_000
_FINER = 4  # sub-pixels a side, for soft edges
_BAND_PX = 256
_CUT_APART_MM = 0.005  # half the hair that parts pieces which are cut one by one

_Layer32 = NDArray[np.float32]


@dataclass(frozen=True, slots=True, kw_only=True, eq=False)
class Flattened:
    """A stack as one picture, in a frame of its own: millimetres from the picture's top left.

    Attributes:
        pixels: (h, w, 4) uint8 straight sRGB and alpha.
        pixel_mm: size of a pixel.
        left_mm, top_mm: where the picture's top left lies in the frame of the layers.
        area: what is cut, exact, in the picture's frame.
        pieces: into how many it is cut.
        lines: what is cut or creased besides.
    """

    pixels: Bytes
    pixel_mm: float
    left_mm: float
    top_mm: float
    area: shapely.MultiPolygon
    pieces: int
    lines: tuple[CutPath, ...]

    @property
    def width_mm(self) -> float:
        """Width of the picture."""
        return float(self.pixels.shape[1] * self.pixel_mm)


def flatten(stack: Stack, *, apart: bool = False, ppi: float | None = None) -> Flattened:
    """Return the printed layers as one picture with one contour.

    Args:
        stack: the layers put together.
        apart: every layer is cut by itself instead.
        ppi: pixels per inch; None takes 600 for small designs and 300 for large ones.

    Raises:
        BlockedError: the design is too large for a picture.
    """
    left, top, right, bottom = (float(edge) for edge in stack.area.bounds)
    pixel_mm = MM_PER_INCH / (ppi or _ppi(right - left, bottom - top))
    origin = (left - pixel_mm, top - pixel_mm)
    shape = (math.ceil((bottom - top) / pixel_mm) + 2, math.ceil((right - left) / pixel_mm) + 2)
    if shape[0] * shape[1] > _MOST_PIXELS:
        raise BlockedError(
            f"The layers reach over {right - left:.0f} × {bottom - top:.0f} mm: bring them closer together, or "
            "print the design smaller"
        )
    area = _parted(stack) if apart else stack.area
    return Flattened(
        pixels=_composited(stack.entries, shape, origin, pixel_mm),
        pixel_mm=pixel_mm,
        left_mm=origin[0],
        top_mm=origin[1],
        area=as_multipolygon(shapely.transform(area, lambda points: points - origin)),
        pieces=len(area.geoms),
        lines=tuple(line.placed(np.array([[1, 0, -origin[0]], [0, 1, -origin[1]]])) for line in stack.lines),
    )


def _ppi(width_mm: float, height_mm: float) -> int:
    fine = width_mm * height_mm * (FINE_PPI / MM_PER_INCH) ** 2
    return FINE_PPI if fine <= _FINE_PIXELS else COARSE_PPI


def _parted(stack: Stack) -> shapely.MultiPolygon:
    """Return the pieces a hair apart, for an area cannot touch itself."""
    thinner = shapely.buffer(list(stack.apart), -_CUT_APART_MM, join_style="mitre")
    return as_multipolygon(shapely.union_all(thinner))


def _composited(
    entries: tuple[Entry, ...], shape: tuple[int, int], origin: tuple[float, float], pixel_mm: float
) -> Bytes:
    """Lay every entry over what lies below it (Porter and Duff's "over", on premultiplied colour)."""
    canvas = np.zeros((*shape, 4), np.float32)
    for entry in entries:
        box = _box(_reach(entry), shape, origin, pixel_mm)
        if box is None:
            continue
        rows, columns = box
        corner = (origin[0] + columns.start * pixel_mm, origin[1] + rows.start * pixel_mm)
        size = (rows.stop - rows.start, columns.stop - columns.start)
        inked = _inked(entry, size, corner, pixel_mm)
        part = canvas[rows, columns]
        part *= 1 - inked[..., 3:]
        part += inked
    return straight(canvas)


def straight(canvas: _Layer32) -> Bytes:
    """Return premultiplied floats in 0 to 1 as straight 8-bit sRGB and alpha."""
    alpha = canvas[..., 3:]
    rgb = np.divide(canvas[..., :3], alpha, out=np.zeros_like(canvas[..., :3]), where=alpha > 0)
    return np.asarray(np.rint(np.clip(np.concatenate([rgb, alpha], axis=2), 0, 1) * 255).astype(np.uint8))


def _reach(entry: Entry) -> tuple[float, float, float, float]:
    """Return the bounds of what an entry prints; a sticker's bleed lies outside its area."""
    content = entry.content
    if content.pixels is None:
        left, top, right, bottom = entry.area.bounds
        return float(left), float(top), float(right), float(bottom)
    half = np.array(content.pixels.shape[1::-1]) / 2 * content.pixel_mm
    corners = np.array([(x, y) for x in (-1, 1) for y in (-1, 1)]) * half
    around = corners @ entry.matrix[:, :2].T + entry.matrix[:, 2]
    (left, top), (right, bottom) = around.min(axis=0), around.max(axis=0)
    return float(left), float(top), float(right), float(bottom)


def _box(
    bounds: tuple[float, float, float, float], shape: tuple[int, int], origin: tuple[float, float], pixel_mm: float
) -> tuple[slice, slice] | None:
    left, top, right, bottom = ((value - origin[axis % 2]) / pixel_mm for axis, value in enumerate(bounds))
    rows = slice(max(0, math.floor(top) - 1), min(shape[0], math.ceil(bottom) + 2))
    columns = slice(max(0, math.floor(left) - 1), min(shape[1], math.ceil(right) + 2))
    return (rows, columns) if rows.start < rows.stop and columns.start < columns.stop else None


def _inked(entry: Entry, size: tuple[int, int], corner: tuple[float, float], pixel_mm: float) -> _Layer32:
    """Return one entry's premultiplied colour in a box of the canvas."""
    if entry.content.pixels is not None:
        inked = _warped(entry.content.pixels, entry.content.pixel_mm, entry.matrix, size, corner, pixel_mm)
        if not entry.lost.is_empty:
            inked *= 1 - coverage(entry.lost, size, corner, pixel_mm)[..., None]
        return inked
    share = coverage(entry.area, size, corner, pixel_mm)[..., None]
    ink = np.array([*entry.rgb, 255], np.float32) / 255
    if entry.content.fill is not None:
        inside = _filling(entry, size, corner, pixel_mm)
        ink = inside + (1 - inside[..., 3:]) * ink
    return np.asarray(share * ink, np.float32)


def _warped(
    pixels: Bytes, source_mm: float, matrix: Floats, size: tuple[int, int], corner: tuple[float, float], pixel_mm: float
) -> _Layer32:
    """Return a picture, its middle at the origin of its frame, as the canvas sees it."""
    source = premultiplied(pixels)
    factor = pixel_mm / source_mm
    if factor > 1.02:  # averaged first: a warp looks at four pixels only
        height, width = source.shape[:2]
        smaller = (max(1, round(width / factor)), max(1, round(height / factor)))
        source = np.asarray(cv2.resize(source, smaller, interpolation=cv2.INTER_AREA), np.float32)
        source_mm *= width / smaller[0]
    height, width = source.shape[:2]
    to_frame = np.array([[source_mm, 0, -(width - 1) / 2 * source_mm], [0, source_mm, -(height - 1) / 2 * source_mm]])
    whole = np.vstack([matrix, [0, 0, 1]]) @ np.vstack([to_frame, [0, 0, 1]])
    shift = np.array([corner[0] + pixel_mm / 2, corner[1] + pixel_mm / 2])
    to_canvas = np.vstack([whole[:2, :2] / pixel_mm, [0, 0]]), (whole[:2, 2] - shift) / pixel_mm
    warp = np.column_stack([to_canvas[0][:2], to_canvas[1]])
    return np.asarray(cv2.warpAffine(source, warp, size[::-1], flags=cv2.INTER_LINEAR), np.float32)


def premultiplied(pixels: Bytes) -> _Layer32:
    """Return straight 8-bit pixels as premultiplied floats in 0 to 1."""
    found = pixels.astype(np.float32) / 255
    found[..., :3] *= found[..., 3:]
    return np.asarray(found)


def _filling(entry: Entry, size: tuple[int, int], corner: tuple[float, float], pixel_mm: float) -> _Layer32:
    """Return the picture that fills a form, once over all of it or repeated."""
    fill = entry.content.fill
    assert fill is not None
    left, top, right, bottom = entry.content.area.bounds
    height, width = fill.shape[:2]
    if entry.repeat_mm == 0:
        source_mm = max((right - left) / width, (bottom - top) / height)
        middle = np.array([[1, 0, (left + right) / 2], [0, 1, (top + bottom) / 2], [0, 0, 1]])
        return _warped(fill, source_mm, entry.matrix @ middle, size, corner, pixel_mm)
    tile_px = max(1, round(entry.repeat_mm / pixel_mm))
    tile = cv2.resize(
        premultiplied(fill), (tile_px, max(1, round(tile_px * height / width))), interpolation=cv2.INTER_AREA
    )
    back = np.linalg.inv(entry.matrix[:, :2])
    x = corner[0] + (np.arange(size[1]) + 0.5) * pixel_mm - entry.matrix[0, 2]
    y = corner[1] + (np.arange(size[0]) + 0.5) * pixel_mm - entry.matrix[1, 2]
    scale = tile_px / entry.repeat_mm
    across = (back[0, 0] * x[None] + back[0, 1] * y[:, None] - left) * scale
    down = (back[1, 0] * x[None] + back[1, 1] * y[:, None] - top) * scale
    return np.asarray(
        tile[np.floor(down).astype(int) % tile.shape[0], np.floor(across).astype(int) % tile_px], np.float32
    )


def coverage(
    area: shapely.MultiPolygon, size: tuple[int, int], corner: tuple[float, float], pixel_mm: float
) -> _Layer32:
    """Return (h, w) shares of each pixel that ``area`` covers, from sixteen sub-pixels."""
    shift = 6
    rings = [
        np.rint(((shapely.get_coordinates(ring) - corner) / pixel_mm * _FINER - 0.5) * (1 << shift)).astype(np.int32)
        for polygon in area.geoms
        for ring in (polygon.exterior, *polygon.interiors)
    ]
    share = np.empty(size, np.float32)
    for first in range(0, size[0], _BAND_PX):
        rows = min(_BAND_PX, size[0] - first)
        fine = np.zeros((rows * _FINER, size[1] * _FINER), np.uint8)
        down = np.array([0, first * _FINER << shift], np.int32)
        moved = [ring - down for ring in rings]
        cv2.fillPoly(fine, moved, 255, shift=shift)
        cv2.polylines(fine, moved, True, 128, 1, shift=shift)  # those on the boundary lie half inside
        share[first : first + rows] = cv2.resize(fine, (size[1], rows), interpolation=cv2.INTER_AREA)
    share /= 255
    return share
