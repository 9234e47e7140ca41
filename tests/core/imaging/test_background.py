import io

import numpy as np
import pytest
from PIL import Image

from honest_edge.core.imaging.background import border_colour, clear_background
from honest_edge.core.outline.trace import trace_pixels
from honest_edge.core.values.artwork import Artwork
from honest_edge.core.values.errors import BlockedError
from honest_edge.core.values.specs import OutlineRecipe
from pictures import coverage, disc, on_background, rgba


def opaque(rgb, *, lossy=False):
    full = np.dstack([rgb, np.full(rgb.shape[:2], 255, np.uint8)])
    return Artwork(pixels=full, stated_ppi=300, size_source="assumed", lossy=lossy)


def eye():
    """A dark ring round white, on white: the white inside belongs to the art."""
    cover = coverage(disc(90, 120, 120), 240, 240) - coverage(disc(60, 120, 120), 240, 240)
    return on_background(cover, (30, 40, 60), (255, 255, 255))


def test_white_inside_the_art_stays():
    subject = clear_background(opaque(eye()), OutlineRecipe())
    assert subject.coverage[120, 120] == 255
    assert tuple(subject.pixels[120, 120]) == (255, 255, 255, 255)
    assert subject.coverage[3, 3] == 0
    assert trace_pixels(subject.coverage).area == pytest.approx(np.pi * 90**2, rel=2e-3)


def test_the_edge_takes_the_arts_own_colour():
    cover = coverage(disc(80, 100, 100), 200, 200)
    subject = clear_background(opaque(on_background(cover, (30, 40, 60), (255, 255, 255))), OutlineRecipe())
    soft = (subject.coverage > 25) & (subject.coverage < 230)
    assert soft.any()
    assert np.abs(subject.pixels[soft][:, :3].astype(int) - (30, 40, 60)).max() <= 5


def test_a_noisy_jpeg_is_told_from_its_background():
    buffer = io.BytesIO()
    noise = np.random.default_rng(3).normal(0, 3, (240, 240, 3))
    Image.fromarray(np.clip(eye() + noise, 0, 255).astype(np.uint8)).save(buffer, "JPEG", quality=75)
    rgb = np.asarray(Image.open(buffer))
    subject = clear_background(opaque(rgb, lossy=True), OutlineRecipe())
    truth = coverage(disc(90, 120, 120), 240, 240) > 0.5
    found = subject.coverage > 127
    assert (truth & found).sum() / (truth | found).sum() >= 0.997  # intersection over union


def test_a_coloured_background_is_found():
    cover = coverage(disc(60, 100, 100), 200, 200)
    subject = clear_background(opaque(on_background(cover, (250, 240, 230), (20, 120, 60))), OutlineRecipe())
    assert subject.background_rgb == (20, 120, 60)


def test_a_border_of_many_colours_keeps_the_rectangle():
    rgb = np.random.default_rng(1).integers(0, 255, (60, 80, 3), dtype=np.uint8)
    assert border_colour(rgb) is None
    assert clear_background(opaque(rgb), OutlineRecipe()).method == "none"
    with pytest.raises(BlockedError, match="no colour in common"):
        clear_background(opaque(rgb), OutlineRecipe(background="flood"))


def test_what_cannot_be_told_apart_is_said():
    blank = opaque(np.full((40, 40, 3), 250, np.uint8))
    with pytest.raises(BlockedError, match="looks like background"):
        clear_background(blank, OutlineRecipe())
    with pytest.raises(BlockedError, match="no transparency"):
        clear_background(blank, OutlineRecipe(background="alpha"))
    clear = Artwork(pixels=rgba(np.zeros((40, 40))), stated_ppi=300, size_source="assumed")
    with pytest.raises(BlockedError, match="opaque enough"):
        clear_background(clear, OutlineRecipe())
    assert clear_background(blank, OutlineRecipe(background="none")).coverage.all()
