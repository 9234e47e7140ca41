"""Film that is ironed on to dark cloth: rim and ground take the cloth's colour from the stock's entry.

That a slip of the cut shows white on the cloth, and is hidden so, is common practice, no published source.
"""

from dataclasses import replace

import numpy as np
import pytest

from honest_edge.app.edits.fixes import fixed_job
from honest_edge.app.edits.job_holder import JobHolder, with_designs
from honest_edge.app.edits.open_art import design_from
from honest_edge.app.results.pipeline import Pipeline
from honest_edge.core.values.job import Job
from honest_edge.core.values.specs import SCHOOL_DEFAULTS
from honest_edge.core.values.stock import STOCKS, Stock
from pictures import coverage, png, rgba

DARK = next(stock for stock in STOCKS if stock.cloth_rgb is not None)
SQUARE = np.array([[20, 20], [220, 20], [220, 220], [20, 220]], float)


@pytest.fixture
def job():
    """A ring, see-through in its middle, cut outside with a white border."""
    pixels = rgba(coverage(SQUARE, 240, 240))
    pixels[90:150, 90:150, 3] = 0
    holder = JobHolder()
    design = design_from(holder, Job(), png(pixels, dpi=(300, 300)), "ring.png")
    made = with_designs(Job(), [replace(design, edge=SCHOOL_DEFAULTS["border"])])
    return replace(made, sheet=replace(made.sheet, stock=DARK)), Pipeline(holder.assets)


def test_a_border_that_would_show_white_is_found_and_mended_by_one_press(job):
    before, pipeline = job
    (found,) = [f for f in pipeline.result(before.designs[0], before).findings if f.check == "cloth"]
    assert found.message == "a slip of the cut, or a border, shows white on the cloth"
    after = fixed_job(before, found.fix)
    result = pipeline.result(after.designs[0], after)
    assert not [f for f in result.findings if f.check == "cloth"]
    art = result.art
    inside = art.pixels[..., 3] > 0
    assert (art.pixels[inside][:, 3] == 255).all()
    middle = [round((10.16 - edge) / art.pixel_mm) for edge in (art.top_mm, art.left_mm)]
    assert tuple(art.pixels[middle[0], middle[1], :3]) == DARK.cloth_rgb  # the ground under the see-through middle
    rim = round((1.0 - art.left_mm) / art.pixel_mm)
    assert tuple(art.pixels[middle[0], rim, :3]) == DARK.cloth_rgb  # the rim past the art's edge
    left, _, right, _ = result.cut.area.bounds
    assert art.bounds_mm[0] == pytest.approx(left - 1.27, abs=0.01)
    assert art.bounds_mm[2] == pytest.approx(right + 1.27, abs=0.01)


def test_another_cloth_changes_the_rim_and_none_is_said(job):
    before, pipeline = job
    design = replace(before.designs[0], edge=replace(before.designs[0].edge, fill="cloth", bleed_mm=1.0))
    red = replace(before, designs=(design,), sheet=replace(before.sheet, stock=replace(DARK, cloth_rgb=(160, 20, 30))))
    art = pipeline.result(design, red).art
    assert tuple(art.pixels[art.pixels.shape[0] // 2, 3, :3]) == (160, 20, 30)
    none = replace(red, sheet=replace(red.sheet, stock=Stock()))
    (found,) = [f for f in pipeline.result(design, none).findings if f.check == "cloth"]
    assert "names no cloth" in found.message
    assert fixed_job(none, found.fix).designs[0].edge.fill == "nearest"


def test_white_film_on_white_cloth_needs_no_rim(job):
    before, pipeline = job
    white = replace(before, sheet=replace(before.sheet, stock=replace(DARK, cloth_rgb=(250, 250, 250))))
    assert not [f for f in pipeline.result(white.designs[0], white).findings if f.check == "cloth"]


def test_white_shows_past_a_dark_rim_whatever_the_art_was(job):
    """Pale art would not be missed on white; its dark rim is."""
    before, pipeline = job
    pixels = rgba(coverage(SQUARE, 240, 240))
    pixels[..., :3] = 250
    holder = JobHolder()
    pale = design_from(holder, Job(), png(pixels, dpi=(300, 300)), "pale.png")
    pale = replace(pale, edge=replace(SCHOOL_DEFAULTS["bleed"], bleed_mm=0.1))
    job_of_pale = replace(with_designs(Job(), [pale]), sheet=before.sheet)
    pipeline = Pipeline(holder.assets)
    assert pipeline.result(pale, job_of_pale).forecast.share_clean > 0.99
    dark = replace(pale, edge=replace(pale.edge, fill="cloth"))
    assert pipeline.result(dark, replace(job_of_pale, designs=(dark,))).forecast.share_clean < 0.9
