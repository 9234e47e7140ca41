"""Noise is no art: grain, dots, moire and pages of text are bounded, and what was left out is said."""

import cv2
import numpy as np
import pytest
import skimage

from honest_edge.core.imaging.background import MOST_PARTS, clear_background, without_specks
from honest_edge.core.imaging.leaks import Leak, told
from honest_edge.core.outline.trace import trace_pixels
from honest_edge.core.values.artwork import Artwork
from honest_edge.core.values.errors import BlockedError
from honest_edge.core.values.specs import OutlineRecipe

SIDE = 600
ROWS, COLUMNS = np.mgrid[:SIDE, :SIDE]


def grain(seed):
    return np.clip(225 + np.random.default_rng(seed).normal(0, 18, (SIDE, SIDE)), 0, 255)


def halftone(seed):
    wave = np.sin(ROWS / (2 + seed)) * np.sin(COLUMNS / (2 + seed))
    return np.where(wave > np.linspace(-1, 1, SIDE)[None], 255, 0)


def moire(seed):
    return np.where(np.sin(((COLUMNS - 450) ** 2 + (ROWS - 300) ** 2) / (300 + 100 * seed)) > 0, 255, 30)


def text(seed):
    page = cv2.resize(skimage.data.page(), (SIDE, SIDE), interpolation=cv2.INTER_CUBIC)
    return np.roll(page, 40 * seed, axis=0)


def hatching(seed):
    rng = np.random.default_rng(seed)
    page = np.full((SIDE, SIDE), 240, np.uint8)
    for x, y in rng.integers(0, SIDE, (1500, 2)).tolist():
        cv2.line(page, (x, y), (x + 14, y + 9), 90, 1, cv2.LINE_AA)
    return page


@pytest.mark.parametrize("seed", [1, 2])
@pytest.mark.parametrize("make", [grain, halftone, moire, text, hatching])
@pytest.mark.parametrize("background", ["flood", "colour"])
def test_no_picture_has_thousands_of_parts(make, seed, background):
    grey = make(seed).astype(np.uint8)
    pixels = np.dstack([grey, grey, grey, np.full_like(grey, 255)])
    art = Artwork(pixels=pixels, stated_ppi=300, size_source="assumed")
    recipe = OutlineRecipe(background=background, colour=tuple(int(v) for v in pixels[0, 0, :3]))
    try:
        subject = clear_background(art, recipe)
    except BlockedError:
        return  # all of it is ground
    parts = cv2.connectedComponents((subject.coverage >= 128).astype(np.uint8), connectivity=8)[0] - 1
    assert parts <= MOST_PARTS
    assert (subject.specks > 0) == (parts == MOST_PARTS)
    assert len(trace_pixels(subject.coverage).geoms) <= 10 * MOST_PARTS  # of grain there were 58,000
    assert len(told(subject.leaks)) <= 10


def test_the_largest_parts_stay_with_their_soft_edges_and_the_rest_is_counted():
    pixels = np.zeros((SIDE, SIDE, 4), np.uint8)
    pixels[100:200, 100:200, 3] = 255
    pixels[99, 100:200, 3] = 100  # a soft edge
    pixels[300:590:4, 10:590:4, 3] = 255
    dots = len(range(300, 590, 4)) * len(range(10, 590, 4))
    kept, specks = without_specks(pixels, 0.5)
    assert specks == dots + 1 - MOST_PARTS
    assert (kept[99:200, 100:200] == pixels[99:200, 100:200]).all()
    same, none = without_specks(pixels[:260], 0.5)
    assert none == 0
    assert (same == pixels[:260]).all()


def test_of_many_gaps_the_open_and_the_large_ones_are_told():
    leaks = [
        Leak(start=(n / 99, 0), end=(n / 99, 0.1), width=0.1, pocket=n / 1e4, dammed=n % 2 == 0) for n in range(40)
    ]
    listed = told(leaks)
    assert len(listed) == 10
    assert [leak.dammed for leak in listed] == [False] * 10
    assert [round(leak.pocket * 1e4) for leak in listed] == [39, 37, 35, 33, 31, 29, 27, 25, 23, 21]
    assert told(leaks[:3]) == tuple(leaks[:3])
