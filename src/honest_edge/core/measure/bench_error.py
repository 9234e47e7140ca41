"""From the errors of single sheets to what the next sheet of a bench will show.

Each part of the error is normal with an unknown mean and an unknown spread; the usual conjugate prior on both
(normal and inverse chi-squared; A. Gelman et al., Bayesian Data Analysis, 3rd ed., section 3.3) starts from the
distance that was typed and leaves it as sheets come in. What the next sheet will show is Student's t.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
import scipy

from honest_edge.core.measure.sheet_error import design_matrix
from honest_edge.core.values.measured import (
    PART_NAMES,
    BenchBelief,
    ErrorParts,
    MeasuredSheet,
    PartBelief,
    parts_of,
)
from honest_edge.core.values.misregistration import PER_SPREAD, WITHIN_SHARE, Misregistration, Scatter

_PRIOR_SHEETS = 0.05
"""What the typed distance weighs for the mean: next to nothing, for a typed number must not outweigh a sheet."""

_PRIOR_FREEDOM = 2.0
"""What it weighs for the spread."""

_ARM_MM = 120.0
"""Rotation and scale are taken to do as much as the shift does, this far from the marks' middle: an assumption."""

HALF_LIFE_DAYS = 180.0
"""A sheet weighs half as much after so long: an assumption, for benches drift."""

_DAY_MS = 86_400_000
_CONTRADICTS = 1e-3

READER_SD_MM = {"eye": 0.04, "scan": 0.005, "photograph": 0.011, "stickers": 0.015}
"""What the reading adds at one place: of the eye assumed, of pictures found on rendered ones."""


@dataclass(frozen=True, slots=True, kw_only=True)
class WeighedSheet:
    """One sheet as it counts.

    Attributes:
        sheet: what was measured.
        at_ms: when, UTC milliseconds; None counts as now.
        weight: 1 for a fresh one.
        epoch: counts up whenever the steady part of the error was changed.
    """

    sheet: MeasuredSheet
    at_ms: int | None = None
    weight: float = 1.0
    epoch: int = 0


def faded(at_ms: int, now_ms: int) -> float:
    """Return what a sheet weighs that was measured a while ago."""
    return float(0.5 ** (max(0, now_ms - at_ms) / _DAY_MS / HALF_LIFE_DAYS))


def prior_spread(within: float) -> float:
    """Return the scale at which, 19 times of 20, a second sheet stays "within" a distance of the first.

    Two sheets differ by sqrt(2) s; P(r > d) = (1 + d^2 / (2 nu s^2))^(-nu / 2) = 1 / 20 for Student's t in the plane.
    """
    return within / math.sqrt(2 * _PRIOR_FREEDOM * (20 ** (2 / _PRIOR_FREEDOM) - 1))


def believed(sheets: Sequence[WeighedSheet], within_mm: float) -> BenchBelief | None:
    """Return what is expected of the next sheet; None where none was measured since the steady part changed.

    Args:
        sheets: of one bench.
        within_mm: the distance that was typed, kept 19 times of 20.
    """
    newest = max((one.epoch for one in sheets), default=0)
    here = [one for one in sheets if one.epoch == newest and one.weight > 0]
    if not here:
        return None
    prior = prior_spread(max(within_mm, 0.02))
    scales = (prior, prior, math.degrees(prior / _ARM_MM), 100 * prior / _ARM_MM, 100 * prior / _ARM_MM)
    parts = [_part([[o for o in sheets if o.epoch == epoch and o.weight > 0] for epoch in range(newest + 1)], name, s0)
             for name, s0 in zip(PART_NAMES, scales, strict=True)]  # fmt: skip
    return BenchBelief(
        **dict(zip(PART_NAMES, parts, strict=True)),
        repeat_mm=_repeat([one for one in sheets if one.weight > 0]),
        sheets=len(here),
        newest_ms=max((one.at_ms for one in here if one.at_ms is not None), default=None),
    )


