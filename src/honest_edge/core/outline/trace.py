"""From coverage to the sub-pixel outline of the art."""

from __future__ import annotations

import itertools

import contourpy
import cv2
import numpy as np
import shapely

from honest_edge.core.geometry.corners import SMALLEST_TURN_DEG, sharpen
from honest_edge.core.geometry.paths import as_multipolygon
from honest_edge.core.imaging.flood import Bytes

BLUR_PX = 0.5
"""Standard deviation of the smoothing before tracing: less leaves stairs, more erodes tips."""

_MARGIN = 3  # pixels of nothing round the art: more than the blur reaches
_BAND_CELLS = 6_000_000  # the tracer works in double precision: a band of rows at a time bounds its memory
_TOTAL_BLUR_PX = float(np.hypot(BLUR_PX, np.sqrt(1 / 12)))  # with the pixel's own area


def trace_pixels(
    coverage: Bytes, threshold: float = 0.5, *, corner_deg: float | None = SMALLEST_TURN_DEG
) -> shapely.MultiPolygon:
    """Return the area where coverage is at least ``threshold``, in pixels, corners drawn out again.

    Marching squares on the lightly blurred coverage place the boundary within a fraction of a pixel
    (Lorensen and Cline, SIGGRAPH 1987, in two dimensions). Large pictures are traced in bands of rows,
    which meet exactly because both take a shared row's crossings from the same two values.

    Args:
        coverage: (h, w) uint8, 255 is wholly art; pixel (row, column) covers the square from
            (column, row) to (column + 1, row + 1).
        threshold: share of coverage where the art ends.
        corner_deg: smallest turn that is drawn out to a corner; None draws out none.
    """
    rows, columns = np.flatnonzero(coverage.any(axis=1)), np.flatnonzero(coverage.any(axis=0))
    if len(rows) == 0:
        return shapely.MultiPolygon()
    top, bottom, left, right = int(rows[0]), int(rows[-1]) + 1, int(columns[0]), int(columns[-1]) + 1
    field = np.pad(coverage[top:bottom, left:right], _MARGIN)
    step = max(64, _BAND_CELLS // field.shape[1])
    starts = range(0, field.shape[0] - 1, step)
    bands = [_band(field, start, min(start + step, field.shape[0] - 1), threshold) for start in starts]
    polygons = [polygon for band in bands for polygon in band]
    if len(bands) > 1:
        polygons = list(as_multipolygon(shapely.union_all(polygons)).geoms)
    shift = np.array([left - _MARGIN, top - _MARGIN]) + 0.5
    parts = [_drawn_out(polygon, shift, corner_deg) for polygon in polygons]
    return shapely.MultiPolygon([part for part in parts if part is not None])


def _band(field: Bytes, first: int, last: int, threshold: float) -> list[shapely.Polygon]:
    """Trace rows ``first`` to ``last``, both included, in the frame of the field's pixel middles."""
    above, below = max(0, first - _MARGIN), min(field.shape[0], last + 1 + _MARGIN)
    values = field[above:below].astype(np.float32)
    blurred = cv2.GaussianBlur(values, (0, 0), BLUR_PX, borderType=cv2.BORDER_CONSTANT)
    rows = blurred[first - above : last + 1 - above]
    if not (rows >= 255 * threshold).any():
        return []
    x, y = np.arange(field.shape[1], dtype=np.float64), np.arange(first, last + 1, dtype=np.float64)
    generator = contourpy.contour_generator(x, y, rows, name="serial", fill_type=contourpy.FillType.OuterOffset)
    filled = generator.filled(255 * threshold, np.inf)
    found = []
    for points, offsets in zip(filled[0], filled[1], strict=True):
        rings = [np.asarray(points)[a:b] for a, b in itertools.pairwise(np.asarray(offsets).tolist()) if b - a > 3]
        if rings:
            found.append(shapely.Polygon(rings[0], rings[1:]))
    return found


def _drawn_out(polygon: shapely.Polygon, shift: np.ndarray, corner_deg: float | None) -> shapely.Polygon | None:
    rings = [shapely.get_coordinates(ring)[:-1] + shift for ring in (polygon.exterior, *polygon.interiors)]
    if corner_deg is not None:
        rings = [sharpen(ring, blur=_TOTAL_BLUR_PX, least_deg=corner_deg) if len(ring) >= 8 else ring for ring in rings]
    part = shapely.Polygon(rings[0], rings[1:])
    if part.is_valid:
        return part
    return max(as_multipolygon(shapely.make_valid(part)).geoms, key=lambda p: p.area, default=None)
