"""A run's sheet at a machine that is spoken to directly: how it lies by what a hand found, and what is cut there."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass

from honest_edge.app.run.conductor import Conductor
from honest_edge.core.measure.hand_alignment import HAND_MM, HandAlignment, MarkReading, aligned_by_hand
from honest_edge.core.run.guide import Step
from honest_edge.core.sheet.marks import aims_of
from honest_edge.core.sheet.strokes import Stroke, box_of, seated
from honest_edge.core.values.machine import Machine
from honest_edge.core.values.run_seal import SealedRun

DOUBTED_AT = 0.36
"""A mark is found again in some seconds, a sheet that is cut beside is lost: of good sets one in four or five is
doubted, and a mark half a millimetre off is found 95 times of 100 (benchmarks/cutting.py)."""

Place = tuple[int, float, float]
"""A mark by its number, from 0, and where in the machine it was found."""


def readings_of(seal: SealedRun, places: Sequence[Place]) -> list[MarkReading]:
    """Return what a hand found as readings of the sheet's marks."""
    aims, height_mm = aims_of(seal.sheet), seal.sheet.size_mm[1]
    return [
        MarkReading(mark=aims[mark][0], planned_mm=(aims[mark][1], height_mm - aims[mark][2]), found_mm=(x_mm, y_mm))
        for mark, x_mm, y_mm in places
    ]


def likely_place(seal: SealedRun, places: Sequence[Place], mark: int) -> tuple[float, float] | None:
    """Return about where a mark lies by those that were found; None while none was."""
    if not places:
        return None
    aims = aims_of(seal.sheet)
    known, x_mm, y_mm = places[-1]
    across, upward = aims[mark][1] - aims[known][1], aims[known][2] - aims[mark][2]
    if len(places) > 1:  # two tell how the sheet is turned
        first = places[0]
        planned = math.atan2(aims[first[0]][2] - aims[known][2], aims[known][1] - aims[first[0]][1])
        turn = math.atan2(y_mm - first[2], x_mm - first[1]) - planned
        across, upward = (
            across * math.cos(turn) - upward * math.sin(turn),
            across * math.sin(turn) + upward * math.cos(turn),
        )
    return x_mm + across, y_mm + upward


@dataclass(frozen=True, slots=True, kw_only=True)
class SheetAligned:
    """How true a cut will be by what a hand found.

    Attributes:
        found: how the sheet lies.
        share: of places of the sheet where the error that remains stays within what its art bears.
    """

    found: HandAlignment
    share: float


def sheet_aligned(seal: SealedRun, places: Sequence[Place], hand_mm: float = HAND_MM) -> SheetAligned:
    """Return how a sheet lies, and how true that is against what its art bears.

    An error with one spread in every direction stays within r with 1 - exp(-r^2 / m), m its mean square (Rayleigh).

    Args:
        seal: of its run.
        places: of its marks, as they were found.
        hand_mm: how well this hand reads.

    Raises:
        BlockedError: too few marks, or they cannot be this sheet's.
    """
    alignment = aligned_by_hand(readings_of(seal, places), hand_mm, DOUBTED_AT)
    square = max(alignment.remaining_mm**2, 1e-9)
    return SheetAligned(found=alignment, share=1 - math.exp(-(seal.bears_mm**2) / square))


def strokes_there(conductor: Conductor, step: Step, machine: Machine) -> tuple[Stroke, ...]:
    """Return what a step cuts, in the machine's frame, by where the sheet's marks were found.

    Raises:
        BlockedError: nothing is left to cut, its marks were not found, or it leaves the machine's area.
    """
    lines, height_mm = conductor.cut_strokes(step)
    places = conductor.state.sheet(step.sheet).places
    return seated(lines, sheet_aligned(conductor.seal, places).found.seat, height_mm, machine)


def will_move(there: Sequence[Stroke], first: int) -> tuple[tuple[float, float], tuple[float, float, float, float]]:
    """Return where the blade travels to at first, and the box that is cut: left, bottom, right, top."""
    x, y = there[first].points[0].tolist()
    return (x, y), box_of(there[first:])