def _part(epochs: Sequence[Sequence[WeighedSheet]], name: str, scale: float) -> PartBelief:
    """Return Student's t of one part: all epochs tell the spread, the last alone tells the mean."""
    squares, freedom = _PRIOR_FREEDOM * scale**2, _PRIOR_FREEDOM
    for epoch in epochs[:-1]:
        weights = [one.weight for one in epoch]
        values = [getattr(one.sheet.of_the_bench, name) for one in epoch]
        if len(values) > 1:
            middle = math.fsum(w * v for w, v in zip(weights, values, strict=True)) / math.fsum(weights)
            squares += math.fsum(w * (v - middle) ** 2 for w, v in zip(weights, values, strict=True))
            freedom += math.fsum(weights) * (1 - 1 / len(values))
    weights = [one.weight for one in epochs[-1]]
    values = [getattr(one.sheet.of_the_bench, name) for one in epochs[-1]]
    count = math.fsum(weights)
    middle = math.fsum(w * v for w, v in zip(weights, values, strict=True)) / count
    known = _PRIOR_SHEETS + count
    squares += math.fsum(w * (v - middle) ** 2 for w, v in zip(weights, values, strict=True))
    squares += _PRIOR_SHEETS * count * middle**2 / known
    freedom += count
    spread = math.sqrt(squares / freedom)
    return PartBelief(
        mean=count * middle / known,
        spread=spread * math.sqrt(1 + 1 / known),
        degrees_of_freedom=freedom,
        mean_unsure=spread / math.sqrt(known),
    )


def _repeat(sheets: Sequence[WeighedSheet]) -> float:
    """Return what differs from sticker to sticker, without what the reading added."""
    rest = freedom = 0.0
    for one in sheets:
        own = max(0.0, one.sheet.repeat_mm**2 - READER_SD_MM[one.sheet.by] ** 2)
        rest += one.weight * one.sheet.degrees_of_freedom * own
        freedom += one.weight * one.sheet.degrees_of_freedom
    return math.sqrt(rest / freedom)


def misregistration_of(belief: BenchBelief, correction: ErrorParts = ErrorParts()) -> Misregistration:  # noqa: B008
    """Return the error that the forecast takes; ``correction`` is what our cut files are moved by."""
    freedom = min(part.degrees_of_freedom for part in belief.parts)
    scatters = {
        name: Scatter(bias=part.mean + moved, spread=part.spread)
        for name, part, moved in zip(PART_NAMES, belief.parts, correction.values, strict=True)
    }
    return Misregistration(**scatters, repeat_mm=belief.repeat_mm, degrees_of_freedom=freedom)


def interval(part: PartBelief, share: float = 0.95) -> tuple[float, float]:
    """Return the range that holds the next sheet's value in a share of cases."""
    reach = part.spread * float(scipy.special.stdtrit(part.degrees_of_freedom, (1 + share) / 2))
    return part.mean - reach, part.mean + reach


def mean_give_or_take(part: PartBelief, share: float = 0.95) -> float:
    """Return how far the steady part may lie from ``mean``, in a share of cases."""
    return part.mean_unsure * float(scipy.special.stdtrit(part.degrees_of_freedom, (1 + share) / 2))


def contradicts(sheet: MeasuredSheet, within_mm: float) -> bool:
    """Whether a sheet is farther off than the typed distance lets one sheet in a thousand be."""
    shift = math.hypot(sheet.of_the_bench.shift_x_mm, sheet.of_the_bench.shift_y_mm)
    spread = within_mm / PER_SPREAD
    return math.exp(-((shift / spread) ** 2) / 2) < _CONTRADICTS if spread > 0 else shift > 0.05


def correction_for(belief: BenchBelief) -> ErrorParts:
    """Return what moves the cut so that the steady part is gone: its opposite, which is the inverse to first order."""
    return parts_of(-mean for mean in belief.means.values)


_DRAWS, _DRAWN_SEED = 4000, 7


def within_over_sheet(error: Misregistration, reach_mm: tuple[float, float]) -> float:
    """Return the distance that stickers all over a sheet keep 19 times of 20, by 4000 sheets drawn alike each time.

    Args:
        error: how print and cut disagree.
        reach_mm: how far from the marks' middle stickers lie, across and down.
    """
    random = np.random.default_rng(_DRAWN_SEED)
    scatters = [getattr(error, name) for name in PART_NAMES]
    normal = random.normal(size=(_DRAWS, 5))
    if error.degrees_of_freedom is not None:
        freedom = error.degrees_of_freedom
        normal *= np.sqrt(freedom / random.chisquare(freedom, size=(_DRAWS, 1)))
    drawn = np.array([s.bias for s in scatters]) + np.array([s.spread for s in scatters]) * normal
    x, y = np.meshgrid(np.array([-1.0, 0.0, 1.0]) * reach_mm[0], np.array([-1.0, 0.0, 1.0]) * reach_mm[1])
    places = np.stack([x.ravel(), y.ravel()], 1)
    moved = (drawn @ design_matrix(places).T).reshape(_DRAWS, 2, -1)
    moved = moved + error.repeat_mm * random.normal(size=moved.shape)
    return float(np.quantile(np.hypot(moved[:, 0], moved[:, 1]), WITHIN_SHARE))
