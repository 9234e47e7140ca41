"""Rehearsed sheets against distributions that are known in closed form, and what each mishap does to them."""

import math
from concurrent.futures import ThreadPoolExecutor
from dataclasses import replace

import numpy as np
import pytest
import shapely
from hypothesis import given
from hypothesis import strategies as st
from scipy import stats

from honest_edge.core.values.misregistration import Misregistration, Scatter, assumed_misregistration
from honest_edge.simulator.faults import FAULTS, SLIP_MM, fault
from honest_edge.simulator.judge import Judge, StickerShape
from honest_edge.simulator.rehearsal import FATES, Stage, StagedCopy, good_counts, rehearsed, roller_tracks
from honest_edge.simulator.sheets_by_chance import SheetErrors, drawn_benches, drawn_sheets

RADIUS_MM, VISIBLE_MM, COUNT = 10.0, 0.1, 20_000
STILL = np.array([[1.0, 0.0, 0.0], [0.0, 1.0, 0.0]])
STILL_BENCH = Misregistration()
NO_POINTS = np.empty((0, 2))


def circle(radius_mm):
    return shapely.Point(0, 0).buffer(radius_mm, quad_segs=128)


def disc_with(bleed_mm):
    cut = circle(RADIUS_MM)
    ink = shapely.MultiPolygon([circle(RADIUS_MM + bleed_mm)])
    points = shapely.get_coordinates(cut)[:-1]
    return StickerShape(cut_points=points, ink=ink, detail_points=NO_POINTS, enclosed=shapely.MultiPolygon([cut]))


def errors_of(parts, repeat_mm=0.0):
    parts = np.atleast_2d(np.array(parts, float))
    return SheetErrors(parts=parts, repeat_mm=np.full(len(parts), repeat_mm))


def share_clean(shape, error, count=COUNT, seed=1, matrix=STILL):
    random = np.random.default_rng(seed)
    errors = drawn_sheets(error, count, random)
    repeats = random.standard_normal((count, 2)) * errors.repeat_mm[:, None]
    return float(np.mean(Judge(shape, VISIBLE_MM).spoiled(errors, repeats, matrix) == 0))


@pytest.mark.parametrize("bleed_mm", [0.2, 0.5, 0.8])
def test_a_disc_with_even_bleed_follows_rayleigh(bleed_mm):
    """P(r <= R) = 1 - exp(-R^2 / 2 s^2): Lord Rayleigh, Philosophical Magazine 10, 1880."""
    error = assumed_misregistration(0.7)
    truth = 1 - math.exp(-((bleed_mm + VISIBLE_MM) ** 2) / 2 / error.shift_x_mm.spread**2)
    assert share_clean(disc_with(bleed_mm), error) == pytest.approx(truth, abs=0.01)


def test_a_disc_on_a_bench_measured_on_few_sheets_follows_fisher():
    """r^2 / 2 s^2 of a bivariate t of n degrees of freedom is F(2, n): N. L. Johnson and S. Kotz, from memory."""
    error = replace(assumed_misregistration(0.7), degrees_of_freedom=4.0)
    limit = (0.6**2) / 2 / error.shift_x_mm.spread**2
    assert share_clean(disc_with(0.5), error) == pytest.approx(stats.f.cdf(limit, 2, 4), abs=0.012)


def test_repeat_adds_to_the_shift_as_variances_do():
    shift = Misregistration(shift_x_mm=Scatter(spread=0.24), shift_y_mm=Scatter(spread=0.24), repeat_mm=0.18)
    truth = 1 - math.exp(-(0.6**2) / 2 / (0.24**2 + 0.18**2))
    assert share_clean(disc_with(0.5), shift) == pytest.approx(truth, abs=0.01)


def test_a_turn_moves_what_lies_far_from_the_middle_and_growth_moves_it_outward():
    errors = errors_of([(0, 0, 0.1, 0, 0), (0, 0, 0, 1.0, 0.5)])
    moved = errors.moved(np.array([(0.0, 100.0), (100.0, 40.0)]))
    assert moved[0, 0] == pytest.approx((-math.radians(0.1) * 100, 0))  # clockwise on paper, y down
    assert moved[1, 1] == pytest.approx((1.0, 0.2))


