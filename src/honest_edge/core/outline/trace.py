"""From coverage to the sub-pixel outline of the art."""

from __future__ import annotations

from functools import lru_cache

import contourpy
import cv2
import numpy as np
import shapely

from honest_edge.core.geometry.corners import SMALLEST_TURN_DEG, sharpen
from honest_edge.core.geometry.paths import Floats, as_multipolygon
from honest_edge.core.imaging.flood import Bytes, Distances

BLUR_PX = 0.5
"""Standard deviation of the smoothing before tracing: less leaves stairs, more erodes tips."""

_MARGIN = 8  # pixels of nothing round the art: more than the smoothing reaches
_THIN_PX = 3  # what an opening or closing of this size takes away or fills is thin
_THIN_FROM, _THIN_GAIN = 0.2, 5.0  # share of a pixel from which on it counts; a square corner stays below
_THIN_BLUR_PX, _SHARPEN_BLUR_PX = 1.0, 0.6
_MOST_SHARPENED_PX = 80_000
_BAND_ROWS, _BLOCK_COLUMNS = 160, 256
_TOTAL_BLUR_PX = float(np.hypot(BLUR_PX, np.sqrt(1 / 12)))  # with the pixel's own area


def trace_pixels(
    coverage: Bytes, threshold: float = 0.5, *, corner_deg: float | None = SMALLEST_TURN_DEG
) -> shapely.MultiPolygon:
    """Return the area where coverage is at least ``threshold``, in pixels, corners drawn out again.

    Marching squares on the lightly blurred coverage place the boundary within a fraction of a pixel
    (Lorensen and Cline, SIGGRAPH 1987, in two dimensions). Only blocks that the boundary crosses are
    traced; their lines are joined where blocks meet.

    Args:
        coverage: (h, w) uint8, 255 is wholly art; pixel (row, column) covers the square from
            (column, row) to (column + 1, row + 1).
        threshold: share of coverage where the art ends.
        corner_deg: smallest turn that is drawn out to a corner; None draws out none.
    """
    return _drawn_out(_polygons(_boundary(coverage, threshold)), corner_deg)


def trace_sharp_and_blunt(
    coverage: Bytes, threshold: float, corner_deg: float
) -> tuple[shapely.MultiPolygon, shapely.MultiPolygon]:
    """Return what ``trace_pixels`` does, and the same with corners as blunt as the picture prints them."""
    polygons = _polygons(_boundary(coverage, threshold))
    return _drawn_out(polygons, corner_deg), _drawn_out(polygons, None)


def _boundary(coverage: Bytes, threshold: float) -> list[Floats]:
    """Return every closed ring along the threshold, in pixels."""
    rows, columns = np.flatnonzero(coverage.any(axis=1)), np.flatnonzero(coverage.any(axis=0))
    if len(rows) == 0:
        return []
    top, bottom, left, right = int(rows[0]), int(rows[-1]) + 1, int(columns[0]), int(columns[-1]) + 1
    field = np.pad(coverage[top:bottom, left:right], _MARGIN)
    lines = [line for first in range(0, field.shape[0] - 1, _BAND_ROWS) for line in _band(field, first, threshold)]
    shift = np.array([left - _MARGIN, top - _MARGIN]) + 0.5
    return [ring + shift for ring in _closed(lines)]


def _band(field: Bytes, first: int, threshold: float) -> list[Floats]:
    """Trace a band of rows from ``first`` on, block by block, in the frame of the field's pixel middles."""
    last = min(first + _BAND_ROWS, field.shape[0] - 1)  # bands and blocks share their border rows and columns
    above, below = max(0, first - _MARGIN), min(field.shape[0], last + 1 + _MARGIN)
    rows = _smoothed(field[above:below])[first - above : last + 1 - above]
    solid = rows > 255 * threshold
    lines: list[Floats] = []
    for left in range(0, field.shape[1] - 1, _BLOCK_COLUMNS):
        right = min(left + _BLOCK_COLUMNS, field.shape[1] - 1)
        inside = np.count_nonzero(solid[:, left : right + 1])
        if 0 < inside < (right + 1 - left) * len(rows):
            block = rows[:, left : right + 1].astype(np.float64)
            corner = np.array([left, first], np.float64)
            lines += [np.asarray(line) + corner for line in _generator(block).lines(255 * threshold)]
    return lines


def _generator(block: Floats) -> contourpy.SerialContourGenerator:
    """Return what traces a block, in its own frame: made without the checks and copies of the library's front door."""
    return contourpy.SerialContourGenerator(
        *_grid(*block.shape),
        block,
        None,  # type: ignore[arg-type]  # no mask: what the front door hands on, though the stub does not say so
        corner_mask=False,
        line_type=contourpy.LineType.Separate,
        fill_type=contourpy.FillType.OuterOffset,
        quad_as_tri=False,
        z_interp=contourpy.ZInterp.Linear,
    )


@lru_cache(maxsize=8)
def _grid(height: int, width: int) -> tuple[Floats, Floats]:
    x, y = np.meshgrid(np.arange(width, dtype=np.float64), np.arange(height, dtype=np.float64))
    return x, y


