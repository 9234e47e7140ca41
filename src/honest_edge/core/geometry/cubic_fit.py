"""Cubic Béziers through many open chains of points at once.

Least-squares fit with the tangents held, reparametrised by Newton's step:
P. J. Schneider, An Algorithm for Automatically Fitting Digitized Curves, Graphics Gems (1990).
The chains lie one after the other in one array: an outline has hundreds of short ones, and a call for all of them
costs little more than a call for one.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from honest_edge.core.geometry.paths import Floats

_REPARAMETRISATIONS = 3
_HOPELESS = 4.0  # tolerances: beyond them better parameters seldom help
_LONGEST_HANDLE = 1.5  # of the chain's own length
_TINY = 1e-12

_HOLDS, _RIDGE = 1e6, 1e-10
_EYE = np.eye(2)
_PLACES = np.stack(  # of the sums over b1 b1, b1 b2 and b2 b2 among the equations for x and y of two handles
    [
        np.kron(np.array(which), _EYE).reshape(-1) + weight * np.eye(4).reshape(-1)
        for which, weight in (([[1, 0], [0, 0]], _RIDGE), ([[0, 1], [1, 0]], 0.0), ([[0, 0], [0, 1]], _RIDGE))
    ]
)

Indices = NDArray[np.intp]
Complexes = NDArray[np.complex128]


@dataclass(frozen=True, slots=True, eq=False)
class Chain:
    """An open chain of points, and the direction in which a curve must leave each end; None leaves it free.

    Attributes:
        points: (n, 2), two or more.
        first, last: (2,) unit vectors, both pointing into the chain.
    """

    points: Floats
    first: Floats | None
    last: Floats | None


@dataclass(frozen=True, slots=True, eq=False)
class Fits:
    """The fitted cubics of k chains.

    Attributes:
        cubics: (k, 4, 2) control points.
        worst: (k,) index of the point that errs most in its chain, never an end.
        errors: (k,) its distance; 0 for chains of two points.
    """

    cubics: Floats
    worst: Indices
    errors: Floats


@dataclass(frozen=True, slots=True, eq=False)
class _Batch:
    """Chains one after the other, n points of k chains, x + iy: half the calls of two columns.

    Attributes:
        away: (n,) places seen from their chain's first.
        t: (n,) parameters.
        owner: (n,) the chain of each point.
        starts: (k,) its first point.
        chords: (k,) from first to last.
        lengths: (k,) along it.
        held: (k, 2) directions of both ends, 0 where free.
        holds: (k, 16) what they add to the normal equations.
    """

    away: Complexes
    t: Floats
    owner: Indices
    starts: Indices
    chords: Complexes
    lengths: Floats
    held: Complexes
    holds: Floats


def fit_cubics(chains: Sequence[Chain], tolerance: float) -> Fits:
    """Return the cubic that fits each chain; what is within tolerance is not made better."""
    batch = _batch(chains)
    handles, gap = _least_squares(batch)
    worst, errors = _worst(batch, gap)
    solved, active = handles.copy(), np.arange(len(chains))
    all_worst, all_errors = worst.copy(), errors.copy()
    for _ in range(_REPARAMETRISATIONS):
        again = (errors > tolerance) & (errors <= _HOPELESS * tolerance)
        if not again.any():
            break
        active = active[again]
        batch = _reparametrised(batch, handles, gap, again)
        handles, gap = _least_squares(batch)
        worst, errors = _worst(batch, gap)
        solved[active], all_worst[active], all_errors[active] = handles, worst, errors
    return Fits(_cubics(chains, solved), all_worst, all_errors)


def _cubics(chains: Sequence[Chain], handles: Complexes) -> Floats:
    ends = np.array([(chain.points[0], chain.points[-1]) for chain in chains])
    reach = np.ascontiguousarray(handles).view(np.float64).reshape(-1, 2, 2)
    return np.stack([ends[:, 0], ends[:, 0] + reach[:, 0], ends[:, 1] + reach[:, 1], ends[:, 1]], axis=1)


def _batch(chains: Sequence[Chain]) -> _Batch:
    """Lay chains one after the other, each parametrised by its length."""
    points = np.concatenate([chain.points for chain in chains]).view(np.complex128)[:, 0]
    sizes = np.array([len(chain.points) for chain in chains])
    ends = np.cumsum(sizes) - 1
    starts = ends - sizes + 1
    owner = np.repeat(np.arange(len(chains)), sizes)
    steps = np.abs(np.diff(points, prepend=points[0]))
    steps[starts] = 0.0
    steps += _TINY  # a chain may lie on one place
    along = np.cumsum(steps)
    along -= along[starts][owner]
    held = np.array([[_as_complex(chain.first), _as_complex(chain.last)] for chain in chains])
    return _Batch(
        away=points - points[starts][owner],
        t=along / along[ends][owner],
        owner=owner,
        starts=starts,
        chords=points[ends] - points[starts],
        lengths=along[ends],
        held=held,
        holds=_holds(held),
    )


def _holds(held: Complexes) -> Floats:
    """Return equations against what leaves a held direction, a million times as heavy as a fit's."""
    across = (held * 1j).view(np.float64).reshape(-1, 2, 2)
    matrix = np.zeros((len(held), 2, 2, 2, 2))
    for end in (0, 1):
        matrix[:, end, :, end] = _HOLDS * across[:, end, :, None] * across[:, end, None, :]
    return matrix.reshape(-1, 16)


