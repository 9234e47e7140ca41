import itertools

import numpy as np
import pytest
import shapely
from hypothesis import given, settings
from hypothesis import strategies as st

from honest_edge.core.geometry.paths import CurveRing, polygon_of
from honest_edge.core.sheet.blade import blade_path, polyline
from honest_edge.core.sheet.cut_order import ordered, travel_mm, turns_deg, with_smooth_start


def polygon_ring(points):
    return CurveRing(polyline(np.vstack([points, points[:1]])).cubics, np.ones(len(points), bool))


def square(x, y, side):
    return polygon_ring(np.array([(x, y), (x + side, y), (x + side, y + side), (x, y + side)], float))


def disc(x, y, radius):
    angles = np.linspace(0, 2 * np.pi, 64, endpoint=False)
    return polygon_ring(np.column_stack([x + radius * np.cos(angles), y + radius * np.sin(angles)]))


places = st.lists(st.tuples(st.floats(0, 200), st.floats(0, 250)), min_size=1, max_size=25, unique=True)


@pytest.mark.slow
@given(places, st.booleans())
@settings(max_examples=40)
def test_every_cut_is_made_once_and_what_lies_inside_comes_first(positions, with_holes):
    rings = [
        disc(10 * round(x), 10 * round(y), 4) for x, y in dict.fromkeys((round(x), round(y)) for x, y in positions)
    ]
    if with_holes:
        rings += [disc(*ring.flattened(0.1).mean(axis=0), 1.5) for ring in rings]
    made = ordered(rings, (0, 0))
    areas = sorted(round(polygon_of([ring]).area, 4) for ring in made)
    assert areas == sorted(round(polygon_of([ring]).area, 4) for ring in rings)
    shapes = [polygon_of([ring]) for ring in made]
    for early, late in itertools.combinations(shapes, 2):
        assert not (early.contains(late.representative_point()) and early.area > late.area)


def test_the_way_between_cuts_is_at_most_half_of_a_naive_order():
    chance = np.random.default_rng(4)
    rings = [disc(x, y, 4) for x, y in chance.uniform(0, 240, (40, 2))]
    assert travel_mm(ordered(rings, (0, 0)), (0, 0)) < 0.5 * travel_mm(rings, (0, 0))


def test_open_lines_are_cut_to_and_fro():
    """Six folds 10 mm apart: the blade is lifted over the gaps alone, after the way to the first."""
    folds = [polyline(np.array([(20.0, y), (120.0, y)])) for y in range(20, 80, 10)]
    made = ordered(folds, (0, 0))
    assert travel_mm(made, (0, 0)) == pytest.approx(np.hypot(20, 20) + 5 * 10)
    assert sorted(sorted(map(tuple, line.cubics[[0, -1], [0, 3]])) for line in made) == [
        [(20.0, float(y)), (120.0, float(y))] for y in range(20, 80, 10)
    ]


def test_the_proof_is_cut_first():
    rings = [disc(20 * k, 0, 5) for k in range(6)]
    made = ordered(rings, (0, 0), first=4)
    assert polygon_of([made[0]]).centroid.x == pytest.approx(80, abs=0.01)


def test_a_cut_begins_away_from_sharp_corners_and_stays_the_same_curve():
    for ring in (square(0, 0, 20), polygon_ring(np.array([(0, 0), (9, 0), (9, 30), (4, 12)], float))):
        made = ordered([with_smooth_start(ring)], (0, 0))[0]
        corners = made.cubics[turns_deg(made) > 25, 0]
        assert np.hypot(*(corners - made.cubics[0, 0]).T).min() >= 1.0
        assert polygon_of([made]).symmetric_difference(polygon_of([ring])).area < 1e-6


def trailing_tip(axis, radius):
    """Return where the tip of a drag knife goes whose axis follows a path: it is pulled, never pushed."""
    steps = np.diff(axis, axis=0)
    counts = np.maximum(1, np.ceil(np.hypot(*steps.T) / 0.01).astype(int))
    fine = np.vstack(
        [a + step * np.linspace(0, 1, n)[:, None] for a, step, n in zip(axis, steps, counts, strict=False)]
    )
    tip = fine[0] - radius * steps[0] / np.hypot(*steps[0])  # it points where it goes
    path = []
    for point in fine:
        pull = tip - point
        tip = point + radius * pull / np.hypot(*pull)
        path.append(tip)
    return np.array(path)


@pytest.mark.parametrize("shape", ["square", "star", "disc"])
def test_a_led_tip_stays_on_the_line_where_a_trailing_one_leaves_it(shape):
    angles = np.arange(10) * np.pi / 5
    radii = np.where(np.arange(10) % 2, 8, 20)
    ring = {
        "square": square(0, 0, 20),
        "star": polygon_ring(np.column_stack([radii * np.cos(angles), radii * np.sin(angles)])),
        "disc": disc(0, 0, 15),
    }[shape]
    line = shapely.LinearRing(ring.flattened(0.001))

    def worst(axis):
        path = trailing_tip(axis, 0.25)
        return shapely.distance(shapely.points(path[len(path) // 10 :]), line).max()  # the first turn finds its way

    plain = np.vstack([ring.flattened(0.001), ring.cubics[:1, 0]])
    led = blade_path(ring, offset_mm=0.25)
    assert not led.closed
    assert worst(led.flattened(0.001)) < 0.02
    if shape != "disc":
        assert worst(plain) > 0.08


@given(st.floats(0.05, 5))
def test_an_overcut_repeats_the_beginning(length_mm):
    ring = square(3, 4, 20)
    cut = blade_path(ring, overcut_mm=length_mm)
    points = cut.flattened(0.001)
    assert shapely.LineString(points).length == pytest.approx(80 + length_mm, abs=1e-6)
    assert points[-1] == pytest.approx([3 + length_mm, 4])
    assert blade_path(ring) is ring
