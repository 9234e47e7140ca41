"""Finding the true corners of a traced outline, and putting back what blur took from them."""

from __future__ import annotations

import math

import numpy as np
from numpy.typing import NDArray

from honest_edge.core.geometry.paths import Floats

SMALLEST_TURN_DEG = 28.0
"""What turns less is a curve."""

_SIDES_PX = (14.0, 7.0, 3.5)  # stretches of a corner's sides that may count as straight, the longest first
_STRAIGHT_PX = 0.05  # root mean square of what strays from the line; marching squares alone make 0.03

# Distance from a wedge's tip to the half level on its axis, in standard deviations of the Gaussian that
# blurred it, by the wedge's angle in degrees: the d that solves P(N((d, 0), 1) inside the wedge) = 1/2.
# tests/core/geometry/test_curves.py solves it again.
_WEDGE_DEG = np.array([15, 20, 30, 44, 60, 75, 90, 105, 120, 135, 150, 165, 180], dtype=np.float64)
_WEDGE_LOSS = np.array(
    [5.1675, 3.8842, 2.6042, 1.7807, 1.2847, 0.988, 0.7707, 0.5986, 0.4544, 0.3281, 0.2131, 0.105, 0.0]
)


def tip_loss(turn_rad: Floats | float, blur: float) -> Floats:
    """Return how far a Gaussian of standard deviation ``blur`` pulls back a corner that turns so much."""
    return np.asarray(blur * np.interp(180.0 - np.degrees(turn_rad), _WEDGE_DEG, _WEDGE_LOSS))


def resample(ring: Floats, step: float) -> Floats:
    """Return points evenly spaced along a closed ring, about ``step`` apart."""
    closed = np.vstack([ring, ring[:1]])
    along = arc_lengths(closed)
    count = max(8, round(along[-1] / step))
    at = np.arange(count) * (along[-1] / count)
    return np.stack([np.interp(at, along, closed[:, 0]), np.interp(at, along, closed[:, 1])], axis=1)


def arc_lengths(points: Floats) -> Floats:
    """Return the distance travelled at each point of an open chain."""
    steps = np.diff(points, axis=0)
    return np.concatenate([[0.0], np.cumsum(np.hypot(steps[:, 0], steps[:, 1]))])


def side_directions(ring: Floats, near: int, far: int) -> tuple[Floats, Floats, Floats, Floats]:
    """Fit a line to the points ``near`` to ``far`` steps before and after every point of a closed ring.

    Returns:
        Unit direction before, mean point before, unit direction after, mean point after, each (n, 2).
    """
    span = np.arange(near, far + 1)
    weight = span - span.mean()
    padded = np.vstack([ring[-far:], ring, ring[:far]])
    size, width = len(ring), len(span)
    slope = np.stack([np.correlate(padded[:, axis], weight, "valid") for axis in (0, 1)], axis=1)
    mean = np.stack([np.correlate(padded[:, axis], np.full(width, 1 / width), "valid") for axis in (0, 1)], axis=1)
    after = slice(far + near, far + near + size)
    before = slice(0, size)
    return _unit(slope[before]), mean[before], _unit(slope[after]), mean[after]


def _unit(vectors: Floats) -> Floats:
    length = np.hypot(vectors[:, 0], vectors[:, 1])
    return np.asarray(vectors / np.maximum(length, 1e-12)[:, None])


def turns(before: Floats, after: Floats) -> Floats:
    """Return the signed angle from one unit direction to the next, in radians."""
    cross = before[:, 0] * after[:, 1] - before[:, 1] * after[:, 0]
    return np.asarray(np.arctan2(cross, np.einsum("nd,nd->n", before, after)))


def find_corners(
    ring: Floats, *, step: float, unit: float, blur: float, least_deg: float = SMALLEST_TURN_DEG
) -> NDArray[np.intp]:
    """Return the indices of the corners of an evenly sampled closed ring.

    A corner turns much within a short way and, unlike an arc that turns as much, its sides' lines meet
    close to the outline itself.

    Args:
        ring: (n, 2) points about ``step`` apart.
        step: spacing of the points.
        unit: size of a picture's pixel in the ring's unit; sides are judged 1 to 4.5 pixels away.
        blur: standard deviation, in the ring's unit, of the blur that rounded the corners.
        least_deg: smallest turn that is a corner.
    """
    near, far = max(1, round(unit / step)), max(3, round(4.5 * unit / step))
    if len(ring) < 2 * far + 2:
        return np.empty(0, dtype=np.intp)
    before, mean_before, after, mean_after = side_directions(ring, near, far)
    turn = turns(before, after)
    size = np.abs(turn)
    peak = _is_local_peak(size, far) & (size > math.radians(least_deg))
    peaks = np.flatnonzero(peak)
    meeting = _meetings(mean_before[peaks], before[peaks], mean_after[peaks], after[peaks])
    nearby = (peaks[:, None] + np.arange(-far, far + 1)) % len(ring)
    distance = np.hypot(*(ring[nearby] - meeting[:, None]).transpose(2, 0, 1))
    nearest = distance.argmin(axis=1)[:, None]
    miss = np.take_along_axis(distance, nearest, axis=1)[:, 0]
    place = np.take_along_axis(nearby, nearest, axis=1)[:, 0]
    side = (near + far) / 2 * step
    arc_miss = side / size[peaks] * 2 * (1 / np.cos(np.minimum(size[peaks], 3.0) / 2) - 1)
    expected = tip_loss(size[peaks], blur)
    return np.unique(place[miss < np.maximum(expected + 0.1 * unit, 0.5 * (expected + arc_miss))])


