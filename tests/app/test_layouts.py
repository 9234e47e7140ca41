"""A layout is made anew only where something of it changed."""

from dataclasses import replace

import pytest

from honest_edge.app.edits.job_holder import JobHolder, with_designs
from honest_edge.app.edits.open_art import design_from
from honest_edge.app.output.prepare_files import prepare
from honest_edge.app.results import pipeline as pipelines
from honest_edge.app.results.compute_overview import compute_overview
from honest_edge.app.results.pipeline import Pipeline
from honest_edge.core.values.job import Job
from honest_edge.core.values.layouts import Pin, PlacedCopy
from honest_edge.core.values.misregistration import Misregistration, Scatter
from honest_edge.core.values.specs import SCHOOL_DEFAULTS
from pictures import disc_png


@pytest.fixture
def job_and_pipeline():
    holder = JobHolder()
    design = design_from(holder, Job(), disc_png(), "disc.png")
    job = with_designs(Job(), [replace(design, copies=5, fills=False)])
    return job, Pipeline(holder.assets)


@pytest.fixture
def fits(monkeypatch):
    """Count the layouts that are made."""
    made, real = [], pipelines.fit
    monkeypatch.setattr(pipelines, "fit", lambda *how, **more: made.append(1) or real(*how, **more))
    return made


def test_what_does_not_touch_the_layout_keeps_it(job_and_pipeline, fits):
    job, pipeline = job_and_pipeline
    first = compute_overview(job, pipeline).plan
    for changed in (
        replace(job, title="Another title"),
        replace(job, error=Misregistration(shift_x_mm=Scatter(spread=0.4))),
        replace(job, visible_mm=0.2),
        replace(job, png_ppi=600.0),
    ):
        assert compute_overview(changed, pipeline).plan is first
    prepare(job, pipeline)
    assert len(fits) == 1


def test_the_good_layout_is_shown_while_a_sheet_less_is_sought(job_and_pipeline):
    job, pipeline = job_and_pipeline
    (design,) = job.designs

    def with_copies(count):
        return job.with_design(replace(design, copies=count, fills=False))

    full, told = len(compute_overview(with_copies(150), pipeline).plan.pages[0]), []
    made = compute_overview(with_copies(full + 1), pipeline, laid_out=told.append)
    assert [len(page) for page in told[-1].plan.pages] == [full, 1]
    assert told[-1].is_provisional
    assert not made.is_provisional
    assert made.plan.copies == full + 1


@pytest.mark.slow
def test_what_touches_the_layout_makes_it_anew(job_and_pipeline, fits):
    job, pipeline = job_and_pipeline
    compute_overview(job, pipeline)
    (design,) = job.designs
    pin = Pin(page=0, copy=PlacedCopy(design=design.key, turn_deg=0.0, x_mm=90.0, y_mm=120.0))
    changes = (
        job.with_design(replace(design, copies=6)),
        job.with_design(replace(design, fills=True)),
        job.with_design(replace(design, width_mm=design.width_mm + 1)),
        job.with_design(replace(design, edge=SCHOOL_DEFAULTS["bleed"])),
        replace(job, sheet=replace(job.sheet, gap_mm=4.0)),
        replace(job, pins=(pin,)),
    )
    for number, changed in enumerate(changes, 2):
        compute_overview(changed, pipeline)
        assert len(fits) == number
    compute_overview(job, pipeline)
    assert len(fits) == len(changes) + 1  # the first is still known


def test_a_bleed_that_reaches_farther_moves_the_copies_apart(job_and_pipeline):
    job, pipeline = job_and_pipeline
    (design,) = job.designs
    reaches = []
    for bleed_mm in (1.0, 2.0):
        edge = replace(SCHOOL_DEFAULTS["bleed"], bleed_mm=bleed_mm)
        overview = compute_overview(job.with_design(replace(design, edge=edge)), pipeline)
        reaches.append(overview.laid[0].footprint.reach_mm)
    assert reaches == pytest.approx([1.0, 2.0], abs=0.15)
