"""Registration marks: what the cutter's reader looks for."""

from __future__ import annotations

from dataclasses import dataclass, replace
from typing import Literal

from honest_edge.core.values.specs import Colour, check_colour
from honest_edge.core.values.units import check_range

MarkKind = Literal["three brackets", "four brackets", "four discs", "four squares", "frame"]


@dataclass(frozen=True, slots=True, kw_only=True)
class MarkSpec:
    """What the cutter's reader looks for.

    Attributes:
        kind: the marks' shape and number.
        length_mm: length of a bracket's arms, side of a square, diameter of a disc.
        thickness_mm: width of the line of brackets and frames.
        inset_mm: from the paper's edges to the outer side of the marks.
        clear_mm: free space around a mark where nothing may be printed or cut.
        rgb: their colour.
    """

    kind: MarkKind = "three brackets"
    length_mm: float = 18.0
    thickness_mm: float = 1.0
    inset_mm: float = 12.0
    clear_mm: float = 3.0
    rgb: Colour = (0, 0, 0)

    def __post_init__(self) -> None:
        check_range("mark length", self.length_mm, 2, 60)
        check_range("mark thickness", self.thickness_mm, 0.2, 5)
        check_range("mark inset", self.inset_mm, 0, 60)
        check_range("clear space round a mark", self.clear_mm, 0, 30)
        check_colour("mark colour", self.rgb)


MARK_LENGTH_MM: dict[MarkKind, float] = {
    "three brackets": 18.0,
    "four brackets": 18.0,
    "four discs": 6.0,
    "four squares": 8.0,
    "frame": 18.0,
}


def with_mark_kind(spec: MarkSpec, kind: MarkKind) -> MarkSpec:
    """Return the marks in another shape, of the size that is usual for it."""
    return replace(spec, kind=kind, length_mm=MARK_LENGTH_MM[kind])
