"""Readings by eye, robust against slips: a reading is near the truth with a small spread, or anywhere.

The two kinds are told apart by expectation and maximisation (A. Dempster, N. Laird, D. Rubin, 1977), from a start by
least absolute deviations; a reading that is more likely a slip than not is named.
"""

from __future__ import annotations

import math
import re
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from honest_edge.core.geometry.paths import Floats
from honest_edge.core.measure.combs import MOST_READ, STEP_MM
from honest_edge.core.measure.sheet_error import design_matrix
from honest_edge.core.values.errors import BlockedError, UsageError
from honest_edge.core.values.measured import MeasuredPlace, MeasuredSheet, parts_of

_GOOD = 0.96
_NAMED = 0.959
"""A reading that is less surely good is named: two slips of three over 0.12 mm, and one good reading in ten sheets."""

_SPREAD_MM, _PRIOR_READINGS = 0.05, 11.0
_LOOSE = np.array([0.6, 0.6, 0.4, 0.4, 0.4])
"""One standard deviation of what each part may be before anything is read, in its own unit: next to nothing."""

_ROUNDS, _LEAST_NUMBERS, _LEAST_ROWS = 60, 8, 4


@dataclass(frozen=True, slots=True, kw_only=True)
class Reading:
    """The two numbers of one place; None where one was left out.

    Attributes:
        place: counted from 1, in reading order.
        across, down: as read off the combs.
    """

    place: int
    across: float | None
    down: float | None


def typed_number(text: str) -> float | None:
    """Return a number as it is read off a comb; None where it was left out.

    Raises:
        UsageError: it is none, has no place on the comb, or is finer than a half.
    """
    plain = text.strip().replace("\N{MINUS SIGN}", "-").replace(",", ".").replace("½", ".5")
    if plain in ("", "-", "?"):
        return None
    if not re.fullmatch(r"[+-]?\d*\.?\d+", plain):
        raise UsageError(
            f"“{text.strip()[:20]}” is no number of a comb: type {-MOST_READ} to {MOST_READ}, halves allowed, no unit"
        )
    value = float(plain)
    if abs(value) > MOST_READ:
        raise UsageError(f"{value:g} is not on the comb: its numbers run from {-MOST_READ} to {MOST_READ}")
    if abs(2 * value - round(2 * value)) > 1e-9:
        raise UsageError(f"{value:g} is finer than can be seen: read to a half, such as {math.floor(value) + 0.5:g}")
    return value


def sheet_read(readings: Sequence[Reading], places_mm: Floats, *, title: str, sheet: str = "") -> MeasuredSheet:
    """Return the error of one sheet from its readings.

    Args:
        readings: of its places.
        places_mm: (n, 2) all places of the target, from the marks' middle.
        title: what the sheet is called.
        sheet: names it.

    Raises:
        BlockedError: too few readings to tell.
        UsageError: a place that the target does not have, or one that is read twice.
    """
    read = _checked(readings, len(places_mm))
    rows = [
        (r.place - 1, axis, value) for r in read for axis, value in enumerate((r.across, r.down)) if value is not None
    ]
    if len(rows) < _LEAST_NUMBERS or len({place for place, _, _ in rows}) < _LEAST_ROWS:
        raise BlockedError(
            f"{title}: {len(rows)} numbers of {len({p for p, _, _ in rows})} places are too few to tell shift, "
            f"rotation and scale: read {_LEAST_ROWS} places or more, in different corners"
        )
    index = np.array([place + axis * len(places_mm) for place, axis, _ in rows])
    matrix = design_matrix(places_mm)[index]
    values = np.array([value * STEP_MM for *_, value in rows])
    theta, covariance, spread, good, freedom = _told_apart(matrix, values)
    doubtful: dict[int, list[str]] = {}
    for (place, axis, _), chance in zip(rows, good, strict=True):
        if chance < _NAMED:
            doubtful.setdefault(place, []).append(("across", "down")[axis])
    return MeasuredSheet(
        picture=title,
        by="eye",
        error=parts_of(theta),
        unsure=parts_of(np.sqrt(np.diag(covariance))),
        repeat_mm=spread,
        degrees_of_freedom=freedom,
        places=tuple(_place(reading, places_mm, doubtful) for reading in read),
        sheet=sheet,
    )


def _checked(readings: Sequence[Reading], count: int) -> list[Reading]:
    seen: set[int] = set()
    for reading in readings:
        if not 1 <= reading.place <= count:
            raise UsageError(f"The target has places 1 to {count}; place {reading.place} was read")
        if reading.place in seen:
            raise UsageError(f"Place {reading.place} is read twice on one sheet: leave one out")
        seen.add(reading.place)
    return [reading for reading in readings if reading.across is not None or reading.down is not None]


def _place(reading: Reading, places_mm: Floats, doubtful: dict[int, list[str]]) -> MeasuredPlace:
    x, y = places_mm[reading.place - 1].tolist()
    dx, dy = (math.nan if value is None else STEP_MM * value for value in (reading.across, reading.down))
    wrong = doubtful.get(reading.place - 1, [])
    lacking = [name for name, value in (("across", reading.across), ("down", reading.down)) if value is None]
    why = f"{' and '.join(wrong)} does not fit the rest" if wrong else ""
    if lacking:
        why = "; ".join(filter(None, (why, f"{lacking[0]} left out")))
    return MeasuredPlace(
        x_mm=x, y_mm=y, dx_mm=dx, dy_mm=dy,
        used=not wrong and not lacking, why=why,
    )  # fmt: skip


def _told_apart(matrix: Floats, values: Floats) -> tuple[Floats, Floats, float, Floats, float]:
    """Return theta, its covariance for Student's t, the spread, each reading's chance to be good, the freedom."""
    flat = 1 / (2 * MOST_READ * STEP_MM)
    prior = np.diag(1 / _LOOSE**2)
    theta, spread = _least_absolute(matrix, values, prior), _SPREAD_MM
    good = np.ones(len(values))
    for _ in range(_ROUNDS):
        rest = values - matrix @ theta
        near = _GOOD * np.exp(-np.square(rest / spread) / 2) / (spread * math.sqrt(2 * math.pi))
        good = near / (near + (1 - _GOOD) * flat)
        precision = matrix.T @ (matrix * good[:, None]) / spread**2 + prior
        after = np.asarray(np.linalg.solve(precision, matrix.T @ (good * values) / spread**2))
        rest = values - matrix @ after
        # the spread that is most likely with the five unknowns integrated out
        freedom = max(1.0, _PRIOR_READINGS + float(good.sum()) - 5)
        wide = math.sqrt((_PRIOR_READINGS * _SPREAD_MM**2 + float(good @ np.square(rest))) / freedom)
        is_done = np.abs(after - theta).max() < 1e-7 and abs(wide - spread) < 1e-7
        theta, spread = after, wide
        if is_done:
            break
    precision = matrix.T @ (matrix * good[:, None]) / spread**2 + prior
    return theta, np.asarray(np.linalg.inv(precision)), spread, good, max(1.0, _PRIOR_READINGS + float(good.sum()) - 5)


def _least_absolute(matrix: Floats, values: Floats, prior: Floats) -> Floats:
    """Return the fit of least absolute deviations, by reweighting; a few slips do not pull it."""
    weights = np.ones(len(values))
    theta: Floats = np.zeros(matrix.shape[1])
    for _ in range(25):
        normal = matrix.T @ (matrix * weights[:, None]) + 1e-4 * prior
        theta = np.asarray(np.linalg.solve(normal, matrix.T @ (weights * values)))
        weights = 1 / np.maximum(np.abs(values - matrix @ theta), 0.01)
    return theta
