"""From displacements at places of one sheet to its shift, rotation, scale and repeat."""

from __future__ import annotations

import math
from collections.abc import Sequence

import numpy as np

from honest_edge.core.geometry.error_map import moves
from honest_edge.core.geometry.paths import Floats
from honest_edge.core.values.errors import BlockedError
from honest_edge.core.values.measured import ErrorParts, MeasuredPlace, parts_of
from honest_edge.core.values.misregistration import UNITS

LEAST_PLACES = 4
"""Five unknowns from two numbers a place, with something left to judge them by."""

_TUKEY = 4.685  # 95 % efficient for normal errors (J. W. Tukey; the constant from memory)
_ROUNDS = 30
_CONSISTENT = (1 - 4 / _TUKEY**2 + 8 / _TUKEY**4) / (1 - 8 / _TUKEY**2 + 24 / _TUKEY**4)
"""The weights also cut normal errors in the plane a little: E[w] / E[w r^2 / 2], r^2 exponential of mean 2."""


def design_matrix(points: Floats) -> Floats:
    """Return (2 n, 5): what one mm, degree or percent of each part adds to x and y at (n, 2) places.

    First all x, then all y. The rotation is clockwise on paper, y down.
    """
    across, down = moves(points).transpose(2, 1, 0)
    return np.asarray(np.concatenate([across, down]) * UNITS)


def displaced(parts: ErrorParts, points: Floats) -> Floats:
    """Return (n, 2) displacements that a sheet's error makes at (n, 2) places."""
    return np.asarray((design_matrix(points) @ np.array(parts.values)).reshape(2, -1).T)


def fitted_error(places: Sequence[MeasuredPlace]) -> tuple[ErrorParts, ErrorParts, float, float]:
    """Return the error that fits the places best, its standard errors, the repeat and its degrees of freedom.

    Least squares, reweighted by Tukey's biweight so that a torn or dusty place does not pull it.

    Raises:
        BlockedError: too few places, or all in one row.
    """
    used = [place for place in places if place.used]
    if len(used) < LEAST_PLACES:
        raise BlockedError(
            f"{len(used)} place{'' if len(used) == 1 else 's'} could be measured, and {LEAST_PLACES} are needed to "
            "tell shift, rotation and scale apart"
        )
    points = np.array([(place.x_mm, place.y_mm) for place in used])
    moved = np.array([(place.dx_mm, place.dy_mm) for place in used]).T.ravel()
    matrix = design_matrix(points)
    if float(np.linalg.svd(points - points.mean(0), compute_uv=False)[-1]) < 5.0 * math.sqrt(len(used)):
        raise BlockedError("All places lie in one row: rotation and scale cannot be told apart")
    weights = np.ones(len(moved))
    for _ in range(_ROUNDS):
        root = np.sqrt(weights)
        theta = np.linalg.lstsq(matrix * root[:, None], moved * root, rcond=None)[0]
        rest = moved - matrix @ theta
        apart = np.hypot(*rest.reshape(2, -1))
        scale = max(float(np.median(apart)) / 1.1774, 1e-4)  # the median of a Rayleigh distribution
        known = np.clip(1 - (apart / (_TUKEY * scale)) ** 2, 0, 1) ** 2
        after = np.tile(np.maximum(known, 1e-6), 2)
        if np.abs(after - weights).max() < 1e-6:
            break
        weights = after
    freedom = max(2.0, float(weights.sum()) - 5)
    variance = _CONSISTENT * float(weights @ np.square(rest)) / freedom
    covariance = variance * np.linalg.inv(matrix.T @ (matrix * weights[:, None]))
    return parts_of(theta), parts_of(np.sqrt(np.diag(covariance))), math.sqrt(variance), freedom
