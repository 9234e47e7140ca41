"""Which offset joins scattered parts in one piece."""

from __future__ import annotations

import math

import numpy as np
import shapely

_MOST_PARTS = 400  # beyond that it is a pattern, and no offset is asked to knit it
_COARSE_MM = 0.01


def joining_offset_mm(area: shapely.MultiPolygon) -> float | None:
    """Return the smallest outward offset at which all parts of ``area`` touch; 0 for a single part.

    Two parts touch when each has grown by half their distance, so it is half the bottleneck, the longest
    edge, of the minimum spanning tree of the distances (R. C. Prim, Bell System Technical Journal, 1957).
    None for more parts than could be meant to hang together.
    """
    parts = np.array(shapely.simplify(shapely.get_parts(area), _COARSE_MM))
    if len(parts) > _MOST_PARTS:
        return None
    nearest = np.full(len(parts), np.inf)
    left, joined, bottleneck = np.ones(len(parts), bool), 0, 0.0
    for _ in range(len(parts) - 1):
        left[joined] = False
        shapely.prepare(parts[joined])
        rest = np.flatnonzero(left)
        nearest[rest] = np.minimum(nearest[rest], shapely.distance(parts[joined], parts[rest]))
        joined = int(rest[nearest[rest].argmin()])
        bottleneck = max(bottleneck, float(nearest[joined]))
    return bottleneck / 2


def offered_offset_mm(joining_mm: float) -> float:
    """Return the offset to offer: a tenth of a millimetre more, so that the joint is a neck and no point."""
    return math.ceil(round(joining_mm * 10, 6)) / 10 + 0.1
