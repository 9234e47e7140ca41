"""Few cubic Béziers instead of many points, corners kept.

Least-squares fit with the tangents held, reparametrised by Newton's step, split where it errs most:
P. J. Schneider, An Algorithm for Automatically Fitting Digitized Curves, Graphics Gems (1990).
"""

from __future__ import annotations

import math

import numpy as np
import shapely
from numpy.typing import NDArray

from honest_edge.core.geometry.corners import SMALLEST_TURN_DEG, arc_lengths, find_corners, resample
from honest_edge.core.geometry.paths import CurveRing, Floats

_REPARAMETRISATIONS = 3
_SAMPLE_PX = 0.8
_REGRESSED = 4  # samples on either side of a split that decide its place and direction
_STRAIGHT_SHARE = 0.5  # a segment this share of the tolerance from its chord becomes a line

_Piece = tuple[Floats, Floats | None, Floats | None]
"""An open chain of points and the direction in which a curve must leave each end; None leaves it free."""


def fit_ring(
    ring: Floats, *, tolerance_mm: float, pixel_mm: float, corner_deg: float = SMALLEST_TURN_DEG, blur_mm: float = 0.0
) -> CurveRing:
    """Return cubics that stay within ``tolerance_mm`` of a closed ring of points.

    Args:
        ring: (n, 2) points, the first not repeated.
        tolerance_mm: largest distance from the points.
        pixel_mm: size of the picture's pixel, the scale at which corners are judged.
        corner_deg: smallest turn that stays a corner.
        blur_mm: blur that still rounds the corners; 0 where they were sharpened or come from an offset.
    """
    step = 0.5 * pixel_mm
    even = resample(ring, step)
    spacing = float(np.hypot(*(even[1] - even[0]))) or step
    corners = find_corners(even, step=spacing, unit=pixel_mm, blur=blur_mm, least_deg=corner_deg)
    cubics: list[Floats] = []
    for piece in _pieces(ring, even, corners, pixel_mm):
        cubics += _fit_piece(piece, tolerance_mm)
    stacked = np.array(cubics)
    stacked[:, 0] = np.roll(stacked[:, 3], 1, axis=0)  # close the joints exactly
    return _with_lines(stacked, _STRAIGHT_SHARE * tolerance_mm)


def _pieces(ring: Floats, even: Floats, corners: NDArray[np.intp], pixel_mm: float) -> list[_Piece]:
    """Cut a ring at its corners into evenly sampled open chains; the ends at corners are free to turn."""
    closed = np.vstack([ring, ring[:1]])
    along = arc_lengths(closed)
    total = along[-1]
    step = _SAMPLE_PX * pixel_mm
    if len(corners) == 0:
        points = _chain(closed, along, 0.0, total, step)
        around = np.vstack([points[-_REGRESSED - 1 : -1], points[: _REGRESSED + 1]])
        points[0], tangent = _smoothed(around)
        points[-1] = points[0]
        return [(points, tangent, -tangent)]
    at = np.unique([_snap(along, ring, c * total / len(even), 1.5 * pixel_mm) for c in corners])
    ends = np.append(at[1:], at[0] + total)
    return [(_chain(closed, along, start, end, step), None, None) for start, end in zip(at, ends, strict=True)]


def _snap(along: Floats, ring: Floats, where: float, reach: float) -> float:
    """Return the place of the ring's own vertex that turns most within ``reach`` of ``where``."""
    total = along[-1]
    distance = np.abs((along[:-1] - where + total / 2) % total - total / 2)
    candidates = np.flatnonzero(distance <= max(reach, float(distance.min())))
    before = ring[candidates] - ring[candidates - 1]
    after = ring[(candidates + 1) % len(ring)] - ring[candidates]
    cross = before[:, 0] * after[:, 1] - before[:, 1] * after[:, 0]
    turn = np.abs(np.arctan2(cross, np.einsum("nd,nd->n", before, after)))
    return float(along[candidates[np.argmax(turn)]])


def _chain(closed: Floats, along: Floats, start: float, end: float, step: float) -> Floats:
    count = max(4, int(np.ceil((end - start) / step)) + 1)
    at = np.linspace(start, end, count)
    at[at > along[-1]] -= along[-1]
    return np.stack([np.interp(at, along, closed[:, 0]), np.interp(at, along, closed[:, 1])], axis=1)


