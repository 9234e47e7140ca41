"""Laying pieces one by one, each where it lies snug against what is there."""

from __future__ import annotations

from collections.abc import Sequence

import cv2
import numpy as np

from honest_edge.core.sheet.grid import Filling, GridPosition
from honest_edge.core.sheet.nofit import Turned

_NEAR = 3
"""Places counted to each side to tell how snug a place is."""
_SNUG, _DOWN, _ACROSS = 40.0, 0.5, 0.02
"""How much a place wholly walled in, a millimetre down and a millimetre across weigh; tried on open artwork."""


def snuggest(filling: Filling, turns: Sequence[Turned]) -> GridPosition | None:
    """Return the place where one more piece lies best: walled in, high up, to the left; None where none is free."""
    best, position = np.inf, None
    grid = filling.grid
    step = grid.nofit.pitch_mm
    filling.look_ahead(turns)
    for turned in turns:
        free = filling.free(turned)
        at = np.flatnonzero(free)
        if not len(at):
            continue
        walls = np.pad((~free).astype(np.float32), _NEAR, constant_values=1.0)
        snug = cv2.blur(walls, (2 * _NEAR + 1,) * 2)[_NEAR:-_NEAR, _NEAR:-_NEAR]
        rows, columns = np.divmod(at, grid.columns)
        below = grid.nofit.bounds(turned)[3]
        score = _DOWN * (rows * step + below) + _ACROSS * columns * step - _SNUG * snug.ravel()[at]
        least = int(score.argmin())
        if score[least] < best:
            best, position = float(score[least]), GridPosition(turned, int(rows[least]), int(columns[least]))
    return position
