"""The subject of a photograph: told by loop and strokes, the same every time, to a fraction of a pixel."""

import math

import cv2
import numpy as np
import pytest
import shapely

from honest_edge.app.edits.outline_edits import looped, oval_in, rounded_box_in
from honest_edge.core.imaging.background import clear_background
from honest_edge.core.imaging.subject_cut import Stroke, own_colours, subject_coverage
from honest_edge.core.outline.outline import silhouette
from honest_edge.core.values.artwork import Artwork
from honest_edge.core.values.errors import BlockedError, UsageError
from honest_edge.core.values.specs import Correction, OutlineRecipe

WIDE, HIGH, FINER = 320, 240, 8
DISC = (150.3, 118.7, 61.4)


def disc(x, y, radius, shape=(HIGH, WIDE)):
    """Coverage of a disc, from a drawing eight times finer."""
    rows, columns = ((np.arange(n * FINER) + 0.5) / FINER for n in shape)
    inside = np.hypot(columns[None] - x, rows[:, None] - y) <= radius
    return inside.reshape(shape[0], FINER, shape[1], FINER).mean(axis=(1, 3))


def clutter(seed=3):
    """A ground of many soft colours, none of them that of the disc."""
    rng = np.random.default_rng(seed)
    small = rng.uniform((20, 90, 40), (120, 220, 160), (12, 16, 3)).astype(np.float32)
    return cv2.resize(small, (WIDE, HIGH), interpolation=cv2.INTER_CUBIC)


def picture(share, rgb=(210, 60, 50), ground=None, seed=4):
    ground = clutter() if ground is None else ground
    mixed = ground * (1 - share[..., None]) + np.array(rgb) * share[..., None]
    return np.clip(mixed + np.random.default_rng(seed).normal(0, 3, mixed.shape), 0, 255).astype(np.uint8)


def loop(x, y, radius):
    return np.where(disc(x, y, radius) > 0.5, 255, 0).astype(np.uint8)


def line(start, end, wide=7):
    mask = np.zeros((HIGH, WIDE), np.uint8)
    cv2.line(mask, start, end, 255, wide)
    return mask


def overlap(found, share):
    one, two = found > 127, share > 0.5
    return (one & two).sum() / (one | two).sum()


def test_a_disc_on_clutter_is_found_inside_a_loose_loop_to_a_fraction_of_a_pixel_and_the_same_every_time():
    share = disc(*DISC)
    rgb = picture(share)
    found = subject_coverage(rgb, loop(155, 120, 90))
    assert overlap(found, share) > 0.99
    # its area is pi r^2; a rim of half a pixel all round would be 1.6 %
    assert found.sum() / 255 == pytest.approx(math.pi * DISC[2] ** 2, rel=0.008)
    assert np.array_equal(found, subject_coverage(rgb, loop(155, 120, 90)))
    assert not found[loop(155, 120, 90) == 0].any()


def test_half_covered_pixels_take_the_colour_of_the_art_and_nothing_of_the_old_ground():
    share = disc(*DISC)
    pixels = own_colours(picture(share), np.rint(share * 255).astype(np.uint8))
    rim = (share > 0.1) & (share < 0.9)
    assert np.abs(pixels[rim, :3].astype(int) - (210, 60, 50)).max() < 20
    assert np.abs(picture(share)[rim].astype(int) - (210, 60, 50)).max() > 60  # it was there


def two_halves():
    """A disc, its lower half of the ground's own colour."""
    upper = disc(*DISC)
    upper[119:] = 0
    return picture(upper, ground=np.full((HIGH, WIDE, 3), (90, 150, 100), np.float32))


