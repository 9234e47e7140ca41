"""A drag knife's tip: it trails behind the axis that the machine moves, and cuts corners short."""

from __future__ import annotations

import numpy as np

from honest_edge.core.geometry.paths import Floats


def trailed(axis_mm: Floats, offset_mm: float) -> Floats:
    """Return (n, 2) where the tip goes while the axis goes through (n, 2) places: the pursuit curve of a towed point.

    The tip starts behind the axis, along its first step; close places make it exact.
    """
    tip = np.asarray(axis_mm, float).copy()
    if offset_mm == 0 or len(tip) < 2:
        return tip
    first = tip[1] - tip[0]
    tip[0] = tip[0] - offset_mm * first / np.linalg.norm(first)
    for number in range(1, len(tip)):
        way = tip[number - 1] - axis_mm[number]
        tip[number] = axis_mm[number] + offset_mm * way / max(float(np.linalg.norm(way)), 1e-12)
    return tip
