"""Cut lines, carried colour and the edge profile."""

import math
from dataclasses import replace

import numpy as np
import pytest
from skimage.color import deltaE_ciede2000, rgb2lab

from honest_edge.core.edge.bleed import carry_colour
from honest_edge.core.edge.contour import contour
from honest_edge.core.edge.profile import profile
from honest_edge.core.imaging.background import clear_background
from honest_edge.core.outline.outline import outline_of
from honest_edge.core.outline.trace import trace_pixels
from honest_edge.core.values.artwork import Artwork
from honest_edge.core.values.errors import BlockedError
from honest_edge.core.values.specs import SCHOOL_DEFAULTS, EdgeRecipe, OutlineRecipe
from pictures import coverage, disc, rgba

PIXEL_MM = 25.4 / 300
RADIUS_PX, SIZE_PX = 140, 340
COLOUR = (180, 60, 40)


def prepared(pixels, recipe):
    art = Artwork(pixels=pixels, stated_ppi=300, size_source="assumed")
    subject = clear_background(art, OutlineRecipe())
    outline = outline_of(trace_pixels(subject.coverage), width_px=300, width_mm=25.4, recipe=OutlineRecipe())
    cut = contour(outline, recipe)
    return cut, carry_colour(subject, outline, cut, recipe)


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
    cut, art = prepared(disc_art(), EdgeRecipe(school="bleed", offset_mm=0, bleed_mm=bleed_mm))
    edge = profile(cut, art)
    assert np.abs(edge.outward_mm - bleed_mm).max() <= 0.03
    assert edge.length_mm == pytest.approx(2 * math.pi * RADIUS_PX * PIXEL_MM, rel=1e-3)
    assert np.diff(edge.along_mm).max() <= 0.101


@pytest.mark.parametrize("border_mm", [0.5, 1.0, 2.5])
def test_the_profile_measures_the_border(border_mm):
    cut, art = prepared(disc_art(), EdgeRecipe(school="border", offset_mm=border_mm))
    edge = profile(cut, art)
    assert np.abs(edge.outward_mm + border_mm).max() <= 0.05
    assert not edge.white_first.any()


def test_drift_beyond_the_bleed_shows_white_and_within_it_nothing():
    cut, art = prepared(disc_art(), EdgeRecipe(school="bleed", offset_mm=0, bleed_mm=0.6))
    edge = profile(cut, art)
    assert edge.spots(0.5) == ()
    (spot,) = edge.spots(0.8)
    assert spot.trouble == "white"
    assert spot.margin_mm == pytest.approx(0.6, abs=0.03)
    assert edge.share_at_risk(0.8) == 1


def test_a_bare_edge_shows_any_drift_and_white_art_none():
    cut, art = prepared(disc_art(), SCHOOL_DEFAULTS["bare"])
    assert profile(cut, art).share_at_risk(0.2) > 0.99
    white = disc_art()
    white[..., :3] = 255
    cut, art = prepared(white, SCHOOL_DEFAULTS["bare"])
    assert profile(cut, art).spots(1.0) == ()


def test_a_border_that_thins_is_found_at_its_place():
    pixels = disc_art()
    cut, art = prepared(pixels, EdgeRecipe(school="border", offset_mm=1.5))
    # ink beyond the outline, as a faint smudge would be: it narrows the border at one place only
    smudged = art.pixels.copy()
    height, width = smudged.shape[:2]
    wide = np.zeros((height, width + 12, 4), np.uint8)
    wide[:, :width] = smudged
    wide[height // 2 - 6 : height // 2 + 6, width - 4 : width + 12] = (*COLOUR, 255)
    edge = profile(cut, replace(art, pixels=wide))
    (spot,) = edge.spots(1.0)
    assert spot.trouble == "art"
    assert spot.y_mm == pytest.approx(SIZE_PX / 2 * PIXEL_MM, abs=1.0)
    assert spot.margin_mm == pytest.approx(1.5 - 12 * PIXEL_MM, abs=0.1)
