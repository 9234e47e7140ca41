"""What a machine that was never tried draws with a pen, and what its drawing tells of its axes and its scale.

An angle at the machine's own corner, an arrow along its first axis, and a cross whose arms are told to be 100 mm long.
"""

from __future__ import annotations

from dataclasses import replace

import numpy as np

from honest_edge.core.sheet.strokes import Stroke
from honest_edge.core.values.errors import BlockedError, UsageError
from honest_edge.core.values.machine import CORNERS, POINTS, Corner, DirectUse, Machine, Points

ARM_MM = 100.0
REACH_MM = 130.0
_MOST_OFF = 1.6  # a plotter's step set for inches, or twice, is farther off and needs its own setting mended first

LINES: tuple[tuple[tuple[float, float], ...], ...] = (
    ((10, 25), (10, 10), (25, 10)),
    ((40, 10), (80, 10)),
    ((73, 6), (80, 10), (73, 14)),
    ((20, 75), (20 + ARM_MM, 75)),
    ((70, 25), (70, 25 + ARM_MM)),
)
"""The angle, the arrow and its head, the two arms: in the machine's own numbers."""


def pen_drawing(machine: Machine) -> tuple[Stroke, ...]:
    """Return the strokes in the machine's own numbers, before anything is known of its axes.

    Raises:
        BlockedError: the machine's area is smaller than the drawing.
    """
    if min(machine.width_mm, machine.length_mm) < REACH_MM:
        raise BlockedError(
            f"The drawing needs {REACH_MM:.0f} mm both ways, and “{machine.name}” is said to cut "
            f"{machine.width_mm:g} × {machine.length_mm:g} mm: set its area at Sheet"
        )
    pen = machine.lines["kiss"].pen
    return tuple(Stroke(kind="kiss", pen=pen, points=np.array(line, dtype=float)) for line in LINES)


def bare(machine: Machine) -> Machine:
    """Return a machine whose numbers are sent as they are."""
    axes = replace(machine.direct, corner="bottom left", x_points="right", x_scale=1.0, y_scale=1.0)
    return replace(machine, direct=axes)


def learnt(use: DirectUse, corner: Corner, points: Points, along_mm: float, across_mm: float) -> DirectUse:
    """Return how a machine is spoken to, by what its drawing shows: its axes and scale are tried then.

    Args:
        use: as it was.
        corner: of the machine's area in which the angle lies, seen from where one stands before it.
        points: where the arrow points.
        along_mm: length of the cross's arm along the arrow.
        across_mm: length of the other.

    Raises:
        UsageError: they contradict each other, or a length is no arm's.
    """
    if corner not in CORNERS or points not in POINTS:
        raise UsageError("Say in which corner the angle lies, and where the arrow points")
    for length_mm in (along_mm, across_mm):
        if not 1 / _MOST_OFF <= length_mm / ARM_MM <= _MOST_OFF:
            raise UsageError(
                f"An arm of {length_mm:g} mm was told to be {ARM_MM:.0f} mm: measure again, or mend the steps in the "
                "machine’s own settings first"
            )
    return replace(
        use,
        corner=corner,
        x_points=points,
        x_scale=along_mm / ARM_MM,
        y_scale=across_mm / ARM_MM,
        is_tried=True,
    )
