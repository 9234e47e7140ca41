"""Blade lives against SciPy's fit of censored data, as survival analysis does it."""

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from scipy import stats

from honest_edge.core.workshop.blade_life import BladeLife, BladeUse, log_likelihood

DULL, EARLY = (180.0, 260.0, 210.0, 330.0, 150.0), (90.0, 240.0, 120.0)
USES = [*(BladeUse(metres=m, went_dull=True) for m in DULL), *(BladeUse(metres=m, went_dull=False) for m in EARLY)]


def test_the_most_likely_life_is_scipy_s_fit_of_the_same_censored_data():
    shape, _, scale = stats.lognorm.fit(stats.CensoredData(uncensored=DULL, right=EARLY), floc=0)
    middles, spreads = np.linspace(4.5, 7, 1001)[:, None], np.linspace(0.1, 1.2, 551)[None, :]
    found = log_likelihood(USES, middles, spreads)
    best = np.unravel_index(found.argmax(), found.shape)
    assert middles[best[0], 0] == pytest.approx(np.log(scale), abs=0.004)
    assert spreads[0, best[1]] == pytest.approx(shape, abs=0.004)
    expected = (
        stats.lognorm.logpdf(DULL, shape, scale=scale).sum() + stats.lognorm.logsf(EARLY, shape, scale=scale).sum()
    )
    assert found.max() == pytest.approx(expected, abs=1e-3)


def test_the_share_that_is_dull_lies_about_kaplan_and_meier_s():
    life = BladeLife(USES)
    counted = stats.ecdf(stats.CensoredData(uncensored=DULL, right=EARLY)).cdf
    for metres in (160.0, 220.0, 300.0):
        found = life.dull_by(metres)
        assert found.low - 0.05 <= counted.evaluate(metres) <= found.high + 0.05
        assert found.low < found.likely < found.high


def test_blades_that_were_changed_early_make_the_life_longer_than_if_they_had_gone_dull():
    as_dull = BladeLife([BladeUse(metres=use.metres, went_dull=True) for use in USES])
    assert BladeLife(USES).metres_at(0.5) > 1.1 * as_dull.metres_at(0.5)


@pytest.mark.parametrize("dull", [0, 1])
def test_no_life_is_claimed_before_two_went_dull(dull):
    uses = [BladeUse(metres=100, went_dull=True)] * dull + [BladeUse(metres=80, went_dull=False)] * 5
    life = BladeLife([*uses, BladeUse(metres=0.0, went_dull=True)])  # what cut 0 m says nothing
    assert life.dull == dull
    assert life.dull_by(500) is None
    assert life.metres_at(0.1) is None


@settings(max_examples=25, deadline=None)
@given(st.lists(st.floats(1, 5000), min_size=2, max_size=6), st.lists(st.floats(1, 5000), max_size=4))
def test_the_share_grows_with_the_metres_and_finds_its_way_back(dull, early):
    life = BladeLife(
        [*(BladeUse(metres=m, went_dull=True) for m in dull), *(BladeUse(metres=m, went_dull=False) for m in early)]
    )
    shares = [life.dull_by(m).likely for m in (0, 1, 10, 100, 1000, 10_000, 100_000)]
    assert shares == sorted(shares)
    assert shares[0] == 0
    assert life.dull_by(life.metres_at(0.25)).likely == pytest.approx(0.25, abs=0.01)
