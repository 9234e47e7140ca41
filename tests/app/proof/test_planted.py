"""Every check finds what was planted, at its place, and its fix mends it; the twin without it is silent."""

from dataclasses import replace

import pytest

from honest_edge.app.edits.fixes import fixed_job
from honest_edge.app.edits.tried import tried
from honest_edge.app.results.compute_overview import compute_overview
from honest_edge.app.results.pipeline import Pipeline
from honest_edge.core.proof.register import CHECKS
from honest_edge.core.values.layers import Layer, Lettering
from honest_edge.core.values.marks import with_mark_kind
from honest_edge.files.font_folder import FONT_FOLDER
from honest_edge.files.typefaces import FontLibrary
from planted import PLANTED, labels, layered, page_aslant, with_machine

ASSETS = {}
NEAR_MM = 0.5
NAMES = {check.name for check in CHECKS}


def check_of(case):
    return max((name for name in NAMES if case == name or case.startswith(f"{name} ")), key=len)


def seen(job, pipeline, check):
    overview = compute_overview(job, pipeline)
    return overview, [finding for finding in overview.findings if finding.check == check]


@pytest.fixture(scope="module")
def pipeline():
    """What a job and its twin, or two jobs of one picture, share is computed once."""
    return Pipeline(ASSETS, FontLibrary((FONT_FOLDER,)))


@pytest.mark.parametrize("case", PLANTED)
def test_what_is_planted_is_found_at_its_place_and_mended(case, pipeline):
    planted, check = PLANTED[case](), check_of(case)
    ASSETS.update(planted.assets)
    overview, found = seen(planted.job, pipeline, check)
    assert found, [finding.message for finding in overview.findings]
    (finding, *_) = found
    if case.endswith("blocks"):
        assert finding.severity == "blocks"
    if planted.at is not None:
        frame, x, y = planted.at
        assert {place.frame for place in finding.places} == {frame}
        away = min(max(abs(px - x), abs(py - y)) for px, py in (place.middle_mm for place in finding.places))
        assert away < NEAR_MM, [place.middle_mm for place in finding.places]
    if planted.is_mended:
        assert finding.fix is not None, finding.message
        made = tried(overview, finding, finding.fix, pipeline)
        assert made.can_be_offered, (finding.fix.words, made.words)
        _, still = seen(fixed_job(planted.job, finding.fix), pipeline, check)
        assert not still or case == "layout"
    if planted.twin is not None:
        _, none = seen(planted.twin, pipeline, check)
        assert not none, [finding.message for finding in none]


def marks_as(kind, **sizes):
    job = labels()
    return with_machine(job, marks=replace(with_mark_kind(job.sheet.marks, kind), **sizes))


def test_what_is_wrong_with_marks_names_what_they_have(pipeline):
    _, (brackets,) = seen(marks_as("four brackets", length_mm=6.0, thickness_mm=0.5), pipeline, "mark size")
    assert "the marks are 6 mm long and 0.5 mm thick" in brackets.message
    _, (frame,) = seen(marks_as("frame", thickness_mm=0.5), pipeline, "mark size")
    assert "the marks are 0.5 mm thick" in frame.message, "a frame has no length of its own"


def test_a_hole_in_a_letter_shows_the_stock_only_where_that_is_not_white(pipeline):
    ring = Layer(key="o", name="O", lettering=Lettering(text="O", size_mm=40.0, family="Atkinson Hyperlegible Next"))
    job = layered(ring)
    assert seen(job, pipeline, "gap")[1] == []
    sheet = replace(job.sheet, stock=replace(job.sheet.stock, rgb=(240, 200, 40)))
    _, (gap,) = seen(replace(job, sheet=sheet), pipeline, "gap")
    assert "1 gap in and between the layers" in gap.message


def test_a_page_that_was_cropped_by_hand_is_not_set_upright_again(pipeline):
    planted = page_aslant()
    ASSETS.update(planted.assets)
    assert seen(planted.job, pipeline, "page aslant")[1]
    (design,) = planted.job.designs
    cropped = replace(design, source=replace(design.source, region=(0.0, 0.0, 0.98, 0.98)))
    assert seen(planted.job.with_design(cropped), pipeline, "page aslant")[1] == []


ELSEWHERE = {
    "assumed": "core/proof/test_book_checks.py::test_a_bench_that_was_never_measured_is_noted_until_it_is",
    "setting": "core/proof/test_book_checks.py::test_what_is_missing_is_said_with_the_room_where_it_is_mended",
    "blade": "core/proof/test_book_checks.py::test_what_is_missing_is_said_with_the_room_where_it_is_mended",
    "stock": "core/proof/test_book_checks.py::test_what_is_missing_is_said_with_the_room_where_it_is_mended",
    "spares": "core/proof/test_book_checks.py::test_too_few_sheets_for_the_wanted_number",
    "files": "app/proof/test_read_back.py",
    "changed": "app/proof/test_read_back.py",
    "clash": "core/proof/test_collisions.py",
    "clear": "core/proof/test_collisions.py",
    "crossing": "core/proof/test_cut_checks.py",
    "open": "core/proof/test_cut_checks.py",
    "outside": "app/test_layering.py",
    "field": "app/test_layering.py",
    "shrunk": "ui/test_demo.py::test_proof_finds_what_the_demo_shows_and_nothing_else",
    "slit": "ui/test_outline_station.py",
    "layer ground": "ui/test_photographs.py",
}
"""What no job alone can hold: the Book, files that were written, a hand at the window. Where it is planted instead."""


@pytest.mark.parametrize("check", sorted(NAMES))
def test_every_check_has_a_planted_defect(check, root):
    if any(check_of(case) == check for case in PLANTED):
        assert check not in ELSEWHERE
        return
    file, _, name = ELSEWHERE[check].partition("::")
    text = (root / "tests" / file).read_text()
    assert f"def {name}" in text
    assert check.split()[-1] in text
