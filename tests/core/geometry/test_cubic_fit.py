"""Cubics through many chains at once: against known cubics, SciPy's least squares, and one by one."""

import numpy as np
import pytest
import shapely
from hypothesis import given, settings
from hypothesis import strategies as st
from scipy.optimize import least_squares

from honest_edge.core.geometry.cubic_fit import Chain, fit_cubics
from honest_edge.core.geometry.fitting import fit_ring, fit_rings
from honest_edge.core.geometry.paths import evaluate
from pictures import disc, square, star

places = st.floats(-3, 3)
arches = st.tuples(places, places, places, places).map(
    lambda v: np.array([(0.0, 0.0), (3 + v[0] / 3, 4 + v[1] / 3), (7 + v[2] / 3, 4 + v[3] / 3), (10.0, 0.0)])
)


def along(cubic, count=60):
    return evaluate(np.repeat(cubic[None], count, axis=0), np.linspace(0, 1, count))


def unit(vector):
    return vector / np.hypot(*vector)


@given(st.lists(arches, min_size=1, max_size=5), st.booleans(), st.booleans())
@settings(max_examples=100)
def test_better_parameters_never_make_a_fit_worse_and_its_error_is_true(cubics, first, last):
    chains = [
        Chain(along(c), unit(c[1] - c[0]) if first else None, unit(c[2] - c[3]) if last else None) for c in cubics
    ]
    fits, by_length = fit_cubics(chains, 0.1), fit_cubics(chains, 1e9)
    assert (fits.errors <= by_length.errors + 1e-9).all()
    for chain, found, error in zip(chains, fits.cubics, fits.errors, strict=True):
        near = along(found, 3000)
        assert max(np.hypot(*(near - point).T).min() for point in chain.points) <= error + 1e-3
        np.testing.assert_array_equal(found[[0, 3]], chain.points[[0, -1]])
        for held, handle in ((chain.first, found[1] - found[0]), (chain.last, found[2] - found[3])):
            assert held is None or (unit(handle) @ held == pytest.approx(1, abs=1e-9))


@pytest.mark.parametrize("is_held", [False, True])
def test_most_cubics_are_given_back_from_their_points(is_held):
    """Of 500, within a hundredth of the chord: parameters by length alone do so for a fifth and less."""
    ends = np.random.default_rng(4).uniform(-1, 1, (500, 4))
    cubics = [np.array([(0, 0), (3 + a, 4 + b), (7 + c, 4 + d), (10, 0)], np.float64) for a, b, c, d in ends]
    held = [(unit(c[1] - c[0]), unit(c[2] - c[3])) if is_held else (None, None) for c in cubics]
    chains = [Chain(along(cubic), *ways) for cubic, ways in zip(cubics, held, strict=True)]
    close, by_length = ((fit_cubics(chains, tolerance).errors < 0.1).mean() for tolerance in (0.1, 1e9))
    assert close > 0.8
    assert by_length < 0.25


@pytest.mark.parametrize("is_held", [False, True])
def test_handles_are_those_of_least_squares(is_held):
    random = np.random.default_rng(3)
    cubic = np.array([(0.0, 0.0), (2.0, 4.0), (7.0, 5.0), (10.0, 0.0)])
    points = (
        along(cubic) + random.normal(0, 0.4, (60, 2)) * np.linspace(0, 1, 60)[:, None] * np.linspace(1, 0, 60)[:, None]
    )
    points[0], points[-1] = cubic[0], cubic[3]
    held = (unit(cubic[1]), unit(cubic[2] - cubic[3])) if is_held else (None, None)
    fits = fit_cubics([Chain(points, *held)], 1e9)  # nothing is over it: the first parameters stay
    lengths = np.concatenate([[0], np.cumsum(np.hypot(*np.diff(points, axis=0).T))])
    t = lengths / lengths[-1]

    def built(free):
        one, two = (free[:1] * held[0], free[1:] * held[1]) if is_held else (free[:2], free[2:])
        return np.array([cubic[0], cubic[0] + one, cubic[3] + two, cubic[3]])

    def gap(free):
        return (evaluate(np.repeat(built(free)[None], 60, axis=0), t) - points).ravel()

    wanted = least_squares(gap, np.ones(2 if is_held else 4))
    np.testing.assert_allclose(fits.cubics[0], built(wanted.x), atol=1e-4)


def test_what_has_no_length_or_two_points_has_a_cubic():
    chains = [Chain(np.ones((6, 2)), None, None), Chain(np.array([(0.0, 0.0), (3.0, 0.0)]), None, None)]
    fits = fit_cubics(chains, 0.01)
    assert np.isfinite(fits.cubics).all()
    assert fits.errors.tolist() == [0, 0]
    np.testing.assert_allclose(fits.cubics[1], [(0, 0), (1, 0), (2, 0), (3, 0)])


def test_rings_fitted_together_are_those_fitted_alone():
    rings = [disc(9, 0, 0), square(12.0), star(10, 44)]
    settings_ = {"tolerance_mm": 0.02, "pixel_mm": 0.085}
    for together, ring in zip(fit_rings(rings, **settings_), rings, strict=True):
        np.testing.assert_allclose(together.cubics, fit_ring(ring, **settings_).cubics, atol=1e-9)


def test_a_speck_within_the_tolerance_keeps_its_area():
    splinter = np.array([(0.0, 0.0), (0.2, 0.005), (0.4, 0.0), (0.2, -0.005)])
    ring = fit_ring(splinter, tolerance_mm=0.05, pixel_mm=0.1)
    assert shapely.Polygon(ring.flattened(0.001)).area == pytest.approx(shapely.Polygon(splinter).area)
