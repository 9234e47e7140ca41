"""Parallel curves of an area."""

from __future__ import annotations

import math

import shapely

from honest_edge.core.geometry.paths import as_multipolygon
from honest_edge.core.values.specs import Corners

_MITRE_LIMIT = 5.0  # keeps tips down to 23 degrees, cuts off needles
_GRAIN_MM = 0.002  # a tenth of what the fit may stray
_SLIVER_MM2 = 0.02  # a square of 0.14 mm: smaller than any blade cuts


def offset_area(
    area: shapely.Geometry, distance_mm: float, *, corners: Corners = "round", tolerance_mm: float = 0.003
) -> shapely.MultiPolygon:
    """Return ``area`` grown (or, for a negative distance, shrunk) by ``distance_mm``.

    Args:
        area: polygons in millimetres.
        distance_mm: positive outward.
        corners: how convex corners of the moved boundary are joined.
        tolerance_mm: how far a round join may stray from its true arc.
    """
    if distance_mm == 0:
        return as_multipolygon(area)
    segments = _quadrant_segments(abs(distance_mm), tolerance_mm)
    return _without_slivers(buffered(area, distance_mm, quad_segs=segments, corners=corners))


def without_grain(area: shapely.MultiPolygon) -> shapely.MultiPolygon:
    """Return ``area`` with a fraction of its points, quicker to move: within 2 um of it, 4 at a ring's first point."""
    thinned = shapely.simplify(area, _GRAIN_MM, preserve_topology=False)  # to preserve it takes ten times as long
    parts = as_multipolygon(thinned)
    return parts if shapely.is_valid(parts) and len(parts.geoms) == len(area.geoms) else area


def buffered(
    area: shapely.Geometry, distance_mm: float, *, quad_segs: int, corners: Corners = "round"
) -> shapely.MultiPolygon:
    """Return the library's buffer, part by part: its time grows with the square of what it gets at once."""
    parts = shapely.get_parts(as_multipolygon(area))
    moved = shapely.buffer(parts, distance_mm, quad_segs=quad_segs, join_style=corners, mitre_limit=_MITRE_LIMIT)
    return as_multipolygon(shapely.union_all(moved))


def _without_slivers(area: shapely.MultiPolygon) -> shapely.MultiPolygon:
    """Drop the needle-fine rings that GEOS leaves where a boundary moved past its own centre."""
    parts = [
        shapely.Polygon(part.exterior, [hole for hole in part.interiors if _ring_area(hole) >= _SLIVER_MM2])
        for part in area.geoms
        if _ring_area(part.exterior) >= _SLIVER_MM2
    ]
    return shapely.MultiPolygon(parts)


def _ring_area(ring: shapely.LinearRing) -> float:
    return float(shapely.Polygon(ring).area)


def _quadrant_segments(radius_mm: float, tolerance_mm: float) -> int:
    """Chords a quarter circle needs: a chord over an angle a strays by r (1 - cos(a / 2)).

    The factor 1.5 covers GEOS starting its chords away from the join's ends, which doubles the stray.
    """
    if radius_mm <= tolerance_mm:
        return 4
    chord_rad = 2 * math.acos(1 - tolerance_mm / radius_mm)
    return max(4, math.ceil(1.5 * (math.pi / 2) / chord_rad))
