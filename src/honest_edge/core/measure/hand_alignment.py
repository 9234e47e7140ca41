"""A sheet aligned by hand: from where a hand found the marks to how the sheet lies, and how true that is.

Position, turn and scale by least squares over all readings (Procrustes; Umeyama, "Least-squares estimation of
transformation parameters between two point patterns", IEEE PAMI 13, 1991, without its reflection). What is left over
tells how well the hand reads; with a prior of what hands do it gives the error that will remain.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
import scipy  # loads its parts when they are used

from honest_edge.core.geometry.paths import Floats
from honest_edge.core.sheet.strokes import Seat
from honest_edge.core.values.errors import BlockedError

HAND_MM = 0.1
"""How well a hand sets a pointer over a mark, standard deviation in x and in y; assumed, no published source."""

_PRIOR_WEIGHT = 4.0  # readings' worth of that assumption
_MOST_TURN_DEG, _MOST_SCALE = 20.0, 0.05
OUT_CHANCE = 0.01


@dataclass(frozen=True, slots=True, kw_only=True)
class MarkReading:
    """Where a hand found a mark.

    Attributes:
        mark: its name.
        planned_mm: x right and y up from the sheet's bottom left.
        found_mm: in the machine's frame.
    """

    mark: str
    planned_mm: tuple[float, float]
    found_mm: tuple[float, float]


@dataclass(frozen=True, slots=True, kw_only=True)
class HandAlignment:
    """How a sheet lies.

    Attributes:
        seat: what cut files are moved by.
        left_over_mm: by mark, how far it was found from where the others say it lies.
        hand_mm: how well this hand reads, standard deviation in x and in y.
        remaining_mm: root mean square of the error that remains over the sheet.
        within_mm: what it stays within, 19 times of 20.
        doubtful: the mark that should be read again; empty where none should.
    """

    seat: Seat
    left_over_mm: dict[str, float]
    hand_mm: float
    remaining_mm: float
    within_mm: float
    doubtful: str


def aligned_by_hand(
    readings: Sequence[MarkReading], hand_mm: float = HAND_MM, doubted_at: float = OUT_CHANCE
) -> HandAlignment:
    """Return how a sheet lies, from three readings or more.

    Args:
        readings: one of each mark.
        hand_mm: how well hands read, standard deviation in x and in y.
        doubted_at: how often at most a set of good readings has one that is doubted.

    Raises:
        BlockedError: too few, or they cannot be of this sheet: mirrored, in another order, of another size.
    """
    if len(readings) < 3:
        raise BlockedError(f"{len(readings)} marks are read: read three at least")
    planned = np.array([one.planned_mm for one in readings])
    there = np.array([one.found_mm for one in readings])
    if len({one.mark for one in readings}) != len(readings):
        raise BlockedError("One mark was read twice: give each reading its own mark")
    _check_order(planned, there)
    seat, residual = _fitted(planned, there)
    freedom = 2 * len(readings) - 4
    spread = math.sqrt(
        (float(np.square(residual).sum()) + 2 * _PRIOR_WEIGHT * hand_mm**2) / (freedom + 2 * _PRIOR_WEIGHT)
    )
    remaining = spread * math.sqrt(_mean_leverage(planned))
    names = [one.mark for one in readings]
    away = np.hypot(*residual.T)
    return HandAlignment(
        seat=seat,
        left_over_mm=dict(zip(names, away.round(3).tolist(), strict=True)),
        hand_mm=spread,
        remaining_mm=remaining,
        within_mm=remaining * math.sqrt(float(scipy.stats.f.ppf(0.95, 2, freedom + 2 * _PRIOR_WEIGHT))),
        doubtful=_doubtful(names, planned, there, hand_mm, doubted_at),
    )


def hand_of(sheets: Sequence[tuple[int, float]]) -> float:
    """Return how well a hand sets a pointer over marks, standard deviation in x and in y, by sheets that it found.

    Pooled over what is left over of each, with the assumption weighed as a few readings.

    Args:
        sheets: how many marks were found of each, and the sum of the squares of what was left over, in mm^2.
    """
    freedom = 2 * _PRIOR_WEIGHT + sum(2 * marks - 4 for marks, _ in sheets)
    return math.sqrt((2 * _PRIOR_WEIGHT * HAND_MM**2 + sum(square for _, square in sheets)) / freedom)


def _fitted(planned: Floats, found: Floats) -> tuple[Seat, Floats]:
    """Return position, turn and scale, and what is left over of each reading."""
    at, to = planned.mean(0), found.mean(0)
    a, b = planned - at, found - to
    square = float(np.square(a).sum())
    cos = float((a * b).sum()) / square
    sin = float((a[:, 0] * b[:, 1] - a[:, 1] * b[:, 0]).sum()) / square
    turn, scale = math.atan2(sin, cos), math.hypot(sin, cos)
    if abs(math.degrees(turn)) > _MOST_TURN_DEG or abs(scale - 1) > _MOST_SCALE:
        raise BlockedError(
            f"These marks mean a sheet turned by {math.degrees(turn):.0f}° and {100 * (scale - 1):+.1f} % larger: "
            "they were read in another order, or on another sheet"
        )
    matrix = np.array([[cos, sin], [-sin, cos]])
    shift = to - at @ matrix
    seat = Seat(turn_rad=turn, scale=scale, shift_mm=(float(shift[0]), float(shift[1])))
    return seat, found - (planned @ matrix + shift)


def _check_order(planned: Floats, found: Floats) -> None:
    """Refuse readings that go round the other way than the marks do."""

    def area(points: Floats) -> float:
        x, y = points[:3].T
        return float((x[1] - x[0]) * (y[2] - y[0]) - (x[2] - x[0]) * (y[1] - y[0]))

    if abs(area(planned)) < 1.0:
        raise BlockedError("These marks lie on one line: read marks at three corners")
    if area(planned) * area(found) <= 0:
        raise BlockedError(
            "The marks were read mirrored, or in another order: each goes the other way round than on the sheet"
        )


def _mean_leverage(planned: Floats) -> float:
    """Return the mean square error in the plane over the box of the marks, for readings of one mm spread in each axis.

    A place p has 2 / n + 2 |p - middle|^2 / sum |marks - middle|^2: of the shift, and of turn and scale.
    """
    middle, (wide, high) = planned.mean(0), np.ptp(planned, axis=0)
    box_middle = (planned.min(0) + planned.max(0)) / 2
    mean_square = (wide**2 + high**2) / 12 + float(np.square(box_middle - middle).sum())
    return float(2 / len(planned) + 2 * mean_square / np.square(planned - middle).sum())


def _doubtful(names: Sequence[str], planned: Floats, found: Floats, hand_mm: float, chance_of: float) -> str:
    """Return the mark that lies where the others say it does not, judged by what hands do; four are needed.

    Without it, three others foretell its place; its distance from there has the spread of a reading and of that.
    """
    if len(names) < 4:
        return ""
    worst, worst_chance = "", chance_of / len(names)
    for number, name in enumerate(names):
        others = np.arange(len(names)) != number
        seat, residual = _fitted(planned[others], found[others])
        cos, sin = seat.scale * math.cos(seat.turn_rad), seat.scale * math.sin(seat.turn_rad)
        foretold = planned[number] @ np.array([[cos, sin], [-sin, cos]]) + seat.shift_mm
        middle = planned[others].mean(0)
        leverage = 1 / others.sum() + float(np.square(planned[number] - middle).sum()) / float(
            np.square(planned[others] - middle).sum()
        )
        square = float(np.square(found[number] - foretold).sum()) / (hand_mm**2 * (1 + leverage))
        rest = float(np.square(residual).sum()) / hand_mm**2
        chance = float(scipy.stats.chi2.sf(square, 2))
        if chance < worst_chance and rest < float(scipy.stats.chi2.ppf(0.999, 2 * others.sum() - 4)):
            worst, worst_chance = name, chance
    return worst
