"""Papers and the rectangles laid on them."""

from __future__ import annotations

from typing import NamedTuple

from honest_edge.core.values.specs import PaperName


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

    def overlaps(self, other: Box) -> bool:
        """Whether the two share area; touching does not count."""
        return (
            self.left < other.right - 1e-9
            and other.left < self.right - 1e-9
            and self.top < other.bottom - 1e-9
            and other.top < self.bottom - 1e-9
        )


PAPER_MM: dict[PaperName, tuple[float, float]] = {
    "letter": (215.9, 279.4),  # ANSI/ASME Y14.1, size A: 8.5 x 11 in
    "a4": (210.0, 297.0),  # ISO 216
}
PAPER_TITLE: dict[PaperName, str] = {"letter": "Letter", "a4": "A4"}
