"""What one entry of a stack looks like in pixels, and how it covers what lies below.

Pixels are straight 8-bit sRGB and alpha throughout; colours are averaged and moved premultiplied.
"""

from __future__ import annotations

import math

import cv2
import numpy as np
import shapely
from numpy.typing import NDArray

from honest_edge.core.geometry.paths import Floats
from honest_edge.core.imaging.flood import Bytes, whole_pixels
from honest_edge.core.layers.stack import Entry
from honest_edge.core.values.units import MM_PER_INCH

_FINER = 4  # sub-pixels a side, for soft edges
_TILE_PX = 128  # only tiles that the boundary runs through are made softly
_SHIFT = 6  # bits after the point in OpenCV's drawing
_SHARES = np.arange(256, dtype=np.float32) / 255
_WHOLE = 1e-3  # of a pixel: a move that is so nearly of whole pixels needs no resampling

_Size = tuple[int, int]
_Place = tuple[float, float]
_Layer32 = NDArray[np.float32]


def lay_over(below: Bytes, above: Bytes) -> None:
    """Cover pixels by others, in place (Porter and Duff's "over", Compositing Digital Images, 1984)."""
    alpha = above[..., 3]
    touched = cv2.boundingRect(alpha)
    if touched[2] == 0:
        return
    left, top, width, height = touched
    part = (slice(top, top + height), slice(left, left + width))
    below, above, alpha = below[part], above[part], alpha[part]
    if not below[..., 3].any():
        below[...] = above
        return
    is_opaque = alpha == 255
    np.copyto(whole_pixels(below), whole_pixels(above), where=is_opaque)
    soft = (alpha > 0) & ~is_opaque  # most of what is drawn is one or the other
    below[soft] = _mixed(below[soft], above[soft])


def _mixed(below: Bytes, above: Bytes) -> Bytes:
    """Return (n, 4) pixels covered by others."""
    share = above[:, 3:].astype(np.float32) / 255
    under = below[:, 3:].astype(np.float32) / 255 * (1 - share)
    whole = share + under
    mixed = np.empty_like(below)
    mixed[:, :3] = np.rint((above[:, :3] * share + below[:, :3] * under) / whole)
    mixed[:, 3:] = np.rint(255 * whole)
    return mixed


def reach_of(entry: Entry) -> tuple[float, float, float, float]:
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


def inked(entry: Entry, size: _Size, corner: _Place, pixel_mm: float) -> Bytes:
    """Return (h, w, 4) pixels of what an entry prints in a box of the canvas, as thin as its layer is.

    Args: as of ``_solid``.
    """
    ink = _solid(entry, size, corner, pixel_mm)
    if entry.layer is not None and entry.layer.opacity_percent < 100:
        ink[..., 3] = cv2.convertScaleAbs(ink[..., 3], alpha=entry.layer.opacity_percent / 100)
    return ink


def _solid(entry: Entry, size: _Size, corner: _Place, pixel_mm: float) -> Bytes:
    """Return (h, w, 4) pixels of what an entry prints in a box of the canvas, were it solid.

    Args:
        entry: what is printed.
        size: rows and columns of the box.
        corner: where its top left lies, in the frame of the layers.
        pixel_mm: size of a pixel.
    """
    content = entry.content
    if content.pixels is not None:
        solid = _warped(content.pixels, content.pixel_mm, entry.matrix, size, corner, pixel_mm)
        if not entry.lost.is_empty:
            kept = 255 - coverage(entry.lost, size, corner, pixel_mm)
            solid[..., 3] = cv2.multiply(solid[..., 3], kept, scale=1 / 255)
        return solid
    solid = np.empty((*size, 4), np.uint8)
    solid.view(np.uint32).fill(np.array([*entry.rgb, 255], np.uint8).view(np.uint32)[0])  # a pixel at a time
    if content.fill is not None:
        lay_over(solid, _filling(entry, size, corner, pixel_mm))
    solid[..., 3] = coverage(entry.area, size, corner, pixel_mm)
    return solid


