"""A term for wear: found where it is, not where it is not; on made-up stocks."""

import numpy as np
import pytest

from honest_edge.core.workshop.blade_wear import LEAST_LOOKS, wear_octaves, worn
from honest_edge.core.workshop.ladder import Belief, Look, SettingRange, Window

REACH = SettingRange()
LADDER = REACH.settable(np.geomspace(50, 130, 8))


def looks(rate, count=20, span=120.0, seed=3):
    """Ladders cut as a blade wears: its window rises by ``rate`` octaves in 100 m."""
    random, made = np.random.default_rng(seed), []
    for metres in np.linspace(0, span, count):
        lower = np.log2(62) + rate * metres / 100
        depths = np.log2(LADDER) + random.normal(0, 0.03, len(LADDER))
        first = [np.flatnonzero(depths > edge) for edge in (lower, lower + 0.45)]
        clean, marked = (int(found[0]) if len(found) else len(LADDER) for found in first)
        made.append((Look(settings=LADDER, first_clean=clean, first_marked=marked), float(metres)))
    return made


def test_wear_that_is_there_is_found():
    assert wear_octaves(REACH, looks(0.3)) == pytest.approx(0.3, abs=0.16)


@pytest.mark.parametrize("seed", [1, 2, 3, 4])
def test_no_wear_is_none(seed):
    assert wear_octaves(REACH, looks(0.0, seed=seed)) == 0


def test_few_readings_or_few_metres_tell_nothing():
    assert wear_octaves(REACH, looks(0.4, count=LEAST_LOOKS - 1)) == 0
    assert wear_octaves(REACH, looks(0.4, span=20.0)) == 0
    assert wear_octaves(REACH, []) == 0


def test_a_worn_window_lies_higher():
    window = worn(Window(low=60, high=80, best=70, chance=0.98), 1.0)
    assert (window.low, window.high, window.best) == (120, 160, 140)
    assert worn(Window(low=None, high=None, best=70, chance=0.4), 1.0).low is None


def test_the_evidence_of_nothing_is_certain():
    assert Belief(REACH).log_evidence == pytest.approx(0.0)
