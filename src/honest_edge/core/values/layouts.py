"""Where copies lie, as a job keeps it."""

from __future__ import annotations

from dataclasses import dataclass

from honest_edge.core.values.units import check_range


@dataclass(frozen=True, slots=True, kw_only=True)
class PlacedCopy:
    """One copy on a sheet: the art turned clockwise about its frame's origin, then moved.

    Attributes:
        design: key of the design.
        turn_deg: the turn.
        x_mm, y_mm: where the art frame's origin comes to lie.
    """

    design: str
    turn_deg: float = 0.0
    x_mm: float = 0.0
    y_mm: float = 0.0

    def __post_init__(self) -> None:
        check_range("turn of a copy", self.turn_deg, -360, 360, "degrees")
        check_range("place of a copy", self.x_mm, -5000, 5000)
        check_range("place of a copy", self.y_mm, -5000, 5000)


@dataclass(frozen=True, slots=True, kw_only=True)
class Pin:
    """A copy that was placed by hand and stays there.

    Attributes:
        page: the sheet, from 0.
        copy: what lies where.
    """

    page: int
    copy: PlacedCopy

    def __post_init__(self) -> None:
        check_range("sheet of a copy", self.page, 0, 999, "")


Layout = tuple[tuple[PlacedCopy, ...], ...]
"""Every copy of every sheet, the result of a search that is not made again."""