def test_what_belongs_and_what_does_not_is_understood_and_the_later_stroke_counts():
    share = disc(*DISC) + disc(285, 60, 20)
    rgb = picture(np.minimum(share, 1))
    wide = np.full((HIGH, WIDE), 255, np.uint8)
    wide[:6], wide[-6:], wide[:, :6], wide[:, -6:] = 0, 0, 0, 0
    both = subject_coverage(rgb, wide)
    assert both[60, 285] == 255
    without = subject_coverage(rgb, wide, [Stroke(line((280, 60), (290, 60)), belongs=False)])
    assert without[60, 285] == 0  # all of it, though the stroke went over a part
    assert (without[45:75, 268:302] > 127).mean() < 0.05
    assert overlap(without, disc(*DISC)) > 0.98
    strokes = [Stroke(line((280, 60), (290, 60)), belongs=how) for how in (False, True)]
    assert subject_coverage(rgb, wide, strokes)[60, 285] == 255
    rgb = two_halves()
    half = subject_coverage(rgb, loop(155, 120, 90))
    assert half[160, 150] == 0
    brushed = subject_coverage(rgb, loop(155, 120, 90), [Stroke(line((120, 150), (180, 150), 20), belongs=True)])
    assert (brushed[144:156, 125:175] == 255).all()


def test_a_subject_that_the_frame_cuts_is_not_eaten_at_the_frame():
    share = disc(20, 120, 80)
    rgb = picture(share)
    recipe = looped(OutlineRecipe(), [(0.005, 0.02), (0.42, 0.02), (0.42, 0.73), (0.005, 0.73)])
    found = clear_background(as_art(rgb), recipe).coverage
    assert found[120, 0] == 255
    assert overlap(found, share) > 0.98


def as_art(rgb):
    pixels = np.dstack([rgb, np.full(rgb.shape[:2], 255, np.uint8)])
    return Artwork(pixels=pixels, stated_ppi=300, size_source="assumed")


def test_a_recipe_tells_the_subject_by_its_last_loop_and_its_strokes():
    share = disc(*DISC)
    rgb = picture(share)
    around = [oval_in((0.2, 0.1), (0.75, 0.66)), rounded_box_in((0.75, 0.66), (0.2, 0.1))]
    for points in around:
        recipe = looped(looped(OutlineRecipe(), oval_in((0.8, 0.0), (0.9, 0.1))), points)
        assert recipe.background == "subject"
        assert sum(step.kind == "around" for step in recipe.corrections) == 1
        assert overlap(clear_background(as_art(rgb), recipe).coverage, share) > 0.985
    gone = Correction(kind="clear", points=((0.4, 0.3), (0.5, 0.4)), brush=0.6)
    recipe = OutlineRecipe(background="subject", corrections=(*recipe.corrections, gone))
    with pytest.raises(BlockedError, match="stands out from what is round it"):
        clear_background(as_art(rgb), recipe)


@pytest.mark.parametrize("points", [[(0.1, 0.1)], [(0.1, 0.1), (0.4, 0.4)], [(0.1, 0.1), (0.4, 0.4), (0.2, 0.2)]])
def test_a_loop_that_holds_nothing_is_refused(points):
    with pytest.raises(UsageError, match="The loop holds nothing"):
        looped(OutlineRecipe(), points)


def test_a_loop_beside_the_picture_and_one_colour_everywhere_are_said():
    flat = np.full((HIGH, WIDE, 3), 128, np.uint8)
    with pytest.raises(BlockedError, match="holds nothing of the picture"):
        subject_coverage(flat, np.zeros((HIGH, WIDE), np.uint8))
    recipe = looped(OutlineRecipe(), [(3, 3), (4, 3), (4, 4)])
    with pytest.raises(BlockedError, match="holds nothing of the picture"):
        clear_background(as_art(flat), recipe)


def test_hairs_go_and_bays_close_that_are_narrower_than_the_silhouette_follows():
    # opening and closing of a union of shapes that lie wide apart act on each alone: areas are known
    body = shapely.Point(0, 0).buffer(20, 256)
    hair = shapely.box(19, -0.1, 30, 0.1)
    slit = shapely.box(-0.2, 5, 0.2, 25)
    found = silhouette(shapely.MultiPolygon([body.union(hair).difference(slit)]), 1.0, 0.1)
    assert found.area == pytest.approx(math.pi * 400, rel=0.002)
    assert found.bounds[2] < 20.2
    kept = silhouette(shapely.MultiPolygon([body.union(shapely.box(19, -2, 30, 2))]), 1.0, 0.1)
    assert kept.bounds[2] == pytest.approx(30, abs=0.05)
    with pytest.raises(BlockedError, match="Nothing of the subject is wider than 5 mm"):
        silhouette(shapely.MultiPolygon([hair]), 5.0, 0.1)
