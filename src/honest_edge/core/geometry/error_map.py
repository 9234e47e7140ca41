"""How an error of shift, rotation and growth moves many places of a sheet at once."""

from __future__ import annotations

import numpy as np

from honest_edge.core.geometry.paths import Floats
from honest_edge.core.values.misregistration import moves_at


def moves(points: Floats) -> Floats:
    """Return (5, n, 2): how a unit of each part (``moves_at``) moves each of (n, 2) places."""
    x, y = points.T
    return np.array([[np.broadcast_to(way, x.shape) for way in move] for move in moves_at(x, y)]).transpose(0, 2, 1)


def linear_part(values: Floats) -> Floats:
    """Return the (2, 2) matrix by which (5,) values of the parts move places, their shift left out."""
    corners = moves(np.eye(2))[2:]
    return np.asarray(np.einsum("i,ind->dn", values[2:], corners))