def _smoothed(around: Floats) -> tuple[Floats, Floats]:
    """Return the middle point and unit direction of a parabola through an odd number of even samples."""
    half = len(around) // 2
    k = np.arange(-half, half + 1, dtype=np.float64)
    square = k * k
    m2, m4, n = square.sum(), (square * square).sum(), len(k)
    weight = (m4 - m2 * square) / (n * m4 - m2 * m2)
    direction = (k / m2) @ around
    return weight @ around, direction / max(float(np.hypot(*direction)), 1e-12)


def _split(chain: Floats, worst: int) -> tuple[int, Floats, Floats]:
    """Return where to split, the smoothed point and the direction there."""
    half = min(_REGRESSED, worst, len(chain) - 1 - worst)
    point, direction = _smoothed(chain[worst - half : worst + half + 1])
    return worst, point, direction


def _fit_piece(piece: _Piece, tolerance: float) -> list[Floats]:
    """Return the cubics for one open chain: split until each is within tolerance, then joined where two need not be."""
    pending, done = [piece], []
    while pending:
        chain, first, last = pending.pop()
        cubic, worst, error = _best_cubic(chain, first, last, tolerance)
        if error <= tolerance or len(chain) <= 4:
            done.append((cubic, (chain, first, last)))
            continue
        at, point, direction = _split(chain, worst)
        pending.append((np.vstack([point, chain[at + 1 :]]), direction, last))
        pending.append((np.vstack([chain[:at], point]), first, -direction))
    return [cubic for cubic, _ in _joined(done, tolerance)]


def _joined(done: list[tuple[Floats, _Piece]], tolerance: float) -> list[tuple[Floats, _Piece]]:
    """Join neighbours that one cubic can follow: a split where the error was greatest is seldom the best place."""
    kept = done[:1]
    for cubic, (chain, first, last) in done[1:]:
        before, start, _ = kept[-1][1]
        both = np.vstack([before, chain[1:]])
        joined, _, error = _best_cubic(both, start, last, tolerance)
        if error <= tolerance:
            kept[-1] = (joined, (both, start, last))
        else:
            kept.append((cubic, (chain, first, last)))
    return kept


def _best_cubic(
    points: Floats, start: Floats | None, end: Floats | None, tolerance: float
) -> tuple[Floats, int, float]:
    """Return the fitted cubic, the point that errs most (never an end) and its error."""
    along = arc_lengths(points)
    t = along / along[-1] if along[-1] > 0 else np.linspace(0, 1, len(points))
    weights = _bernstein(t)
    cubic = _least_squares(points, weights, start, end, along[-1])
    gap = weights @ cubic - points
    worst, error = _worst(gap)
    for _ in range(_REPARAMETRISATIONS):
        if error <= tolerance or error > 10 * tolerance:
            break
        t = _newton(cubic, gap, t)
        weights = _bernstein(t)
        cubic = _least_squares(points, weights, start, end, along[-1])
        gap = weights @ cubic - points
        worst, error = _worst(gap)
    return cubic, worst, error


def _worst(gap: Floats) -> tuple[int, float]:
    square = gap[:, 0] ** 2 + gap[:, 1] ** 2
    worst = int(np.argmax(square[1:-1])) + 1 if len(gap) > 2 else 1
    return min(max(worst, 1), len(gap) - 2), float(np.sqrt(square[worst]))


def _bernstein(t: Floats) -> Floats:
    """Return the (n, 4) weights of a cubic's control points."""
    s = 1.0 - t
    weights = np.empty((len(t), 4))
    weights[:, 0] = s * s * s
    weights[:, 1] = 3 * s * s * t
    weights[:, 2] = 3 * s * t * t
    weights[:, 3] = t * t * t
    return weights


