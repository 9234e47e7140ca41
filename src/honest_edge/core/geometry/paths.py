"""Closed outlines made of cubic Béziers, and the one way they are drawn.

Frame: x right, y down, millimetres.
"""

from __future__ import annotations

import math
from collections.abc import Iterable
from dataclasses import dataclass
from typing import Protocol

import numpy as np
import shapely
from numpy.typing import NDArray

Floats = NDArray[np.float64]


class OutlineSink(Protocol):
    """Receives an outline: screen, print and cut files are all sinks of the same calls."""

    def move_to(self, x_mm: float, y_mm: float) -> None:
        """Start a ring."""

    def line_to(self, x_mm: float, y_mm: float) -> None:
        """Straight to a point."""

    def curve_to(self, x1_mm: float, y1_mm: float, x2_mm: float, y2_mm: float, x_mm: float, y_mm: float) -> None:
        """Cubic Bézier with two control points to a point."""

    def close(self) -> None:
        """End the ring where it started."""


@dataclass(frozen=True, slots=True, eq=False)
class CurveRing:
    """One ring of cubic Béziers, or an open line of them.

    Attributes:
        cubics: (n, 4, 2) control points; each segment starts where the one before ended.
        straight: (n,) bool; such a segment is the line between its ends.
        closed: whether the last segment ends where the first starts.
    """

    cubics: Floats
    straight: NDArray[np.bool_]
    closed: bool = True

    @property
    def node_count(self) -> int:
        """Number of nodes a cutter sees."""
        return len(self.cubics)

    def draw(self, sink: OutlineSink) -> None:
        """Send the ring to ``sink``."""
        sink.move_to(*self.cubics[0, 0].tolist())
        for cubic, straight in zip(self.cubics.tolist(), self.straight.tolist(), strict=True):
            if straight:
                sink.line_to(*cubic[3])
            else:
                sink.curve_to(*cubic[1], *cubic[2], *cubic[3])
        if self.closed:
            sink.close()

    def placed(self, matrix: Floats) -> CurveRing:
        """Return the ring under a (2, 3) affine matrix."""
        return CurveRing(self.cubics @ matrix[:, :2].T + matrix[:, 2], self.straight, self.closed)

    def flattened(self, tolerance_mm: float) -> Floats:
        """Return (m, 2) points, a ring's first not repeated, no farther than ``tolerance_mm`` from the curve.

        A cubic's second derivative is at most six times the greatest second difference d of its control
        points, and linear interpolation over a step h errs by at most h²/8 of it, so
        n = sqrt(0.75 d / tolerance) steps are enough (de Boor, A Practical Guide to Splines, ch. II).
        """
        second = np.abs(np.diff(self.cubics, n=2, axis=1))
        bend = np.hypot(second[..., 0], second[..., 1]).max(axis=1)
        bend[self.straight] = 0.0
        steps = np.maximum(1, np.ceil(np.sqrt(0.75 * bend / tolerance_mm))).astype(int)
        segment = np.repeat(np.arange(len(steps)), steps)
        first = np.concatenate([[0], np.cumsum(steps)[:-1]])
        t = (np.arange(len(segment)) - first[segment]) / steps[segment]
        points = evaluate(self.cubics[segment], t)
        return points if self.closed else np.vstack([points, self.cubics[-1, 3]])


def evaluate(cubics: Floats, t: Floats) -> Floats:
    """Return the points of (n, 4, 2) cubics at (n,) parameters."""
    s = 1.0 - t
    weights = np.stack([s**3, 3 * s**2 * t, 3 * s * t**2, t**3], axis=1)
    return np.asarray(np.einsum("nk,nkd->nd", weights, cubics))


def polygon_of(rings: Iterable[CurveRing], tolerance_mm: float = 0.005) -> shapely.MultiPolygon:
    """Return the area that the rings enclose, holes by even-odd nesting."""
    flat = [shapely.Polygon(points) for ring in rings if len(points := ring.flattened(tolerance_mm)) > 2]
    area: shapely.Geometry = shapely.MultiPolygon()
    for polygon in flat:
        area = shapely.symmetric_difference(area, shapely.make_valid(polygon))
    return as_multipolygon(area)


def as_multipolygon(area: shapely.Geometry) -> shapely.MultiPolygon:
    """Return the polygons of any geometry; lines and points are dropped."""
    parts = shapely.get_parts(shapely.get_parts(shapely.get_parts(area)))
    polygons = [part for part in np.atleast_1d(parts) if part.geom_type == "Polygon" and not part.is_empty]
    return shapely.MultiPolygon(polygons)


def rings_of(area: shapely.MultiPolygon) -> list[Floats]:
    """Return each boundary as (n, 2) points, the first not repeated; a part's rim before its holes."""
    return [
        shapely.get_coordinates(ring)[:-1] for polygon in area.geoms for ring in (polygon.exterior, *polygon.interiors)
    ]


def cos_sin(turn_deg: float) -> tuple[float, float]:
    """Return cosine and sine of a turn, exact for quarters."""
    quarters, rest = divmod(turn_deg, 90.0)
    if rest == 0:
        return ((1.0, 0.0), (0.0, 1.0), (-1.0, 0.0), (0.0, -1.0))[int(quarters) % 4]
    return math.cos(math.radians(turn_deg)), math.sin(math.radians(turn_deg))


def affine(*, turn_deg: float = 0.0, x_mm: float = 0.0, y_mm: float = 0.0, scale: float = 1.0) -> Floats:
    """Return the (2, 3) matrix that scales, turns clockwise on paper and then moves."""
    cos, sin = cos_sin(turn_deg)
    return np.array([[scale * cos, -scale * sin, x_mm], [scale * sin, scale * cos, y_mm]], dtype=np.float64)
