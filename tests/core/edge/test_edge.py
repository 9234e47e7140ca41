"""Cut lines, carried colour and the edge profile."""

import math
from dataclasses import replace

import cv2
import numpy as np
import pytest
from skimage.color import deltaE_ciede2000, rgb2lab

from edges import PIXEL_MM, made
from honest_edge.core.edge.bleed import rim_colour
from honest_edge.core.values.errors import BlockedError
from honest_edge.core.values.misregistration import MARKS_MIDDLE, VISIBLE_MM, assumed_misregistration
from honest_edge.core.values.specs import SCHOOL_DEFAULTS, EdgeRecipe
from pictures import coverage, disc, levels, rgba

RADIUS_PX, SIZE_PX = 140, 340
COLOUR = (180, 60, 40)


def prepared(pixels, recipe):
    edge = made(pixels, recipe)
    return edge.cut, edge.art


def weak_places(edge, within_mm, visible_mm=VISIBLE_MM):
    return edge.weak_places(assumed_misregistration(within_mm), MARKS_MIDDLE, visible_mm)


def disc_art(cover=None):
    return rgba(
        coverage(disc(RADIUS_PX, SIZE_PX / 2, SIZE_PX / 2), SIZE_PX, SIZE_PX) if cover is None else cover, COLOUR
    )


@pytest.mark.parametrize(("school", "moved_mm"), [("border", 2.0), ("bleed", 0.0), ("inside", -1.0), ("bare", 0.0)])
def test_each_school_puts_the_cut_where_it_says(school, moved_mm):
    cut, _ = prepared(disc_art(), SCHOOL_DEFAULTS[school])
    radius = RADIUS_PX * PIXEL_MM + moved_mm
    assert cut.area.area == pytest.approx(math.pi * radius**2, rel=2e-3)
    assert len(cut.curves) == 1


def test_cutting_too_far_inside_says_so():
    with pytest.raises(BlockedError, match="20 mm inside the art leaves nothing"):
        prepared(disc_art(), EdgeRecipe(school="inside", offset_mm=20))


def test_ciede2000_of_the_library_is_that_of_its_authors():
    # Sharma, Wu, Dalal: The CIEDE2000 Color-Difference Formula, Color Res. Appl. 30 (2005), table 1,
    # pairs 1, 2, 3, 7 and 17 (from memory)
    pairs = [
        ((50.0, 2.6772, -79.7751), (50.0, 0.0, -82.7485), 2.0425),
        ((50.0, 3.1571, -77.2803), (50.0, 0.0, -82.7485), 2.8615),
        ((50.0, 2.8361, -74.0200), (50.0, 0.0, -82.7485), 3.4412),
        ((50.0, 0.0, 0.0), (50.0, -1.0, 2.0), 2.3669),
        ((50.0, 2.5, 0.0), (73.0, 25.0, -18.0), 27.1492),
    ]
    for one, two, expected in pairs:
        assert float(deltaE_ciede2000(np.array(one), np.array(two))) == pytest.approx(expected, abs=1e-4)


def matted(matte):
    """Art whose edge pixels were blended with a background that was then taken away: the halo's cause."""
    cover = coverage(disc(RADIUS_PX, SIZE_PX / 2, SIZE_PX / 2), SIZE_PX, SIZE_PX)
    pixels = rgba(cover, COLOUR)
    mixed = cover[..., None] * np.array(COLOUR) + (1 - cover[..., None]) * np.array(matte)
    pixels[..., :3] = np.rint(mixed)
    return pixels


@pytest.mark.parametrize(
    "pixels", [disc_art(), matted((255, 255, 255)), matted((0, 0, 0))], ids=["clean", "white matte", "black matte"]
)
def test_no_halo_at_the_cut(pixels):
    cut, art = prepared(pixels, SCHOOL_DEFAULTS["bleed"])
    ring = cut.curves[0].flattened(0.01)
    centre = SIZE_PX / 2 * PIXEL_MM
    outward = (ring - centre) / np.hypot(*(ring - centre).T)[:, None]
    differences = []
    for away_px in (-2, -1, 0, 1, 2):
        at = ring + outward * away_px * PIXEL_MM
        columns = ((at[:, 0] - art.left_mm) / PIXEL_MM).astype(int)
        rows = ((at[:, 1] - art.top_mm) / PIXEL_MM).astype(int)
        seen = art.pixels[rows, columns]
        assert (seen[:, 3] == 255).all()
        lab = rgb2lab(seen[:, :3] / 255)
        differences.append(deltaE_ciede2000(lab, rgb2lab(np.full(seen[:, :3].shape, COLOUR) / 255)))
    halo = np.concatenate(differences)
    assert halo.mean() <= 0.5
    assert np.percentile(halo, 95) <= 2


