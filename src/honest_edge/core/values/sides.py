"""Margins that differ by the side of a sheet."""

from __future__ import annotations

from typing import NamedTuple

from honest_edge.core.values.units import check_range

MOST_MARGIN_MM = 100.0


class Sides(NamedTuple):
    """A margin at each side of the paper as it lies, in millimetres."""

    top: float
    right: float
    bottom: float
    left: float

    @property
    def widest(self) -> float:
        """The largest of them."""
        return max(self)

    @classmethod
    def alike(cls, margin_mm: float) -> Sides:
        """Return the same margin at all sides."""
        return cls(margin_mm, margin_mm, margin_mm, margin_mm)


def check_sides(what: str, sides: Sides | None) -> None:
    """Refuse margins that no sheet has.

    Raises:
        UsageError: one is negative, or too wide.
    """
    for side, margin in () if sides is None else zip(Sides._fields, sides, strict=True):
        check_range(f"{what}, {side}", margin, 0, MOST_MARGIN_MM)
