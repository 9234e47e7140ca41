"""The steady part taken out in our cut files: lines are moved against the marks, and the ticket says so."""

from __future__ import annotations

import io
from dataclasses import replace

import numpy as np
import pikepdf
import pypdfium2
import pytest
from svgelements import SVG, Path

from honest_edge.app.bench.targets import target_files
from honest_edge.app.edits.job_holder import JobHolder, with_designs
from honest_edge.app.edits.open_art import design_from
from honest_edge.app.output.prepare_files import prepare
from honest_edge.app.results.pipeline import Pipeline
from honest_edge.core.values.job import BenchCopy, Job
from honest_edge.core.values.measured import ErrorParts
from honest_edge.core.values.misregistration import Misregistration
from honest_edge.core.values.sheet import SheetSpec
from pictures import disc_png

MOVED = ErrorParts(shift_x_mm=-0.4, shift_y_mm=0.25, rotation_deg=0.1, scale_x_percent=0.2, scale_y_percent=-0.1)


def cut_corners(svg):
    """The box of every line, in millimetres; the marks that a cut file shows are bars of 1 mm."""
    found = []
    for element in SVG.parse(io.BytesIO(svg), ppi=25.4).elements():
        if isinstance(element, Path) and len(element) > 1:
            found.append(element.bbox())
    return np.array(sorted(box for box in found if min(box[2] - box[0], box[3] - box[1]) > 3))


@pytest.fixture(scope="module")
def prepared():
    holder = JobHolder()
    job = Job(sheet=SheetSpec(paper="a4"))
    job = with_designs(job, [replace(design_from(holder, job, disc_png(ppi=300), "disc.png"), copies=4, fills=False)])
    copy = BenchCopy(
        machine="Desktop cutter", printer="Home printer", key="k", error=Misregistration(), correction=MOVED
    )
    pipeline = Pipeline(holder.assets)
    return prepare(job, pipeline), prepare(replace(job, measured=copy), pipeline)


def test_lines_move_as_the_correction_says(prepared):
    plain, moved = (cut_corners(files["cut-1.svg"]) for files in prepared)
    middle = np.array([105.0, 148.5])
    for before, after in zip(plain, moved, strict=True):
        place = (before[:2] + before[2:]) / 2 - middle
        turn = np.radians(0.1)
        expected = np.array([-0.4 - turn * place[1] + 0.002 * place[0], 0.25 + turn * place[0] - 0.001 * place[1]])
        assert (after[:2] + after[2:]) / 2 - middle - place == pytest.approx(expected, abs=2e-3)


def test_the_print_is_not_moved_and_the_ticket_says_that_the_cut_is(prepared):
    _, moved = prepared
    pages = [pypdfium2.PdfDocument(files["print.pdf"])[0].render(scale=1).to_numpy() for files in prepared]
    assert np.array_equal(*pages)
    texts = [pypdfium2.PdfDocument(files["ticket.pdf"])[0].get_textpage().get_text_bounded() for files in prepared]
    assert "moved against the marks" not in texts[0]
    assert "moved against the marks" in texts[1]
    assert b'"shift_x_mm": -0.4' in moved["report.json"].replace(b"\n", b"")


def test_a_target_is_moved_alike_and_its_code_says_so():
    plain, moved = (target_files(SheetSpec(paper="a4"), "ABCDEFGH", correction=c) for c in (ErrorParts(), MOVED))
    one, other = cut_corners(plain["cut-1.svg"]), cut_corners(moved["cut-1.svg"])
    assert len(one) == 12
    assert np.abs(((other - one)[:, :2] + (other - one)[:, 2:]) / 2).max() > 0.4
    assert b'"shift_x_mm": -0.4' in moved["target.json"].replace(b"\n", b"")


def test_a_target_prints_at_its_exact_size():
    with pikepdf.open(io.BytesIO(target_files(SheetSpec(paper="a4"), "ABCDEFGH")["print.pdf"])) as pdf:
        box = [float(v) for v in pdf.pages[0].mediabox]
        assert box == pytest.approx([0, 0, 210 * 72 / 25.4, 297 * 72 / 25.4], abs=0.01)
        assert len(pdf.pages) == 1


@pytest.mark.parametrize("kind", ["picture", "eye"])
def test_targets_are_made_for_every_format_of_the_machine(kind):
    sheet = SheetSpec(paper="a4")
    machine = replace(sheet.machine, formats=("svg", "dxf", "plt", "pdf"))
    names = set(target_files(sheet.with_profile(machine), "ABCDEFGH", kind=kind))
    assert names == {"print.pdf", "cut-1.svg", "cut-1.dxf", "cut-1.plt", "cut-1.pdf", "target.json"}