def _least_squares(points: Floats, b: Floats, start: Floats | None, end: Floats | None, length: float) -> Floats:
    """Solve for the two handles, given the (n, 4) Bernstein weights: along a tangent where one is held, else free.

    Handles that make no sense fall back to a third of the chord.
    """
    first, last = points[0], points[-1]
    rest = points - (b[:, 0] + b[:, 1])[:, None] * first - (b[:, 2] + b[:, 3])[:, None] * last
    weights = b[:, 1:3]
    one, two = _handles(weights.T @ weights, weights.T @ rest, start, end)
    chord, limit = last - first, 1.5 * length
    if not (math.hypot(*one) < limit and (start is None or float(one @ start) > 0)):
        one = chord / 3 if start is None else start * length / 3
    if not (math.hypot(*two) < limit and (end is None or float(two @ end) > 0)):
        two = -chord / 3 if end is None else end * length / 3
    return np.array([first, first + one, last + two, last])


def _handles(
    normal: Floats, right: Floats, start: Floats | None, end: Floats | None
) -> tuple[tuple[float, float] | Floats, tuple[float, float] | Floats]:
    """Solve the normal equations with P1 = P0 + A z1 and P2 = P3 + B z2, A and B a tangent or the identity.

    Written out: two unknowns, or two pairs of them, need no matrix library.
    """
    (c00, c01), (_, c11) = normal.tolist()
    if start is not None and end is not None:
        right = np.array([start @ right[0], end @ right[1]])[:, None]
        c01 *= float(start @ end)
    elif start is not None or end is not None:
        return _half_free(c00, c01, c11, right, start, end)
    divisor = c00 * c11 - c01 * c01
    if abs(divisor) < 1e-12:
        return np.full(2, np.nan), np.full(2, np.nan)
    z1, z2 = (c11 * right[0] - c01 * right[1]) / divisor, (c00 * right[1] - c01 * right[0]) / divisor
    if start is None or end is None:
        return z1, z2
    return start * z1, end * z2


def _half_free(
    c00: float, c01: float, c11: float, right: Floats, start: Floats | None, end: Floats | None
) -> tuple[Floats, Floats]:
    """Solve with one tangent held: the free handle is eliminated, the held one is a single unknown."""
    if start is not None:
        divisor = c00 - c01 * c01 / c11 if c11 > 1e-12 else 0.0
        held = start * (float(start @ (right[0] - c01 / c11 * right[1])) / divisor if abs(divisor) > 1e-12 else np.nan)
        return held, (right[1] - c01 * held) / c11
    return _half_free(c11, c01, c00, right[::-1], end, None)[::-1]


def _newton(cubic: Floats, gap: Floats, t: Floats) -> Floats:
    """One Newton step of each parameter towards the curve's nearest point."""
    first = 3 * np.diff(cubic, axis=0)
    second = 2 * np.diff(first, axis=0)
    s, t_up = (1.0 - t)[:, None], t[:, None]
    speed = (s * s) * first[0] + (2 * s * t_up) * first[1] + (t_up * t_up) * first[2]
    bend = s * second[0] + t_up * second[1]
    slope = np.einsum("nd,nd->n", speed, speed) + np.einsum("nd,nd->n", gap, bend)
    step = np.einsum("nd,nd->n", gap, speed) / np.where(np.abs(slope) < 1e-12, 1e-12, slope)
    return np.asarray(np.clip(t - step, 0.0, 1.0))


def _with_lines(cubics: Floats, tolerance: float) -> CurveRing:
    """Mark what is straight within tolerance, and put its handles on the chord."""
    chord = cubics[:, 3] - cubics[:, 0]
    length = np.hypot(chord[:, 0], chord[:, 1])
    normal = np.stack([-chord[:, 1], chord[:, 0]], axis=1) / np.maximum(length, 1e-12)[:, None]
    lift = np.abs(np.einsum("nkd,nd->nk", cubics[:, 1:3] - cubics[:, :1], normal)).max(axis=1)
    straight = 0.75 * lift <= tolerance
    thirds = cubics[:, :1] + chord[:, None] * np.array([1 / 3, 2 / 3])[None, :, None]
    cubics[straight, 1:3] = thirds[straight]
    return CurveRing(cubics, straight)


def deviation_mm(fitted: CurveRing, ring: Floats, tolerance_mm: float = 0.001) -> float:
    """Return the greatest distance of the ring's points from the fitted curve."""
    line = shapely.linearrings(fitted.flattened(tolerance_mm))
    return float(shapely.distance(line, shapely.points(ring)).max())
