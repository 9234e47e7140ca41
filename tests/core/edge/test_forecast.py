"""The forecast against closed forms, and against errors drawn one by one."""

import math
from dataclasses import replace

import numpy as np
import pytest
import shapely
from hypothesis import given, settings
from hypothesis import strategies as st
from scipy import stats
from scipy.stats import norm, rayleigh

from edges import exact_model, made
from honest_edge.core.edge import changes
from honest_edge.core.edge.changes import smallest_change
from honest_edge.core.edge.forecast import (
    FINE,
    LIVE,
    drawn_errors,
    excess_of,
    farthest_mm,
    forecast,
    place_bands,
    place_chances,
)
from honest_edge.core.edge.sheet_chance import all_clean
from honest_edge.core.geometry.paths import as_multipolygon
from honest_edge.core.values.errors import UsageError
from honest_edge.core.values.misregistration import (
    MARKS_MIDDLE,
    Misregistration,
    Scatter,
    SheetPlace,
    assumed_misregistration,
    within_mm,
)
from honest_edge.core.values.specs import SCHOOL_DEFAULTS, EdgeRecipe
from honest_edge.core.values.stock import Stock
from pictures import coverage, disc, rgba, star

DISC = shapely.Point(20, 20).buffer(12, quad_segs=180)


def shift(spread, bias_x=0.0):
    return Misregistration(shift_x_mm=Scatter(bias=bias_x, spread=spread), shift_y_mm=Scatter(spread=spread))


def share(model, error, place=MARKS_MIDDLE, visible_mm=0.0, fineness=FINE):
    return forecast(model, error, place, visible_mm=visible_mm, fineness=fineness).share_clean


@pytest.mark.parametrize("ratio", [0.5, 0.75, 1, 1.5, 2, 2.5, 3])
def test_a_disc_with_even_bleed_follows_the_rayleigh_distribution(ratio):
    bleed = 0.4 * ratio
    model = exact_model(DISC, ink=DISC.buffer(bleed, quad_segs=180))
    assert share(model, shift(0.4)) == pytest.approx(rayleigh.cdf(bleed, scale=0.4), abs=0.005)
    assert share(model, shift(0.4), fineness=LIVE) == pytest.approx(rayleigh.cdf(bleed, scale=0.4), abs=0.03)


def test_white_is_seen_only_beyond_the_visible_width():
    model = exact_model(DISC, ink=DISC.buffer(0.3, quad_segs=180))
    assert share(model, shift(0.3), visible_mm=0.15) == pytest.approx(rayleigh.cdf(0.45, scale=0.3), abs=0.005)


@pytest.mark.parametrize("bleed", [0.1, 0.3, 0.6])
def test_a_half_plane_follows_the_normal_distribution(bleed):
    square = shapely.box(0, 0, 30, 30)
    ink = shapely.box(-30, -30, 30 + bleed, 60)  # far past the cut on all sides but the right one
    assert share(exact_model(square, ink=ink), shift(0.3, bias_x=0.1)) == pytest.approx(
        norm.cdf(bleed, loc=0.1, scale=0.3), abs=0.005
    )


@pytest.mark.parametrize(("away_mm", "turn_deg"), [(40, 0), (120, 90), (120, 180), (90, 37)])
def test_rotation_grows_with_the_distance_from_the_marks(away_mm, turn_deg):
    small = shapely.Point(0, 0).buffer(2, quad_segs=90)
    model = exact_model(small, ink=small.buffer(0.3, quad_segs=90))
    place = SheetPlace(x_mm=0.6 * away_mm, y_mm=-0.8 * away_mm, turn_deg=turn_deg)
    moved = math.radians(0.15) * away_mm
    error = Misregistration(rotation_deg=Scatter(spread=0.15))
    assert share(model, error, place) == pytest.approx(math.erf(0.3 / moved / math.sqrt(2)), abs=0.005)


