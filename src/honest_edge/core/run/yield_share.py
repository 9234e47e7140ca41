"""What share comes out good, learnt from inspected sheets, and the chance that the sheets that are left suffice.

Of m stickers on a sheet the good ones follow a beta-binomial distribution with mean p and correlation rho: what spoils
stickers is shared by a sheet (N. L. Johnson, A. W. Kemp and S. Kotz, "Univariate Discrete Distributions", 6.2.2; from
memory). Both are learnt on a grid, with the forecast as the prior of p. Designs of one job share what the forecast did
not foresee: the log-odds of each lie as far from its own forecast as those of all together from theirs.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from scipy.special import betainc, betaln, expit, gammaln, logit

from honest_edge.core.geometry.paths import Floats

ASSUMED_STRENGTH, MEASURED_STRENGTH = 2.5, 14.0
"""A forecast counts for so many stickers, where the bench was assumed, and where it was measured (our own trials)."""

_EDGES = 1 - np.linspace(1.0, 0.0, 61) ** 3  # closer and closer toward 1, where benches are
_P = (_EDGES[1:] + _EDGES[:-1]) / 2
_RHO = np.array([0.005, 0.02, 0.05, 0.1, 0.2, 0.35, 0.5, 0.7, 0.9])
_RHO_PRIOR = np.array([1.0, 1.0, 1.0, 1.0, 1.0, 0.8, 0.5, 0.3, 0.1])
_NEAREST = 0.002  # a forecast is never quite sure
_TAIL = 0.025


@dataclass(frozen=True, slots=True, kw_only=True)
class Prior:
    """What is expected before any sheet was looked at: a share, and for how many stickers it counts."""

    share: float
    strength: float


@dataclass(frozen=True, slots=True, kw_only=True)
class Seen:
    """What was seen of one design on one sheet: its forecast, how many were good, of how many."""

    forecast: float
    good: int
    count: int


@dataclass(frozen=True, slots=True, kw_only=True, eq=False)
class YieldShare:
    """What is known of the share that comes out good.

    Attributes:
        prior: what was expected.
        weights: (p, rho) how likely each pair of the grid is; they sum to 1.
    """

    prior: Prior
    weights: Floats

    @property
    def share(self) -> float:
        """The share to reckon with, averaged over all that is possible."""
        return float(self.weights.sum(axis=1) @ _P)

    @property
    def interval(self) -> tuple[float, float]:
        """Where the share lies 19 times of 20."""
        summed = np.cumsum(self.weights.sum(axis=1))
        low, high = np.searchsorted(summed, [_TAIL, 1 - _TAIL])
        return float(_EDGES[low]), float(_EDGES[min(high + 1, len(_P))])


def learnt(prior: Prior, seen: Sequence[Seen]) -> YieldShare:
    """Return what inspected sheets say.

    Args:
        prior: what was expected of all together.
        seen: what came out.
    """
    share = _kept_off(prior.share)
    cells = np.diff(betainc(prior.strength * share, prior.strength * (1 - share), _EDGES))
    with np.errstate(divide="ignore"):
        weights = np.log(cells)[:, None] + np.log(_RHO_PRIOR)[None, :]
    for one in seen:
        own = _shares_of(prior, one.forecast)
        weights = weights + log_beta_binomial(np.array(float(one.good)), one.count, own[:, None], _RHO[None, :])
    weights = np.exp(weights - weights.max())
    return YieldShare(prior=prior, weights=weights / weights.sum())


def _kept_off(share: float) -> float:
    return min(1 - _NEAREST, max(_NEAREST, share))


def _shares_of(prior: Prior, forecast: float) -> Floats:
    """Return (p,) the share of one design where that of all together is each of the grid."""
    return np.asarray(expit(logit(_P) + logit(_kept_off(forecast)) - logit(_kept_off(prior.share))))


def log_beta_binomial(good: Floats, count: int, share: Floats, rho: Floats) -> Floats:
    """Return the logarithm of the chance of so many good ones among ``count``; the arguments are broadcast."""
    whole = 1 / rho - 1
    alpha, beta = share * whole, (1 - share) * whole
    ways = gammaln(count + 1) - gammaln(good + 1) - gammaln(count - good + 1)
    return np.asarray(ways + betaln(good + alpha, count - good + beta) - betaln(alpha, beta))


@dataclass(frozen=True, slots=True, kw_only=True)
class Wanting:
    """A design of which good ones are wanting: its forecast, how many, and how many lie on each sheet that is left."""

    forecast: float
    lacking: int
    left: tuple[int, ...]


def chance_of_enough(known: YieldShare, wanting: Sequence[Wanting]) -> float:
    """Return the chance that the sheets that are left give enough of every design.

    Given share and correlation, designs are taken to be spoiled independently of each other.
    """
    chance = np.ones(known.weights.shape)
    done: dict[Wanting, Floats] = {}
    for one in wanting:
        if one.lacking <= 0:
            continue
        if one.lacking > sum(one.left):
            return 0.0
        if one not in done:
            done[one] = _tail(one.lacking, [n for n in one.left if n], _shares_of(known.prior, one.forecast))
        chance = chance * done[one]
    return float((chance * known.weights).sum())


def _tail(lacking: int, counts: Sequence[int], shares: Floats) -> Floats:
    """Return (p, rho) the chance of at least so many good ones from sheets of so many stickers."""
    length = 1 << int(sum(counts)).bit_length()
    transform = np.ones((len(_P), len(_RHO), length // 2 + 1), complex)
    for count in set(counts):
        good = np.arange(count + 1, dtype=float)
        pmf = np.exp(log_beta_binomial(good, count, shares[:, None, None], _RHO[None, :, None]))
        transform *= np.fft.rfft(pmf, length, axis=2) ** list(counts).count(count)
    spread = np.fft.irfft(transform, length, axis=2)
    return np.asarray(np.clip(spread[..., lacking : sum(counts) + 1].sum(axis=2), 0.0, 1.0))
