"""What a drag knife needs beside the line itself: cuts that run past their start, and a led tip.

The tip of a drag knife trails behind its axis. To keep the tip on the line, the axis runs ahead of it by the
blade's offset along the tangent and swivels about every corner on an arc of that radius.
"""

from __future__ import annotations

import math

import numpy as np

from honest_edge.core.geometry.paths import CurveRing, Floats

_FLAT_MM = 0.003
_SWIVEL_DEG = 12.0
_SMOOTH_DEG = 2.0
"""Turns below this are part of a curve; the axis goes straight from one tangent to the next."""


def blade_path(ring: CurveRing, *, overcut_mm: float = 0.0, offset_mm: float = 0.0) -> CurveRing:
    """Return how the axis of a blade runs along a ring or line.

    Args:
        ring: what is to be cut.
        overcut_mm: how far a closed cut runs past its start.
        offset_mm: how far the tip trails behind the axis; 0 leaves that to the machine.
    """
    if not overcut_mm and not offset_mm:
        return ring
    points = ring.flattened(_FLAT_MM)
    if ring.closed:
        points = np.vstack([points, points[:1]])
        if overcut_mm:
            points = np.vstack([points, _beginning(points, overcut_mm)])
    if offset_mm:
        points = led(points, offset_mm)
    return polyline(points)


def _beginning(points: Floats, length_mm: float) -> Floats:
    """Return the first ``length_mm`` of a line, without its first point."""
    steps = np.hypot(*np.diff(points, axis=0).T)
    along = np.concatenate([[0.0], np.cumsum(steps)])
    length = min(length_mm, float(along[-1]))
    whole = int(np.searchsorted(along, length - 1e-9))
    share = (length - along[whole - 1]) / max(steps[whole - 1], 1e-12)
    last = points[whole - 1] + share * (points[whole] - points[whole - 1])
    return np.vstack([points[1:whole], last])


def led(points: Floats, offset_mm: float) -> Floats:
    """Return where the axis runs so that the tip, ``offset_mm`` behind it, follows (n, 2) points."""
    points = points[np.concatenate([[True], np.hypot(*np.diff(points, axis=0).T) > 1e-9])]
    steps = np.diff(points, axis=0)
    angles = np.arctan2(steps[:, 1], steps[:, 0])
    axis = [points[0] + offset_mm * _unit(angles[0])]
    for index in range(1, len(steps)):
        turn = (angles[index] - angles[index - 1] + math.pi) % (2 * math.pi) - math.pi
        parts = 1 if abs(math.degrees(turn)) < _SMOOTH_DEG else math.ceil(abs(math.degrees(turn)) / _SWIVEL_DEG)
        for part in range(parts + 1):
            axis.append(points[index] + offset_mm * _unit(angles[index - 1] + turn * part / parts))
    axis.append(points[-1] + offset_mm * _unit(angles[-1]))
    return np.array(axis)


def _unit(angle: float) -> Floats:
    return np.array([math.cos(angle), math.sin(angle)])


def polyline(points: Floats) -> CurveRing:
    """Return an open line through (n, 2) points."""
    shares = np.array([0.0, 1 / 3, 2 / 3, 1.0])[None, :, None]
    cubics = points[:-1, None] * (1 - shares) + points[1:, None] * shares
    return CurveRing(cubics, np.ones(len(cubics), bool), closed=False)
