"""A sheet on plain paper first: what it told against what was hidden, on the simulated phone. 12 CPU s."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
import pytest

from honest_edge.app.book.desk import BookDesk
from honest_edge.app.edits.open_art import demo_project
from honest_edge.app.results.compute_overview import compute_overview
from honest_edge.app.results.pipeline import Pipeline
from honest_edge.app.run.conductor import Conductor
from honest_edge.app.run.practice import CutSheet
from honest_edge.app.run.practice_phone import practice_trial_picture
from honest_edge.app.run.sealing import Circumstances, sealed
from honest_edge.app.run.trial import trial_told, trial_words
from honest_edge.core.values.errors import BlockedError
from honest_edge.core.values.run_events import Moment
from honest_edge.core.values.stock import PLAIN_PAPER
from honest_edge.files.read_scan import Scan
from honest_edge.files.typefaces import font_library

HIDDEN_MM = (0.42, -0.31)
NOW_MS = 1_790_000_000_000


@pytest.fixture
def told_by(tmp_path):
    demo = demo_project()
    bees = tuple(replace(one, copies=9, fills=False) for one in demo.job.designs if one.name == "Bee")
    job = replace(demo.job, designs=bees, layout=(), pins=(), measured=None, error=None, prints=())
    pipeline = Pipeline(demo.assets)
    overview = compute_overview(job, pipeline)
    how = Circumstances(run="c" * 32, sealed_at="2026-01-01T00:00:00Z", drying_s=1800, is_trial=True)
    conductor = Conductor.begin(
        tmp_path, sealed(overview, pipeline, how), lambda: Moment(wall_ms=NOW_MS), block=1, carriers=1
    )
    desk = BookDesk(lambda: tmp_path / "book.sqlite")
    yield overview, pipeline, conductor, desk
    conductor.journal.close()
    desk.close()


def test_a_plain_sheet_tells_the_steady_part_and_what_follows_for_the_good_stock(told_by):
    overview, pipeline, conductor, desk = told_by
    seal = conductor.seal
    assert (seal.sheet.stock, seal.trial_for) == (PLAIN_PAPER, overview.job.sheet.stock.name)
    assert (len(seal.sheets), seal.drying_s) == (1, 120.0)
    assert not conductor.differing(overview.job), "the job itself is as it was"
    copies = len(seal.pages[seal.sheets[0]].copies)
    cut = CutSheet(moved_mm=np.tile(HIDDEN_MM, (copies, 1)), bad=())
    scan = practice_trial_picture(conductor, 1, cut, font_library())
    told = trial_told(overview, pipeline, desk, [scan], 0, NOW_MS, simulated=True)
    assert (told.sheet.error.shift_x_mm, told.sheet.error.shift_y_mm) == pytest.approx(HIDDEN_MM, abs=0.06)
    assert told.sheets == 1
    assert told.after != told.before
    assert told.job.measured.error.shift_x_mm.bias == pytest.approx(told.sheet.error.shift_x_mm, abs=0.03)
    words = trial_words(told, "White vinyl")
    assert "right and 0.3" in words
    assert "up of the print" in words
    assert "Plain paper does not tell how ink lies and dries on White vinyl" in words
    again = trial_told(overview, pipeline, desk, [scan], 0, NOW_MS + 1000, simulated=True)
    assert again.sheets == 2
    assert "measured on 2 sheets now" in trial_words(again, "White vinyl")


def test_a_picture_that_shows_nothing_of_it_is_refused_and_keeps_nothing(told_by):
    overview, pipeline, _, desk = told_by
    blank = Scan(name="blank.jpg", grey=np.full((900, 700), 200, np.uint8), ppi=None)
    with pytest.raises(BlockedError, match=r"blank\.jpg"):
        trial_told(overview, pipeline, desk, [blank], 0, NOW_MS)
    assert desk.events(NOW_MS) == 0
