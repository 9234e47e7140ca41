"""Gaps in drawn outlines, and the corrections that tell art from background."""

from dataclasses import replace

import cv2
import numpy as np
import pytest

from honest_edge.core.imaging.background import clear_background
from honest_edge.core.imaging.leaks import as_dam
from honest_edge.core.values.artwork import Artwork
from honest_edge.core.values.errors import BlockedError
from honest_edge.core.values.specs import Correction, OutlineRecipe

SIDE = 300
CENTRE, RADIUS, STROKE = 150, 100, 8
FINER = 8


def ring_with_gap(gap_px, radius=RADIUS):
    """A dark circle round white on white, with a gap at its right."""
    fine = np.full((SIDE * FINER, SIDE * FINER), 255, np.uint8)
    middle = round(CENTRE * FINER)
    cv2.circle(fine, (middle, middle), round(radius * FINER), 40, STROKE * FINER)
    if gap_px:
        right = middle + round(radius * FINER)
        half = round(gap_px * FINER / 2)
        fine[middle - half : middle + half, right - 2 * STROKE * FINER : right + 2 * STROKE * FINER] = 255
    grey = cv2.resize(fine, (SIDE, SIDE), interpolation=cv2.INTER_AREA)
    pixels = np.dstack([grey, grey, grey, np.full_like(grey, 255)])
    return Artwork(pixels=pixels, stated_ppi=300, size_source="assumed")


def is_white_kept(subject):
    return subject.coverage[CENTRE, CENTRE] == 255


def step(kind, *places_px, brush_px=0.0):
    points = tuple((x / SIDE, y / SIDE) for x, y in places_px)
    return Correction(kind=kind, points=points, brush=brush_px / SIDE)


@pytest.mark.parametrize("gap_px", [2, 3, 4])
def test_a_small_gap_is_dammed_and_shown(gap_px):
    art = ring_with_gap(gap_px)
    assert not is_white_kept(clear_background(art, OutlineRecipe(dam_px=0)))
    subject = clear_background(art, OutlineRecipe())
    (leak,) = subject.leaks
    assert is_white_kept(subject)
    assert leak.dammed
    assert leak.middle == pytest.approx(((CENTRE + RADIUS) / SIDE, CENTRE / SIDE), abs=6 / SIDE)
    assert leak.width * SIDE == pytest.approx(gap_px, abs=1.5)


def test_an_outline_without_gap_is_not_touched():
    art = ring_with_gap(0)
    subject = clear_background(art, OutlineRecipe())
    assert subject.leaks == ()
    assert (subject.pixels == clear_background(art, OutlineRecipe(dam_px=0), seek_leaks=False).pixels).all()


def test_a_wider_gap_is_offered_and_one_dam_closes_it():
    art = ring_with_gap(7)
    subject = clear_background(art, OutlineRecipe())
    (leak,) = subject.leaks
    assert not leak.dammed
    assert not is_white_kept(subject)
    assert leak.width * SIDE == pytest.approx(7, abs=1.5)
    dam = Correction(kind="dam", points=as_dam(leak))
    for tolerance in (None, 8, 40, 90):  # a step survives a change of tolerance
        closed = clear_background(art, OutlineRecipe(corrections=(dam,), tolerance=tolerance))
        assert is_white_kept(closed)
        assert closed.leaks == ()


def test_a_wide_gap_of_a_large_picture_is_found_where_it_is():
    small, times = ring_with_gap(7), 6
    art = replace(small, pixels=cv2.resize(small.pixels, None, fx=times, fy=times, interpolation=cv2.INTER_LINEAR))
    (leak,) = clear_background(art, OutlineRecipe()).leaks
    assert leak.middle == pytest.approx(((CENTRE + RADIUS) / SIDE, CENTRE / SIDE), abs=6 / SIDE)
    assert leak.width * SIDE == pytest.approx(7, abs=1.5)
    dam = Correction(kind="dam", points=as_dam(leak))
    closed = clear_background(art, OutlineRecipe(corrections=(dam,)))
    assert closed.coverage[CENTRE * times, CENTRE * times] == 255
    assert closed.leaks == ()


def test_a_drawn_dam_survives_a_change_of_size():
    dam = step("dam", (CENTRE + RADIUS - 2, CENTRE - 12), (CENTRE + RADIUS, CENTRE + 12))
    big = ring_with_gap(9)
    big = replace(big, pixels=cv2.resize(big.pixels, (2 * SIDE, 2 * SIDE), interpolation=cv2.INTER_LINEAR))
    subject = clear_background(big, OutlineRecipe(corrections=(dam,)))
    assert subject.coverage[2 * CENTRE, 2 * CENTRE] == 255