def test_a_copy_that_lies_turned_is_judged_as_it_lies():
    """Ink reaches past the cut to the right alone: turned by a quarter that is down the sheet."""
    cut = shapely.box(-10, -10, 10, 10)
    shape = StickerShape(
        cut_points=np.array([(10.0, y) for y in np.linspace(-9, 9, 30)]),
        ink=shapely.MultiPolygon([shapely.box(-10, -40, 11.0, 40)]),
        detail_points=NO_POINTS,
        enclosed=shapely.MultiPolygon([cut]),
    )
    quarter = np.array([[0.0, -1.0, 50.0], [1.0, 0.0, 0.0]])
    judge, still = Judge(shape, 0.0), np.zeros((1, 2))
    assert judge.spoiled(errors_of((1.2, 0, 0, 0, 0)), still, STILL) == [1]
    assert judge.spoiled(errors_of((1.2, 0, 0, 0, 0)), still, quarter) == [0]
    assert judge.spoiled(errors_of((0, 1.2, 0, 0, 0)), still, quarter) == [1]


def test_where_it_is_spoiled_and_by_how_much():
    judge = Judge(disc_with(0.5), VISIBLE_MM)
    loss, place, beyond = judge.worst(errors_of((0.9, 0, 0, 0, 0)), np.zeros(2), STILL)
    assert loss == "white"
    assert place == pytest.approx((RADIUS_MM, 0.0), abs=0.2)
    assert beyond == pytest.approx(0.9 - 0.5 - VISIBLE_MM, abs=0.005)
    assert judge.worst(errors_of((0.3, 0, 0, 0, 0)), np.zeros(2), STILL) is None


def test_detail_inside_the_cut_is_lost_where_the_cut_moves_over_it():
    cut, detail = circle(RADIUS_MM), circle(9.7)
    points = shapely.get_coordinates(detail)[:-1]
    whole = shapely.MultiPolygon([cut])
    shape = StickerShape(cut_points=NO_POINTS, ink=whole, detail_points=points, enclosed=whole)
    judge = Judge(shape, VISIBLE_MM)
    loss, place, _ = judge.worst(errors_of((0.6, 0, 0, 0, 0)), np.zeros(2), STILL)
    assert loss == "art"
    assert place == pytest.approx((-9.7, 0.0), abs=0.2)  # the side that the cut comes from
    assert judge.spoiled(errors_of((0.35, 0, 0, 0, 0)), np.zeros((1, 2)), STILL) == [0]
    assert judge.spoiled(errors_of((0.6, 0, 0, 0, 0)), np.zeros((1, 2)), STILL) == [2]


@given(st.floats(0, 1.2), st.floats(0, 0.5), st.integers(0, 50))
def test_more_bleed_never_spoils_a_sticker_that_was_clean(bleed_mm, more_mm, seed):
    errors = drawn_sheets(assumed_misregistration(0.9), 40, np.random.default_rng(seed))
    little, much = (
        Judge(disc_with(bleed), VISIBLE_MM).spoiled(errors, np.zeros((40, 2)), STILL)
        for bleed in (bleed_mm, bleed_mm + more_mm)
    )
    assert not np.any((little == 0) & (much != 0))


def stage_of(places, *, three=True, half_mm=RADIUS_MM):
    copies = tuple(
        StagedCopy(
            design=0, matrix=np.array([[1.0, 0, x], [0, 1.0, y]]), middle_mm=np.array([x, y], float), half_mm=half_mm
        )
        for x, y in places
    )
    return Stage(
        judges=[Judge(disc_with(0.5), VISIBLE_MM)],
        pages=(copies,),
        size_mm=(210.0, 297.0),
        printed_mm=(200.0, 287.0),
        has_three_marks=three,
        feed_side="top",
    )


def fates(stage, *wrong, error=STILL_BENCH, sheets=4):
    made = list(rehearsed(stage, error, sheets=sheets, seed=3, faults=frozenset(wrong)))
    assert [sheet.number for sheet in made] == list(range(sheets))
    return [[FATES[fate] for fate in sheet.fates] for sheet in made]


def test_a_bench_of_zero_spoils_nothing_and_one_of_centimetres_everything():
    stage = stage_of([(0, 0), (60, 90)])
    assert all(fate == "good" for sheet in fates(stage) for fate in sheet)
    far = Misregistration(shift_x_mm=Scatter(bias=15.0), shift_y_mm=Scatter(spread=12.0))
    assert all(fate == "white" for sheet in fates(stage, error=far) for fate in sheet)