def test_a_gradient_is_carried_outward_place_by_place():
    pixels = disc_art()
    pixels[..., 0] = np.linspace(20, 240, SIZE_PX).astype(np.uint8)[None]
    _, art = prepared(pixels, EdgeRecipe(school="bleed", offset_mm=0, bleed_mm=2))
    middle = art.pixels.shape[0] // 2
    row = art.pixels[middle]
    inked = np.flatnonzero(row[:, 3] == 255)
    left, right = row[inked[4], 0], row[inked[-4], 0]
    assert abs(int(left) - 20 - 220 * 30 / 340) < 12
    assert abs(int(right) - 20 - 220 * 310 / 340) < 12


def test_what_is_see_through_inside_stays_so():
    cover = coverage(disc(RADIUS_PX, 170, 170), SIZE_PX, SIZE_PX) - coverage(disc(40, 170, 170), SIZE_PX, SIZE_PX)
    _, art = prepared(disc_art(cover), SCHOOL_DEFAULTS["bleed"])
    height, width = art.pixels.shape[:2]
    assert art.pixels[height // 2, width // 2, 3] == 0


def test_thin_parts_keep_their_own_colour():
    pixels = np.zeros((120, 300, 4), np.uint8)
    pixels[58:61, 20:280] = (10, 120, 30, 255)
    cut, art = prepared(pixels, EdgeRecipe(school="bleed", offset_mm=0, bleed_mm=1))
    inked = art.pixels[art.pixels[..., 3] > 0]
    assert cut.area.area > 0
    assert (np.abs(inked[:, :3].astype(int) - (10, 120, 30)) <= 3).all()


@pytest.mark.parametrize("bleed_mm", [0.3, 0.8, 1.27, 3.0])
def test_the_profile_measures_the_bleed(bleed_mm):
    edge = made(disc_art(), EdgeRecipe(school="bleed", offset_mm=0, bleed_mm=bleed_mm, ease_mm=0)).profile
    assert np.abs(edge.outward_mm - bleed_mm).max() <= 0.03
    assert edge.length_mm == pytest.approx(2 * math.pi * RADIUS_PX * PIXEL_MM, rel=1e-3)
    assert np.diff(edge.along_mm).max() <= 0.101
    assert edge.shows_white.all()


@pytest.mark.parametrize("border_mm", [0.5, 1.0, 2.5])
def test_the_profile_measures_the_border(border_mm):
    edge = made(disc_art(), EdgeRecipe(school="border", offset_mm=border_mm)).profile
    assert np.abs(edge.outward_mm + border_mm).max() <= 0.05
    assert np.abs(edge.detail_mm - border_mm).max() <= 0.05
    assert not edge.shows_white.any()


def test_a_ring_inside_the_art_is_detail_and_its_distance_is_measured():
    pixels = disc_art()
    ring = coverage(disc(100, 170, 170), SIZE_PX, SIZE_PX) - coverage(disc(90, 170, 170), SIZE_PX, SIZE_PX)
    pixels[ring > 0.5, :3] = (250, 240, 200)
    edge = made(pixels, SCHOOL_DEFAULTS["bleed"]).profile
    assert np.abs(edge.detail_mm - 40 * PIXEL_MM).max() <= 0.12


def test_a_stripe_that_runs_off_the_edge_is_no_detail():
    pixels = disc_art()
    pixels[:, 160:180, :3] = (250, 240, 200)
    edge = made(pixels, SCHOOL_DEFAULTS["bleed"])
    assert edge.model.detail.is_empty
    assert np.isinf(edge.profile.art_room_mm).all()


def test_an_error_beyond_the_bleed_shows_white_and_within_it_nothing():
    edge = made(disc_art(), EdgeRecipe(school="bleed", offset_mm=0, bleed_mm=0.6, ease_mm=0)).profile
    assert weak_places(edge, 0.4) == ()
    (weak_place,) = weak_places(edge, 0.8)
    assert weak_place.trouble == "white"
    assert weak_place.room_mm == pytest.approx(0.6, abs=0.03)
    assert weak_place.end_mm - weak_place.start_mm == pytest.approx(edge.length_mm, rel=0.01)


def test_a_bare_edge_shows_any_error_and_white_art_none():
    assert weak_places(made(disc_art(), SCHOOL_DEFAULTS["bare"]).profile, 0.4)
    white = disc_art()
    white[..., :3] = 255
    assert weak_places(made(white, SCHOOL_DEFAULTS["bare"]).profile, 1.0) == ()


def test_the_band_is_what_19_of_20_errors_sweep():
    edge = made(disc_art(), SCHOOL_DEFAULTS["bleed"]).profile
    low, high = edge.band(assumed_misregistration(0.5), MARKS_MIDDLE)
    assert low == pytest.approx(-0.5, abs=1e-6)
    assert high == pytest.approx(0.5, abs=1e-6)


# -- what fills the bleed -------------------------------------------------------------------------------


def halo(pixels, recipe, truth):
    """CIEDE2000 of what is printed within 2 px of the cut against the colour that ``truth`` says (row, column)."""
    cut, art = prepared(pixels, recipe)
    ring = cut.curves[0].flattened(0.01)
    centre = SIZE_PX / 2 * PIXEL_MM
    outward = (ring - centre) / np.hypot(*(ring - centre).T)[:, None]
    found = []
    for away_px in (-2, -1, 0, 1, 2):
        at = ring + outward * away_px * PIXEL_MM
        rows = ((at[:, 1] - art.top_mm) / PIXEL_MM).astype(int)
        columns = ((at[:, 0] - art.left_mm) / PIXEL_MM).astype(int)
        wanted = truth(at[:, 1] / PIXEL_MM, at[:, 0] / PIXEL_MM)
        found.append(deltaE_ciede2000(rgb2lab(art.pixels[rows, columns, :3] / 255), rgb2lab(wanted / 255)))
    return np.concatenate(found)


def ramp(row, column):
    return np.stack([60 + column * 0.4, 90 + row * 0.25, np.full_like(row, 120.0)], axis=-1)


def photograph(row, column):
    wave = 40 * np.sin(row / 70) + 30 * np.cos(column / 90)
    return np.stack([120 + wave, 110 + 0.7 * wave, 90 - 0.5 * wave], axis=-1)


@pytest.mark.parametrize("truth", [ramp, photograph], ids=["gradient", "photograph"])
@pytest.mark.parametrize("matte", [None, 255, 0], ids=["clean", "white matte", "black matte"])
@pytest.mark.parametrize("soft_px", [0.0, 1.2], ids=["sharp", "soft"])
def test_no_halo_on_art_of_many_colours(truth, matte, soft_px):
    cover = coverage(disc(RADIUS_PX, SIZE_PX / 2, SIZE_PX / 2), SIZE_PX, SIZE_PX)
    if soft_px:
        cover = cv2.GaussianBlur(cover, (0, 0), soft_px)
    row, column = np.mgrid[:SIZE_PX, :SIZE_PX] + 0.5
    pixels = np.dstack([truth(row, column), levels(cover)])
    if matte is not None:
        pixels[..., :3] = pixels[..., :3] * cover[..., None] + matte * (1 - cover[..., None])
    found = halo(np.rint(pixels).astype(np.uint8), SCHOOL_DEFAULTS["bleed"], truth)
    # the colour of a place 2 px farther in is not quite its own: about 1 level a pixel here
    assert found.mean() <= 1.0
    assert np.percentile(found, 95) <= 2.0


def test_a_plain_bleed_has_the_colour_that_was_asked_for():
    recipe = EdgeRecipe(school="bleed", offset_mm=0, bleed_mm=2, fill="plain", fill_rgb=(10, 200, 30))
    _, art = prepared(disc_art(), recipe)
    assert tuple(art.pixels[art.pixels.shape[0] // 2, 4]) == (10, 200, 30, 255)
    _, found = prepared(disc_art(), replace(recipe, fill_rgb=None))
    assert tuple(found.pixels[found.pixels.shape[0] // 2, 4]) == (*COLOUR, 255)


def test_a_mirrored_bleed_repeats_a_photograph_backwards():
    row, column = np.mgrid[:200, :300]
    pixels = np.dstack([photograph(row, column), np.full((200, 300), 255.0)]).astype(np.uint8)
    recipe = EdgeRecipe(school="bleed", offset_mm=0, bleed_mm=1.5, fill="mirror", ease_mm=0)
    edge = made(pixels, recipe, background="none")
    art, left = edge.art, round(-edge.art.left_mm / PIXEL_MM)
    middle = art.pixels.shape[0] // 2
    outside = art.pixels[middle, left - 12 : left - 3, :3].astype(int)
    inside = art.pixels[middle, left + 7 : left + 16, :3].astype(int)  # two pixels of rim are replaced as well
    assert np.abs(outside[::-1] - inside).max() <= 4


def test_ink_of_a_cut_inside_is_never_less_than_the_art():
    edge = made(disc_art(), EdgeRecipe(school="inside", offset_mm=1.0, bleed_mm=0.3))
    assert edge.art.ink_area.area == pytest.approx(math.pi * (RADIUS_PX * PIXEL_MM) ** 2, rel=2e-3)


def test_the_plain_rim_is_the_commonest_colour_and_not_the_commonest_shade():
    """Three in five pixels of the fringe are reds of many shades, the others one and the same blue."""
    chance = np.random.default_rng(8)
    pixels = disc_art()
    across = np.linspace(0, 2 * np.pi, 6, endpoint=False)
    y, x = np.indices((SIZE_PX, SIZE_PX)) - SIZE_PX / 2
    is_blue = np.isin(np.digitize(np.arctan2(y, x) % (2 * np.pi), across) - 1, (0, 3))
    red = np.array([208, 48, 32]) + chance.integers(0, 16, (SIZE_PX, SIZE_PX, 3))
    pixels[..., :3] = np.where(is_blue[..., None], (40, 60, 200), red)
    assert tuple(rim_colour(pixels[..., :3], pixels[..., 3] == 255)) == pytest.approx((215, 55, 39), abs=2)