@pytest.mark.parametrize(
    ("part", "per_unit_mm", "at", "moved"),
    [
        ("rotation_deg", math.radians(100), (100, 0), (0, 1)),  # clockwise: what lies right goes down,
        ("rotation_deg", math.radians(100), (0, 100), (-1, 0)),  # and what lies below goes left
        ("scale_x_percent", 1.0, (100, 0), (1, 0)),
        ("scale_y_percent", 1.0, (0, 100), (0, 1)),
    ],
)
@pytest.mark.parametrize("turn_deg", [0, 90, -37])
def test_what_a_shift_takes_back_comes_out_clean_and_what_it_adds_to_does_not(part, per_unit_mm, at, moved, turn_deg):
    """The share itself tells the sign of every part: the shift that undoes it, and the same the other way."""
    small = shapely.Point(0, 0).buffer(1, quad_segs=90)
    model = exact_model(small, ink=small.buffer(0.3, quad_segs=90))
    value = 0.5 / per_unit_mm
    place = SheetPlace(x_mm=at[0], y_mm=at[1], turn_deg=turn_deg)

    def share_with(sign):
        x, y = (sign * 0.5 * one for one in moved)
        shifts = {"shift_x_mm": Scatter(bias=x, spread=0.05), "shift_y_mm": Scatter(bias=y, spread=0.05)}
        return share(model, Misregistration(**{part: Scatter(bias=value)}, **shifts), place)

    assert share_with(-1) > 0.999
    assert share_with(0) < 0.001
    assert share_with(1) < 0.001


@pytest.mark.parametrize("turn_deg", [0, 90, 180, 37])
def test_a_shift_of_the_sheet_is_turned_into_the_art_s_own_frame(turn_deg):
    """The ink reaches far on all sides but the art's right one, which the turn takes round."""
    model = exact_model(shapely.box(0, 0, 30, 30), ink=shapely.box(-30, -30, 30.2, 60))
    angle = math.radians(turn_deg)
    for way, clean in ((1, False), (-1, True)):
        x, y = (way * 0.5 * part for part in (math.cos(angle), math.sin(angle)))
        error = Misregistration(shift_x_mm=Scatter(bias=x, spread=0.05), shift_y_mm=Scatter(bias=y, spread=0.05))
        found = share(model, error, SheetPlace(turn_deg=turn_deg))
        assert found > 0.999 if clean else found < 0.001


def test_scale_moves_a_sticker_by_its_place():
    small = shapely.Point(0, 0).buffer(2, quad_segs=90)
    model = exact_model(small, ink=small.buffer(0.3, quad_segs=90))
    error = Misregistration(scale_x_percent=Scatter(bias=0.1, spread=0.2))
    found = share(model, error, SheetPlace(x_mm=100))
    # the sticker's own rim, 2 mm nearer or farther, moves 2 % more or less
    assert found == pytest.approx(norm.cdf(0.3, 0.1, 0.2) - norm.cdf(-0.3, 0.1, 0.2), abs=0.01)


def test_detail_counts_as_white_does():
    inner = DISC.buffer(-0.5, quad_segs=180)
    model = exact_model(DISC, detail=inner)
    found = forecast(model, shift(0.3), MARKS_MIDDLE, visible_mm=0.0)
    assert found.share_clean == pytest.approx(rayleigh.cdf(0.5, scale=0.3), abs=0.005)
    assert found.share_without_white == 1
    assert found.narrowest_border_mm == pytest.approx(0.5 - rayleigh.ppf(0.95, scale=0.3), abs=0.01)


def test_five_errors_at_once_agree_with_errors_drawn_one_by_one():
    star = shapely.Polygon([(20 + r * math.cos(a), 20 + r * math.sin(a)) for a, r in _star()])
    model = exact_model(star, ink=star.buffer(0.5), detail=shapely.Point(20, 20).buffer(7.2))
    error = Misregistration(
        shift_x_mm=Scatter(bias=0.1, spread=0.2),
        shift_y_mm=Scatter(bias=-0.05, spread=0.25),
        rotation_deg=Scatter(spread=0.1),
        scale_x_percent=Scatter(spread=0.1),
        scale_y_percent=Scatter(bias=0.05, spread=0.1),
        repeat_mm=0.1,
    )
    place = SheetPlace(x_mm=70, y_mm=-90, turn_deg=270)
    drawn = drawn_errors(error, np.random.default_rng(3), 8000)
    counted = float((excess_of(model, place, drawn) <= 0.1).mean())
    found = forecast(model, error, place, visible_mm=0.1)
    assert found.share_clean == pytest.approx(counted, abs=0.015)
    assert 0 < found.uncertainty < 0.05


def _star():
    return [(math.pi * k / 5, 12 if k % 2 == 0 else 8) for k in range(10)]


