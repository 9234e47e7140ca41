"""A change is offered only where it was computed whole and reaches what it is offered for."""

from dataclasses import replace
from types import SimpleNamespace

import pytest

from honest_edge.app.edits.job_holder import JobHolder, with_designs
from honest_edge.app.edits.open_art import design_from
from honest_edge.app.results import assess_edge
from honest_edge.app.results.assess_edge import proposed_change
from honest_edge.app.results.pipeline import Pipeline
from honest_edge.core.values.errors import BlockedError
from honest_edge.core.values.job import Job
from honest_edge.core.values.specs import EdgeRecipe
from pictures import disc_png


@pytest.fixture(scope="module")
def bare():
    """A disc cut at its edge: hardly a sticker is clean, and bleed mends it."""
    holder = JobHolder()
    design = replace(design_from(holder, Job(), disc_png(), "disc.png"), edge=EdgeRecipe(school="bare", offset_mm=0))
    job, pipeline = with_designs(Job(), [design]), Pipeline(holder.assets)
    return job, pipeline, pipeline.result(design, job)


class Shares:
    """Stands in for the pipeline: each try reaches the next of these shares."""

    def __init__(self, *shares):
        self.shares, self.tried = list(shares), []

    def result(self, design, _job, **_how):
        self.tried.append(design.edge)
        share = self.shares.pop(0)
        if share is None:
            raise BlockedError("nothing is left to cut")
        return SimpleNamespace(forecast=SimpleNamespace(share_clean=share))


def test_a_real_change_reaches_its_target(bare):
    job, pipeline, result = bare
    for target in assess_edge.TARGETS:
        change = proposed_change(result, job, pipeline, target)
        assert change.share >= target
        assert change.result.forecast.share_clean == change.share
        assert change.result.design.edge == change.edge != result.design.edge


def test_a_change_that_falls_short_is_taken_a_step_further(bare):
    job, _, result = bare
    tries = Shares(0.90, 0.94, 0.96)
    change = proposed_change(result, job, tries, 0.95)
    assert change.share == 0.96
    assert change.edge == tries.tried[-1]
    bleeds = [edge.bleed_mm for edge in tries.tried]
    assert bleeds == sorted(bleeds)
    assert len(set(bleeds)) == 3


def test_a_change_that_never_reaches_its_target_is_not_offered(bare):
    job, _, result = bare
    assert proposed_change(result, job, Shares(*[0.94] * 10), 0.95) is None
    assert proposed_change(result, job, Shares(0.90, None), 0.95) is None
