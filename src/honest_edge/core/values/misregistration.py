"""How print and cut disagree on one bench: the error of printer, mark reader and cutter together."""

from __future__ import annotations

import math
from dataclasses import dataclass
from typing import Any, Protocol

from honest_edge.core.values.units import check_range

WITHIN_SHARE = 0.95
"""What "within" means in words: 19 times of 20."""

PER_SPREAD = math.sqrt(-2 * math.log(1 - WITHIN_SHARE))
"""The distance that 19 of 20 keep, in standard deviations of x and y: P(r < R) = 1 - exp(-R^2 / 2 s^2), Rayleigh."""

VISIBLE_MM = 0.1
"""Narrower white, or less lost detail, is not seen at reading distance; from memory, no published source."""


UNITS = (1.0, 1.0, math.radians(1), 0.01, 0.01)
"""What one mm of shift, degree of rotation and percent of growth is, in mm or in mm a mm."""


class Coordinate(Protocol):
    """A number of mm, or an array of them."""

    def __neg__(self) -> Any:
        """Return it the other way."""


def moves_at(x_mm: Coordinate, y_mm: Coordinate) -> tuple[tuple[Any, Any], ...]:
    """Return how a unit of each part of an error moves a place, (dx, dy) each: the one map of all five.

    The parts are the shift across and down, the rotation in radians, clockwise on paper, and the growth across and down
    in shares; places are counted from the middle of the marks, y down. It holds for small errors.
    """
    return (1.0, 0.0), (0.0, 1.0), (-y_mm, x_mm), (x_mm, 0.0), (0.0, y_mm)


@dataclass(frozen=True, slots=True, kw_only=True)
class Scatter:
    """A normally distributed error: what it is on average, and one standard deviation."""

    bias: float = 0.0
    spread: float = 0.0


_NONE = Scatter()


@dataclass(frozen=True, slots=True, kw_only=True)
class Misregistration:
    """Where the cut lands against the print.

    A cut meant for p, counted from the middle of the marks (x right, y down), lands at
    p + shift + rotation x p + scale * p + repeat, each term drawn anew: all but the last once a sheet, the
    last for every sticker.

    Attributes:
        shift_x_mm, shift_y_mm: displacement of the whole sheet.
        rotation_deg: turn about the marks' middle, positive clockwise on paper.
        scale_x_percent, scale_y_percent: growth of the cut against the print.
        repeat_mm: standard deviation, in x and in y, of what differs from sticker to sticker.
        degrees_of_freedom: of the Student's t that each term follows, as it is where few sheets were measured, with
            ``spread`` as its scale; None for normal terms.
    """

    shift_x_mm: Scatter = _NONE
    shift_y_mm: Scatter = _NONE
    rotation_deg: Scatter = _NONE
    scale_x_percent: Scatter = _NONE
    scale_y_percent: Scatter = _NONE
    repeat_mm: float = 0.0
    degrees_of_freedom: float | None = None

    def __post_init__(self) -> None:
        for name, scatter in (("shift", self.shift_x_mm), ("shift", self.shift_y_mm)):
            check_range(f"{name} on average", scatter.bias, -20, 20)
            check_range(f"spread of the {name}", scatter.spread, 0, 20)
        check_range("rotation on average", self.rotation_deg.bias, -5, 5, "degrees")
        check_range("spread of the rotation", self.rotation_deg.spread, 0, 5, "degrees")
        for scatter in (self.scale_x_percent, self.scale_y_percent):
            check_range("scale on average", scatter.bias, -5, 5, "%")
            check_range("spread of the scale", scatter.spread, 0, 5, "%")
        check_range("repeat error", self.repeat_mm, 0, 20)
        if self.degrees_of_freedom is not None:
            check_range("degrees of freedom", self.degrees_of_freedom, 1, 1e6, "")

    def standing_out(self, beyond: float) -> float:
        """Return the distance from the middle, in spreads, that a share of errors in the plane exceeds.

        P(r > d) is exp(-d^2 / 2) for two normal terms, (1 + d^2 / n)^(-n / 2) for Student's t of n degrees of freedom.
        """
        normal = -2 * math.log(beyond)
        n = self.degrees_of_freedom
        return math.sqrt(normal if n is None else n * math.expm1(normal / n))


@dataclass(frozen=True, slots=True, kw_only=True)
class SheetPlace:
    """Where on the sheet a sticker lies.

    Attributes:
        x_mm, y_mm: middle of its cut, counted from the middle of the marks.
        turn_deg: clockwise turn of the art.
    """

    x_mm: float = 0.0
    y_mm: float = 0.0
    turn_deg: float = 0.0


MARKS_MIDDLE = SheetPlace()


def assumed_misregistration(within_mm: float) -> Misregistration:
    """Return the error of a bench that is only known to land "within" a distance, 19 times of 20.

    The same in every direction, everywhere on the sheet: a Rayleigh distribution of the distance, whose
    95 % point is 2.448 standard deviations.
    """
    spread = within_mm / PER_SPREAD
    return Misregistration(shift_x_mm=Scatter(spread=spread), shift_y_mm=Scatter(spread=spread))


def within_mm(error: Misregistration) -> float:
    """Return the distance that an unbiased error of this spread keeps to 19 times of 20, at the marks' middle."""
    square = (error.shift_x_mm.spread**2 + error.shift_y_mm.spread**2) / 2 + error.repeat_mm**2
    return error.standing_out(1 - WITHIN_SHARE) * math.sqrt(square)


def strays_mm(error: Misregistration, place: SheetPlace = MARKS_MIDDLE) -> float:
    """Return the distance that 19 of 20 cuts keep from where they are meant at a place of the sheet.

    The average error there, and as much round it as the distance of two normal terms keeps (as ``within_mm``).
    """
    parts = (error.shift_x_mm, error.shift_y_mm, error.rotation_deg, error.scale_x_percent, error.scale_y_percent)
    moves = moves_at(place.x_mm, place.y_mm)
    mean, square = [0.0, 0.0], error.repeat_mm**2
    for part, unit, move in zip(parts, UNITS, moves, strict=True):
        for axis in (0, 1):
            mean[axis] += part.bias * unit * move[axis]
            square += (part.spread * unit * move[axis]) ** 2 / 2
    return math.hypot(*mean) + error.standing_out(1 - WITHIN_SHARE) * math.sqrt(square)