def _warped(pixels: Bytes, source_mm: float, matrix: Floats, size: _Size, corner: _Place, pixel_mm: float) -> Bytes:
    """Return a picture, its middle at the origin of its frame, as the canvas sees it."""
    height, width = pixels.shape[:2]
    factor = pixel_mm / source_mm
    smaller = (max(1, round(width / factor)), max(1, round(height / factor)))
    warp = _warp((width, height), source_mm, matrix, corner, pixel_mm)
    move = np.rint(warp[:, 2])
    if np.abs(warp - np.column_stack([np.eye(2), move])).max() < _WHOLE / max(width, height):
        return _shifted(pixels, size, (int(move[0]), int(move[1])))
    source = premultiplied(pixels)
    if factor > 1.02:  # averaged first: a warp looks at four pixels only
        source = np.asarray(cv2.resize(source, smaller, interpolation=cv2.INTER_AREA), np.float32)
        warp = _warp(smaller, source_mm * width / smaller[0], matrix, corner, pixel_mm)
    return straight(np.asarray(cv2.warpAffine(source, warp, size[::-1], flags=cv2.INTER_LINEAR), np.float32))


def _warp(shape: tuple[int, ...], source_mm: float, matrix: Floats, corner: _Place, pixel_mm: float) -> Floats:
    """Return the (2, 3) matrix from a picture's pixels to the canvas's, pixels' middles at whole numbers."""
    width, height = shape
    to_frame = np.array(
        [[source_mm, 0, -(width - 1) / 2 * source_mm], [0, source_mm, -(height - 1) / 2 * source_mm], [0, 0, 1]]
    )
    placed = matrix @ to_frame
    middle = np.array([corner[0] + pixel_mm / 2, corner[1] + pixel_mm / 2])
    return np.column_stack([placed[:, :2], placed[:, 2] - middle]) / pixel_mm


def _shifted(pixels: Bytes, size: _Size, move: tuple[int, int]) -> Bytes:
    """Return a picture moved by whole pixels."""
    shifted = np.zeros((*size, 4), np.uint8)
    (across, down), (height, width) = move, pixels.shape[:2]
    top, left = max(0, down), max(0, across)
    bottom, right = min(size[0], down + height), min(size[1], across + width)
    if top < bottom and left < right:
        shifted[top:bottom, left:right] = pixels[top - down : bottom - down, left - across : right - across]
    return shifted


def premultiplied(pixels: Bytes) -> _Layer32:
    """Return straight 8-bit pixels as premultiplied floats in 0 to 1."""
    *colours, alpha = (cv2.LUT(channel, _SHARES) for channel in cv2.split(pixels))
    return np.asarray(cv2.merge([*(cv2.multiply(colour, alpha) for colour in colours), alpha]), np.float32)


def straight(pixels: Bytes | _Layer32) -> Bytes:
    """Return premultiplied floats in 0 to 1 as straight 8-bit sRGB and alpha."""
    straightened = np.empty(pixels.shape, np.uint8)
    cv2.convertScaleAbs(pixels, straightened, 255.0)
    alpha = pixels[..., 3]
    part = (alpha > 0) & (alpha < 1)  # elsewhere the two are the same
    straightened[part, :3] = np.rint(np.clip(pixels[part, :3] / alpha[part, None], 0, 1) * 255)
    return straightened


def printed_ppi(entry: Entry) -> float | None:
    """Return at how many pixels an inch a picture or the picture in a form is printed; None for plain forms."""
    if entry.content.pixels is not None:
        return MM_PER_INCH / entry.content.pixel_mm
    drawn = entry.content.fill is None or entry.content.is_fill_drawn
    return None if drawn else MM_PER_INCH / _fill_pixel_mm(entry)


def _fill_pixel_mm(entry: Entry) -> float:
    """Return how large a pixel of a fill is printed: it covers the whole form, or is as wide as it repeats."""
    assert entry.content.fill is not None
    height, width = entry.content.fill.shape[:2]
    left, top, right, bottom = entry.content.area.bounds
    if entry.repeat_mm:
        return entry.repeat_mm / int(width)
    return entry.place.zoom * float(max((right - left) / width, (bottom - top) / height))


def fill_matrix(entry: Entry) -> Floats:
    """Return the (2, 3) matrix from a fill's pixels, their corners at whole numbers, to the form's own frame."""
    assert entry.content.fill is not None
    height, width = entry.content.fill.shape[:2]
    left, top, right, bottom = entry.content.area.bounds
    scale, place = _fill_pixel_mm(entry), entry.place
    turn = math.radians(place.turn_deg)
    linear = scale * np.array([[math.cos(turn), -math.sin(turn)], [math.sin(turn), math.cos(turn)]])
    if entry.repeat_mm:
        return np.column_stack([linear, [left + place.x_mm, top + place.y_mm]])
    middle = np.array([(left + right) / 2 + place.x_mm, (top + bottom) / 2 + place.y_mm])
    return np.column_stack([linear, middle - linear @ [width / 2, height / 2]])


