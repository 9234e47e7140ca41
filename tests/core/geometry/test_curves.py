"""Offsets, fits and arcs against exact geometry."""

import math

import numpy as np
import pytest
import shapely
from hypothesis import given, settings
from hypothesis import strategies as st
from scipy.integrate import quad
from scipy.optimize import brentq
from scipy.stats import norm

from honest_edge.core.geometry.arcs import arc_chain
from honest_edge.core.geometry.corners import tip_loss
from honest_edge.core.geometry.fitting import deviation_mm, fit_ring
from honest_edge.core.geometry.offset import offset_area, without_grain
from honest_edge.core.geometry.paths import CurveRing, affine, polygon_of
from pictures import disc, square, star, turned

smooth_rings = st.tuples(st.floats(5, 40), st.lists(st.floats(-0.12, 0.12), min_size=1, max_size=4), st.floats(0, 6.28))


def blob(radius, waves, phase):
    angle = np.linspace(0, 2 * np.pi, 900, endpoint=False)
    r = radius * (1 + sum(a * np.cos((k + 2) * angle + phase * k) / (k + 1) for k, a in enumerate(waves)))
    return np.stack([r * np.cos(angle), r * np.sin(angle)], axis=1)


@given(smooth_rings)
@settings(max_examples=40)
def test_a_fit_stays_within_its_tolerance_of_the_points(shape):
    ring = blob(*shape)
    fitted = fit_ring(ring, tolerance_mm=0.03, pixel_mm=0.1)
    # the fit samples between the points, so a tenth more than the tolerance is possible at them
    assert deviation_mm(fitted, ring) <= 0.033


@given(smooth_rings)
@settings(max_examples=20)
def test_a_fitted_ring_is_closed_and_continuous(shape):
    cubics = fit_ring(blob(*shape), tolerance_mm=0.03, pixel_mm=0.1).cubics
    np.testing.assert_array_equal(cubics[:, 0], np.roll(cubics[:, 3], 1, axis=0))


def test_a_circle_needs_few_nodes():
    ring = fit_ring(disc(10, 0, 0), tolerance_mm=0.025, pixel_mm=0.085)
    assert ring.node_count <= 8


@pytest.mark.parametrize("degrees", [0, 7, 31, 45])
def test_a_square_is_four_lines(degrees):
    corners = turned(square(12.0), degrees, 0, 0)
    ring = fit_ring(corners, tolerance_mm=0.025, pixel_mm=0.085)
    assert ring.node_count == 4
    assert ring.straight.all()
    for corner in corners:
        assert np.hypot(*(ring.cubics[:, 0] - corner).T).min() < 1e-6


@given(smooth_rings, st.floats(0.001, 0.1))
@settings(max_examples=30)
def test_flattening_stays_within_its_tolerance(shape, tolerance):
    ring = fit_ring(blob(*shape), tolerance_mm=0.05, pixel_mm=0.1)
    coarse = shapely.linearrings(ring.flattened(tolerance))
    fine = shapely.points(ring.flattened(tolerance / 50))
    assert shapely.distance(coarse, fine).max() <= tolerance * 1.0001


@given(smooth_rings)
@settings(max_examples=30)
def test_arcs_stay_within_their_tolerance_of_the_curve(shape):
    ring = fit_ring(blob(*shape), tolerance_mm=0.03, pixel_mm=0.1)
    chain = arc_chain(ring, tolerance_mm=0.004)
    points = flattened_arcs(chain)
    gap = shapely.distance(shapely.linearrings(ring.flattened(0.0002)), shapely.points(points)).max()
    assert gap <= 0.005


def test_arcs_end_where_a_curve_has_no_direction():
    """A point, a curve whose first handle is its start, and one that runs out and back in itself."""
    cubics = np.array([[(0, 0)] * 4, [(0, 0), (0, 0), (5, 5), (5, 5)], [(5, 5), (9, 9), (1, 1), (0, 0)]], dtype=float)
    chain = arc_chain(CurveRing(cubics, np.zeros(3, bool)), tolerance_mm=0.004)
    assert np.isfinite(chain).all()
    assert len(chain) < 100
    fine = shapely.linestrings(CurveRing(cubics, np.zeros(3, bool)).flattened(0.0002))
    assert shapely.distance(fine, shapely.points(chain[:, :2])).max() <= 0.004


def flattened_arcs(chain):
    """Points on the arcs of (x, y, bulge) rows, by the definition of a bulge."""
    points = []
    for (x0, y0, bulge), (x1, y1, _) in zip(chain, np.roll(chain, -1, axis=0), strict=True):
        for share in np.linspace(0, 1, 9)[:-1]:
            if abs(bulge) < 1e-9:
                points.append((x0 + share * (x1 - x0), y0 + share * (y1 - y0)))
                continue
            sweep = 4 * math.atan(bulge)
            chord = complex(x1 - x0, y1 - y0)
            centre = complex(x0, y0) + chord / 2 + 1j * chord / 2 / math.tan(sweep / 2)
            turned_by = complex(math.cos(sweep * share), math.sin(sweep * share))
            at = centre + (complex(x0, y0) - centre) * turned_by
            points.append((at.real, at.imag))
    return np.array(points)


