"""Placement sheets at true size, read back by pdfium; sizes by hand. 3 CPU s."""

from __future__ import annotations

from dataclasses import replace

import pypdfium2
import pytest

from honest_edge.app.edits.job_holder import JobHolder
from honest_edge.app.output.placement import applied_of
from honest_edge.app.output.prepare_files import output_names, prepare
from honest_edge.app.results.compute_overview import compute_overview
from honest_edge.app.results.pipeline import Pipeline
from honest_edge.app.run.sealing import Circumstances, sealed
from honest_edge.core.values.applied import AppliedDesign, AppliedPart
from honest_edge.core.values.errors import UsageError
from honest_edge.core.values.job import Design, Job
from honest_edge.core.values.layers import AS_DRAWN, Layer, Paint, Shape
from honest_edge.core.values.sheet import SheetSpec
from honest_edge.core.values.stock import STOCKS, Stock
from honest_edge.core.workshop.applying import TAPE_LIFTS_INK, steps_of
from honest_edge.files.write_placement import placement_pdf

FILM = Stock(name="Red film", rgb=(190, 30, 40))
SQUARE = AppliedPart(name="Star", rings=((0, 0, 60, 0, 60, 40, 0, 40),))


def disc(key, across, **more):
    return Layer(key=key, shape=Shape(kind="oval", width_mm=across, height_mm=across), **more)


def job_of(*layers, **sheet):
    design = Design(key="d1", name="Moon", layers=layers, outline=AS_DRAWN, copies=1)
    return Job(designs=(design,), sheet=replace(SheetSpec(), **sheet))


def laid(job):
    pipeline = Pipeline(JobHolder().assets)
    return pipeline, compute_overview(job, pipeline)


def boxes_mm(data):
    """Return page size and the boxes of all drawn lines, millimetres, as pdfium reads them."""
    with pypdfium2.PdfDocument(data) as pdf:
        page = pdf[0]
        found = [[v * 25.4 / 72 for v in one.get_bounds()] for one in page.get_objects(filter=[2])]
        text = page.get_textpage().get_text_range()
        return [v * 25.4 / 72 for v in page.get_size()], found, text


def test_film_is_put_on_back_to_front_from_a_sheet_at_true_size():
    back = disc("back", 60, role="stock", stock=FILM, name="Back")
    front = disc("front", 20, role="stock", stock=replace(FILM, rgb=(20, 20, 20)), name="Front", x_mm=12)
    job = job_of(back, front)
    pipeline, overview = laid(job)
    contents = prepare(job, pipeline)
    assert set(contents) == set(output_names(overview.plan, job, overview.laid))
    size, boxes, text = boxes_mm(contents["placement-1.pdf"])
    assert size == pytest.approx((215.9, 279.4), abs=0.1)
    wide = [right - left for left, _, right, _ in boxes]
    assert any(one == pytest.approx(60.5, abs=0.1) for one in wide), (
        "the disc; pdfium adds the line’s width on each side"
    )
    assert any(one == pytest.approx(20.5, abs=0.1) for one in wide)
    assert any(one == pytest.approx(50.8, abs=0.1) for one in wide), "the ruler"
    disc_box = next(box for box in boxes if box[2] - box[0] == pytest.approx(60.5, abs=0.1))
    assert sum(disc_box[::2]) / 2 == pytest.approx(215.9 / 2, abs=0.1), "its middle lies on the line of the middle"
    assert "Begin with “Back”, then “Front”" in text.replace("\r\n", " ")
    assert TAPE_LIFTS_INK[:20] not in text


def test_printed_parts_and_transfers_have_their_own_ways():
    pipeline, overview = laid(job_of(disc("a", 20), disc("b", 20, x_mm=40)))
    (parts,) = applied_of(overview.job, pipeline, overview.laid)
    assert (parts.way, len(parts.parts[0].rings)) == ("parts", 2)
    assert steps_of(parts)[0] == TAPE_LIFTS_INK
    assert "its 2 parts" in steps_of(parts)[-1]
    pipeline, overview = laid(job_of(disc("a", 20, paint=Paint(rgb=(9, 90, 9)))))
    assert applied_of(overview.job, pipeline, overview.laid) == ()  # one sticker: nothing to be placed
    iron = next(stock for stock in STOCKS if stock.is_pressed)
    pipeline, overview = laid(job_of(disc("a", 20), stock=iron))
    (pressed,) = applied_of(overview.job, pipeline, overview.laid)
    assert pressed.way == "pressed"
    assert "the film’s maker says" in " ".join(steps_of(pressed))
    seal = sealed(overview, pipeline, Circumstances(run="a" * 32, sealed_at="2026-01-01T00:00:00Z", drying_s=0)).seal
    assert seal.applied == (pressed,)
    paper = replace(overview.job.designs[0].layers[0], role="stock", stock=Stock(has_liner=False, name="Paper"))
    pipeline, overview = laid(job_of(paper))
    assert applied_of(overview.job, pipeline, overview.laid) == ()  # paper is glued, not stuck


def test_what_is_larger_than_the_paper_has_a_sheet_as_large_as_it_needs():
    large = AppliedDesign(name="Van", way="film", parts=(replace(SQUARE, rings=((0, 0, 600, 0, 600, 400, 0, 400),)),))
    size, boxes, text = boxes_mm(placement_pdf(large, steps_of(large), (215.9, 279.4), "in"))
    assert size[0] > 600 + 2 * 20
    assert size[1] > 400 + 2 * 20
    assert "23.62" in text
    inner = max(boxes, key=lambda box: (box[2] - box[0]) * (box[3] - box[1]))
    assert inner[2] - inner[0] == pytest.approx(600.5, abs=0.1)
    assert inner[3] - inner[1] == pytest.approx(400.5, abs=0.1)


@pytest.mark.parametrize("rings", [((0, 0, 1),), ((0, 0, 1, 1),), ((0, 0, 1e9, 0, 1, 1),)])
def test_an_outline_that_is_none_is_refused(rings):
    with pytest.raises(UsageError):
        AppliedPart(name="x", rings=rings)
