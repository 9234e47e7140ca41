"""A run against its forecast, by SciPy's beta-binomial distribution."""

import pytest
from hypothesis import given
from hypothesis import strategies as st
from scipy import stats

from honest_edge.core.workshop.outcome import chance_of_so_few, fell_short


@given(st.integers(0, 300), st.integers(0, 300), st.floats(0, 1))
def test_the_chance_is_that_of_a_beta_binomial(good, bad, forecast):
    if good + bad == 0:
        return
    expected = stats.betabinom(good + bad, 1 + 40 * forecast, 1 + 40 * (1 - forecast)).cdf(good)
    assert chance_of_so_few(good, bad, forecast) == pytest.approx(expected, rel=1e-6, abs=1e-9)


@pytest.mark.parametrize(
    ("good", "bad", "forecast", "short"),
    [(31, 2, 0.95, False), (30, 6, 0.97, True), (20, 4, 0.99, True), (8, 1, 0.94, False), (0, 3, 0.9, True),
     (12, 0, 0.99, False), (1, 9, None, False), (0, 1, 0.5, False), (5000, 900, 0.97, True)],
)  # fmt: skip
def test_a_run_falls_short_where_chance_would_rarely_do_it(good, bad, forecast, short):
    assert fell_short(good, bad, forecast) == short
