"""The rim that an earlier background removal leaves."""

import numpy as np
import pytest

from honest_edge.core.imaging.matte import find_matte
from pictures import coverage, disc, rgba


def matted(old, colour, soft=0.0):
    cover = coverage(disc(140, 170, 170), 340, 340)
    pixels = rgba(cover, colour)
    pixels[..., :3] = np.rint(cover[..., None] * np.array(colour) + (1 - cover[..., None]) * np.array(old))
    return pixels


@pytest.mark.parametrize("colour", [(180, 60, 40), (30, 90, 160), (120, 120, 120)])
@pytest.mark.parametrize(("old", "kind"), [((255, 255, 255), "light"), ((0, 0, 0), "dark")])
def test_a_matte_is_found_and_named(colour, old, kind):
    found = find_matte(matted(old, colour))
    assert found is not None
    assert found.kind == kind
    assert found.pull > 12


@pytest.mark.parametrize("colour", [(180, 60, 40), (250, 250, 250), (8, 8, 8)])
def test_clean_art_has_none(colour):
    assert find_matte(rgba(coverage(disc(140, 170, 170), 340, 340), colour)) is None


def test_art_of_the_mattes_own_colour_says_nothing():
    assert find_matte(matted((255, 255, 255), (250, 248, 250))) is None


def test_a_drawn_white_outline_is_no_matte():
    pixels = matted((255, 255, 255), (255, 255, 255))
    inner = coverage(disc(120, 170, 170), 340, 340)
    pixels[inner > 0.5, :3] = (40, 90, 160)
    assert find_matte(pixels) is None


def test_hard_edges_have_too_few_pixels_to_tell():
    pixels = np.zeros((60, 60, 4), np.uint8)
    pixels[10:50, 10:50] = (10, 20, 30, 255)
    assert find_matte(pixels) is None
