"""Paper turns white: the light on it is divided out, what is drawn on it stays, and photographs are left alone."""

import math
from pathlib import Path

import cv2
import numpy as np
import pytest
import skimage

from honest_edge.core.imaging.background import clear_background
from honest_edge.core.imaging.paper import on_shaded_paper, whitened
from honest_edge.core.values.artwork import Artwork
from honest_edge.core.values.specs import OutlineRecipe

WIDE, HIGH = 640, 480
ROWS, COLUMNS = np.mgrid[:HIGH, :WIDE]


def drawing():
    """Coverage of a large solid disc and a ring of a thin line, which no estimate of light may swallow."""
    share = np.zeros((HIGH * 4, WIDE * 4), np.uint8)
    cv2.circle(share, (4 * 200, 4 * 240), 4 * 110, 255, -1)
    cv2.circle(share, (4 * 470, 4 * 240), 4 * 90, 255, 4 * 4)
    return cv2.resize(share, (WIDE, HIGH), interpolation=cv2.INTER_AREA) / 255.0


def page(grain=4.0, ink=0.55, tint=(1.0, 0.98, 0.93)):
    """A drawing of one grey on yellowish paper that darkens to one corner by a third."""
    x, y = COLUMNS / WIDE, ROWS / HIGH
    light = 238 * (1 - 0.22 * x - 0.12 * y**2)
    grey = light * (1 - ink * drawing()) + np.random.default_rng(1).normal(0, grain, light.shape)
    rgb = np.clip(grey[..., None] * np.array(tint), 0, 255).astype(np.uint8)
    return np.dstack([rgb, np.full((HIGH, WIDE), 255, np.uint8)])


def test_shaded_paper_turns_white_and_what_is_drawn_keeps_its_tone():
    pixels, share = page(), drawing()
    assert on_shaded_paper(pixels)
    white = whitened(pixels, "white")
    paper, ink = white[share == 0][:, :3], white[share == 1][:, :3]
    assert (paper == 255).mean() > 0.985
    assert np.ptp([np.median(ink[:, n]) for n in range(3)]) <= 3  # the paper's tint is gone from the ink as well
    # 0.45 of the light is left; white is set three deviations of the grain below the paper
    assert np.median(ink) == pytest.approx(255 * 0.45 / (1 - 3 * 4 / 215), rel=0.04)
    assert not on_shaded_paper(white)
    strong = whitened(pixels, "strong")
    assert np.median(strong[share == 1][:, :3]) < 60
    assert (strong[share == 0][:, :3] == 255).mean() > 0.985
    assert (whitened(pixels, "kept") == pixels).all()


def test_the_outline_of_a_drawing_on_shaded_paper_is_that_of_the_drawing():
    subject = clear_background(
        Artwork(pixels=whitened(page(), "white"), stated_ppi=300, size_source="assumed"), OutlineRecipe()
    )
    assert subject.looks_like is None
    inside = subject.coverage >= 128
    # the ring's inside is white and stays: pi (R + half the line) squared, and the disc
    assert inside.sum() == pytest.approx(math.pi * (110**2 + 92**2), rel=0.01)
    assert inside[240, 470]
    before = clear_background(Artwork(pixels=page(), stated_ppi=300, size_source="assumed"), OutlineRecipe())
    assert before.coverage.all()  # a whole rectangle


@pytest.mark.parametrize("name", ["chelsea", "coffee", "astronaut", "camera", "coins", "rocket"])
def test_photographs_are_no_drawings_on_paper(name):
    file = f"{name}.{'jpg' if name == 'rocket' else 'png'}"
    picture = cv2.imread(str(Path(skimage.__file__).parent / "data" / file))[..., ::-1]
    assert not on_shaded_paper(np.dstack([picture, np.full(picture.shape[:2], 255, np.uint8)]))


def test_white_paper_and_what_is_see_through_are_left_alone():
    white = np.full((90, 120, 4), 255, np.uint8)
    white[30:60, 40:80, :3] = 20
    assert not on_shaded_paper(white)
    clear = page()
    clear[..., 3] = np.where(drawing() > 0, 255, 0)
    assert not on_shaded_paper(clear)
    dark = np.full((90, 120, 4), 255, np.uint8)
    dark[..., :3] = 3
    assert not on_shaded_paper(dark)
    assert whitened(dark, "strong").shape == dark.shape
