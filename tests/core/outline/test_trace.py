"""Traced outlines against shapes whose exact geometry is known, at 300 ppi."""

import numpy as np
import pytest
import shapely
from hypothesis import given, settings
from hypothesis import strategies as st

from honest_edge.core.geometry.paths import rings_of
from honest_edge.core.imaging.background import clear_background
from honest_edge.core.outline.outline import fit_area, outline_of
from honest_edge.core.outline.trace import trace_pixels
from honest_edge.core.values.artwork import Artwork
from honest_edge.core.values.errors import BlockedError
from honest_edge.core.values.specs import OutlineRecipe
from pictures import PIXEL_UM, coverage, disc, levels, on_background, square, star, turned


def fitted(cover):
    """The fitted ring in pixels of a picture at 300 ppi."""
    pixel_mm = PIXEL_UM / 1000
    outline = outline_of(trace_pixels(levels(cover)), width_px=1000, width_mm=1000 * pixel_mm, recipe=OutlineRecipe())
    (ring,) = fit_area(outline.area, outline.style)
    return ring.placed(np.array([[1 / pixel_mm, 0, 0], [0, 1 / pixel_mm, 0]]))


@pytest.mark.parametrize("radius", [12, 20, 60, 180])
@pytest.mark.parametrize("shift", [(0.0, 0.0), (0.3, 0.6), (0.5, 0.5)])
def test_the_radius_of_a_disc_is_within_25_um(radius, shift):
    x, y = radius + 10 + shift[0], radius + 10 + shift[1]
    ring = fitted(coverage(disc(radius, x, y), 2 * radius + 20, 2 * radius + 20))
    error = np.hypot(*(ring.flattened(0.002) - (x, y)).T) - radius
    assert np.abs(error).max() * PIXEL_UM <= 25


@pytest.mark.slow
@given(degrees=st.floats(0, 90), x=st.floats(0, 1), y=st.floats(0, 1))
@settings(max_examples=25)
def test_the_corners_of_a_turned_square_are_kept_within_20_um(degrees, x, y):
    corners = turned(square(60), degrees, 100 + x, 100 + y)
    ring = fitted(coverage(corners, 202, 202))
    assert worst_node_um(ring, corners) <= 20
    assert ring.node_count <= 6


@pytest.mark.parametrize("radius", [60, 90, 200])
@pytest.mark.parametrize("degrees", [0, 9, 18, 27, 36, 45, 54, 63])
def test_44_degree_tips_are_kept_within_40_um(radius, degrees):
    points = turned(star(radius, 44), degrees, radius + 10.4, radius + 10.7)
    ring = fitted(coverage(points, 2 * radius + 22, 2 * radius + 22))
    assert worst_node_um(ring, points[::2]) <= 40


def worst_node_um(ring, corners):
    nodes = ring.cubics[:, 0]
    return max(np.hypot(*(nodes - corner).T).min() for corner in corners) * PIXEL_UM


def test_an_opaque_disc_on_white_is_traced_as_well():
    radius, centre = 100, (130.3, 129.6)
    cover = coverage(disc(radius, *centre), 260, 260)
    art = opaque(on_background(cover, (40, 90, 160), (255, 255, 255)))
    subject = clear_background(art, OutlineRecipe())
    ring = fitted(subject.coverage / 255)
    error = np.hypot(*(ring.flattened(0.002) - centre).T) - radius
    assert subject.method == "flood"
    assert np.abs(error).max() * PIXEL_UM <= 25


def opaque(rgb, *, lossy=False):
    full = np.dstack([rgb, np.full(rgb.shape[:2], 255, np.uint8)])
    return Artwork(pixels=full, stated_ppi=300, size_source="assumed", lossy=lossy)


def ring_and_speck():
    cover = coverage(disc(80, 100, 100), 260, 200) - coverage(disc(30, 100, 100), 260, 200)
    return cover + coverage(disc(4, 230, 30), 260, 200)


def test_specks_are_dropped_and_holes_filled_unless_asked_for():
    area = trace_pixels(levels(ring_and_speck()))
    pixel_mm = 25.4 / 300
    filled = outline_of(area, width_px=300, width_mm=25.4, recipe=OutlineRecipe(speck_mm2=1.0))
    assert (filled.part_count, filled.hole_count, filled.dropped_specks, filled.filled_holes) == (1, 0, 1, 1)
    kept = outline_of(area, width_px=300, width_mm=25.4, recipe=OutlineRecipe(speck_mm2=0.1, hole_mm2=10))
    assert (kept.part_count, kept.hole_count, kept.dropped_specks, kept.filled_holes) == (2, 1, 0, 0)
    hole_mm2 = np.pi * (30 * pixel_mm) ** 2
    small = outline_of(area, width_px=300, width_mm=25.4, recipe=OutlineRecipe(hole_mm2=hole_mm2 * 1.05))
    assert small.hole_count == 0


def test_art_below_the_smallest_part_says_how_large_it_is():
    area = trace_pixels(levels(coverage(disc(4, 20, 20), 40, 40)))
    with pytest.raises(BlockedError, match=r"0\.3[56]\d* mm².*5 mm²"):
        outline_of(area, width_px=300, width_mm=25.4, recipe=OutlineRecipe(speck_mm2=5))


def test_art_at_the_pictures_border_is_closed():
    area = trace_pixels(np.full((50, 80), 255, np.uint8))
    assert area.area == pytest.approx(50 * 80, rel=2e-3)
    assert all(shapely.linearrings(ring).is_valid for ring in rings_of(area))
