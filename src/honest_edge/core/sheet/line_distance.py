"""How far the lines of a cut file lie from the lines of a sheet."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np
import shapely

from honest_edge.core.geometry.paths import CurveRing, Floats

_FLAT_MM = 0.005


def greatest_distance_mm(lines: Sequence[Floats], rings: Sequence[CurveRing]) -> float:
    """Return the greatest distance of any place of either from the other (Hausdorff distance of the whole).

    Raises:
        ValueError: either is empty.
    """
    if not lines or not rings:
        raise ValueError("nothing to compare")
    read = shapely.MultiLineString([shapely.LineString(points) for points in lines])
    planned = shapely.MultiLineString([shapely.LineString(_closed(ring)) for ring in rings])
    return float(shapely.hausdorff_distance(read, planned, densify=0.1))


def _closed(ring: CurveRing) -> Floats:
    points = ring.flattened(_FLAT_MM)
    return np.vstack([points, points[:1]]) if ring.closed else points
