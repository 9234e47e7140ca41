"""What was cut, cut again with another number of pieces; and its picture."""

from dataclasses import replace

import cv2
import numpy as np
import pytest

from honest_edge.app.book.sheet_picture import piece_picture, sheets_picture
from honest_edge.app.edits.again import with_pieces
from honest_edge.app.edits.job_holder import JobHolder, with_designs
from honest_edge.app.edits.open_art import design_from
from honest_edge.app.results.compute_overview import compute_overview
from honest_edge.app.results.overview import Overview
from honest_edge.app.results.pipeline import Pipeline
from honest_edge.core.values.errors import UsageError
from honest_edge.core.values.job import Job
from pictures import disc_png


@pytest.fixture(scope="module")
def holder():
    return JobHolder()


@pytest.fixture(scope="module")
def design(holder):
    return design_from(holder, Job(title="Discs"), disc_png(), "disc.png")


def test_each_design_keeps_its_share(design):
    two = (replace(design, copies=8), replace(design, key="b" * 12, copies=2, spares=1))
    job = Job(title="Discs", designs=two)
    made = with_pieces(job, 10, 30)
    assert [one.copies for one in made.designs] == [24, 6]
    assert [one.spares for one in made.designs] == [0, 0]
    assert with_pieces(job, 10, 10) is job
    assert [one.copies for one in with_pieces(job, 10, 1).designs] == [1, 1]


def test_one_design_is_made_exactly_as_often_as_wanted(design):
    job = Job(title="Discs", designs=(replace(design, copies=0, fills=True),))
    (made,) = with_pieces(job, 12, 5).designs
    assert (made.copies, made.fills) == (5, False)


@pytest.mark.parametrize("wanted", [0, -3, 10**9])
def test_no_number_of_pieces_is_said(design, wanted):
    with pytest.raises(UsageError, match="pieces cannot be cut"):
        with_pieces(Job(title="Discs", designs=(design,)), 12, wanted)


def test_the_picture_shows_every_piece_where_it_lies(holder, design):
    job = with_designs(Job(title="Discs"), [replace(design, copies=5, fills=False)])
    overview = compute_overview(job, Pipeline(holder.assets))
    picture = cv2.imdecode(np.frombuffer(sheets_picture(overview), np.uint8), cv2.IMREAD_COLOR)
    plan, (result,) = overview.plan, overview.laid
    assert picture.shape[0] == 300
    scale = 300 / plan.height_mm
    inked = (picture.min(axis=2) < 200).sum() / scale**2
    assert inked == pytest.approx(5 * result.cut.area.area, rel=0.1)
    for placement in plan.pages[0]:
        x, y = (placement.matrix[:, :2] @ result.cut.area.centroid.coords[0] + placement.matrix[:, 2]) * scale
        assert picture[int(y), int(x)].min() < 200
    assert sheets_picture(Overview(job=job)) == b""


def test_a_piece_by_itself_stands_in_the_middle_of_its_picture(holder, design):
    """Its art begins at 0, its border before that."""
    overview = compute_overview(Job(designs=(design,)), Pipeline(holder.assets))
    picture = cv2.imdecode(np.frombuffer(piece_picture(overview.results[design.key]), np.uint8), cv2.IMREAD_COLOR)
    rows, columns = np.nonzero(np.abs(picture.astype(int) - (160, 90, 40)).max(axis=2) < 30)  # the disc, blue first
    high, wide = picture.shape[:2]
    assert abs((rows.min() + rows.max()) / 2 - (high - 1) / 2) < 2
    assert abs((columns.min() + columns.max()) / 2 - (wide - 1) / 2) < 2
    assert np.ptp(rows) == pytest.approx(np.ptp(columns), abs=2)
