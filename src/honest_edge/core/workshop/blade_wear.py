"""Whether a blade cuts shallower the more metres it has cut: told only where many readings ask for it."""

from __future__ import annotations

from collections.abc import Sequence

from honest_edge.core.workshop.ladder import Belief, Look, SettingRange, Window

LEAST_LOOKS, LEAST_SPAN_M = 16, 30.0
_RATES = (0.05, 0.1, 0.15, 0.2, 0.3, 0.45)
"""Octaves in 100 m that are tried."""

_PENALTY, _LEAST_GAIN = 1.0, 2.0
"""One more parameter costs one (Akaike, IEEE Trans. Automatic Control 19, 1974); a gain of 2 beyond is asked for."""


def wear_octaves(reach: SettingRange, looks: Sequence[tuple[Look, float]]) -> float:
    """Return by how many octaves the window of a stock rises in 100 m; 0 where the data does not ask for it.

    Args:
        reach: what the machine can be set to.
        looks: what ladders showed, and the metres that their blade had cut.
    """
    metres = [cut for _, cut in looks]
    if len(looks) < LEAST_LOOKS or max(metres) - min(metres) < LEAST_SPAN_M:
        return 0.0
    seen = [look for look, _ in looks]
    even = Belief(reach, seen).log_evidence
    gains = {
        rate: Belief(reach, seen, blunted=[rate * cut / 100 for cut in metres]).log_evidence - even - _PENALTY
        for rate in _RATES
    }
    best = max(gains, key=lambda rate: gains[rate])
    return best if gains[best] > _LEAST_GAIN else 0.0


def worn(window: Window, octaves: float) -> Window:
    """Return a window for a blade that cuts so many octaves shallower."""
    by = 2.0**octaves
    low, high = (None if edge is None else edge * by for edge in (window.low, window.high))
    return Window(low=low, high=high, best=window.best * by, chance=window.chance)