def _smoothed(field: Bytes) -> Distances:
    """Return the coverage smoothed against stairs, but sharpened where the art or its background is thin.

    A blur takes from a thin tip what it is made of, up to a third of a millimetre at 300 ppi. There what the pixel's
    own area blurred is given back instead (unsharp masking); ``benchmarks/accuracy.py`` measures it.
    """
    values = field.astype(np.float32)
    blurred = cv2.GaussianBlur(values, (0, 0), BLUR_PX, borderType=cv2.BORDER_CONSTANT)
    kernel = cv2.getStructuringElement(cv2.MORPH_ELLIPSE, (_THIN_PX, _THIN_PX))
    tips = cv2.subtract(field, cv2.morphologyEx(field, cv2.MORPH_OPEN, kernel))
    inlets = cv2.subtract(cv2.morphologyEx(field, cv2.MORPH_CLOSE, kernel), field)
    thin = cv2.dilate(cv2.max(tips, inlets), np.ones((3, 3), np.uint8))
    if not (thin > 255 * _THIN_FROM).any():
        return np.asarray(blurred)
    share = np.clip((thin.astype(np.float32) / 255 - _THIN_FROM) * _THIN_GAIN, 0, 1)
    weight = np.asarray(cv2.GaussianBlur(share.astype(np.float32), (0, 0), _THIN_BLUR_PX), np.float32)
    coarse = cv2.GaussianBlur(values, (0, 0), _SHARPEN_BLUR_PX, borderType=cv2.BORDER_CONSTANT)
    return np.asarray(blurred + weight * (2 * values - coarse - blurred))


def _closed(lines: list[Floats]) -> list[Floats]:
    """Return closed rings, the first point not repeated, from lines that end where blocks meet.

    Two blocks compute a shared crossing from the same two values but not in the same order, so places are
    compared to a millionth of a pixel.
    """
    rings, starts = [], {}
    for line in lines:
        if len(line) > 3 and (line[0] == line[-1]).all():
            rings.append(line[:-1])
        else:
            starts[_place(line[0])] = line
    while starts:
        place, line = starts.popitem()
        chain = [line[:-1]]
        end = _place(line[-1])
        while end != place and end in starts:
            line = starts.pop(end)
            chain.append(line[:-1])
            end = _place(line[-1])
        ring = np.concatenate(chain)
        if len(ring) > 2:
            rings.append(ring)
    return rings


def _place(point: Floats) -> tuple[int, int]:
    return round(float(point[0]) * 1e6), round(float(point[1]) * 1e6)


def _polygons(rings: list[Floats]) -> list[shapely.Polygon]:
    """Return areas with their holes: a hole runs the other way round than what holds it."""
    if not rings:
        return []
    areas = np.array([_signed_area(ring) for ring in rings])
    outward = np.sign(areas[np.abs(areas).argmax()])  # the largest ring is no hole
    outer = [ring for ring, area in zip(rings, areas, strict=True) if area * outward > 0]
    bare = [shapely.Polygon(ring) for ring in outer]
    holes: list[list[Floats]] = [[] for _ in outer]
    inner = [ring for ring, area in zip(rings, areas, strict=True) if area * outward < 0]
    if inner:
        sizes = np.array([polygon.area for polygon in bare])
        # what asks is prepared, so the long rings ask
        holder, held = shapely.STRtree(shapely.points([ring[0] for ring in inner])).query(bare, predicate="contains")
        smallest: dict[int, int] = {}
        for polygon, hole in zip(holder.tolist(), held.tolist(), strict=True):
            if hole not in smallest or sizes[polygon] < sizes[smallest[hole]]:
                smallest[hole] = polygon
        for hole in sorted(smallest):
            holes[smallest[hole]].append(inner[hole])
    return [shapely.Polygon(ring, inside) if inside else p for ring, inside, p in zip(outer, holes, bare, strict=True)]


def _signed_area(ring: Floats) -> float:
    x, y = ring[:, 0], ring[:, 1]
    return float(x @ np.roll(y, -1) - y @ np.roll(x, -1)) / 2


def _drawn_out(polygons: list[shapely.Polygon], corner_deg: float | None) -> shapely.MultiPolygon:
    """Draw out the corners of all but what is longer than any drawing's outline: the rest of that is grain."""
    reached = np.cumsum([polygon.length for polygon in polygons])
    parts = [
        _part(polygon, corner_deg if so_far <= _MOST_SHARPENED_PX else None)
        for polygon, so_far in zip(polygons, reached, strict=True)
    ]
    return shapely.MultiPolygon([part for part in parts if part is not None])


def _part(polygon: shapely.Polygon, corner_deg: float | None) -> shapely.Polygon | None:
    rings = [shapely.get_coordinates(ring)[:-1] for ring in (polygon.exterior, *polygon.interiors)]
    if corner_deg is not None:
        rings = [sharpen(ring, blur=_TOTAL_BLUR_PX, least_deg=corner_deg) if len(ring) >= 8 else ring for ring in rings]
    part = shapely.Polygon(rings[0], rings[1:])
    if part.is_valid:
        return part
    return max(as_multipolygon(shapely.make_valid(part)).geoms, key=lambda p: p.area, default=None)
