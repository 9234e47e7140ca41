"""Shares learnt from inspections, against scipy.stats and against benches whose truth is known."""

import itertools

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from scipy import stats

from honest_edge.core.run.track_record import PastRun, track_record
from honest_edge.core.run.yield_share import Prior, Seen, Wanting, chance_of_enough, learnt, log_beta_binomial


@given(count=st.integers(1, 40), share=st.floats(0.02, 0.98), rho=st.floats(0.01, 0.9))
@settings(max_examples=60, deadline=None)
def test_the_beta_binomial_is_that_of_scipy(count, share, rho):
    """scipy.stats.betabinom with a = p (1/rho - 1), b = (1 - p)(1/rho - 1)."""
    good = np.arange(count + 1, dtype=float)
    ours = np.exp(log_beta_binomial(good, count, np.array(share), np.array(rho)))
    whole = 1 / rho - 1
    assert ours == pytest.approx(stats.betabinom.pmf(good, count, share * whole, (1 - share) * whole), abs=1e-9)


def test_sheets_pull_the_share_from_the_forecast_to_what_they_show():
    prior = Prior(share=0.95, strength=14.0)
    none = learnt(prior, [])
    assert none.share == pytest.approx(0.95, abs=0.01)
    some = learnt(prior, [Seen(forecast=0.95, good=8, count=12)] * 3)
    many = learnt(prior, [Seen(forecast=0.95, good=8, count=12)] * 30)
    assert none.share > some.share > many.share
    assert many.share == pytest.approx(8 / 12, abs=0.03)
    assert np.subtract(*many.interval[::-1]) < np.subtract(*some.interval[::-1])


def test_a_weak_design_is_told_from_a_strong_one():
    prior = Prior(share=0.9, strength=14.0)
    known = learnt(prior, [])
    strong = chance_of_enough(known, [Wanting(forecast=0.99, lacking=10, left=(12,))])
    weak = chance_of_enough(known, [Wanting(forecast=0.6, lacking=10, left=(12,))])
    assert strong > 0.9
    assert weak < 0.4


def test_the_chance_is_that_of_counting_all_outcomes():
    """Two sheets of three: all outcomes are summed by hand over the same grid of shares."""
    known = learnt(Prior(share=0.8, strength=8.0), [Seen(forecast=0.8, good=3, count=3)])
    wanting = Wanting(forecast=0.8, lacking=4, left=(3, 3))
    from honest_edge.core.run import yield_share as module

    total = 0.0
    for row, share in enumerate(module._P):
        for column, rho in enumerate(module._RHO):
            whole = 1 / rho - 1
            pmf = stats.betabinom.pmf(np.arange(4), 3, share * whole, (1 - share) * whole)
            ways = sum(pmf[a] * pmf[b] for a, b in itertools.product(range(4), repeat=2) if a + b >= 4)
            total += known.weights[row, column] * ways
    assert chance_of_enough(known, [wanting]) == pytest.approx(total, abs=1e-9)


def test_what_cannot_suffice_has_no_chance_and_what_is_there_needs_none():
    known = learnt(Prior(share=0.9, strength=5.0), [])
    assert chance_of_enough(known, [Wanting(forecast=0.9, lacking=13, left=(12,))]) == 0.0
    assert chance_of_enough(known, [Wanting(forecast=0.9, lacking=0, left=())]) == 1.0


def test_promised_chances_hold_over_benches_that_are_drawn():
    """Shares are drawn about a forecast, two sheets are seen, two are left: what was promised comes true as often."""
    random = np.random.default_rng(5)
    promised, kept = [], []
    for _ in range(300):
        share = random.beta(14 * 0.9, 14 * 0.1)
        rho = 0.1
        whole = 1 / rho - 1
        good = random.binomial(12, random.beta(max(share * whole, 1e-3), max((1 - share) * whole, 1e-3), size=4))
        known = learnt(Prior(share=0.9, strength=14.0), [Seen(forecast=0.9, good=int(g), count=12) for g in good[:2]])
        promised.append(chance_of_enough(known, [Wanting(forecast=0.9, lacking=21, left=(12, 12))]))
        kept.append(good[2:].sum() >= 21)
    assert np.mean(promised) == pytest.approx(np.mean(kept), abs=0.06)


def test_a_systematic_miss_is_found_said_and_taken_out():
    record = track_record([PastRun(forecast=0.97, good=30, bad=5, sheets=3)] * 8)
    low, high = record.corrected_range(0.97)
    assert low < record.corrected(0.97) < high, "the share that came out lies between"
    assert low < 30 / 35 < high
    assert (record.runs, record.is_systematic) == (8, True)
    assert record.forecast == pytest.approx(0.97)
    assert record.came_out == pytest.approx(6 / 7)
    assert record.corrected(0.97) == pytest.approx(6 / 7, abs=0.05)


def test_chance_is_no_systematic_miss_and_few_runs_are_not_told_as_one():
    true = track_record([PastRun(forecast=0.95, good=19, bad=1, sheets=2)] * 10)
    assert not true.is_systematic
    assert true.corrected(0.95) == 0.95
    assert not track_record([PastRun(forecast=0.97, good=10, bad=10, sheets=2)] * 4).is_systematic
    assert track_record([]) is None
