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
    straight = np.flatnonzero(ring.straight)
    keys = [straight.astype(float)]
    rows = [np.column_stack([ring.cubics[straight, 0], np.zeros(len(straight))])]
    key = np.flatnonzero(~ring.straight).astype(float)
    cubics, share = ring.cubics[~ring.straight], 1.0
    while len(cubics):
        places, bulges = _biarcs(cubics)
        good = _strays(cubics, places, bulges) <= tolerance_mm  # never of NaN, where there is no such pair of arcs
        tiny = np.ptp(cubics, axis=1).max(axis=1) <= tolerance_mm / 2
        places[tiny, 1], bulges[tiny] = (cubics[tiny, 0] + cubics[tiny, 3]) / 2, 0.0  # whatever it does, a line is near
        good |= tiny
        keys += [key[good], key[good] + share / 2]
        rows += [np.column_stack([places[good, i], bulges[good, i]]) for i in (0, 1)]
        share /= 2
        cubics, key = _halves(cubics[~good]), np.concatenate([key[~good], key[~good] + share])
    chain = np.vstack(rows)[np.argsort(np.concatenate(keys), kind="stable")]
    return chain if ring.closed else np.vstack([chain, [*ring.cubics[-1, 3], 0.0]])


def _halves(cubics: Floats) -> Floats:
    """Return all first halves, then all second (de Casteljau, at the middle parameter)."""
    a = (cubics[:, :-1] + cubics[:, 1:]) / 2
    b = (a[:, :-1] + a[:, 1:]) / 2
    c = (b[:, 0] + b[:, 1]) / 2
    first = np.stack([cubics[:, 0], a[:, 0], b[:, 0], c], axis=1)
    return np.concatenate([first, np.stack([c, b[:, 1], a[:, 2], cubics[:, 3]], axis=1)])


def _biarcs(cubics: Floats) -> tuple[Floats, Floats]:
    """Return starts, joints and ends (n, 3, 2), and bulges (n, 2), of arcs that share ends and tangents of cubics.

    Equal-handle biarc: K. M. Bolton, Biarc curves, Computer-Aided Design 7 (1975). NaN where there is none.
    """
    start, end = cubics[:, 0], cubics[:, 3]
    t0, t1 = _units(cubics[:, 1] - start), _units(end - cubics[:, 2])
    chord = end - start
    dot, both = 1.0 - (t0 * t1).sum(axis=1), (chord * (t0 + t1)).sum(axis=1)
    square = (chord * chord).sum(axis=1)
    with np.errstate(divide="ignore", invalid="ignore"):
        bent = (-both + np.sqrt(both * both + 2 * dot * square)) / (2 * dot)
        handle = np.where(dot < 1e-9, square / (2 * both), bent)
    handle = np.where((handle > 0) & np.isfinite(handle), handle, np.nan)
    joint = (start + end + handle[:, None] * (t0 - t1)) / 2
    bulges = np.column_stack([_bulges(t0, joint - start), -_bulges(-t1, joint - end)])
    return np.stack([start, joint, end], axis=1), bulges


def _units(vectors: Floats) -> Floats:
    length = np.hypot(vectors[:, 0], vectors[:, 1])
    return vectors / np.where(length > 1e-9, length, np.nan)[:, None]


def _bulges(tangents: Floats, chords: Floats) -> Floats:
    """Return the bulges of the arcs that leave along tangents and end at chords."""
    cross = tangents[:, 0] * chords[:, 1] - tangents[:, 1] * chords[:, 0]
    return np.asarray(np.tan(np.arctan2(cross, (tangents * chords).sum(axis=1)) / 2))


def _strays(cubics: Floats, places: Floats, bulges: Floats) -> Floats:
    """Return how far points of each cubic lie from the nearer of its two arcs at most."""
    count = len(cubics)
    points = evaluate(np.repeat(cubics, len(_SAMPLES), axis=0), np.tile(_SAMPLES, count)).reshape(count, -1, 2)
    gaps = [_distances(points, places[:, i], places[:, i + 1], bulges[:, i]) for i in (0, 1)]
    return np.asarray(np.minimum(*gaps).max(axis=1, initial=0.0))


def _distances(points: Floats, start: Floats, end: Floats, bulge: Floats) -> Floats:
    """Return how far (n, m, 2) points lie from the circles, or lines, that n arcs are part of."""
    chord = end - start
    length = np.maximum(np.hypot(chord[:, 0], chord[:, 1]), 1e-12)
    normal = np.column_stack([-chord[:, 1], chord[:, 0]]) / length[:, None]
    from_line = np.abs(((points - start[:, None]) * normal[:, None]).sum(axis=2))
    flat = np.abs(bulge) < 1e-9
    bent = np.where(flat, 1.0, bulge)
    radius = length * (1 + bent * bent) / (4 * bent)
    centre = (start + end) / 2 + normal * (length * (1 - bent * bent) / (4 * bent))[:, None]
    away = points - centre[:, None]
    from_circle = np.abs(np.hypot(away[..., 0], away[..., 1]) - np.abs(radius)[:, None])
    return np.asarray(np.where(flat[:, None], from_line, from_circle))
