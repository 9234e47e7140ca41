"""Whether a run came out worse than its forecast by more than chance."""

from __future__ import annotations

import math

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
    alpha, beta = 1 + _AS_MANY_AS * forecast, 1 + _AS_MANY_AS * (1 - forecast)
    if bad < good:  # the shorter of the two sums
        return max(0.0, 1 - _sum_from_none(bad - 1, good + bad, beta, alpha))
    return min(1.0, _sum_from_none(good, good + bad, alpha, beta))


def _sum_from_none(most: int, count: int, alpha: float, beta: float) -> float:
    """Return the beta-binomial chance of 0 to ``most`` of ``count``, each term from the one before."""
    term = math.exp(_log_beta(alpha, count + beta) - _log_beta(alpha, beta))
    total = 0.0
    for number in range(most + 1):
        total += term
        term *= (count - number) / (number + 1) * (number + alpha) / max(count - number - 1 + beta, 1e-12)
    return total


def _log_beta(one: float, two: float) -> float:
    return math.lgamma(one) + math.lgamma(two) - math.lgamma(one + two)


def fell_short(good: int, bad: int, forecast: float | None) -> bool:
    """Whether so few good pieces would be rare if the forecast held."""
    return forecast is not None and chance_of_so_few(good, bad, forecast) < _RARE