@given(st.lists(st.tuples(st.floats(-30, 30), st.floats(-30, 30)), min_size=5, max_size=12), st.floats(0.2, 6))
@settings(max_examples=60)
def test_the_area_of_an_offset_convex_shape_is_steiners(points, radius):
    # Steiner formula (J. Steiner, 1840): A + P r + pi r^2
    hull = shapely.convex_hull(shapely.MultiPoint(points))
    if hull.geom_type != "Polygon" or hull.area < 1:
        return
    grown = offset_area(hull, radius, tolerance_mm=0.001)
    expected = hull.area + hull.length * radius + math.pi * radius**2
    # round joins are inscribed chords: at most the tolerance times the arcs' length is lost
    assert expected - 0.001 * 2 * math.pi * radius * 1.01 - 1e-6 <= grown.area <= expected + 1e-6


@pytest.mark.parametrize("radius", [0.05, 0.5, 2.0, 12.7])
def test_round_joins_keep_their_distance(radius):
    shape = shapely.Polygon(star(20, 44))
    grown = offset_area(shape, radius, tolerance_mm=0.003)
    along = shapely.get_coordinates(shapely.segmentize(grown, 0.01))
    distance = shapely.distance(shape, shapely.points(along))
    assert np.abs(distance - radius).max() <= 0.0035


def test_mitred_corners_of_a_square_stay_square():
    grown = offset_area(shapely.Polygon(square(10)), 2.0, corners="mitre")
    assert grown.area == pytest.approx(24.0**2)


def test_bevelled_corners_are_cut_straight():
    grown = offset_area(shapely.Polygon(square(10)), 2.0, corners="bevel")
    assert grown.area == pytest.approx(24.0**2 - 4 * 0.5 * 2.0**2)


@pytest.mark.slow
def test_what_blur_takes_from_a_tip_is_the_half_level_of_a_blurred_wedge():
    def inside(distance, half):
        return quad(lambda x: norm.pdf(x - distance) * (2 * norm.cdf(x * math.tan(half)) - 1), 0, distance + 9)[0]

    for degrees in (30, 44, 60, 90, 120, 150):
        half = math.radians(degrees / 2)
        expected = brentq(lambda d, half=half: inside(d, half) - 0.5, 0, 20)
        turn = math.pi - 2 * half
        assert float(tip_loss(turn, 1.0)) == pytest.approx(expected, abs=2e-3)


def test_a_quarter_turn_runs_clockwise_on_paper():
    matrix = affine(turn_deg=90, x_mm=10, y_mm=20)
    right = matrix[:, :2] @ (1.0, 0.0)
    np.testing.assert_allclose(right, (0.0, 1.0))
    np.testing.assert_allclose(matrix[:, 2], (10, 20))


def test_a_turned_ring_is_not_mirrored():
    ring = fit_ring(star(10, 44) * (1, 0.5), tolerance_mm=0.01, pixel_mm=0.1)
    placed = ring.placed(affine(turn_deg=90))

    def signed(r: CurveRing) -> float:
        x, y = r.flattened(0.01).T
        return float(x @ np.roll(y, -1) - y @ np.roll(x, -1))

    assert signed(placed) == pytest.approx(signed(ring), rel=1e-6)


def test_nested_rings_make_holes():
    rings = [fit_ring(disc(r, 0, 0), tolerance_mm=0.01, pixel_mm=0.1) for r in (10, 4)]
    assert polygon_of(rings).area == pytest.approx(math.pi * (100 - 16), rel=2e-3)


@given(smooth_rings, st.integers(0, 2**31))
@settings(max_examples=40)
def test_what_is_thinned_before_it_moves_stays_where_it_was(shape, seed):
    ring = blob(*shape) + np.random.default_rng(seed).normal(0, 0.002, (900, 2))  # a trace's grain
    area = shapely.MultiPolygon([shapely.Polygon(ring), shapely.box(100, 100, 100.003, 100.003)])
    thinned = without_grain(area)
    assert len(thinned.geoms) == 2  # a speck of 3 um is not lost
    assert (
        shapely.hausdorff_distance(area, thinned) <= 0.004
    )  # twice the bound: the library may drop a first point as well
    assert len(shapely.get_coordinates(thinned)) < len(shapely.get_coordinates(area))


def test_no_speck_is_lost_where_a_ring_is_thinned():
    area = shapely.MultiPolygon([shapely.Polygon(disc(10, 0, 0)), shapely.box(100, 100, 100.001, 100.001)])
    assert len(without_grain(area).geoms) == 2


def test_a_smooth_ring_needs_a_fraction_of_its_points():
    area = shapely.MultiPolygon([shapely.Polygon(disc(10, 0, 0))])
    assert len(shapely.get_coordinates(without_grain(area))) < len(shapely.get_coordinates(area)) / 2