def test_no_error_is_certain_and_centimetres_are_hopeless():
    model = exact_model(DISC, ink=DISC.buffer(0.3, quad_segs=90))
    none = forecast(model, Misregistration(), MARKS_MIDDLE, visible_mm=0.0)
    assert (none.share_clean, none.uncertainty) == (1.0, 0.0)
    late = Misregistration(shift_x_mm=Scatter(bias=1.0))
    assert share(model, late) == 0.0
    assert share(model, shift(20)) < 0.001
    with pytest.raises(UsageError, match="must be 0 to 20 mm"):
        shift(50)


def test_what_can_never_go_wrong_is_clean():
    model = exact_model(DISC)
    assert share(model, shift(1)) == 1
    assert share(model, assumed_misregistration(3)) == 1


@given(st.floats(0.05, 2.0))
def test_an_assumed_distance_is_kept_19_times_of_20(distance):
    error = assumed_misregistration(distance)
    assert rayleigh.cdf(distance, scale=error.shift_x_mm.spread) == pytest.approx(0.95)
    assert within_mm(error) == pytest.approx(distance)


@pytest.mark.slow
@settings(max_examples=25)
@given(st.floats(0.0, 1.5), st.floats(0.0, 1.5), st.floats(0.05, 0.6))
def test_more_bleed_never_makes_it_worse(one, two, spread):
    less, more = sorted((one, two))
    disc = shapely.Point(20, 20).buffer(4, quad_segs=16)
    models = [exact_model(disc, ink=disc.buffer(bleed, quad_segs=16)) for bleed in (less, more)]
    found = [share(model, shift(spread), fineness=LIVE) for model in models]
    assert found[0] <= found[1] + 1e-3
    assert all(0 <= s <= 1 for s in found)


def test_the_table_knows_what_more_bleed_would_do():
    found = forecast(exact_model(DISC, ink=DISC.buffer(0.2, quad_segs=90)), shift(0.3), MARKS_MIDDLE, visible_mm=0.0)
    assert found.share_with(bleed_mm=0.3) == pytest.approx(rayleigh.cdf(0.5, scale=0.3), abs=0.005)


def test_the_likely_worst_of_twenty_is_as_far_as_one_in_twenty_goes():
    found = forecast(exact_model(DISC, ink=DISC.buffer(0.2, quad_segs=90)), shift(0.3), MARKS_MIDDLE, visible_mm=0.0)
    drift = found.likely_worst()
    assert math.hypot(*drift.shift_mm) == pytest.approx(rayleigh.ppf(0.95, scale=0.3), abs=0.08)
    moved = drift.affine(np.array([20.0, 20.0]))
    assert moved[:, 2] == pytest.approx(drift.shift_mm)


def test_a_place_has_the_chance_of_its_own_normal():
    points, normals = np.array([[32.0, 20.0], [20.0, 32.0]]), np.array([[1.0, 0.0], [0.0, 1.0]])
    error = Misregistration(shift_x_mm=Scatter(spread=0.2), shift_y_mm=Scatter(bias=0.1, spread=0.4))
    found = place_chances(points, normals, np.array([0.3, 0.3]), np.array([20.0, 20.0]), error, MARKS_MIDDLE)
    assert found == pytest.approx([norm.sf(0.3, 0, 0.2), norm.sf(0.3, 0.1, 0.4)])


def test_the_reach_of_a_model_covers_the_error():
    error, place = shift(0.2), SheetPlace(x_mm=60, y_mm=80)
    assert farthest_mm(error, 20, place) == pytest.approx(4.6 * 0.2 * math.sqrt(2), rel=1e-6)
    turned = replace(error, rotation_deg=Scatter(spread=0.1))
    assert farthest_mm(turned, 20, place) > farthest_mm(error, 20, place)


def test_a_whole_sheet_is_harder_than_a_sticker_where_stickers_differ():
    model = exact_model(DISC, ink=DISC.buffer(0.5, quad_segs=45))
    places = [SheetPlace(x_mm=x) for x in (-80, -40, 0, 40, 80)]
    alike, apart = shift(0.3), Misregistration(repeat_mm=0.3)
    one = rayleigh.cdf(0.5, scale=0.3)
    assert all_clean([(model, p) for p in places], alike, visible_mm=0) == pytest.approx(one, abs=0.06)
    assert all_clean([(model, p) for p in places], apart, visible_mm=0) == pytest.approx(one**5, abs=0.06)


