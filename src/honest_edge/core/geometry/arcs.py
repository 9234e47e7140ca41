"""Circular arcs in place of cubics, for formats and machines that know only lines and arcs."""

from __future__ import annotations

import numpy as np

from honest_edge.core.geometry.paths import CurveRing, Floats, evaluate

_SAMPLES = np.linspace(0, 1, 11)[1:-1]


def arc_chain(ring: CurveRing, *, tolerance_mm: float) -> Floats:
    """Return (n, 3) rows of x, y and bulge, no farther than ``tolerance_mm`` from the ring.

    A bulge is the tangent of a quarter of the arc's angle, positive where the arc runs anticlockwise in a
    frame with y up, zero for a line (DXF Reference, LWPOLYLINE, group code 42).
    """
    rows: list[tuple[float, float, float]] = []
    for cubic, straight in zip(ring.cubics, ring.straight, strict=True):
        if straight:
            rows.append((*cubic[0], 0.0))
        else:
            _append_arcs(cubic, tolerance_mm, rows, depth=0)
    if not ring.closed:
        rows.append((*ring.cubics[-1, 3], 0.0))
    return np.array(rows)


def _append_arcs(cubic: Floats, tolerance: float, rows: list[tuple[float, float, float]], depth: int) -> None:
    biarc = _biarc(cubic)
    if biarc is not None and (depth >= 12 or _stray(cubic, biarc) <= tolerance):
        rows.extend((float(p[0]), float(p[1]), bulge) for p, bulge in zip(biarc[0][:2], biarc[1], strict=True))
        return
    if depth >= 12:
        rows.append((float(cubic[0, 0]), float(cubic[0, 1]), 0.0))
        return
    for half in _halves(cubic):
        _append_arcs(half, tolerance, rows, depth + 1)


def _halves(cubic: Floats) -> tuple[Floats, Floats]:
    """Split at the middle parameter (de Casteljau)."""
    a = (cubic[:-1] + cubic[1:]) / 2
    b = (a[:-1] + a[1:]) / 2
    c = (b[0] + b[1]) / 2
    return np.array([cubic[0], a[0], b[0], c]), np.array([c, b[1], a[2], cubic[3]])


def _biarc(cubic: Floats) -> tuple[list[Floats], tuple[float, float]] | None:
    """Return start, joint and end, and the bulges, of two arcs that share the cubic's ends and tangents.

    Equal-handle biarc: K. M. Bolton, Biarc curves, Computer-Aided Design 7 (1975).
    """
    start, end = cubic[0], cubic[3]
    t0, t1 = _unit(cubic[1] - cubic[0]), _unit(cubic[3] - cubic[2])
    chord = end - start
    if t0 is None or t1 is None or not chord.any():
        return None
    dot, both = 1.0 - float(t0 @ t1), float(chord @ (t0 + t1))
    square = float(chord @ chord)
    if dot < 1e-9:
        if abs(both) < 1e-12:
            return None
        handle = square / (2 * both)
    else:
        handle = (-both + np.sqrt(both * both + 2 * dot * square)) / (2 * dot)
    if handle <= 0:
        return None
    joint = (start + end + handle * (t0 - t1)) / 2
    return [start, joint, end], (_bulge(t0, joint - start), -_bulge(-t1, joint - end))


def _unit(vector: Floats) -> Floats | None:
    length = float(np.hypot(*vector))
    return vector / length if length > 1e-9 else None


def _bulge(tangent: Floats, chord: Floats) -> float:
    """Return the bulge of the arc that leaves along ``tangent`` and ends at ``chord``."""
    turn = np.arctan2(tangent[0] * chord[1] - tangent[1] * chord[0], tangent @ chord)
    return float(np.tan(turn / 2))


def _stray(cubic: Floats, biarc: tuple[list[Floats], tuple[float, float]]) -> float:
    """Return how far points of the cubic lie from the nearer arc."""
    points = evaluate(np.repeat(cubic[None], len(_SAMPLES), axis=0), _SAMPLES)
    places, bulges = biarc
    gaps = [_distance(points, places[i], places[i + 1], bulges[i]) for i in (0, 1)]
    return float(np.minimum(*gaps).max())


def _distance(points: Floats, start: Floats, end: Floats, bulge: float) -> Floats:
    chord = end - start
    length = max(float(np.hypot(*chord)), 1e-12)
    normal = np.array([-chord[1], chord[0]]) / length
    if abs(bulge) < 1e-9:
        return np.abs((points - start) @ normal)
    radius = length * (1 + bulge * bulge) / (4 * bulge)
    centre = (start + end) / 2 + normal * length * (1 - bulge * bulge) / (4 * bulge)
    return np.asarray(np.abs(np.hypot(*(points - centre).T) - abs(radius)))