def _is_local_peak(values: Floats, reach: int) -> NDArray[np.bool_]:
    padded = np.concatenate([values[-reach:], values, values[:reach]])
    windows = np.lib.stride_tricks.sliding_window_view(padded, 2 * reach + 1)
    # argmax takes the first of equals, so a plateau yields one corner
    return np.asarray(windows.argmax(axis=1) == reach)


def _meetings(p: Floats, u: Floats, q: Floats, v: Floats) -> Floats:
    """Return where the lines p + a u and q + b v meet, row by row."""
    cross = u[:, 0] * v[:, 1] - u[:, 1] * v[:, 0]
    gap = q - p
    along = (gap[:, 0] * v[:, 1] - gap[:, 1] * v[:, 0]) / np.where(np.abs(cross) < 1e-9, 1e-9, cross)
    return np.asarray(p + along[:, None] * u)


def sharpen(ring: Floats, *, blur: float, least_deg: float = SMALLEST_TURN_DEG) -> Floats:
    """Return a pixel-frame ring whose blurred corners are drawn out to where their sides meet.

    Args:
        ring: (n, 2) raw outline in pixels, any spacing.
        blur: standard deviation in pixels of all that blurred it, the pixel's own area included.
        least_deg: smallest turn that is a corner.
    """
    step = 0.5
    even = resample(ring, step)
    corners = find_corners(even, step=step, unit=1.0, blur=blur, least_deg=least_deg)
    if len(corners) == 0:
        return ring
    closed = np.vstack([ring, ring[:1]])
    along = arc_lengths(closed)
    total = along[-1]
    at = corners * (total / len(even))
    tips, reaches = zip(*(_tip(even, int(c), step, blur, least_deg) for c in corners), strict=True)
    return _with_tips(ring, along[:-1], total, at, list(tips), list(reaches))


def _tip(even: Floats, corner: int, step: float, blur: float, least_deg: float) -> tuple[Floats | None, float]:
    """Return where a corner's sides meet and how far along each side the rounding reaches.

    The sharper the corner, the longer its rounding: beyond about 1.7 standard deviations from the other
    side, a side is straight again.
    """
    reach = 1.0
    for _ in range(3):
        p, u = _side(even, corner, -1, reach, step)
        q, v = _side(even, corner, 1, reach, step)
        turn = abs(float(turns(u[None], v[None])[0]))
        if turn < math.radians(least_deg) / 2:
            return None, 0.0
        wedge = min(math.pi - turn, math.pi / 2)
        reach = min(4.0, max(1.0, 1.7 * blur / math.sin(max(wedge, 0.2))))
    tip = _meetings(p[None], u[None], q[None], v[None])[0]
    if math.dist(tip, even[corner]) > 1.7 * float(tip_loss(turn, blur)) + 0.1:
        return None, 0.0
    return tip, reach


def _side(even: Floats, corner: int, sign: int, reach: float, step: float) -> tuple[Floats, Floats]:
    """Return a point and the direction of the line along one side of a corner, in the ring's own sense.

    The longest stretch that is straight decides: the meeting of two lines errs with the reciprocal of
    their lengths.
    """
    start = round(reach / step)
    for length in _SIDES_PX:
        steps = np.arange(start, start + round(length / step) + 1)
        points = even[(corner + sign * steps) % len(even)]
        centre = points.mean(axis=0)
        x, y = (points - centre).T
        xx, xy, yy = float(x @ x), float(x @ y), float(y @ y)
        angle = 0.5 * math.atan2(2 * xy, xx - yy)  # of the covariance's longer axis
        direction = np.array([math.cos(angle), math.sin(angle)])
        across = y * direction[0] - x * direction[1]
        if length == _SIDES_PX[-1] or float(across @ across) <= len(steps) * _STRAIGHT_PX**2:
            break
    return centre, direction * np.sign(direction @ (points[-1] - points[0]) * sign)


def _with_tips(
    ring: Floats, along: Floats, total: float, at: Floats, tips: list[Floats | None], reaches: list[float]
) -> Floats:
    """Replace the points within reach of each corner by its tip."""
    keep = np.ones(len(ring), dtype=bool)
    placed: list[tuple[float, Floats]] = []
    for where, tip, reach in zip(at, tips, reaches, strict=True):
        if tip is None:
            continue
        distance = np.abs((along - where + total / 2) % total - total / 2)
        keep &= distance > reach
        placed.append((float(where), tip))
    if not placed or keep.sum() < 2:
        return ring
    order = np.concatenate([along[keep], [where for where, _ in placed]])
    points = np.vstack([ring[keep], np.array([tip for _, tip in placed])])
    return np.asarray(points[np.argsort(order, kind="stable")])
