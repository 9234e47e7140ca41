"""Distances looked up in a grid, against shapely's own."""

import subprocess
import sys

import numpy as np
import pytest
import shapely
from hypothesis import given, settings
from hypothesis import strategies as st

from honest_edge.core.geometry.distance import contains, distance_field, reach_mm
from honest_edge.core.geometry.paths import as_multipolygon


def signed(area, points):
    gaps = shapely.distance(area.boundary, shapely.points(points))
    return np.where(shapely.contains_xy(area, *points.T), -gaps, gaps)


@settings(max_examples=25)
@given(st.lists(st.tuples(st.floats(0, 20), st.floats(0, 20)), min_size=3, max_size=7), st.integers(0, 2**31))
def test_a_looked_up_distance_is_that_of_the_polygon(points, seed):
    area = as_multipolygon(shapely.buffer(shapely.MultiPoint(points).convex_hull, 0.8, quad_segs=16))
    field = distance_field(area, (-3, -3, 23, 23), reach_mm=2.0, step_mm=0.1)
    places = np.random.default_rng(seed).uniform(-2, 22, (400, 2))
    expected = np.clip(signed(area, places), -2, 2)
    found = field.at(places[:, 0], places[:, 1])
    assert np.abs(found - expected).max() <= 0.05
    near = np.abs(expected) < 1.5
    assert np.abs(found - expected)[near].mean() <= 0.0025 if near.any() else True  # more where all is thin


@settings(max_examples=25)
@given(st.integers(0, 2**31), st.floats(0.2, 1.5))
def test_near_the_places_asked_for_a_field_is_that_of_everywhere(seed, within):
    random = np.random.default_rng(seed)
    area = as_multipolygon(shapely.Point(10, 10).buffer(6).difference(shapely.box(9, 0, 11, 9)))
    asked = random.uniform(0, 20, (5, 2))
    box, sizes = (-3, -3, 23, 23), {"reach_mm": 2.0, "step_mm": 0.1}
    whole, part = distance_field(area, box, **sizes), distance_field(area, box, **sizes, asked=asked, within_mm=within)
    angle, away = random.uniform(0, 2 * np.pi, (5, 40)), within * np.sqrt(random.random((5, 40)))
    x, y = asked[:, :1] + away * np.cos(angle), asked[:, 1:] + away * np.sin(angle)
    np.testing.assert_array_equal(part.at(x, y), whole.at(x, y))
    anywhere = random.uniform(-2, 22, (2, 400))
    assert np.abs(part.at(*anywhere) - whole.at(*anywhere)).max() <= 0.2  # a few hundredths of 2 mm, and half a step


def test_beyond_the_grid_is_far_outside_and_deep_inside_is_deep():
    field = distance_field(shapely.MultiPolygon([shapely.box(0, 0, 20, 20)]), (-2, -2, 22, 22), reach_mm=2, step_mm=0.2)
    assert field.at(np.array([100.0, 10.0]), np.array([0.0, 10.0])) == pytest.approx([2, -2])


def test_nothing_is_everywhere_outside():
    field = distance_field(shapely.MultiPolygon(), (0, 0, 5, 5), reach_mm=1, step_mm=0.5)
    assert (field.at(*np.mgrid[0:5:0.5, 0:5:0.5]) == 1).all()


def test_holes_are_outside():
    ring = shapely.Point(5, 5).buffer(4).difference(shapely.Point(5, 5).buffer(2))
    field = distance_field(as_multipolygon(ring), (0, 0, 10, 10), reach_mm=1.5, step_mm=0.1)
    assert field.at(np.array([5.0, 5.0]), np.array([5.0, 8.0])) == pytest.approx([1.5, -1.0], abs=0.02)


@settings(max_examples=40)
@given(
    st.lists(st.tuples(st.floats(0, 20), st.floats(0, 20)), min_size=3, max_size=7),
    st.lists(st.tuples(st.floats(0, 20), st.floats(0, 20)), min_size=3, max_size=7),
)
def test_how_far_one_area_reaches_out_of_another_is_what_shapely_measures(one, other):
    ink = as_multipolygon(shapely.buffer(shapely.MultiPoint(one), 0.8))
    cut = as_multipolygon(shapely.buffer(shapely.MultiPoint(other), 1.1))
    expected = shapely.distance(shapely.points(shapely.get_coordinates(ink)), cut).max()
    assert reach_mm(ink, cut) == pytest.approx(expected, abs=1e-9)
    assert reach_mm(ink, as_multipolygon(ink.buffer(0.5))) == 0.0


RACE = """
import sys, threading
import numpy as np, shapely
from honest_edge.core.geometry import distance
ask = shapely.contains_xy if sys.argv[1] == "shared" else distance.contains
random = np.random.default_rng(1)
points, angles = random.uniform(-12, 12, (3000, 2)), np.linspace(0, 2 * np.pi, 4000)
for _ in range(int(sys.argv[2])):
    radii = 10 + random.normal(0, 0.1, 4000)
    area = shapely.Polygon(np.column_stack([radii * np.cos(angles), radii * np.sin(angles)]))
    found = []
    threads = [threading.Thread(target=lambda: found.append(ask(area, points).sum())) for _ in range(3)]
    for thread in threads:
        thread.start()
    for thread in threads:
        thread.join()
    assert len(found) == 3 and len(set(found)) == 1
"""


def test_threads_that_ask_the_same_area_do_not_bring_the_process_down():
    """With shapely's own question of the shared geometry it ends by a signal within a few hundred areas, seen."""
    done = subprocess.run([sys.executable, "-c", RACE, "copied", "300"], capture_output=True, text=True, check=False)
    assert done.returncode == 0, done.stderr


def test_an_area_is_left_as_it_was():
    area = as_multipolygon(shapely.Point(0, 0).buffer(5))
    assert contains(area, np.array([[0, 0], [4.9, 0], [5.1, 0]])).tolist() == [True, True, False]
    distance_field(area, (-6, -6, 6, 6), reach_mm=1.0, step_mm=0.1)
    assert not shapely.is_prepared(area)
