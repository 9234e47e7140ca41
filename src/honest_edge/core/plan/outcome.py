"""Whether a run came out worse than its forecast by more than chance."""

from __future__ import annotations

import numpy as np
from scipy import special

_AS_MANY_AS = 40.0
"""A forecast is trusted like a count of so many pieces: common practice, no published source."""

_RARE = 0.05


def chance_of_so_few(good: int, bad: int, forecast: float) -> float:
    """Return the chance that so few pieces or fewer come out good where a share is expected.

    Beta-binomial: the true share is spread about the forecast as after ``_AS_MANY_AS`` pieces (with one good and one
    bad added, so that no share is impossible), and pieces come out good by it (N. L. Johnson, A. W. Kemp and S. Kotz,
    "Univariate Discrete Distributions", 6.9.2; from memory).

    Args:
        good: pieces that came out good.
        bad: pieces that did not.
        forecast: the share that was expected.
    """
    count = good + bad
    alpha, beta = 1 + _AS_MANY_AS * forecast, 1 + _AS_MANY_AS * (1 - forecast)
    few = np.arange(good + 1)
    ways = special.gammaln(count + 1) - special.gammaln(few + 1) - special.gammaln(count - few + 1)
    logs = ways + special.betaln(few + alpha, count - few + beta) - special.betaln(alpha, beta)
    return float(min(1.0, np.exp(special.logsumexp(logs))))


def fell_short(good: int, bad: int, forecast: float | None) -> bool:
    """Whether so few good pieces would be rare if the forecast held."""
    return forecast is not None and chance_of_so_few(good, bad, forecast) < _RARE