# -- the smallest change --------------------------------------------------------------------------------


def disc_art(size=340, radius=140, colour=(180, 60, 40)):
    return rgba(coverage(disc(radius, size / 2, size / 2), size, size), colour)


@pytest.mark.slow
@pytest.mark.parametrize("target", [0.95, 0.99])
@pytest.mark.parametrize(
    ("recipe", "field"),
    [
        (replace(SCHOOL_DEFAULTS["bleed"], bleed_mm=0.1), "bleed_mm"),
        (SCHOOL_DEFAULTS["bare"], "bleed_mm"),
        (EdgeRecipe(school="border", offset_mm=0.2), "offset_mm"),
        (EdgeRecipe(school="inside", offset_mm=0.2, ease_mm=0), "offset_mm"),
    ],
    ids=["bleed", "bare", "border", "inside"],
)
def test_the_change_reaches_what_it_promises_and_less_does_not(recipe, field, target):
    error = shift(0.25)
    edge = made(disc_art(), recipe)
    changed = smallest_change(edge.forecast(error), recipe, target)
    assert changed is not None
    assert getattr(changed, field) > getattr(recipe, field)
    assert made(disc_art(), changed).forecast(error).share_clean >= target - 0.01
    less = replace(changed, **{field: getattr(changed, field) - 0.15})
    assert made(disc_art(), less).forecast(error).share_clean < target
    assert smallest_change(made(disc_art(), changed).forecast(error), changed, target - 0.02) == changed


def test_a_bare_edge_becomes_a_bleed_when_it_is_given_some():
    recipe = SCHOOL_DEFAULTS["bare"]
    assert smallest_change(made(disc_art(), recipe).forecast(shift(0.2)), recipe, 0.95).school == "bleed"


def test_no_change_is_offered_where_none_is_enough():
    recipe = SCHOOL_DEFAULTS["bleed"]
    assert smallest_change(made(disc_art(), recipe).forecast(shift(15)), recipe, 0.95) is None


# -- stock ----------------------------------------------------------------------------------------------


def test_contrast_is_judged_against_the_stock():
    red = disc_art(colour=(180, 60, 40))
    error, bare = shift(0.3), SCHOOL_DEFAULTS["bare"]
    on_white = made(red, bare).forecast(error)
    on_red = made(red, bare, stock=Stock(rgb=(184, 62, 44))).forecast(error)
    assert on_white.share_clean < 0.2
    assert on_red.share_clean == 1
    white_art = disc_art(colour=(255, 255, 255))
    assert made(white_art, bare).forecast(error).share_clean == 1
    assert made(white_art, bare, stock=Stock(is_clear=True)).forecast(error).share_clean < 0.2
    assert made(white_art, bare, stock=Stock(rgb=(60, 60, 60))).forecast(error).share_clean < 0.2


def test_stock_is_called_what_it_is():
    assert [Stock().bare_name, Stock(rgb=(200, 180, 140)).bare_name, Stock(is_clear=True).bare_name] == [
        "white",
        "unprinted stock",
        "clear film",
    ]


def test_what_is_see_through_inside_shows_no_white_where_a_cut_runs_near_it():
    ring = coverage(disc(140, 170, 170), 340, 340) - coverage(disc(132, 170, 170), 340, 340)
    art = rgba(np.clip(ring + coverage(disc(110, 170, 170), 340, 340), 0, 1), (180, 60, 40))
    recipe = EdgeRecipe(school="inside", offset_mm=0.9, ease_mm=0)  # runs in the see-through gap
    assert made(art, recipe).forecast(shift(0.15)).share_without_white > 0.9


def test_a_tip_is_as_blunt_as_the_picture_prints_it():
    art = rgba(coverage(star(150, 20) + 170, 340, 340), (30, 90, 160))
    bare = made(art, SCHOOL_DEFAULTS["bare"])
    sharp = exact_model(bare.cut.enclosed, ink=bare.outline.area)
    drawn_out = forecast(sharp, shift(0.1), MARKS_MIDDLE, visible_mm=0.1).share_clean
    assert bare.forecast(shift(0.1)).share_clean < drawn_out - 0.05


