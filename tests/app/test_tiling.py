"""A design split over pages: every page shows its part at its size, and laid over each other they are the whole."""

from dataclasses import replace

import numpy as np
import pytest

from honest_edge.app.edits.job_holder import JobHolder, with_designs
from honest_edge.app.edits.open_art import design_from
from honest_edge.app.edits.tiling import tiled, tiling_of
from honest_edge.app.results.compute_overview import compute_overview
from honest_edge.app.results.pipeline import Pipeline
from honest_edge.core.values.errors import BlockedError, UsageError
from honest_edge.core.values.job import Job
from honest_edge.core.values.sheet import SheetSpec
from honest_edge.core.values.specs import OutlineRecipe
from pictures import png

WIDE_PX, HIGH_PX, PPI = 1000, 600, 50  # 508 x 304.8 mm


@pytest.fixture
def poster():
    """Colours that tell the place: red grows to the right, green downward."""
    pixels = np.full((HIGH_PX, WIDE_PX, 4), 255, np.uint8)
    pixels[..., 0] = np.linspace(0, 250, WIDE_PX)[None]
    pixels[..., 1] = np.linspace(0, 250, HIGH_PX)[:, None]
    pixels[..., 2] = 120
    holder = JobHolder()
    design = design_from(holder, Job(), png(pixels, dpi=(PPI, PPI)), "poster.png")
    design = replace(design, copies=1, fills=False, outline=OutlineRecipe(background="none"))
    return with_designs(Job(sheet=SheetSpec(paper="a4")), [design]), Pipeline(holder.assets)


def test_the_pages_fit_and_each_shows_its_part_at_its_size(poster):
    job, pipeline = poster
    result = pipeline.result(job.designs[0], job)
    assert compute_overview(job, pipeline).plan is None
    tiling = tiling_of(result, job, 10.0)
    columns, rows = tiling.columns, tiling.rows
    wide, high = tiling.page_mm
    assert columns * wide - (columns - 1) * 10 == pytest.approx(result.art_size_mm[0])
    assert rows * high - (rows - 1) * 10 == pytest.approx(result.art_size_mm[1])
    split = tiled(job, result, tiling)
    assert len(split.designs) == tiling.pages
    assert split.designs[0].name == "Poster, page A1"
    overview = compute_overview(split, pipeline)
    assert overview.plan is not None
    assert overview.plan.copies == tiling.pages
    for number, page in enumerate(split.designs):
        row, column = divmod(number, columns)
        shown = overview.results[page.key]
        assert shown.cut_size_mm == pytest.approx((wide, high), abs=0.02)
        pixels = shown.artwork.pixels
        y, x = pixels.shape[0] // 2, pixels.shape[1] // 2
        across = (column * (wide - 10) + wide / 2) / result.art_size_mm[0]
        down = (row * (high - 10) + high / 2) / result.art_size_mm[1]
        assert pixels[y, x, 0] == pytest.approx(250 * across, abs=2)
        assert pixels[y, x, 1] == pytest.approx(250 * down, abs=2)


def test_ticks_stand_where_the_next_page_begins(poster):
    job, pipeline = poster
    result = pipeline.result(job.designs[0], job)
    tiling = tiling_of(result, job, 12.0)
    split = tiled(job, result, tiling)
    first = split.designs[0]
    ticks = [layer for layer in first.layers if layer.shape is not None]
    assert {round(tick.x_mm, 3) for tick in ticks if tick.turn_deg == 90} == {round(tiling.page_mm[0] / 2 - 12, 3)}
    last = split.designs[-1]
    assert not [layer for layer in last.layers if layer.shape is not None]  # nothing follows it


def test_what_cannot_be_split_is_said(poster):
    job, pipeline = poster
    result = pipeline.result(job.designs[0], job)
    with pytest.raises(UsageError, match="overlap of pages must be 0 to 50 mm, not 80"):
        tiling_of(result, job, 80.0)
    huge = pipeline.result(replace(job.designs[0], width_mm=1000.0), job)
    with pytest.raises(BlockedError, match=r"would take \d+ pages, more than 60"):
        tiling_of(huge, replace(job, sheet=SheetSpec(paper="a5")), 30.0)
