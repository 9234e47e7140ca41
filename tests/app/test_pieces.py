"""Cut and glue: pieces of coloured stock get sheets of their own, and the order in which they are glued."""

from __future__ import annotations

import io
import math
from dataclasses import replace

import msgspec
import pypdfium2
import pytest
import svgelements

from honest_edge.app.edits.job_holder import JobHolder
from honest_edge.app.output.prepare_files import output_names, prepare
from honest_edge.app.results.compute_overview import compute_overview
from honest_edge.app.results.pipeline import Pipeline
from honest_edge.app.results.stock_pieces import assembly_order
from honest_edge.core.layers.arrange import with_grown_copy
from honest_edge.core.values.job import Design, Job
from honest_edge.core.values.layers import AS_DRAWN, Layer, Paint, Shape
from honest_edge.core.values.stock import Stock
from honest_edge.files.report import Report

GREEN, KRAFT = Stock(rgb=(60, 120, 80)), Stock(rgb=(201, 172, 132))


def disc(key, across, **more):
    return Layer(key=key, shape=Shape(kind="oval", width_mm=across, height_mm=across), **more)


BACK = disc("back", 60, role="stock", stock=KRAFT, name="Back")
PRINT = disc("print", 50, paint=Paint(rgb=(200, 80, 60)), name="Print")
LEAF = disc("leaf", 20, role="stock", stock=GREEN, name="Leaf", x_mm=12)
WINDOW = disc("window", 8, joining="subtract", x_mm=12)


def job_of(*layers, copies=2):
    return Job(designs=(Design(key="d1", name="Wreath", layers=layers, outline=AS_DRAWN, copies=copies),))


@pytest.fixture
def pipeline():
    return Pipeline(JobHolder().assets)


@pytest.mark.slow
def test_every_stock_has_sheets_of_its_own_and_only_prints_are_printed(pipeline):
    job = job_of(BACK, PRINT, LEAF)
    overview = compute_overview(job, pipeline)
    assert overview.plan is not None
    assert overview.plan.stocks == (None, KRAFT, GREEN)
    assert [len(page) for page in overview.plan.pages] == [2, 2, 2]
    contents = prepare(job, pipeline)
    assert set(contents) == set(output_names(overview.plan, job, overview.laid))
    with pypdfium2.PdfDocument(contents["print.pdf"]) as pdf:
        assert len(pdf) == 1
    assert b"Z" in contents["cut-1.svg"].split(b'id="marks"')[1]
    assert b"Z" not in contents["cut-2.svg"].split(b'id="marks"')[1]  # nothing printed, nothing to find
    report = msgspec.json.decode(contents["report.json"], type=Report)
    assert [design.name for design in report.designs] == ["Wreath", "Wreath: Back", "Wreath: Leaf"]


@pytest.mark.slow
def test_a_design_of_stock_alone_prints_nothing_and_is_shown_glued(pipeline):
    job = job_of(BACK, LEAF)
    overview = compute_overview(job, pipeline)
    assert overview.plan.stocks == (KRAFT, GREEN)
    assert "print.pdf" not in prepare(job, pipeline)
    pixels = overview.results["d1"].artwork.pixels
    assert tuple(pixels[pixels.shape[0] // 2, pixels.shape[1] // 4, :3]) == KRAFT.rgb


@pytest.mark.slow
def test_what_cuts_out_does_so_to_pieces_below_it(pipeline):
    job = job_of(BACK, PRINT, LEAF, WINDOW)
    back, leaf = pipeline.pieces(job.designs[0], job)
    assert [len(piece.cut.area.geoms[0].interiors) for piece in (back, leaf)] == [1, 1]
    untouched = job_of(BACK, WINDOW, PRINT, LEAF)
    _, leaf = pipeline.pieces(untouched.designs[0], untouched)
    assert not leaf.cut.area.geoms[0].interiors


@pytest.mark.slow
def test_the_order_of_gluing_follows_the_stack_and_is_written(pipeline):
    job = job_of(BACK, PRINT, LEAF)
    assert [name for _, name in assembly_order(job.designs[0])] == ["Back", "the printed part", "Leaf"]
    same = job_of(BACK, replace(BACK, key="other"), PRINT)
    assert len(pipeline.assembly(same.designs[0], same)) == 3
    svg = prepare(job, pipeline)["assembly-1.svg"].decode()
    shapes = [
        element
        for element in svgelements.SVG.parse(io.StringIO(svg)).elements()
        if isinstance(element, svgelements.Path)
    ]
    sizes = [(box[2] - box[0]) * 25.4 / 96 for box in (shape.bbox() for shape in shapes)]
    assert sizes == pytest.approx([60, 54, 20], abs=0.1)  # the print is cut with its border of 2 mm
    assert "3  Leaf" in svg


@pytest.mark.parametrize("is_inlaid", [False, True])
def test_a_grown_piece_lies_under_or_is_inlaid_with_its_tuck(is_inlaid):
    """A disc of 20 mm over its copy grown by 3 mm: a disc of 26 under it, or a ring with a hole of 20 less the tuck."""
    disc = Layer(
        key="l1", shape=Shape(kind="oval", width_mm=20, height_mm=20), role="stock", stock=Stock(rgb=(9, 9, 9))
    )
    layers, key = with_grown_copy((disc,), "l1", 3.0, (0, 0, 0))
    ring = replace(layers[0], stock=Stock(rgb=(200, 180, 150)), is_inlaid=is_inlaid, tuck_mm=1.5)
    job = job_of(ring, layers[1])
    below, above = Pipeline({}).pieces(job.designs[0], job)
    assert above.cut.area.area == pytest.approx(math.pi * 10**2, rel=1e-3)
    hole_mm2 = math.pi * (10 - 1.5) ** 2 if is_inlaid else 0.0
    assert below.cut.area.area == pytest.approx(math.pi * 13**2 - hole_mm2, rel=1e-3)
    assert key == ring.key
