"""From the size that a hand typed, of the sticker as cut or of the art inside it, to how much all of it grows."""

from __future__ import annotations

from typing import Literal

from honest_edge.app.results.design_result import DesignResult
from honest_edge.core.values.errors import UsageError
from honest_edge.core.values.specs import LARGEST_WIDTH_MM, SMALLEST_WIDTH_MM
from honest_edge.core.values.units import check_range

Measured = Literal["cut", "art"]


def factor_for(result: DesignResult, typed_mm: float, measured: Measured, side: Literal[0, 1]) -> float:
    """Return how many times as large a design becomes when one of its sizes is typed.

    The cut keeps its distance from the art, so only the art grows.

    Args:
        result: the design as it is.
        typed_mm: the size wanted.
        measured: of what.
        side: 0 for the width, 1 for the height.

    Raises:
        UsageError: no sticker has that size, or what lies round the art is larger than that already.
    """
    check_range("size", typed_mm, SMALLEST_WIDTH_MM, LARGEST_WIDTH_MM)
    art_mm = result.art_size_mm[side]
    round_mm = result.cut_size_mm[side] - art_mm if measured == "cut" else 0.0
    if typed_mm <= round_mm:
        raise UsageError(
            f"The border round the art takes {round_mm:.1f} mm of that: type more, or lower the offset at Edge"
        )
    return (typed_mm - round_mm) / art_mm