def test_a_dammed_gap_can_be_opened_again():
    place = step("open", (CENTRE + RADIUS, CENTRE))
    subject = clear_background(ring_with_gap(3), OutlineRecipe(corrections=(place,)))
    assert not is_white_kept(subject)
    assert not any(leak.dammed for leak in subject.leaks)


def test_a_bay_of_solid_art_is_no_leak():
    """Two bodies that nearly touch enclose white that belongs to nobody."""
    grey = np.full((SIDE, SIDE), 255, np.uint8)
    cv2.rectangle(grey, (20, 60), (280, 260), 40, -1)
    cv2.circle(grey, (150, 120), 28, 255, -1)
    grey[60:95, 149:152] = 255
    pixels = np.dstack([grey, grey, grey, np.full_like(grey, 255)])
    subject = clear_background(Artwork(pixels=pixels, stated_ppi=300, size_source="assumed"), OutlineRecipe())
    assert not any(leak.dammed for leak in subject.leaks)
    assert subject.coverage[120, 150] == 0


def test_brushes_keep_and_clear_in_the_order_they_were_made():
    art = ring_with_gap(0)
    clear = step("clear", (100, 150), (200, 150), brush_px=20)
    keep = step("keep", (150, 140), (150, 160), brush_px=10)
    subject = clear_background(art, OutlineRecipe(corrections=(clear, keep)))
    assert subject.coverage[150, 110] == 0
    assert subject.coverage[150, 150] == 255
    assert tuple(subject.pixels[150, 150, :3]) == (255, 255, 255)
    other_way = clear_background(art, OutlineRecipe(corrections=(keep, clear)))
    assert other_way.coverage[150, 150] == 0


def test_outside_the_trace_area_all_is_background():
    subject = clear_background(ring_with_gap(0), OutlineRecipe(trace_area=(0.0, 0.0, 0.5, 1.0)))
    assert subject.coverage[CENTRE, CENTRE - 50] == 255
    assert not subject.coverage[:, CENTRE + 1 :].any()


def test_a_colour_is_cleared_everywhere_or_from_the_border():
    art = ring_with_gap(0)
    everywhere = clear_background(art, OutlineRecipe(background="colour", colour=(255, 255, 255)))
    assert everywhere.coverage[CENTRE, CENTRE] == 0
    assert everywhere.coverage[CENTRE, CENTRE + RADIUS] == 255
    inward = clear_background(art, OutlineRecipe(background="flood", colour=(255, 255, 255)))
    assert inward.coverage[CENTRE, CENTRE] == 255


@pytest.mark.parametrize(("noise", "least", "most"), [(0, 16, 16), (4, 16, 26), (8, 24, 36)])
def test_tolerance_follows_the_pictures_noise(noise, least, most):
    art = ring_with_gap(0)
    rough = art.pixels.astype(float)
    rough[..., :3] += np.random.default_rng(2).normal(0, noise, (SIDE, SIDE, 3))
    rough = np.clip(rough, 0, 255).astype(np.uint8)
    subject = clear_background(replace(art, pixels=rough), OutlineRecipe())
    assert least <= subject.tolerance <= most
    assert subject.coverage[5, 5] == 0
    assert is_white_kept(subject)


def test_a_threshold_above_all_coverage_says_so():
    faint = np.zeros((60, 60, 4), np.uint8)
    faint[20:40, 20:40] = (10, 10, 10, 60)
    art = Artwork(pixels=faint, stated_ppi=300, size_source="assumed")
    with pytest.raises(BlockedError, match="lower the threshold"):
        clear_background(art, OutlineRecipe())
    assert clear_background(art, OutlineRecipe(threshold=0.2)).coverage.max() == 60


def test_a_ring_that_is_open_by_a_sixth_is_found_and_closed_where_it_is_open():
    art = ring_with_gap(RADIUS)  # the chord of 60 degrees
    subject = clear_background(art, OutlineRecipe())
    assert not is_white_kept(subject)
    (leak,) = subject.leaks
    assert not leak.dammed
    assert leak.width * SIDE == pytest.approx(RADIUS, rel=0.1)
    assert leak.middle[0] * SIDE == pytest.approx(CENTRE + RADIUS * np.cos(np.radians(30)), abs=6)
    closed = clear_background(art, OutlineRecipe(corrections=(Correction(kind="dam", points=as_dam(leak)),)))
    assert is_white_kept(closed)
    beside = closed.coverage[: CENTRE - RADIUS // 2 - 8, CENTRE + RADIUS - 4 :]
    assert (beside > 0).mean() < 0.1  # no stub of the closing line beside the ring


@pytest.mark.parametrize("gap_px", [140, 180])
def test_a_shape_that_is_half_open_is_no_ring(gap_px):
    assert not clear_background(ring_with_gap(gap_px), OutlineRecipe()).leaks
