"""How far places lie from an area, looked up in a grid: millions of look-ups a tenth of a second."""

from __future__ import annotations

from dataclasses import dataclass

import cv2
import numpy as np
import scipy  # loads its parts when they are used: while other designs are computed already
import shapely
from numpy.typing import NDArray

from honest_edge.core.geometry.paths import Floats, rings_of

_ROW = 16_384  # OpenCV's remap takes at most 32767 columns
_LEVELS = 32_000  # of a field's reach: half a thousandth of a millimetre or less, in half the memory of floats
_BESIDE = 2.5  # steps: enough to find where the field passes zero
_SPACING = 0.5  # of the grid's step, between the boundary's points that are searched


@dataclass(frozen=True, slots=True, kw_only=True, eq=False)
class DistanceField:
    """Signed distances from an area: positive outside, negative inside, held at ``reach_mm`` either way.

    Attributes:
        levels: (h, w) int16 distances at the nodes of a grid, ``reach_mm`` in ``_LEVELS`` parts.
        left_mm, top_mm: the first node.
        step_mm: distance of the nodes.
        reach_mm: beyond it nothing is told apart.
    """

    levels: NDArray[np.int16]
    left_mm: float
    top_mm: float
    step_mm: float
    reach_mm: float

    def at(self, x_mm: Floats | NDArray[np.float32], y_mm: Floats | NDArray[np.float32]) -> NDArray[np.float32]:
        """Return the distances at places of any shape, bilinear between nodes; ``reach_mm`` beyond the grid."""
        x = ((x_mm - self.left_mm) / self.step_mm).astype(np.float32, copy=False).reshape(-1)
        y = ((y_mm - self.top_mm) / self.step_mm).astype(np.float32, copy=False).reshape(-1)
        rows = -(-x.size // _ROW)
        grid = np.zeros((2, rows * _ROW), np.float32)
        grid[0, : x.size], grid[1, : y.size] = x, y
        levels = self._read(grid[0].reshape(rows, _ROW), grid[1].reshape(rows, _ROW))
        return self._in_mm(levels.reshape(-1)[: x.size].reshape(np.shape(x_mm)))

    def greatest_along(
        self, starts: NDArray[np.float32], ways: NDArray[np.float32], paces: NDArray[np.float32]
    ) -> NDArray[np.float32]:
        """Return the (k, j) greatest distances of (k, n, 2) places moved by (j,) times their (k, n, 2) ways."""
        unit, origin = np.float32(1 / self.step_mm), np.array([self.left_mm, self.top_mm], np.float32)
        starts, ways = (starts - origin) * unit, ways * unit
        shape = (len(starts), len(paces), starts.shape[1])
        maps = []
        for axis in (0, 1):  # each in one piece, as the library reads it
            places = np.multiply(paces[None, :, None], np.ascontiguousarray(ways[..., axis])[:, None])
            places += starts[..., axis][:, None]
            maps.append(places.reshape(-1, shape[2]))
        return self._in_mm(self._read(*maps).reshape(shape).max(axis=2))

    def _read(self, x: NDArray[np.float32], y: NDArray[np.float32]) -> NDArray[np.int16]:
        """Return the levels at places of a two-dimensional arrangement, in steps from the first node."""
        levels = cv2.remap(
            self.levels, x, y, cv2.INTER_LINEAR, borderMode=cv2.BORDER_CONSTANT, borderValue=(float(_LEVELS),)
        )
        return np.asarray(levels, np.int16)

    def _in_mm(self, levels: NDArray[np.int16]) -> NDArray[np.float32]:
        return np.multiply(levels, np.float32(self.reach_mm / _LEVELS), dtype=np.float32)


def distance_field(
    area: shapely.MultiPolygon,
    box: tuple[float, float, float, float],
    *,
    reach_mm: float,
    step_mm: float,
    inside_mm: float | None = None,
    asked: Floats | None = None,
    within_mm: float = 0.0,
    is_rough_away: bool = False,
) -> DistanceField:
    """Return the distances from ``area`` at the nodes of a grid over ``box``.

    Nodes beside the boundary, and those within reach of it that will be asked for, are measured, to the boundary
    itself and not to pixels of it: the error is that of reading between nodes, at most step^2 / 8 of the boundary's
    curvature. The others are known to a few hundredths of their distance and half a step.

    Args:
        area: polygons in millimetres.
        box: left, top, right, bottom of the grid.
        reach_mm: larger distances are cut off.
        step_mm: distance of the nodes.
        inside_mm: how far inside nodes are measured; None as far as outside.
        asked: (n, 2) places near which distances will be asked for; None asks everywhere.
        within_mm: how near.
        is_rough_away: whether only the boundary near those places is measured: enough to see on which side one lies.
    """
    left, top = box[0], box[1]
    columns = max(2, int(np.ceil((box[2] - left) / step_mm)) + 1)
    rows = max(2, int(np.ceil((box[3] - top) / step_mm)) + 1)
    inside, away = _sides(area, (rows, columns), (left, top), step_mm)
    near = away <= np.where(inside, reach_mm if inside_mm is None else inside_mm, reach_mm) / step_mm + 1.5
    if asked is not None:
        beside, around = away <= _BESIDE, _around(asked, (rows, columns), (left, top), step_mm, within_mm)
        near &= beside & around if is_rough_away else beside | around
    rough = np.minimum(away * np.float32(step_mm), np.float32(reach_mm))
    values = np.where(inside, -rough, rough)
    at = np.flatnonzero(near)
    if len(at):
        ys, xs = np.divmod(at, columns)
        places = np.stack([left + xs * step_mm, top + ys * step_mm], axis=1)
        values.reshape(-1)[at] = _signed(area, places, inside.reshape(-1)[at], reach_mm, step_mm)
    levels = np.rint(values * np.float32(_LEVELS / reach_mm)).astype(np.int16)
    return DistanceField(levels=levels, left_mm=left, top_mm=top, step_mm=step_mm, reach_mm=reach_mm)


def _around(
    places: Floats, shape: tuple[int, int], origin: tuple[float, float], step: float, within_mm: float
) -> NDArray[np.bool_]:
    """Return which nodes are needed to read anywhere within a distance of places."""
    nothing = np.ones(shape, np.uint8)
    columns, rows = np.rint((places - origin) / step).astype(int).T
    inside = (columns >= 0) & (columns < shape[1]) & (rows >= 0) & (rows < shape[0])
    nothing[rows[inside], columns[inside]] = 0
    if nothing.all():
        return np.zeros(shape, np.bool_)
    return np.asarray(cv2.distanceTransform(nothing, cv2.DIST_L2, cv2.DIST_MASK_5) <= within_mm / step + 2.5)


def _sides(
    area: shapely.MultiPolygon, shape: tuple[int, int], origin: tuple[float, float], step: float
) -> tuple[NDArray[np.bool_], NDArray[np.float32]]:
    """Return which nodes lie inside, to half a step, and about how many steps the boundary is away."""
    shift = 6
    inside, line = np.zeros(shape, np.uint8), np.zeros(shape, np.uint8)
    for polygon in area.geoms:
        rings = [
            np.rint((shapely.get_coordinates(ring) - origin) / step * (1 << shift)).astype(np.int32)
            for ring in (polygon.exterior, *polygon.interiors)
        ]
        cv2.fillPoly(inside, rings, 1, shift=shift)
        cv2.polylines(line, rings, True, 1, 1, shift=shift)
    away = cv2.distanceTransform(1 - line, cv2.DIST_L2, cv2.DIST_MASK_5)
    return inside > 0, np.asarray(away, np.float32)


def _signed(
    area: shapely.MultiPolygon, places: Floats, inside: NDArray[np.bool_], reach: float, step: float
) -> NDArray[np.float32]:
    starts, ends = _segments(area, _SPACING * step)
    # an unbalanced tree is built and searched faster where points lie along lines
    tree = scipy.spatial.cKDTree((starts + ends) / 2, balanced_tree=False, compact_nodes=False)
    away, index = tree.query(places, distance_upper_bound=reach + step, workers=-1)
    is_finite = np.isfinite(away)
    gap = np.full(len(places), reach, np.float64)
    first, span = starts[index[is_finite]], (ends - starts)[index[is_finite]]
    rest = places[is_finite] - first
    along = np.clip(np.einsum("nd,nd->n", rest, span) / np.einsum("nd,nd->n", span, span), 0.0, 1.0)
    gap[is_finite] = np.minimum(np.hypot(*(rest - along[:, None] * span).T), reach)
    # filled pixels tell the side but for those that the boundary itself runs through
    close = gap <= 1.5 * step
    side = inside.copy()
    side[close] = contains(area, places[close])
    return np.where(side, -gap, gap).astype(np.float32)


def _segments(area: shapely.MultiPolygon, spacing: float) -> tuple[Floats, Floats]:
    """Return both ends of short pieces of the whole boundary."""
    starts, ends = [], []
    for ring in rings_of(area):
        even = shapely.get_coordinates(shapely.segmentize(shapely.linearrings(ring), spacing))
        lengths = np.hypot(*np.diff(even, axis=0).T)
        keep = lengths > 0
        starts.append(even[:-1][keep])
        ends.append(even[1:][keep])
    return np.concatenate(starts), np.concatenate(ends)


def contains(area: shapely.Geometry, points: Floats) -> NDArray[np.bool_]:
    """Return which of (n, 2) points lie inside an area.

    Asked of a copy: GEOS builds an index in the geometry while it answers, and two threads that ask the same one
    bring the process down (seen with GEOS 3.14.1).
    """
    return np.asarray(shapely.contains_xy(shapely.force_2d(area), points[:, 0], points[:, 1]))


def within(area: shapely.Geometry, points: Floats, distance_mm: float) -> NDArray[np.bool_]:
    """Return which of (n, 2) points lie inside an area or no farther from it; asked of a copy, as ``contains``."""
    whole = shapely.force_2d(area)
    shapely.prepare(whole)
    return np.asarray(shapely.dwithin(whole, shapely.points(points), distance_mm))


def reach_mm(one: shapely.Geometry, other: shapely.MultiPolygon) -> float:
    """Return how far ``one`` reaches out of ``other`` at most, found exactly at its corners; 0 where it does not."""
    points = shapely.get_coordinates(one)
    outside = points[~contains(other, points)]
    if not len(outside):
        return 0.0
    sides = np.concatenate([np.stack([ring, np.roll(ring, -1, axis=0)], axis=1) for ring in rings_of(other)])
    tree = shapely.STRtree(np.asarray(shapely.linestrings(sides)))
    _, apart = tree.query_nearest(shapely.points(outside), all_matches=False, return_distance=True)
    return float(apart.max())