def test_each_mishap_spoils_what_it_would_on_paper():
    places = [(-50, -100), (0, 0), (50, 100)]
    three, four = stage_of(places), stage_of(places, three=False)
    assert set(fates(three, "missed")[0]) == {"uncut"}
    assert set(fates(three, "turned")[0]) == {"uncut"}  # the reader misses the mark that is not there
    assert set(fates(four, "turned")[0]) == {"elsewhere"}
    assert set(fates(three, "wrong side")[0]) == {"wrong side"}
    # fitted to 200 of 210 mm the print ends 5 % short: 2.5 mm at 50 mm from the middle, nothing in the middle
    assert fates(three, "fitted")[0] == ["white", "good", "white"]
    assert SLIP_MM > 0.6
    assert fates(three, "slip")[0] == ["good", "good", "white"]  # what goes through after the middle
    (left, right), _ = roller_tracks(three)
    assert left < -50 < right
    assert fates(three, "wet")[0] == ["smeared", "good", "smeared"]


def test_a_dull_blade_spoils_more_by_chance():
    error = Misregistration(repeat_mm=0.15)
    stage = stage_of([(0, 0)] * 12)
    sharp, dull = (
        np.mean([fate == "good" for sheet in fates(stage, *wrong, error=error, sheets=100) for fate in sheet])
        for wrong in ((), ("dull",))
    )
    assert sharp > 0.99
    assert dull == pytest.approx(1 - math.exp(-(0.6**2) / 2 / 0.45**2), abs=0.03)


def test_the_same_seed_gives_the_same_sheets_and_more_of_them_begin_alike():
    stage, error = stage_of([(0, 0), (40, 60)]), replace(assumed_misregistration(1.0), repeat_mm=0.1)
    one, other = (list(rehearsed(stage, error, sheets=30, seed=9)) for _ in range(2))
    assert [sheet.fates.tolist() for sheet in one] == [sheet.fates.tolist() for sheet in other]
    different = list(rehearsed(stage, error, sheets=30, seed=10))
    assert [sheet.fates.tolist() for sheet in different] != [sheet.fates.tolist() for sheet in one]


def test_counts_of_good_ones_are_those_of_the_sheets():
    stage, error = stage_of([(0, 0), (30, 30), (60, 90)]), assumed_misregistration(1.2)
    counts = good_counts(stage, 0, drawn_sheets(error, 4000, np.random.default_rng(2)), np.random.default_rng(2))
    assert counts.shape == (4000, 1)
    truth = 1 - math.exp(-(0.6**2) / 2 / error.shift_x_mm.spread**2)
    assert counts.mean() / 3 == pytest.approx(truth, abs=0.02)
    # shifts are shared by a sheet: without repeat all of it is good or none
    assert set(counts[:, 0].tolist()) == {0, 3}


def test_benches_that_agree_with_a_few_sheets_spread_as_what_is_known_of_them():
    """The mean of n values of spread s is known to s / sqrt(n); together they give back the predictive spread."""
    freedom = 8.0
    error = Misregistration(shift_x_mm=Scatter(bias=0.2, spread=0.1), degrees_of_freedom=freedom)
    benches = drawn_benches(error, 5, 4000, 4, np.random.default_rng(1))
    every = np.concatenate([bench.parts[:, 0] for bench in benches])
    scaled = (every - 0.2) / 0.1
    assert stats.kstest(scaled[::4], stats.t(freedom).cdf).pvalue > 0.001
    means = np.array([bench.parts[:, 0].mean() for bench in benches])
    assert np.std(means) > 0.5 * np.std(every)  # a run shares its bench: its sheets do not cancel out
    (alone,) = drawn_benches(assumed_misregistration(0.5), 0, 32, 75, np.random.default_rng(1))
    assert len(alone) == 32 * 75


def test_every_mishap_says_what_it_looks_like_and_what_tells_of_it():
    assert len({one.key for one in FAULTS}) == len(FAULTS) == 7
    for one in FAULTS:
        assert one.looks
        assert one.noticed
        assert fault(one.key) is one


def test_one_judge_is_asked_by_several_threads():
    """GEOS reads a prepared geometry for one thread at a time: the answers stay those of one."""
    judge = Judge(disc_with(0.5), VISIBLE_MM)
    errors = drawn_sheets(assumed_misregistration(1.2), 3000, np.random.default_rng(5))
    still = np.zeros((3000, 2))
    alone = judge.spoiled(errors, still, STILL)
    with ThreadPoolExecutor(4) as threads:
        together = list(threads.map(lambda _: judge.spoiled(errors, still, STILL), range(12)))
    assert all(np.array_equal(found, alone) for found in together)
