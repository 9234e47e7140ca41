"""A practice sheet in the practice cutter: how it lies, which nobody is told, and what is seen under the pointer."""

from __future__ import annotations

import numpy as np

from honest_edge.core.geometry.paths import Floats
from honest_edge.core.sheet.marks import marks_of
from honest_edge.core.sheet.strokes import Seat
from honest_edge.core.values.machine import Machine
from honest_edge.core.values.run_seal import SealedRun

_TURN_RAD = 0.01  # a sheet laid by eye along the lines of a carrier; assumed, no published source
_TOLERANCE_MM = 0.02


def hidden_seat(seal: SealedRun, sheet: int, machine: Machine) -> Seat:
    """Return how a practice sheet lies in the machine: the same for the same run and sheet, within its area."""
    draw = np.random.default_rng([int(seal.run[:8], 16), sheet])
    spare = np.maximum(np.array([machine.width_mm, machine.length_mm]) - seal.sheet.size_mm, 4.0)
    x_mm, y_mm = (draw.uniform(0.1, 0.5, 2) * np.minimum(spare, 60.0)).tolist()
    return Seat(turn_rad=float(draw.normal(0.0, _TURN_RAD)), shift_mm=(x_mm, y_mm))


def under_pointer(
    seal: SealedRun, sheet: int, machine: Machine, at_mm: tuple[float, float]
) -> tuple[Floats, tuple[Floats, ...]]:
    """Return the paper's outline and its printed marks as seen round the pointer, mm, x right and y down."""
    seat, (width, height) = hidden_seat(seal, sheet, machine), seal.sheet.size_mm
    paper = np.array([(0.0, 0.0), (width, 0.0), (width, height), (0.0, height)])
    rings = [ring.flattened(_TOLERANCE_MM) for mark in marks_of(seal.sheet) for ring in mark.rings]
    shown = [(seat.placed(points, height) - at_mm) * (1, -1) for points in (paper, *rings)]
    return shown[0], tuple(shown[1:])
