"""The cut line: holes, notches, thin strokes, welded neighbours, and how exactly it is offset."""

import math
from dataclasses import replace

import numpy as np
import pytest
import shapely
from hypothesis import given, settings
from hypothesis import strategies as st

from honest_edge.core.edge.contour import contour, inset_losses, joining_border_mm
from honest_edge.core.geometry.offset import offset_area
from honest_edge.core.geometry.paths import as_multipolygon, polygon_of
from honest_edge.core.outline.joining import joining_offset_mm
from honest_edge.core.outline.outline import CurveStyle, Outline
from honest_edge.core.values.specs import EdgeRecipe


def outlined(*parts):
    area = as_multipolygon(shapely.union_all(parts))
    style = CurveStyle(tolerance_mm=0.02, corner_deg=28, pixel_mm=25.4 / 300)
    return Outline(area=area, pixel_mm=25.4 / 300, parts=(), holes=(), style=style)


def cut(outline, **recipe):
    return contour(outline, EdgeRecipe(**{"ease_mm": 0.0, **recipe}))


DISC = shapely.Point(0, 0).buffer(10, quad_segs=90)


PLACES = st.floats(-20, 20).map(lambda value: round(value, 4))  # nothing here is finer than 0.1 um


@pytest.mark.parametrize("distance", [-4.0, -1.0, 0.5, 2.0, 6.0])
def test_a_disc_is_offset_within_10_um_of_the_exact_circle(distance):
    moved = offset_area(shapely.MultiPolygon([shapely.Point(0, 0).buffer(10, quad_segs=720)]), distance)
    radii = np.hypot(*shapely.get_coordinates(moved).T)
    assert np.abs(radii - (10 + distance)).max() <= 0.01


@settings(max_examples=60)
@given(st.lists(st.tuples(PLACES, PLACES), min_size=3, max_size=9), st.floats(0.05, 5.0))
def test_a_convex_polygon_grows_by_steiners_formula(points, distance):
    # area A + P r + pi r^2, perimeter P + 2 pi r (J. Steiner, 1840)
    hull = shapely.MultiPoint(points).convex_hull
    if hull.geom_type != "Polygon" or hull.area < 1:
        return
    moved = offset_area(shapely.MultiPolygon([hull]), distance)
    perimeter = hull.length + 2 * math.pi * distance
    assert abs(moved.area - (hull.area + hull.length * distance + math.pi * distance**2)) <= 0.01 * perimeter
    gaps = shapely.distance(hull.boundary, shapely.points(shapely.get_coordinates(moved)))
    assert np.abs(gaps - distance).max() <= 0.01


@settings(max_examples=40)
@given(st.floats(2, 20), st.floats(2, 20), st.floats(0.1, 0.9))
def test_a_box_shrinks_exactly(width, height, share):
    distance = share * min(width, height) / 2
    moved = offset_area(shapely.MultiPolygon([shapely.box(0, 0, width, height)]), -distance)
    assert moved.area == pytest.approx((width - 2 * distance) * (height - 2 * distance), abs=1e-6)


def test_neighbours_that_touch_are_welded_and_their_small_hole_is_closed():
    ring = [shapely.Point(8 * math.cos(a), 8 * math.sin(a)).buffer(2.6) for a in np.arange(8) * math.pi / 4]
    loose = cut(outlined(*ring), offset_mm=0.2)
    assert len(loose.area.geoms) == 8
    welded = cut(outlined(*ring), offset_mm=1.0, hole_mm2=0)
    assert len(welded.area.geoms) == 1
    hole = shapely.Polygon(welded.area.geoms[0].interiors[0])
    closed = cut(outlined(*ring), offset_mm=1.0, hole_mm2=hole.area + 1)
    assert len(closed.curves) == 1
    kept = cut(outlined(*ring), offset_mm=1.0, hole_mm2=hole.area - 1)
    assert len(kept.curves) == 2


def test_an_eyelet_of_the_art_itself_stays_however_small():
    tag = shapely.box(-10, -10, 10, 10).difference(shapely.Point(0, 6).buffer(1.5))
    found = cut(outlined(tag), offset_mm=0.5, hole_mm2=500)
    assert len(found.curves) == 2
    assert shapely.Polygon(found.area.geoms[0].interiors[0]).area == pytest.approx(math.pi, rel=0.01)


def test_a_design_has_no_two_nested_cut_lines():
    border = cut(outlined(DISC, shapely.Point(30, 0).buffer(3)), offset_mm=2.0)
    assert all(not part.interiors for part in border.area.geoms)
    inner = shapely.Point(0, 0).buffer(3)
    with_island = cut(outlined(DISC.difference(shapely.Point(0, 0).buffer(6)), inner), offset_mm=2.0, hole_mm2=1000)
    # an island in a hole of the art: the offset joins or keeps both, but never doubles a rim
    for one in with_island.curves:
        for other in with_island.curves:
            if one is not other:
                gap = shapely.distance(
                    shapely.LinearRing(one.flattened(0.01)), shapely.LinearRing(other.flattened(0.01))
                )
                assert gap > 0


