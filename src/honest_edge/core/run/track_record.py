"""Forecasts held against what came out: a systematic miss is found, said, and corrected openly.

The log-odds of what comes out are taken to lie a constant beyond those of the forecast; the constant starts at 0 within
a spread of 1, and every run tells of it by a beta-binomial distribution (see ``yield_share``).
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from honest_edge.core.geometry.paths import Floats
from honest_edge.core.run.yield_share import log_beta_binomial

LEAST_RUNS = 5
_RHO = 0.15
"""How alike the stickers of a sheet come out: an assumption until a bench has its own."""

_MISSES = np.linspace(-4.0, 4.0, 161)
_SURE = 0.975
_WORTH_SAYING = 0.02  # a smaller miss changes no number of sheets
_NEAREST = 0.002  # a forecast is never quite sure


@dataclass(frozen=True, slots=True, kw_only=True)
class PastRun:
    """A run that is over: what share was expected, what came out, on how many sheets."""

    forecast: float
    good: int
    bad: int
    sheets: int


@dataclass(frozen=True, slots=True, kw_only=True)
class TrackRecord:
    """How forecasts did.

    Attributes:
        runs: how many were looked at.
        forecast: the share that was expected over all their stickers.
        came_out: the share that came out.
        miss: how far the log-odds of what comes out lie beyond those of a forecast, and half the width of its range.
        is_systematic: whether chance alone hardly explains it, and it is large enough to matter.
    """

    runs: int
    forecast: float
    came_out: float
    miss: tuple[float, float]
    is_systematic: bool

    def corrected(self, forecast: float) -> float:
        """Return a forecast with the systematic miss taken out; as it is where there is none."""
        return float(_shifted(forecast, np.array(self.miss[0]))) if self.is_systematic else forecast

    def corrected_range(self, forecast: float) -> tuple[float, float]:
        """Return where the corrected forecast lies 19 times of 20."""
        middle, half = self.miss
        low, high = (float(_shifted(forecast, np.array(middle + way * half))) for way in (-1, 1))
        return low, high


def track_record(runs: Sequence[PastRun]) -> TrackRecord | None:
    """Return how forecasts did; None where no run tells of it."""
    told = [run for run in runs if run.good + run.bad > 0]
    if not told:
        return None
    log = -0.5 * np.square(_MISSES)
    for run in told:
        share = _shifted(run.forecast, _MISSES)
        for good, count in _by_sheets(run):
            log = log + log_beta_binomial(np.array(float(good)), count, share, np.array(_RHO))
    weights = np.exp(log - log.max())
    weights /= weights.sum()
    summed = np.cumsum(weights)
    low, high = (float(_MISSES[np.searchsorted(summed, at)]) for at in (1 - _SURE, _SURE))
    pieces = sum(run.good + run.bad for run in told)
    forecast = sum(run.forecast * (run.good + run.bad) for run in told) / pieces
    came_out = sum(run.good for run in told) / pieces
    return TrackRecord(
        runs=len(told),
        forecast=forecast,
        came_out=came_out,
        miss=(float(weights @ _MISSES), (high - low) / 2),
        is_systematic=len(told) >= LEAST_RUNS and (low > 0 or high < 0) and abs(came_out - forecast) >= _WORTH_SAYING,
    )


def _by_sheets(run: PastRun) -> list[tuple[int, int]]:
    """Return a run's stickers dealt to its sheets, which is the least that spoiled ones can have been shared."""
    sheets, count = max(1, run.sheets), run.good + run.bad
    good = [run.good // sheets + (number < run.good % sheets) for number in range(sheets)]
    bad = [run.bad // sheets + (number < run.bad % sheets) for number in range(sheets)]
    return [(g, g + b) for g, b in zip(good, bad, strict=True) if g + b] if count else []


def _shifted(forecast: float, miss: Floats) -> Floats:
    share = min(1 - _NEAREST, max(_NEAREST, forecast))
    return np.asarray(1 / (1 + np.exp(-(np.log(share / (1 - share)) + miss))))
