"""Photographs keep their ground, drawings do not; the photographs are those that scikit-image ships (BSD and CC0)."""

import io
from pathlib import Path

import numpy as np
import pytest
import skimage
from PIL import Image

from honest_edge.core.imaging.background import clear_background
from honest_edge.core.values.artwork import Artwork
from honest_edge.core.values.specs import Correction, OutlineRecipe
from pictures import coverage, disc, on_background, star, turned

# astronaut, coffee and motorcycle_left have borders without a common colour: they kept their ground before, too
PHOTOGRAPHS = (
    *("astronaut", "brick", "camera", "cell", "chelsea", "clock_motion", "coffee", "coins", "grass", "gravel"),
    *("hubble_deep_field", "ihc", "microaneurysms", "moon", "motorcycle_left", "page", "retina", "rocket", "text"),
)


def opaque(rgb, *, lossy=False):
    full = np.dstack([rgb, np.full(rgb.shape[:2], 255, np.uint8)])
    return Artwork(pixels=full, stated_ppi=300, size_source="assumed", lossy=lossy)


def photograph(name):
    (path,) = (Path(skimage.__file__).parent / "data").glob(f"{name}.*")
    return np.array(Image.open(path).convert("RGB")), path.suffix == ".jpg"


def as_jpeg(rgb, quality):
    buffer = io.BytesIO()
    Image.fromarray(rgb).save(buffer, "JPEG", quality=quality)
    return np.array(Image.open(buffer))


@pytest.mark.parametrize("name", PHOTOGRAPHS)
def test_no_photograph_loses_its_ground_unasked(name):
    rgb, lossy = photograph(name)
    for picture, is_lossy in ((rgb, lossy), (as_jpeg(rgb, 80), True)):
        subject = clear_background(opaque(picture, lossy=is_lossy), OutlineRecipe(), seek_leaks=False)
        assert subject.method == "none"
        assert (subject.coverage == 255).all()


def test_it_is_said_what_it_looks_like_and_asking_clears_it():
    rgb, _ = photograph("camera")
    assert clear_background(opaque(rgb), OutlineRecipe()).looks_like == "photograph"
    dam = Correction(kind="dam", points=((0.1, 0.1), (0.2, 0.1)))
    for asked in (
        OutlineRecipe(background="flood"),
        OutlineRecipe(tolerance=30),
        OutlineRecipe(colour=(195, 195, 195)),
        OutlineRecipe(corrections=(dam,)),
    ):
        subject = clear_background(opaque(rgb), asked, seek_leaks=False)
        assert subject.looks_like is None
        assert (subject.coverage == 0).any()


@pytest.mark.parametrize("quality", [30, 60, 95])
@pytest.mark.parametrize("ground", [(255, 255, 255), (20, 120, 60), (0, 0, 0)])
def test_art_on_a_plain_ground_is_cleared_as_before(quality, ground):
    for shape in (disc(90, 120, 120), turned(star(110, 40), 10, 120, 120)):
        rgb = on_background(coverage(shape, 240, 240), (200, 60, 40), ground)
        assert clear_background(opaque(rgb), OutlineRecipe()).method == "flood"
        assert clear_background(opaque(as_jpeg(rgb, quality), lossy=True), OutlineRecipe()).method == "flood"


def test_ink_on_paper_that_is_not_evenly_lit_is_cleared():
    rgb = on_background(coverage(disc(90, 120, 120), 240, 240), (30, 40, 60), (250, 248, 244)).astype(float)
    shaded = rgb * (1 - 0.07 * np.linspace(0, 1, 240)[None, :, None]) - np.random.default_rng(2).normal(0, 2, rgb.shape)
    paper = np.clip(shaded, 0, 255).astype(np.uint8)
    assert clear_background(opaque(paper), OutlineRecipe()).method == "flood"


def test_a_page_of_writing_and_squared_paper_are_said_as_such():
    page = np.full((600, 500, 3), 250, np.uint8)
    letters = np.random.default_rng(3)
    for row in range(40, 560, 16):
        for column in range(40, 460, 9):
            height = int(letters.integers(5, 10))
            page[row : row + height, column : column + 2] = 20
            page[row : row + 2, column : column + 5] = 20
    assert clear_background(opaque(page), OutlineRecipe()).looks_like == "page of writing"
    squared = on_background(coverage(disc(90, 250, 250), 500, 500), (30, 40, 60), (255, 255, 255))
    squared[::20] = np.minimum(squared[::20], (150, 180, 230))
    squared[:, ::20] = np.minimum(squared[:, ::20], (150, 180, 230))
    squared = squared[10:, 10:].copy()
    assert clear_background(opaque(squared), OutlineRecipe()).looks_like == "drawing on lined paper"


def test_flat_skies_and_grey_photographs():
    sky = np.zeros((300, 400, 3), np.uint8)
    sky[:] = np.array([150, 180, 220]) + np.linspace(0, 30, 300)[:, None, None]
    ground = np.random.default_rng(5).integers(30, 120, (120, 400, 1))
    sky[180:] = np.clip(ground + np.random.default_rng(6).integers(-9, 9, (120, 400, 3)), 0, 255)
    assert clear_background(opaque(sky), OutlineRecipe()).looks_like == "photograph"
    grey = np.repeat(np.array(Image.fromarray(sky).convert("L"))[..., None], 3, axis=2)
    assert clear_background(opaque(grey), OutlineRecipe()).looks_like == "photograph"
