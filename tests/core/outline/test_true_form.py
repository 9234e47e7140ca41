"""Wobbly discs and boxes become true ones; what is meant otherwise stays. About 1 CPU second."""

import math

import numpy as np
import pytest
import shapely
from hypothesis import given, settings
from hypothesis import strategies as st

from honest_edge.core.outline.true_form import OfferedForms, made_true, offered_forms, true_form


def wobbly(shape, by_mm, seed=1):
    """Return a shape as a hand draws it: its boundary strays by waves of at most ``by_mm``."""
    ring = shapely.segmentize(shape.exterior, 0.3)
    points = shapely.get_coordinates(ring)[:-1]
    ahead = np.roll(points, -1, axis=0) - np.roll(points, 1, axis=0)
    normal = np.stack([ahead[:, 1], -ahead[:, 0]], axis=1) / np.maximum(np.hypot(*ahead.T)[:, None], 1e-9)
    chance, along = np.random.default_rng(seed), np.arange(len(points)) / len(points) * 2 * math.pi
    waves = sum(np.sin(n * along + chance.uniform(0, 6.3)) for n in (9, 14, 23)) / 3
    return shapely.Polygon(points + by_mm * waves[:, None] * normal).buffer(0)


def rounded(width, height, radius):
    return shapely.box(radius, radius, width - radius, height - radius).buffer(radius, quad_segs=32)


@settings(max_examples=25, deadline=None)
@given(st.floats(12, 80), st.floats(0.1, 0.3), st.integers(0, 99))
def test_a_wobbly_disc_becomes_the_disc_of_its_area(diameter, by_mm, seed):
    drawn = wobbly(shapely.Point(50, 40).buffer(diameter / 2, quad_segs=64), by_mm, seed)
    form = true_form(drawn)
    assert form.kind == "disc"
    assert form.polygon.area == pytest.approx(math.pi * diameter**2 / 4, rel=0.01)
    assert shapely.get_coordinates(form.polygon.centroid)[0] == pytest.approx((50, 40), abs=0.15)


@settings(max_examples=25, deadline=None)
@given(st.floats(15, 80), st.floats(15, 60), st.sampled_from([0.0, 2.0, 5.0]), st.sampled_from([0, 0.8, 20, 90]))
def test_a_wobbly_box_gets_straight_sides_its_corners_and_its_turn(width, height, radius, turn):
    true = rounded(width, height, radius) if radius else shapely.box(0, 0, width, height)
    drawn = wobbly(shapely.affinity.rotate(true, turn, origin=(0, 0)), 0.15)
    form = true_form(drawn)
    assert form.kind in (("box", "rounded box") if not radius else ("rounded box",))
    assert form.polygon.area == pytest.approx(true.area, rel=0.01)
    sides = shapely.get_coordinates(shapely.minimum_rotated_rectangle(form.polygon))
    lengths = sorted(np.hypot(*np.diff(sides[:3], axis=0).T))
    assert lengths == pytest.approx(sorted((width, height)), abs=0.3)
    if turn == 0.8:  # it was meant to stand upright
        assert min(abs(sides[1] - sides[0])) == pytest.approx(0, abs=1e-6)


def test_what_is_meant_otherwise_is_left():
    angles = np.linspace(0, 2 * math.pi, 10, endpoint=False)
    star = shapely.Polygon([((20 if n % 2 else 12) * math.cos(a), 20 * math.sin(a)) for n, a in enumerate(angles)])
    egg = shapely.affinity.scale(shapely.Point(0, 0).buffer(20), 1.0, 1.15)
    wedge = shapely.Polygon([(0, 0), (40, 0), (37, 30), (3, 30)])
    crumb = shapely.box(0, 0, 3, 3)
    bent = shapely.LineString([(0, 0), (0, 40), (40, 40)]).buffer(3)  # nothing of it runs along two of its box's sides
    for shape in (star, egg, wedge, crumb, bent):
        assert true_form(shape) is None
    assert made_true([star, egg], 0.8) == [star, egg]


def test_all_that_stray_no_farther_are_made_at_once_and_holes_stay():
    boxes = [wobbly(rounded(30, 20, 3), 0.2, seed) for seed in range(3)]
    ring = shapely.difference(wobbly(shapely.Point(60, 0).buffer(15), 0.3), shapely.Point(60, 0).buffer(5))
    offered = offered_forms([*boxes, ring])
    assert offered.kinds == ("rounded box", "rounded box", "rounded box", "disc")
    assert 0.2 < offered.within_mm <= 0.5
    made = made_true([*boxes, ring], offered.within_mm)
    assert len(made[3].interiors) == 1
    assert offered_forms(made) == OfferedForms(within_mm=0.0, kinds=())  # what is true already is not offered again
    assert made_true(boxes, 0.01) == boxes