def _as_complex(vector: Floats | None) -> complex:
    return 0j if vector is None else complex(vector[0], vector[1])


def _reparametrised(batch: _Batch, handles: Complexes, gap: Complexes, chosen: NDArray[np.bool_]) -> _Batch:
    """Return some of the chains, each parameter one Newton step nearer to the curve's nearest point."""
    points = chosen[batch.owner]
    t, gap = batch.t[points], gap[points]
    owner = (np.cumsum(chosen) - 1)[batch.owner[points]]
    chords, (one, two) = batch.chords[chosen], handles[chosen].T
    # the derivatives of the cubic through 0, one, chord + two and chord, as polynomials of t
    constant, linear, square = 3 * one, 6 * (chords + two - 2 * one), 9 * (one - two) - 6 * chords
    linear, square = linear[owner], square[owner]
    speed = (square * t + linear) * t + constant[owner]
    bend = 2 * square * t + linear
    slope = (speed.conj() * speed + gap.conj() * bend).real
    step = (gap.conj() * speed).real / np.where(np.abs(slope) < _TINY, _TINY, slope)
    sizes = np.bincount(owner)
    return _Batch(
        away=batch.away[points],
        t=np.minimum(np.maximum(t - step, 0.0), 1.0),
        owner=owner,
        starts=np.cumsum(sizes) - sizes,
        chords=chords,
        lengths=batch.lengths[chosen],
        held=batch.held[chosen],
        holds=batch.holds[chosen],
    )


def _least_squares(batch: _Batch) -> tuple[Complexes, Complexes]:
    """Return the (k, 2) handles that fit best, and by how much, (n,), the cubic passes each point.

    Handles that make no sense fall back to a third of the chord, or of the length along a held tangent.
    """
    t, owner = batch.t, batch.owner
    s = 1.0 - t
    inner = 3 * s * t
    b1, b2 = inner * s, inner * t
    rest = batch.away - (t * t * (3 - 2 * t)) * batch.chords[owner]
    normal = np.add.reduceat(np.stack([b1 * b1, b1 * b2, b2 * b2]), batch.starts, axis=1)
    right = np.add.reduceat(np.stack([b1 * rest, b2 * rest]), batch.starts, axis=1).T
    handles = _sensible(_solved(normal, right, batch), batch)
    return handles, b1 * handles[owner, 0] + b2 * handles[owner, 1] - rest


def _solved(normal: Floats, right: Complexes, batch: _Batch) -> Complexes:
    """Solve the normal equations for x and y of both handles; a trace of a ridge leaves the smallest of many."""
    matrix = normal.T @ _PLACES + (normal[0] + normal[2])[:, None] * batch.holds
    matrix[:, ::5] += _TINY  # a chain of two points has no equations
    sides = np.ascontiguousarray(right).view(np.float64)[..., None]
    solution = np.linalg.solve(matrix.reshape(-1, 4, 4), sides)[..., 0].view(np.complex128)
    return np.where(batch.held == 0, solution, batch.held * (batch.held.conj() * solution).real)


def _sensible(handles: Complexes, batch: _Batch) -> Complexes:
    held, lengths = batch.held, batch.lengths[:, None]
    size, forward = np.abs(handles), (held.conj() * handles).real
    is_good = (size < _LONGEST_HANDLE * lengths) & (size > _TINY * lengths) & ((held == 0) | (forward > 0))
    if is_good.all():
        return handles
    thirds = np.where(held == 0, batch.chords[:, None] * np.array([1.0, -1.0]), held * lengths) / 3
    return np.where(is_good, handles, thirds)


def _worst(batch: _Batch, gap: Complexes) -> tuple[Indices, Floats]:
    """Return the inner point that each curve passes at the greatest distance, and that distance."""
    starts, last = batch.starts, len(gap) - 1
    distance = np.abs(gap)
    distance[starts] = distance[starts - 1] = 0.0  # before a chain's first lies the last of another
    most = np.maximum.reduceat(distance, starts)
    hits = np.flatnonzero(distance == most[batch.owner])[::-1]
    at = starts.copy()
    at[batch.owner[hits]] = hits  # the first of a chain is written last
    sizes = np.diff(starts, append=last + 1)
    return np.clip(at - starts, 1, np.maximum(sizes - 2, 1)), most
