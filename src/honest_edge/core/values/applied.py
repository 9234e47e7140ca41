"""What is put on a thing after it is cut: words in film, transfers, stickers of several parts."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

from honest_edge.core.values.errors import UsageError

ApplyWay = Literal["film", "pressed", "parts"]
"""Film that was cut without print; a print that is ironed or pressed on; a printed sticker of several parts."""

_MOST_NUMBERS = 400_000
_FARTHEST_MM = 10_000.0


@dataclass(frozen=True, slots=True, kw_only=True)
class AppliedPart:
    """One part as it lies in its design.

    Attributes:
        name: of what it is.
        rings: x and y in turn, millimetres, y downward.
    """

    name: str
    rings: tuple[tuple[float, ...], ...]

    def __post_init__(self) -> None:
        if sum(map(len, self.rings)) > _MOST_NUMBERS or any(len(ring) < 6 or len(ring) % 2 for ring in self.rings):
            raise UsageError("A part that is put on a thing has no usable outline")
        if not all(abs(number) <= _FARTHEST_MM for ring in self.rings for number in ring):
            raise UsageError("A part that is put on a thing lies nowhere")


@dataclass(frozen=True, slots=True, kw_only=True)
class AppliedDesign:
    """A design that is put on a thing.

    Attributes:
        name: its name.
        way: how it is put on.
        parts: back to front: the first is put on first.
    """

    name: str
    way: ApplyWay
    parts: tuple[AppliedPart, ...]

    @property
    def box_mm(self) -> tuple[float, float, float, float]:
        """Left, top, right and bottom of all its parts."""
        xs = [x for part in self.parts for ring in part.rings for x in ring[::2]]
        ys = [y for part in self.parts for ring in part.rings for y in ring[1::2]]
        return min(xs), min(ys), max(xs), max(ys)
