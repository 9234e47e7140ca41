"""Splitting, first looks, vectors kept for print, and originals that stay untouched."""

import io
from dataclasses import replace

import numpy as np
import pikepdf
import pypdfium2
import pytest

from drawings import pdf, svg
from honest_edge.app.edits.job_holder import JobHolder, with_designs
from honest_edge.app.edits.open_art import demo_project, design_from
from honest_edge.app.edits.outline_edits import dammed_leak, opened_leak, picked_at, turned_round, without_step
from honest_edge.app.edits.split_design import split
from honest_edge.app.output.prepare_files import prepare
from honest_edge.app.results.outline_preview import Previewer
from honest_edge.app.results.pipeline import Pipeline
from honest_edge.core.values.errors import BlockedError
from honest_edge.core.values.job import Job
from honest_edge.core.values.specs import Correction, EdgeRecipe, OutlineRecipe
from honest_edge.files.project import parse_project, project_bytes
from pictures import coverage, disc, png, rgba

BLOBS = ((30, 50, 50), (22, 160, 60), (26, 90, 150), (12, 190, 170))


def blobs(width=240, height=200):
    cover = sum(coverage(disc(r, x, y), width, height) for r, x, y in BLOBS)
    return png(rgba(np.clip(cover, 0, 1)), dpi=(300, 300))


def job_of(data, name, **changes):
    holder = JobHolder()
    design = replace(design_from(holder, Job(), data, name), **changes)
    return with_designs(Job(), [design]), holder


def test_a_picture_of_many_drawings_becomes_one_design_each():
    job, holder = job_of(blobs(), "blobs.png", edge=EdgeRecipe(offset_mm=0.5), copies=3, fills=False)
    pipeline = Pipeline(holder.assets)
    whole = pipeline.result(job.designs[0], job)
    parts = split(job, whole)
    assert len(parts.designs) == len(BLOBS)
    assert len({design.key for design in parts.designs} | {design.name for design in parts.designs}) == 2 * len(BLOBS)
    assert {design.asset for design in parts.designs} == {job.designs[0].asset}
    results = [pipeline.result(design, parts) for design in parts.designs]
    areas = sorted(result.outline.area.area for result in results)
    assert areas == pytest.approx(sorted(part.polygon.area for part in whole.outline.parts), rel=2e-3)
    assert all(result.outline.part_count == 1 and result.design.copies == 3 for result in results)


def test_parts_of_neighbours_inside_a_region_are_left_out():
    """A small disc lies in the box of a ring's open side but belongs to another drawing."""
    cover = coverage(disc(80, 100, 100), 240, 200) - coverage(disc(60, 130, 100), 240, 200)
    cover = np.clip(cover, 0, 1) + coverage(disc(14, 150, 100), 240, 200)
    job, holder = job_of(png(rgba(np.clip(cover, 0, 1)), dpi=(300, 300)), "moon.png", edge=EdgeRecipe(offset_mm=0.3))
    pipeline = Pipeline(holder.assets)
    parts = split(job, pipeline.result(job.designs[0], job))
    assert len(parts.designs) == 2
    assert [pipeline.result(design, parts).outline.part_count for design in parts.designs] == [1, 1]


@pytest.mark.slow
def test_one_drawing_is_not_split():
    job, holder = job_of(svg(), "a.svg")
    with pytest.raises(BlockedError, match="2 to 200 separate drawings"):
        split(job, Pipeline(holder.assets).result(job.designs[0], job))


@pytest.mark.slow
@pytest.mark.parametrize("name", ["Bee", "Teapot"])
def test_the_first_look_is_the_exact_outline_to_a_pixel_of_the_screen(name):
    demo = demo_project()
    job, pipeline = demo.job, Pipeline(demo.assets)
    design = next(design for design in job.designs if design.name == name)
    last = pipeline.result(design, job)
    changed = replace(design, outline=replace(design.outline, threshold=0.4, tolerance=30.0))
    exact = pipeline.result(changed, job).outline
    preview = Previewer().preview(changed, last)
    assert max(preview.pixels.shape) <= 640
    assert preview.area.hausdorff_distance(exact.area) <= 3 * preview.pixel_mm
    assert preview.area.area == pytest.approx(exact.area.area, rel=0.01)


