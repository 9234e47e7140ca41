"""Few cubic Béziers instead of many points, corners kept.

Fitted, split where it errs most, joined again where that is not needed; all rings of an outline together.
P. J. Schneider, An Algorithm for Automatically Fitting Digitized Curves, Graphics Gems (1990).
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
import shapely
from numpy.typing import NDArray

from honest_edge.core.geometry.corners import SMALLEST_TURN_DEG, arc_lengths, find_corners, resample
from honest_edge.core.geometry.cubic_fit import Chain, fit_cubics
from honest_edge.core.geometry.lines import polyline
from honest_edge.core.geometry.paths import CurveRing, Floats

_SAMPLE_PX = 0.8
_REGRESSED = 4  # samples on either side of a split that decide its place and direction
_STRAIGHT_SHARE = 0.5  # a segment this share of the tolerance from its chord becomes a line


def fit_rings(
    rings: Sequence[Floats],
    *,
    tolerance_mm: float,
    pixel_mm: float,
    corner_deg: float = SMALLEST_TURN_DEG,
    blur_mm: float = 0.0,
) -> tuple[CurveRing, ...]:
    """Return for each closed ring of points the cubics that stay within ``tolerance_mm`` of it.

    Args:
        rings: (n, 2) points each, the first not repeated.
        tolerance_mm: largest distance from the points.
        pixel_mm: size of the picture's pixel, the scale at which corners are judged.
        corner_deg: smallest turn that stays a corner.
        blur_mm: blur that still rounds the corners; 0 where they were sharpened or come from an offset.
    """
    chains = [_chains(ring, pixel_mm, corner_deg, blur_mm) for ring in rings]
    cubics = iter(_fitted([chain for of_ring in chains for chain in of_ring], tolerance_mm))
    curves = [_closed([next(cubics) for _ in of_ring], tolerance_mm) for of_ring in chains]
    return tuple(_open_out(curve, ring) for curve, ring in zip(curves, rings, strict=True))


def fit_ring(
    ring: Floats, *, tolerance_mm: float, pixel_mm: float, corner_deg: float = SMALLEST_TURN_DEG, blur_mm: float = 0.0
) -> CurveRing:
    """Return the cubics along one ring, as ``fit_rings`` does."""
    (curves,) = fit_rings([ring], tolerance_mm=tolerance_mm, pixel_mm=pixel_mm, corner_deg=corner_deg, blur_mm=blur_mm)
    return curves


def _closed(cubics: list[Floats], tolerance_mm: float) -> CurveRing:
    stacked = np.concatenate(cubics)
    stacked[:, 0] = np.roll(stacked[:, 3], 1, axis=0)  # close the joints exactly
    return _with_lines(stacked, _STRAIGHT_SHARE * tolerance_mm)


def _open_out(curve: CurveRing, ring: Floats) -> CurveRing:
    """Return the ring's own points where its curve became a line there and back: a speck within the tolerance."""
    return polyline(ring, closed=True) if curve.straight.all() and curve.node_count < 3 else curve


def _chains(ring: Floats, pixel_mm: float, corner_deg: float, blur_mm: float) -> list[Chain]:
    """Cut a ring at its corners."""
    even = resample(ring, 0.5 * pixel_mm)
    spacing = float(np.hypot(*(even[1] - even[0]))) or 0.5 * pixel_mm
    corners = find_corners(even, step=spacing, unit=pixel_mm, blur=blur_mm, least_deg=corner_deg)
    return _pieces(ring, even, corners, pixel_mm)


def _pieces(ring: Floats, even: Floats, corners: NDArray[np.intp], pixel_mm: float) -> list[Chain]:
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
        return [Chain(points, tangent, -tangent)]
    at = np.unique([_snap(along, ring, c * total / len(even), 1.5 * pixel_mm) for c in corners])
    ends = np.append(at[1:], at[0] + total)
    return [Chain(_chain(closed, along, start, end, step), None, None) for start, end in zip(at, ends, strict=True)]


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


def _fitted(chains: list[Chain], tolerance: float) -> list[Floats]:
    """Return the cubics along each chain: split until each is within tolerance, then joined where two need not be."""
    pending = [_Part(number, 0, chain) for number, chain in enumerate(chains)]
    done: list[tuple[_Part, Floats]] = []
    while pending:
        fits = fit_cubics([part.chain for part in pending], tolerance)
        split: list[_Part] = []
        for part, cubic, worst, error in zip(pending, fits.cubics, fits.worst, fits.errors, strict=True):
            if error <= tolerance or len(part.chain.points) <= 4:
                done.append((part, cubic))
            else:
                split += part.split(int(worst))
        pending = split
    done.sort(key=lambda one: (one[0].number, one[0].begin))
    cubics: list[list[Floats]] = [[] for _ in chains]
    for part, cubic in _joined(done, tolerance):
        cubics[part.number].append(cubic)
    return [np.array(curve) for curve in cubics]


@dataclass(frozen=True, slots=True, eq=False)
class _Part:
    """Part of a chain: of which, from which of its points on."""

    number: int
    begin: int
    chain: Chain

    def split(self, at: int) -> tuple[_Part, _Part]:
        """Return both sides of a point, which is smoothed and gives them their direction there."""
        points = self.chain.points
        half = min(_REGRESSED, at, len(points) - 1 - at)
        point, direction = _smoothed(points[at - half : at + half + 1])
        before = Chain(np.concatenate([points[:at], point[None]]), self.chain.first, -direction)
        after = Chain(np.concatenate([point[None], points[at + 1 :]]), direction, self.chain.last)
        return _Part(self.number, self.begin, before), _Part(self.number, self.begin + at, after)

    def joined(self, after: _Part) -> _Part:
        points = np.concatenate([self.chain.points, after.chain.points[1:]])
        return _Part(self.number, self.begin, Chain(points, self.chain.first, after.chain.last))


def _joined(done: list[tuple[_Part, Floats]], tolerance: float) -> list[tuple[_Part, Floats]]:
    """Join neighbours that one cubic can follow: a split where the error was greatest is seldom the best place.

    In each round every pair that was not yet tried is, as far as no part is in two of them.
    """
    tried: set[tuple[_Part, _Part]] = set()
    while pairs := _pairs(done, tried):
        both = [done[at][0].joined(done[at + 1][0]) for at in pairs]
        fits = fit_cubics([part.chain for part in both], tolerance)
        for at, part, cubic, error in reversed(list(zip(pairs, both, fits.cubics, fits.errors, strict=True))):
            if error <= tolerance:
                done[at : at + 2] = [(part, cubic)]
            else:
                tried.add((done[at][0], done[at + 1][0]))
    return done


def _pairs(done: list[tuple[_Part, Floats]], tried: set[tuple[_Part, _Part]]) -> list[int]:
    """Return where neighbours of one chain that were not tried together begin, none in two pairs."""
    firsts, at = list[int](), 0
    while at + 1 < len(done):
        one, two = done[at][0], done[at + 1][0]
        if one.number == two.number and (one, two) not in tried:
            firsts.append(at)
            at += 1
        at += 1
    return firsts


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
    flat = fitted.flattened(tolerance_mm)
    sides = np.stack([flat, np.roll(flat, -1, axis=0)], axis=1)
    tree = shapely.STRtree(np.asarray(shapely.linestrings(sides)))  # a line by itself is searched from end to end
    _, away = tree.query_nearest(shapely.points(ring), all_matches=False, return_distance=True)
    return float(away.max())
