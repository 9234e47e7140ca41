"""Rectangles laid on a sheet."""

from __future__ import annotations

from typing import NamedTuple

from honest_edge.core.values.sides import Sides


class Box(NamedTuple):
    """A rectangle in sheet millimetres, x right, y down, origin at the paper's top left."""

    left: float
    top: float
    right: float
    bottom: float

    @property
    def width(self) -> float:
        """Across."""
        return self.right - self.left

    @property
    def height(self) -> float:
        """Down."""
        return self.bottom - self.top

    @property
    def middle(self) -> tuple[float, float]:
        """The point halfway across and down."""
        return (self.left + self.right) / 2, (self.top + self.bottom) / 2

    def grown(self, by_mm: float) -> Box:
        """Return the box with every side moved outward."""
        return Box(self.left - by_mm, self.top - by_mm, self.right + by_mm, self.bottom + by_mm)

    def inside(self, sides: Sides) -> Box:
        """Return the box without a margin at each side."""
        return Box(self.left + sides.left, self.top + sides.top, self.right - sides.right, self.bottom - sides.bottom)

    def within(self, other: Box) -> Box:
        """Return what of the box lies in another; its sides may cross where they do not meet."""
        return Box(
            max(self.left, other.left),
            max(self.top, other.top),
            min(self.right, other.right),
            min(self.bottom, other.bottom),
        )

    def overlaps(self, other: Box) -> bool:
        """Whether the two share area; touching does not count."""
        return (
            self.left < other.right - 1e-9
            and other.left < self.right - 1e-9
            and self.top < other.bottom - 1e-9
            and other.top < self.bottom - 1e-9
        )
