"""From sheets to what the next one will show."""

import math
from dataclasses import replace

import numpy as np
import pytest
import scipy.stats
from hypothesis import given
from hypothesis import strategies as st

from honest_edge.core.measure.bench_error import (
    WeighedSheet,
    believed,
    contradicts,
    correction_for,
    faded,
    interval,
    misregistration_of,
    prior_spread,
    within_over_sheet,
)
from honest_edge.core.values.measured import ErrorParts, MeasuredPlace, MeasuredSheet
from honest_edge.core.values.misregistration import Misregistration, Scatter, assumed_misregistration


def sheet(shift=0.1, *, repeat_mm=0.05, correction=ErrorParts(), by="scan", **parts):  # noqa: B008
    return MeasuredSheet(
        picture="sheet", by=by, error=ErrorParts(shift_x_mm=shift, **parts), unsure=ErrorParts(), repeat_mm=repeat_mm,
        degrees_of_freedom=19, places=(MeasuredPlace(x_mm=0, y_mm=0, dx_mm=0, dy_mm=0),), correction=correction,
    )  # fmt: skip


def weighed(*shifts, **how):
    return [WeighedSheet(sheet=sheet(shift), **how) for shift in shifts]


def test_nothing_measured_is_nothing_known():
    assert believed([], 0.5) is None
    assert believed(weighed(0.1, weight=0.0), 0.5) is None


def test_the_formula_is_that_of_the_conjugate_prior():
    """Each number once more, written out (A. Gelman et al., Bayesian Data Analysis, 3rd ed., 3.3)."""
    values = [0.10, 0.16, 0.13]
    part = believed(weighed(*values), 0.5).shift_x_mm
    kappa, nu, s0 = 0.05 + 3, 2 + 3, prior_spread(0.5)
    mean = sum(values) / kappa
    middle = sum(values) / 3
    squares = 2 * s0**2 + sum((v - middle) ** 2 for v in values) + 0.05 * 3 * middle**2 / kappa
    assert part.mean == pytest.approx(mean)
    assert part.degrees_of_freedom == nu
    assert part.spread == pytest.approx(math.sqrt(squares / nu) * math.sqrt(1 + 1 / kappa))


def test_a_second_sheet_stays_within_what_was_typed_19_times_of_20():
    """Drawn: a spread from the prior, two sheets from it."""
    random = np.random.default_rng(1)
    spread = prior_spread(0.5) * np.sqrt(2 / random.chisquare(2, 200_000))
    apart = np.hypot(*(spread * math.sqrt(2) * random.normal(size=(2, 200_000))))
    assert np.mean(apart < 0.5) == pytest.approx(0.95, abs=0.002)


@pytest.mark.parametrize(
    ("freedom", "reach"), [(1, 12.706), (2, 4.303), (3, 3.182), (5, 2.571), (10, 2.228), (20, 2.086), (30, 2.042)]
)
def test_intervals_are_those_of_the_table(freedom, reach):
    """NIST/SEMATECH e-Handbook of Statistical Methods, 1.3.6.7.2, critical values of Student's t, two-sided 5 %."""
    part = replace(believed(weighed(0.0), 0.5).shift_x_mm, mean=0.0, spread=1.0, degrees_of_freedom=freedom)
    low, high = interval(part)
    assert high == pytest.approx(reach, abs=6e-4)
    assert low == -high


@pytest.mark.parametrize(("freedom", "critical"), [(3, 9.552), (5, 5.786), (10, 4.103), (20, 3.493)])
def test_the_share_of_a_disc_follows_f(freedom, critical):
    """The same handbook, 1.3.6.7.3: upper 5 % of F with 2 and nu degrees; r^2 / 2 of Student's t in the plane is F."""
    error = Misregistration(
        shift_x_mm=Scatter(spread=1.0), shift_y_mm=Scatter(spread=1.0), degrees_of_freedom=freedom
    )  # fmt: skip
    assert error.standing_out(0.05) == pytest.approx(math.sqrt(2 * critical), rel=2e-4)
    assert error.standing_out(0.05) == pytest.approx(math.sqrt(2 * scipy.stats.f.ppf(0.95, 2, freedom)), rel=1e-9)


@given(st.floats(0.05, 5.0), st.floats(-0.8, 0.8))
def test_a_typed_number_never_outweighs_a_measured_sheet(typed_mm, measured_mm):
    part = believed(weighed(measured_mm), typed_mm).shift_x_mm
    assert abs(part.mean - measured_mm) <= 0.05 * abs(measured_mm) + 1e-12


def test_a_bench_measured_once_promises_less_than_one_measured_ten_times():
    once, often = (misregistration_of(believed(weighed(*[0.1] * n), 0.5)) for n in (1, 10))
    assert once.degrees_of_freedom == 3
    assert often.degrees_of_freedom == 12
    assert within_over_sheet(once, (80, 100)) > within_over_sheet(often, (80, 100))


def test_sheets_from_before_a_reset_tell_the_spread_alone():
    before = [WeighedSheet(sheet=sheet(shift), epoch=0) for shift in (0.5, 0.55, 0.45, 0.5)]
    after = WeighedSheet(sheet=sheet(0.1), epoch=1)
    part = believed([*before, after], 0.5).shift_x_mm
    assert part.mean == pytest.approx(0.1, abs=0.01)
    assert part.degrees_of_freedom == pytest.approx(2 + 4 - 1 + 1)
    assert part.spread < believed([after], 0.5).shift_x_mm.spread


def test_what_our_files_were_moved_by_is_no_error_of_the_bench():
    moved = ErrorParts(shift_x_mm=-0.3)
    part = believed([WeighedSheet(sheet=sheet(0.02, correction=moved))], 0.5).shift_x_mm
    assert part.mean == pytest.approx(0.32 / 1.05)


def test_the_correction_leaves_nothing_steady():
    belief = believed(weighed(0.2, 0.22, 0.21), 0.5)
    assert misregistration_of(belief, correction_for(belief)).shift_x_mm.bias == pytest.approx(0.0, abs=1e-12)


def test_old_sheets_fade():
    assert faded(0, 0) == 1.0
    assert faded(0, 180 * 86_400_000) == pytest.approx(0.5)
    assert faded(10, 0) == 1.0  # a clock that was set back


def test_the_eye_does_not_make_stickers_differ():
    read = WeighedSheet(sheet=sheet(repeat_mm=0.05, by="eye"))
    assert believed([read], 0.5).repeat_mm == pytest.approx(0.03)
    assert believed([WeighedSheet(sheet=sheet(repeat_mm=0.03, by="eye"))], 0.5).repeat_mm == 0.0


def test_a_sheet_that_contradicts_what_was_typed_is_told():
    assert contradicts(sheet(1.2), 0.5)
    assert not contradicts(sheet(0.3), 0.5)
    assert contradicts(sheet(0.2), 0.0)


def test_the_distance_over_a_sheet_is_that_of_rayleigh_where_only_the_shift_varies():
    """P(r < R) = 1 - exp(-R^2 / 2 s^2)."""
    found = within_over_sheet(assumed_misregistration(0.5), (80.0, 100.0))
    assert found == pytest.approx(0.5, rel=0.03)
