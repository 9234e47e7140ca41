"""What is shown of a machine: what a step would cut, and what lies round the practice pointer."""

from __future__ import annotations

from dataclasses import dataclass
from typing import TYPE_CHECKING

if TYPE_CHECKING:
    from honest_edge.core.geometry.paths import Floats
    from honest_edge.core.run.guide import Step

STEPS_MM = (10.0, 1.0, 0.1, 0.025)
SEEN_MM = (420.0, 60.0, 8.0, 3.0)  # how wide the view round the practice pointer is at each step


@dataclass(slots=True, kw_only=True)
class Ready:
    """What a step would cut: its lines on the sheet, where the blade travels to first, and the box it cuts in, mm."""

    step: Step
    lines: tuple[Floats, ...]
    to_mm: tuple[float, float]
    box_mm: tuple[float, float, float, float]


@dataclass(slots=True, kw_only=True)
class Around:
    """What is seen round a pointer, mm, x right and y down from it: paper, marks; and how wide the view is."""

    paper: Floats
    marks: tuple[Floats, ...]
    wide_mm: float
