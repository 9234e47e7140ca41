"""Which offset joins scattered parts in one piece."""

from __future__ import annotations

import math
from collections.abc import Sequence

import numpy as np
import shapely

_MOST_PARTS = 400  # beyond that it is a pattern, and no offset is asked to knit it
_COARSE_MM = 0.01
_LEAST_SET = 3  # two alike may be one thing: ears, wheels
_ALIKE_SIDES, _ALIKE_AREAS, _MOST_ALIKE = 1.2, 1.3, 0.8
"""By what factor sides and areas of a set lie round their middle ones, and how many of a set do."""


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


def is_a_set(pieces: Sequence[shapely.Polygon]) -> bool:
    """Return whether pieces that lie apart are alike, as the boxes of a page or a row of discs: meant to be apart.

    Letters of a word differ far more in width, and what is scattered of one motif in area.
    """
    if len(pieces) < _LEAST_SET:
        return False
    boxes = np.array([piece.bounds for piece in pieces])
    sides, areas = boxes[:, 2:] - boxes[:, :2], np.array([piece.area for piece in pieces])
    alike = [side / np.median(side) <= _ALIKE_SIDES for side in (sides[:, 0], sides[:, 1])]
    alike += [side / np.median(side) >= 1 / _ALIKE_SIDES for side in (sides[:, 0], sides[:, 1])]
    alike += [areas / np.median(areas) <= _ALIKE_AREAS, areas / np.median(areas) >= 1 / _ALIKE_AREAS]
    return bool(np.all(alike, axis=0).mean() >= _MOST_ALIKE)


def offered_offset_mm(joining_mm: float) -> float:
    """Return the offset to offer: a tenth of a millimetre more, so that the joint is a neck and no point."""
    return math.ceil(round(joining_mm * 10, 6)) / 10 + 0.1
