"""A picture of a print before it dries, on the simulated phone, channel by channel. 20 CPU s."""

from __future__ import annotations

from dataclasses import replace

import cv2
import numpy as np
import pytest

from honest_edge.app.edits.job_holder import JobHolder, with_designs
from honest_edge.app.edits.open_art import design_from
from honest_edge.app.results.compute_overview import compute_overview
from honest_edge.app.results.pipeline import Pipeline
from honest_edge.app.run.conductor import Conductor
from honest_edge.app.run.print_looked import look_at_print
from honest_edge.app.run.sealing import Circumstances, sealed
from honest_edge.core.measure.print_strip import PATCHES, STRIP_MM, read_strip, strip_patches
from honest_edge.core.run.print_check import fitted_scale
from honest_edge.core.sheet.media import Box
from honest_edge.core.values.errors import BlockedError
from honest_edge.core.values.job import Job
from honest_edge.core.values.run_events import Moment
from honest_edge.files.print_png import page_pixels
from honest_edge.files.read_scan import Scan
from honest_edge.files.typefaces import font_library
from honest_edge.simulator.camera import photograph
from honest_edge.simulator.loaded_mat import Loading, on_carrier
from pictures import disc_png

PPI = 200.0


@pytest.fixture(scope="module")
def conductor(tmp_path_factory):
    holder, job = JobHolder(), Job()
    design = replace(design_from(holder, job, disc_png(ppi=300), "disc.png"), copies=6)
    pipeline = Pipeline(holder.assets)
    overview = compute_overview(with_designs(job, [design]), pipeline)
    sealing = sealed(overview, pipeline, Circumstances(run="d" * 32, sealed_at="2026-01-01T00:00:00Z", drying_s=60))
    made = Conductor.begin(
        tmp_path_factory.mktemp("runs"), sealing, lambda: Moment(wall_ms=1_790_000_000_000), block=1, carriers=1
    )
    yield made
    made.journal.close()


@pytest.fixture(scope="module")
def page(conductor):
    """The printed sheet, red first."""
    return page_pixels(conductor.print_bytes((1,), font_library()), 0, PPI)[..., 2::-1].copy()


def taken(page, size_mm, *, scale=1.0, seed=5):
    """Return a phone's picture of a page, printed smaller or larger about its middle."""
    if scale != 1.0:
        height, width = page.shape[:2]
        matrix = np.array([[scale, 0, (1 - scale) * width / 2], [0, scale, (1 - scale) * height / 2]])
        page = cv2.warpAffine(page, matrix, (width, height), flags=cv2.INTER_AREA, borderValue=(255, 255, 255))
    channels = []
    for channel in range(3):
        target = on_carrier(np.ascontiguousarray(page[..., channel]), PPI / 25.4, size_mm, Loading(ground=120.0))
        channels.append(photograph(target, 12, seed, tilt_deg=9.0, curl_mm=0.5))
    rgb = np.dstack(channels)
    return Scan(name="phone.jpg", grey=cv2.cvtColor(rgb, cv2.COLOR_RGB2GRAY), ppi=None, rgb=rgb)


def look(conductor, page, **how):
    return look_at_print(conductor, 1, taken(page, conductor.seal.sheet.size_mm, **how), font_library())


def test_a_good_print_is_said_to_be_one_of_its_true_size(conductor, page):
    seen = look(conductor, page)
    assert seen.wrong == ()
    assert "its inks, greys and fine lines are there" in seen.words


def test_a_print_that_was_fitted_to_the_page_is_told_by_its_scale(conductor, page):
    (said,) = [one for one in look(conductor, page, scale=fitted_scale(conductor.seal.sheet)).wrong if "%" in one]
    assert "the dialog fitted it to the page" in said
    assert any("104." in one or "103." in one for one in look(conductor, page, scale=1.04).wrong)


def test_ink_that_is_missing_bands_and_nozzles_are_told_apart(conductor, page):
    no_cyan = page.copy()
    no_cyan[..., 0] = 255 - (255 - page[..., 0].astype(int)) // 8
    assert "Too little ink: cyan" in look(conductor, no_cyan).words
    pale = (255 - (255 - page.astype(int)) * 0.45).astype(np.uint8)
    assert "magenta" in look(conductor, pale).words
    bands = page.astype(float)
    rows = np.arange(len(bands)) / PPI * 25.4
    bands = 255 - (255 - bands) * (0.8 + 0.2 * np.sign(np.sin(2 * np.pi * rows / 2.2)))[:, None, None]
    assert any("bands" in one for one in look(conductor, bands.astype(np.uint8)).wrong)


def strip_picture(px_per_mm=16, around_mm=1.2):
    """A strip as it is printed, with paper round it, drawn by hand."""
    box = Box(around_mm, around_mm, around_mm + STRIP_MM[0], around_mm + STRIP_MM[1])
    size = [round((side + 2 * around_mm) * px_per_mm) for side in STRIP_MM]
    picture = np.full((size[1], size[0], 3), 240, np.uint8)
    for place, rgb in strip_patches(box):
        left, top, right, bottom = (round(side * px_per_mm) for side in place)
        picture[top:bottom, left:right] = np.array(rgb) * 240 / 255
    return picture, px_per_mm, around_mm


def test_fine_lines_that_are_gone_and_grey_that_is_none_are_told():
    picture, fine, around = strip_picture()
    assert read_strip(picture, fine, around).is_fine
    lines_from = round((around + 7 * 5.6 + 1.5 + 14 + 1.5 - 0.1) * fine)
    gone = picture.copy()
    gone[:, lines_from : lines_from + round(8 * fine)] = 240
    reading = read_strip(gone, fine, around)
    assert reading.has_gaps
    assert reading.gone == pytest.approx(8 / 19.8, abs=0.06)
    warm = picture.astype(float)
    warm[..., 2] = 240 - (240 - warm[..., 2]) * 1.4
    assert read_strip(warm.clip(0, 255).astype(np.uint8), fine, around).has_cast
    light = (picture * np.linspace(1, 0.7, picture.shape[1])[None, :, None]).astype(np.uint8)
    assert read_strip(light, fine, around).is_fine, "light that falls off is no ink that lacks"
    assert len(PATCHES) == 7


def test_a_picture_of_something_else_is_refused(conductor):
    blank = np.full((900, 700, 3), 120, np.uint8)
    with pytest.raises(BlockedError, match="hold the ruler to it"):
        look_at_print(conductor, 1, Scan(name="x.jpg", grey=blank[..., 0], ppi=None, rgb=blank), font_library())