@pytest.mark.parametrize(("right_mm", "turn_deg"), [(0, 0), (100, 0), (100, 90), (60, 217)])
def test_a_positive_rotation_turns_the_cut_clockwise_on_paper(right_mm, turn_deg):
    """x is right and y down: clockwise, what lies right of the marks' middle goes down, what lies below goes left."""
    error = Misregistration(rotation_deg=Scatter(bias=1.0))
    place = SheetPlace(x_mm=right_mm, turn_deg=turn_deg)
    model = exact_model(DISC, ink=DISC.buffer(0.5))
    moved = forecast(model, error, place, visible_mm=0.0).likely_worst().affine(model.middle)
    angle = math.radians(turn_deg)
    to_sheet = np.array([[math.cos(angle), -math.sin(angle)], [math.sin(angle), math.cos(angle)]])
    for arm in ((10.0, 0.0), (0.0, 10.0)):  # in the art's frame
        before = model.middle + arm
        after = moved[:, :2] @ before + moved[:, 2]
        x, y = np.array([right_mm, 0.0]) + to_sheet @ arm  # on the sheet, from the marks' middle
        one = math.radians(1)
        assert to_sheet @ (after - before) == pytest.approx([-one * y, one * x], abs=1e-9)


@pytest.mark.parametrize("freedom", [3.0, 5.0, 10.0])
def test_a_disc_on_a_bench_that_was_measured_a_few_times_follows_students_t(freedom):
    """P(r < R) = 1 - (1 + R^2 / n s^2)^(-n / 2): r^2 / 2 s^2 is Fisher's F with 2 and n degrees (scipy.stats.f)."""
    angle = np.linspace(0, 2 * np.pi, 257)[:-1]
    disc = as_multipolygon(shapely.Polygon(12 * np.stack([np.cos(angle), np.sin(angle)], 1)))
    model = exact_model(disc, ink=as_multipolygon(shapely.buffer(disc, 0.5, quad_segs=64)))
    error = Misregistration(
        shift_x_mm=Scatter(spread=0.2), shift_y_mm=Scatter(spread=0.2), degrees_of_freedom=freedom
    )  # fmt: skip
    found = forecast(model, error, SheetPlace(), visible_mm=0.1).share_clean
    assert found == pytest.approx(stats.f.cdf((0.6 / 0.2) ** 2 / 2, 2, freedom), abs=0.006)
    drawn = drawn_errors(error, np.random.default_rng(4), 40_000)
    assert np.mean(np.hypot(*drawn[:, :2].T) <= 0.6) == pytest.approx(found, abs=0.01)


def test_bands_and_chances_of_a_place_have_the_tail_too():
    points, normals, middle = np.zeros((1, 2)), np.array([[1.0, 0.0]]), np.zeros(2)
    error = Misregistration(shift_x_mm=Scatter(spread=0.2), shift_y_mm=Scatter(spread=0.2), degrees_of_freedom=4.0)
    chance = place_chances(points, normals, np.array([0.5]), middle, error, SheetPlace())[0]
    assert chance == pytest.approx(stats.t.sf(2.5, 4), rel=1e-9)
    _, high = place_bands(points, normals, middle, error, SheetPlace())
    assert high[0] == pytest.approx(0.2 * np.sqrt(2 * stats.f.ppf(0.95, 2, 4)), rel=1e-9)


class Foreseen:
    """Two troubles, each a tenth of all stickers, which a millimetre ends: what is given to which can be counted."""

    is_inked = True

    def share_without_loss_at(self, out_mm):
        return min(1.0, 0.9 + 0.1 * out_mm)

    def share_with(self, bleed_mm=0.0, outward_mm=0.0):
        white = max(0.0, 0.1 - 0.1 * (bleed_mm - outward_mm))
        return self.share_without_loss_at(outward_mm) - white


@pytest.mark.parametrize("wanted", [0.92, 0.96, 0.99])
def test_each_of_two_troubles_may_have_half_of_what_may_still_go_wrong(wanted):
    recipe = replace(SCHOOL_DEFAULTS["bleed"], bleed_mm=1.0, offset_mm=0.0)
    found = changes._both(Foreseen(), recipe, wanted)
    half = (1 - wanted) / 2
    assert found.offset_mm == pytest.approx(1 - half / 0.1, abs=0.02)
    assert found.bleed_mm - 1.0 == pytest.approx(1 - half / 0.1, abs=0.02)