def _filling(entry: Entry, size: _Size, corner: _Place, pixel_mm: float) -> Bytes:
    """Return the picture that fills a form, once over all of it or repeated."""
    fill = entry.content.fill
    assert fill is not None
    height, width = fill.shape[:2]
    source_mm = _fill_pixel_mm(entry)
    to_form = np.vstack([fill_matrix(entry), [0, 0, 1]])
    if entry.repeat_mm == 0:
        of_middle = to_form @ np.array([[1 / source_mm, 0, width / 2], [0, 1 / source_mm, height / 2], [0, 0, 1]])
        return _warped(fill, source_mm, entry.matrix @ of_middle, size, corner, pixel_mm)
    tile_px = max(1, round(entry.repeat_mm / pixel_mm))
    shape = (tile_px, max(1, round(tile_px * height / width)))
    tile = straight(np.asarray(cv2.resize(premultiplied(fill), shape, interpolation=cv2.INTER_AREA), np.float32))
    back = np.linalg.inv(np.vstack([entry.matrix @ to_form, [0, 0, 1]])) * (tile_px / width)
    x = corner[0] + (np.arange(size[1]) + 0.5) * pixel_mm
    y = corner[1] + (np.arange(size[0]) + 0.5) * pixel_mm
    across = back[0, 0] * x[None] + back[0, 1] * y[:, None] + back[0, 2]
    down = back[1, 0] * x[None] + back[1, 1] * y[:, None] + back[1, 2]
    return np.asarray(tile[np.floor(down).astype(int) % tile.shape[0], np.floor(across).astype(int) % tile_px])


def coverage(area: shapely.MultiPolygon, size: _Size, corner: _Place, pixel_mm: float) -> Bytes:
    """Return (h, w) uint8 shares of each pixel that ``area`` covers, from sixteen sub-pixels along its boundary."""
    rings = [
        (shapely.get_coordinates(ring) - corner) / pixel_mm
        for polygon in area.geoms
        for ring in (polygon.exterior, *polygon.interiors)
    ]
    whole = np.zeros(size, np.uint8)
    cv2.fillPoly(whole, [_fixed(ring, 1) for ring in rings], 255, shift=_SHIFT)
    grid = -(-size[0] // _TILE_PX), -(-size[1] // _TILE_PX)
    edges = np.zeros((grid[0] * _TILE_PX, grid[1] * _TILE_PX), np.uint8)
    cv2.polylines(edges, [_fixed(ring, 1) for ring in rings], True, 1, 3, shift=_SHIFT)
    crossed = edges.reshape(grid[0], _TILE_PX, grid[1], _TILE_PX).any(axis=(1, 3))
    fixed = [_fixed(ring, _FINER) for ring in rings]
    boxes = np.array([(ring.min(axis=0), ring.max(axis=0)) for ring in rings]).reshape(-1, 2, 2)
    for row, column in np.argwhere(crossed).tolist():
        corner_px = np.array([column, row]) * _TILE_PX
        tile = whole[corner_px[1] : corner_px[1] + _TILE_PX, corner_px[0] : corner_px[0] + _TILE_PX]
        meets = ((boxes[:, 0] <= corner_px + _TILE_PX + 1) & (boxes[:, 1] >= corner_px - 1)).all(axis=1)
        moved = corner_px * (_FINER << _SHIFT)
        near = [fixed[index] - moved.astype(np.int32) for index in np.flatnonzero(meets)]
        tile[...] = _soft_tile(near, (tile.shape[0], tile.shape[1]))
    return whole


def _soft_tile(fixed: list[NDArray[np.int32]], size: _Size) -> Bytes:
    fine = np.zeros((size[0] * _FINER, size[1] * _FINER), np.uint8)
    cv2.fillPoly(fine, fixed, 255, shift=_SHIFT)
    cv2.polylines(fine, fixed, True, 128, 1, shift=_SHIFT)  # sub-pixels on the boundary lie half inside
    return np.asarray(cv2.resize(fine, size[::-1], interpolation=cv2.INTER_AREA))


def _fixed(points: Floats, finer: int) -> NDArray[np.int32]:
    """Return places as OpenCV's fixed-point numbers, pixels' middles at whole ones."""
    return np.rint((points * finer - 0.5) * (1 << _SHIFT)).astype(np.int32)
