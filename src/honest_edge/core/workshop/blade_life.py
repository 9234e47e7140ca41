"""How long blades last: a log-normal life from blades that went dull, and those that were changed before.

A blade that was changed early, or is still in use, only says that its life is longer: its likelihood is the share that
lasts so long (right censoring, NIST/SEMATECH e-Handbook of Statistical Methods, 8.1.3). Middle and spread have a
posterior on a grid.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray
from scipy import special

Floats = NDArray[np.float64]

LEAST_DULL = 2
"""Before so many of the user's own blades went dull, no life is claimed."""

NOTE_SHARE, LOOK_SHARE = 0.10, 0.25
"""From which share of blades that are dull by now a blade is noted, and has to be looked at."""

_MIDDLES, _SPREADS = 121, 31
_LIKELY_SPREAD = (0.4, 0.7)
"""Of the logarithm of a life, and within which factor (its logarithm): common practice, no published source."""

_CREDIBLE = (0.1, 0.9)


@dataclass(frozen=True, slots=True, kw_only=True)
class BladeUse:
    """What one blade cut.

    Attributes:
        metres: hard metres: length by passes, and by the factor of the stock where one was typed.
        went_dull: whether that was its life; else it was changed early, or is still in use.
    """

    metres: float
    went_dull: bool


@dataclass(frozen=True, slots=True, kw_only=True)
class DullShare:
    """Which share of such blades is dull after some metres: likely, and between which bounds in 8 of 10 cases."""

    likely: float
    low: float
    high: float


class BladeLife:
    """What the user's own blades say."""

    def __init__(self, uses: Sequence[BladeUse]) -> None:
        """Take what blades cut; those that cut nothing say nothing."""
        told = [use for use in uses if use.metres > 0]
        self.dull = sum(use.went_dull for use in told)
        if self.dull < LEAST_DULL:
            self._weight: Floats | None = None
            return
        places = np.log([use.metres for use in told])
        middle = float(np.mean([p for p, use in zip(places, told, strict=True) if use.went_dull]))
        self._middles = (middle + np.linspace(-2.0, 3.0, _MIDDLES))[:, None]
        self._spreads = np.geomspace(0.05, 2.0, _SPREADS)[None, :]
        log = -0.5 * (np.log(self._spreads / _LIKELY_SPREAD[0]) / _LIKELY_SPREAD[1]) ** 2
        log = log + log_likelihood(told, self._middles, self._spreads)
        weight = np.exp(log - log.max())
        self._weight = weight / weight.sum()

    def dull_by(self, metres: float) -> DullShare | None:
        """Return the share of blades that are dull after so many metres; None before enough went dull."""
        if self._weight is None:
            return None
        if metres <= 0:
            return DullShare(likely=0.0, low=0.0, high=0.0)
        shares = special.ndtr((np.log(metres) - self._middles) / self._spreads)
        order = np.argsort(shares, axis=None)
        sums = np.cumsum(self._weight.ravel()[order])
        low, high = np.interp(_CREDIBLE, sums, shares.ravel()[order])
        return DullShare(likely=float((shares * self._weight).sum()), low=float(low), high=float(high))

    def metres_at(self, share: float) -> float | None:
        """Return after how many metres a share of blades is likely dull; None before enough went dull."""
        if self._weight is None:
            return None
        places = np.linspace(self._middles.min() - 2, self._middles.max() + 2, 300)
        shares = [(special.ndtr((place - self._middles) / self._spreads) * self._weight).sum() for place in places]
        return float(np.exp(np.interp(share, shares, places)))


def log_likelihood(uses: Sequence[BladeUse], middles: Floats, spreads: Floats) -> Floats:
    """Return the logarithm of the likelihood of what blades cut, for log-normal lives.

    Args:
        uses: with more than 0 m each.
        middles: of the logarithm of a life in metres; broadcast against
        spreads: its standard deviation.
    """
    total = np.zeros(np.broadcast_shapes(middles.shape, spreads.shape))
    for use in uses:
        off = (np.log(use.metres) - middles) / spreads
        if use.went_dull:
            total += -0.5 * off**2 - np.log(spreads) - np.log(use.metres) - 0.5 * np.log(2 * np.pi)
        else:
            total += special.log_ndtr(-off)
    return np.asarray(total)