def test_picking_turns_parts_and_holes_round_and_steps_are_taken_back_singly():
    job, holder = job_of(blobs(), "blobs.png")
    pipeline = Pipeline(holder.assets)
    design, result = job.designs[0], pipeline.result(job.designs[0], job)
    mm = design.width_mm / 240
    picked = picked_at(result.outline, 160 * mm, 60 * mm)
    assert (picked.kind, picked.component.kept) == ("part", True)
    assert picked_at(result.outline, 2 * mm, 2 * mm) is None
    recipe = turned_round(design.outline, picked, result.width_mm)
    dropped = pipeline.result(replace(design, outline=recipe), job)
    assert dropped.outline.part_count == 3
    # what is left out is neither cut nor printed
    assert dropped.art.pixels[..., 3].astype(float).sum() < 0.9 * result.art.pixels[..., 3].astype(float).sum()
    again = picked_at(dropped.outline, 160 * mm, 60 * mm)
    assert not again.component.kept
    assert (
        pipeline.result(replace(design, outline=turned_round(recipe, again, dropped.width_mm)), job).outline.part_count
        == 4
    )
    assert without_step(recipe, 0) == design.outline


@pytest.mark.slow
def test_the_demos_gaps_are_dammed_by_one_step_each():
    demo = demo_project()
    job, pipeline = demo.job, Pipeline(demo.assets)
    bee = next(design for design in job.designs if design.name == "Bee")
    before = pipeline.result(bee, job)
    widest = max(before.subject.leaks, key=lambda leak: leak.width)
    after = pipeline.result(replace(bee, outline=dammed_leak(bee.outline, widest)), job)
    assert after.outline.area.area > before.outline.area.area + 30
    closed = next(leak for leak in before.subject.leaks if leak.dammed)
    opened = pipeline.result(replace(bee, outline=opened_leak(bee.outline, closed)), job)
    assert opened.outline.area.area < before.outline.area.area - 30


def test_originals_and_steps_survive_the_project_file():
    data = svg()
    stroke = Correction(kind="clear", points=((0.1, 0.2), (0.3, 0.2)), brush=0.05)
    job, holder = job_of(data, "a.svg", outline=OutlineRecipe(corrections=(stroke,), threshold=0.4))
    again = parse_project(project_bytes(job, holder.assets), "a.hedge")
    assert again.job == job
    assert list(again.assets.values()) == [data]


def around_ink(page, ppi):
    """Draw the part of a page that is saturated colour: all of it at 2400 ppi would not fit in memory."""
    whole = page.render(scale=1).to_numpy()[..., :3].astype(int)
    rows, columns = np.nonzero(np.ptp(whole, axis=2) > 100)
    height, width = whole.shape[:2]
    edges = (columns.min(), height - 1 - rows.max(), width - 1 - columns.max(), rows.min())
    return page.render(scale=ppi / 72, crop=tuple(max(0, int(edge) - 8) for edge in edges)).to_numpy()


@pytest.mark.slow
def test_a_pdf_page_is_printed_as_vectors_over_its_carried_colour():
    data = pdf(size=(144, 72), content=b"1 0 0 rg 20 10 60 40 re f 0 0 1 rg 40 20 0.4 20 re f")
    edge = EdgeRecipe(school="bleed", offset_mm=0, bleed_mm=1.0)
    job, holder = job_of(data, "a.pdf", edge=edge, copies=1, fills=False)
    contents = prepare(job, Pipeline(holder.assets))
    with pikepdf.open(io.BytesIO(contents["print.pdf"])) as printed:
        form = next(iter(printed.pages[0].Resources.XObject.values()))
        vector = form.Resources.XObject["/Vector"]
        assert b"re" in vector.read_bytes()
    with pypdfium2.PdfDocument(contents["print.pdf"]) as printed:
        page = around_ink(printed[0], 2400)
    blue = (page[..., 0] > 200) & (page[..., 2] < 60)  # BGR
    columns = np.flatnonzero(blue.any(axis=0))
    # a line of 0.4 pt is 13.3 px at 2400 ppi; drawn from 600 ppi pixels it would smear over 4 px more
    assert abs(len(columns) - 0.4 / 72 * 2400) <= 1.5
    red = (page[..., 2] > 200) & (page[..., 0] < 60)
    rows = np.flatnonzero(red[:, columns[0] - 200])
    height_mm = (rows[-1] - rows[0] + 1) / 2400 * 25.4
    assert height_mm == pytest.approx(40 / 72 * 25.4 + 2.0, abs=0.05)
