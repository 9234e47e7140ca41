"""One sheet's error: signs, robustness, and the same fit by other libraries."""

import numpy as np
import pytest
import scipy.optimize
from hypothesis import given
from hypothesis import strategies as st
from skimage.transform import AffineTransform

from honest_edge.core.measure.sheet_error import design_matrix, displaced, fitted_error
from honest_edge.core.values.errors import BlockedError
from honest_edge.core.values.measured import ErrorParts, MeasuredPlace, parts_of

POINTS = np.array([(x, y) for y in (-110, -40, 40, 110) for x in (-80, 0, 80)], float)


def places(moved, points=POINTS):
    return [
        MeasuredPlace(x_mm=x, y_mm=y, dx_mm=dx, dy_mm=dy)
        for (x, y), (dx, dy) in zip(points.tolist(), moved.tolist(), strict=True)
    ]


parts = st.tuples(*[st.floats(-0.5, 0.5)] * 5).map(parts_of)


@given(parts)
def test_what_was_put_in_comes_out(error):
    found, _, repeat_mm, _ = fitted_error(places(displaced(error, POINTS)))
    assert found.values == pytest.approx(error.values, abs=1e-6)
    assert repeat_mm < 1e-4


def test_a_turn_is_clockwise_on_paper():
    """What lies right of the middle moves down."""
    dx, dy = displaced(ErrorParts(rotation_deg=1.0), np.array([(100.0, 0.0)]))[0]
    assert dx == pytest.approx(0.0, abs=1e-9)
    assert dy == pytest.approx(100 * np.radians(1))


def test_growth_moves_outward():
    moved = displaced(ErrorParts(scale_x_percent=1.0, scale_y_percent=-1.0), np.array([(50.0, 20.0)]))[0]
    assert moved == pytest.approx((0.5, -0.2))


def test_scipy_finds_the_same_by_least_squares():
    random = np.random.default_rng(4)
    moved = displaced(parts_of((0.2, -0.1, 0.03, 0.02, 0.05)), POINTS)
    moved = moved + random.normal(0, 0.04, moved.shape)
    found, unsure, repeat_mm, freedom = fitted_error(places(moved))
    solved = scipy.optimize.least_squares(lambda t: design_matrix(POINTS) @ t - moved.T.ravel(), np.zeros(5))
    assert found.values == pytest.approx(solved.x, abs=0.01)  # ours weighs the farthest a little less
    covariance = np.linalg.inv(solved.jac.T @ solved.jac) * 2 * solved.cost / (24 - 5)
    assert unsure.values == pytest.approx(np.sqrt(np.diag(covariance)), rel=0.25)
    assert repeat_mm == pytest.approx(0.04, rel=0.35)
    assert 15 <= freedom <= 19


def test_scikit_image_finds_the_same_affine_map():
    random = np.random.default_rng(5)
    error = parts_of((0.2, -0.1, 0.03, 0.02, 0.05))
    moved = displaced(error, POINTS) + random.normal(0, 0.01, POINTS.shape)
    affine = AffineTransform.from_estimate(POINTS, POINTS + moved)
    found = fitted_error(places(moved))[0]
    assert affine.translation == pytest.approx((found.shift_x_mm, found.shift_y_mm), abs=0.004)
    assert 100 * (affine.params[0, 0] - 1) == pytest.approx(found.scale_x_percent, abs=0.02)
    assert 100 * (affine.params[1, 1] - 1) == pytest.approx(found.scale_y_percent, abs=0.02)
    turn = np.degrees(affine.params[1, 0] - affine.params[0, 1]) / 2
    assert turn == pytest.approx(found.rotation_deg, abs=0.004)


def test_a_torn_place_does_not_pull_the_rest():
    error = parts_of((0.1, 0.1, 0.0, 0.0, 0.0))
    moved = displaced(error, POINTS) + np.random.default_rng(6).normal(0, 0.02, POINTS.shape)
    moved[3] += (1.5, -1.0)
    found = fitted_error(places(moved))[0]
    assert (found.shift_x_mm, found.shift_y_mm) == pytest.approx((0.1, 0.1), abs=0.03)


def test_too_few_places_and_a_single_row_are_refused():
    with pytest.raises(BlockedError, match="3 places could be measured, and 4 are needed"):
        fitted_error(places(np.zeros((3, 2)), POINTS[:3]))
    row = np.array([(x, 0.0) for x in range(0, 100, 20)])
    with pytest.raises(BlockedError, match="one row"):
        fitted_error(places(np.zeros((5, 2)), row))


def test_the_mean_deviation_and_the_repeatability_are_those_of_the_standard():
    """ISO 230-2 (from memory): mean deviation is the mean over runs at a place, repeatability four deviations.

    Five runs over twelve places that all deviate alike: the fit's shift is the mean deviation, 4 s the repeatability.
    """
    random = np.random.default_rng(8)
    runs = 0.013 + random.normal(0, 0.002, (5, 12, 2))
    deviation = np.sqrt(np.mean(runs.var(axis=0, ddof=1)))
    found, _, repeat_mm, _ = fitted_error(places(np.concatenate(runs), np.concatenate([POINTS] * 5)))
    assert (found.shift_x_mm, found.shift_y_mm) == pytest.approx(runs.mean((0, 1)), abs=3e-4)
    assert 4 * repeat_mm == pytest.approx(4 * deviation, rel=0.12)


def test_the_repeat_is_right_on_average():
    """Tukey's weights cut what is normal, too; that is made up for."""
    random = np.random.default_rng(9)
    found = [fitted_error(places(random.normal(0, 0.05, POINTS.shape)))[2] for _ in range(300)]
    assert np.sqrt(np.mean(np.square(found))) == pytest.approx(0.05, rel=0.04)