def test_notches_are_eased_and_corners_are_not():
    notch = shapely.box(0, 0, 20, 20).difference(shapely.Polygon([(9.5, 20), (10, 12), (10.5, 20)]))
    sharp, eased = cut(outlined(notch), offset_mm=0), cut(outlined(notch), offset_mm=0, ease_mm=1.0)
    assert eased.area.contains(shapely.Point(10, 14))
    assert not sharp.area.contains(shapely.Point(10, 14))
    corners = shapely.points([(0, 0), (20, 0)])
    assert shapely.distance(polygon_of(eased.curves), corners).max() <= 0.02
    assert shapely.difference(sharp.area, eased.area).area < 0.01


def test_thin_strokes_are_fattened_and_nothing_else():
    art = shapely.union(DISC, shapely.box(9, -0.4, 30, 0.4))
    plain, fat = cut(outlined(art), offset_mm=0), cut(outlined(art), offset_mm=0, fatten_mm=0.4)
    stroke = shapely.box(15, -5, 25, 5)
    assert shapely.intersection(fat.area, stroke).area == pytest.approx(10 * 1.2, rel=0.02)
    assert shapely.intersection(plain.area, stroke).area == pytest.approx(10 * 0.8, rel=0.02)
    left = shapely.box(-20, -20, 0, 20)
    assert shapely.intersection(fat.area, left).area == pytest.approx(shapely.intersection(art, left).area, rel=1e-3)


def test_what_an_inward_offset_splits_or_swallows_is_told():
    dumbbell = shapely.union_all([DISC, shapely.Point(30, 0).buffer(10), shapely.box(0, -1, 30, 1)])
    speck = shapely.Point(60, 0).buffer(1)
    outline = outlined(dumbbell, speck)
    recipe = EdgeRecipe(school="inside", offset_mm=1.5, ease_mm=0)
    losses = inset_losses(outline, contour(outline, recipe), recipe)
    assert sorted(loss.pieces for loss in losses) == [0, 2]
    swallowed = next(loss for loss in losses if loss.pieces == 0)
    assert swallowed.x_mm == pytest.approx(60, abs=1)
    gentle = EdgeRecipe(school="inside", offset_mm=0.5, ease_mm=0)
    assert inset_losses(outline, contour(outline, gentle), gentle) == ()


@pytest.mark.parametrize("corners", ["round", "mitre", "bevel"])
def test_corner_styles_keep_their_distance(corners):
    found = cut(outlined(shapely.box(0, 0, 10, 10)), offset_mm=2, corners=corners)
    areas = {"round": 100 + 80 + math.pi * 4, "mitre": 196, "bevel": 100 + 80 + 8}
    assert found.area.area == pytest.approx(areas[corners], rel=1e-3)


@pytest.mark.parametrize("corners", ["round", "mitre", "bevel"])
@pytest.mark.parametrize("tip_degrees", [90, 25])
def test_easing_alone_leaves_every_corner_whatever_an_offset_would_do_to_it(corners, tip_degrees):
    """A closing never cuts a convex corner off, nor adds to it: its corners are always rounded and taken back."""
    art = shapely.Polygon([(0, 0), (20, 20 * math.tan(math.radians(tip_degrees / 2))), (20, 0)])
    eased = cut(outlined(art), school="bare", offset_mm=0.0, ease_mm=1.0, corners=corners).area
    assert eased.symmetric_difference(art).area < 2e-3 * art.area
    assert eased.hausdorff_distance(art) < 0.02


@pytest.mark.parametrize(("ease_mm", "fatten_mm"), [(0.0, 0.0), (0.5, 0.0), (1.5, 0.0), (0.5, 0.4)])
@pytest.mark.parametrize("gap_mm", [0.8, 3.0, 4.54])
def test_the_border_that_joins_is_that_of_the_cut_itself(gap_mm, ease_mm, fatten_mm):
    """What is said agrees with what is cut, easing and thickening included: a hundredth less falls apart."""
    thin = shapely.box(10 + gap_mm, 0, 11 + gap_mm, 12)
    art = shapely.MultiPolygon([shapely.box(0, 0, 10, 12), thin])
    recipe = EdgeRecipe(ease_mm=ease_mm, fatten_mm=fatten_mm)
    border_mm = joining_border_mm(art, recipe)
    plain_mm = joining_offset_mm(art)
    assert plain_mm == pytest.approx(gap_mm / 2)
    assert border_mm <= plain_mm + 0.02
    if ease_mm > 0.4:
        assert border_mm < plain_mm - 0.1  # easing bridges the gap sooner

    def pieces(offset_mm):
        return len(contour(outlined(art), replace(recipe, offset_mm=offset_mm)).area.geoms)

    assert pieces(border_mm) == 1
    if border_mm >= 0.02:
        assert pieces(border_mm - 0.02) == 2
