"""Which lines have narrow places, where a blade that goes fast lifts, tears or overshoots."""

from __future__ import annotations

import numpy as np

from honest_edge.core.geometry.paths import Floats

WITHIN_MM = 3.0
TURNS_DEG = 150.0
"""A line that turns by so much within so short a way has a narrow place: common practice, no published source."""


def has_narrow_place(points: Floats) -> bool:
    """Whether a line turns back on itself within a short way; a square corner alone does not.

    Args:
        points: (n, 2) millimetres, one after the other; the first and the last alike where it is closed.
    """
    steps = np.diff(points, axis=0)
    lengths = np.hypot(*steps.T)
    steps, lengths = steps[lengths > 0], lengths[lengths > 0]
    if len(steps) < 2:
        return False
    is_closed = bool(np.allclose(points[0], points[-1]))
    if is_closed:  # once round and on, so that no place at the start is missed
        count = min(len(steps), int(np.searchsorted(np.cumsum(lengths), WITHIN_MM)) + 1)
        steps, lengths = np.vstack([steps, steps[:count]]), np.concatenate([lengths, lengths[:count]])
    angle = np.arctan2(steps[:, 1], steps[:, 0])
    turned = np.abs(np.angle(np.exp(1j * np.diff(angle))))
    at = np.cumsum(lengths)[:-1]
    total = np.concatenate([[0.0], np.cumsum(turned)])
    last = np.searchsorted(at, at + WITHIN_MM, side="right")
    return bool((total[last] - total[:-1]).max() >= np.radians(TURNS_DEG))
