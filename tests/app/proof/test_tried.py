"""Fixes tried before they are offered, all of a kind at once, and findings that are left."""

from dataclasses import replace

import pytest

from honest_edge.app.edits.tried import all_taken, compared, of_a_kind, tried, with_left, without_left
from honest_edge.app.output.composed_sheets import composed_sheets
from honest_edge.app.output.ticket_text import cautions
from honest_edge.app.results.compute_overview import compute_overview
from honest_edge.app.results.pipeline import Pipeline
from honest_edge.core.proof import register
from honest_edge.core.values.errors import BlockedError, HeldError
from honest_edge.core.values.findings import Fix, Quantity, Subject
from honest_edge.core.values.job import Job
from honest_edge.ui.stations.files.print_sheets import repeated
from pictures import coverage, disc
from planted import coarse, pictured, soft, two_parts

D1, D2 = (Subject(kind="design", design=key) for key in ("d1", "d2"))


def finding(check, subject=D1, measured=None, **more):
    quantity = None if measured is None else Quantity(value=measured, unit="mm")
    return check.found(
        subject, f"{check.name} {measured}", measured=quantity, needed=Quantity(value=0, unit="mm"), **more
    )


def test_a_fix_that_makes_another_finding_worse_says_so_before():
    parts, narrow, worse = finding(register.PARTS), finding(register.NARROW, D2, 0.2), finding(register.NARROW, D2, 0.6)
    made = compared([parts], [parts, narrow], [worse], Job(), Job())
    assert made.is_mended
    assert made.worse == (worse,)
    assert made.words == "but then narrow 0.6"
    better = compared([parts], [parts, worse], [narrow], Job(), Job())
    assert (better.worse, better.words) == ((), "")


def test_what_new_would_come_and_what_else_would_go_is_counted():
    parts, slit, matte = finding(register.PARTS), finding(register.SLIT), finding(register.MATTE)
    assert compared([parts], [parts, matte], [slit], Job(), Job()).worse == (slit,)
    assert compared([parts], [parts, matte, slit], [], Job(), Job()).words == "mends 2 others too"
    note = finding(register.EMPTY)
    assert compared([parts], [parts], [note], Job(), Job()).worse == ()  # a note is nothing worse


def test_what_still_is_found_is_not_mended_unless_it_matters_less():
    hard = finding(register.PPI, severity="blocks")
    assert not compared([hard], [hard], [hard], Job(), Job()).can_be_offered
    assert compared([hard], [hard], [finding(register.PPI)], Job(), Job()).can_be_offered


def test_an_impossible_fix_is_said_in_its_own_words():
    planted = soft()
    overview = compute_overview(planted.job, Pipeline(planted.assets))
    (found,) = [f for f in overview.findings if f.check == "ppi"]
    made = tried(overview, found, Fix(words="Vanish", design="d1", width_mm=0.0), Pipeline(planted.assets))
    assert (made.job, made.can_be_offered) == (None, False)
    assert "finished width" in made.words


def test_a_tried_fix_holds_the_job_as_it_would_be():
    planted = two_parts()
    pipeline = Pipeline(planted.assets)
    overview = compute_overview(planted.job, pipeline)
    (found,) = [f for f in overview.findings if f.check == "parts"]
    made = tried(overview, found, found.fix, pipeline)
    assert made.can_be_offered
    assert not [f for f in compute_overview(made.job, pipeline).findings if f.check == "parts"]


def test_all_fixes_of_one_kind_are_one_job():
    job, assets = pictured(coverage(disc(100, 120, 120), 240, 240), width_mm=30.0)
    (design,) = job.designs
    job = replace(
        job, designs=(design, replace(design, key="d2", name="Second"), replace(design, key="d3", width_mm=20))
    )
    pipeline = Pipeline(assets)
    overview = compute_overview(job, pipeline)
    mended = of_a_kind(overview.findings, "ppi")
    assert len(mended) == 2
    after = compute_overview(all_taken(job, mended), pipeline)
    assert not of_a_kind(after.findings, "ppi")
    assert after.job.design("d3") == job.design("d3")


def test_a_block_that_is_left_lets_files_be_written_until_it_says_something_new():
    planted = coarse()
    pipeline = Pipeline(planted.assets)
    overview = compute_overview(planted.job, pipeline)
    (found,) = [f for f in overview.findings if f.check == "ppi"]
    assert overview.why_unwritten is not None
    assert overview.state("proof")[0] == overview.state("art")[0] == "blocked"
    with pytest.raises(HeldError) as held:
        composed_sheets(planted.job, pipeline)
    assert held.value.check == "ppi"
    left = with_left(planted.job, [found], " seen from afar ")
    after = compute_overview(left, pipeline)
    assert after.why_unwritten is None
    assert [f.left for f in after.findings if f.check == "ppi"] == ["seen from afar"]
    assert after.state("proof")[0] == "done"
    assert composed_sheets(left, pipeline).pages
    (design,) = left.designs
    wider = compute_overview(left.with_design(replace(design, width_mm=70.0)), pipeline)
    assert wider.holding is not None
    again = without_left(left, found)
    assert compute_overview(again, pipeline).holding is not None
    with pytest.raises(BlockedError):
        composed_sheets(again, pipeline)


def test_the_ticket_says_why_something_was_left():
    planted = coarse()
    pipeline = Pipeline(planted.assets)
    found = [f for f in compute_overview(planted.job, pipeline).findings if f.check == "ppi"]
    left = with_left(planted.job, found, "seen from afar")
    result = pipeline.result(left.designs[0], left)
    (line, *_) = cautions(left, [result])
    assert line.endswith("find a larger picture. Left as it is: seen from afar.")


def test_a_sheet_that_is_to_be_printed_twice_goes_to_the_printer_twice():
    job = replace(Job(), prints=(2, 1, 3))
    assert repeated((0, 1), job, (None, "kraft", None)) == [0, 0, 1, 1, 1]
    assert repeated((1,), Job(), (None, "kraft", None)) == [1]


def test_what_becomes_more_severe_is_worse_and_what_becomes_milder_is_not():
    parts, look = finding(register.PARTS), finding(register.NARROW, D2, 0.2)
    blocks = replace(look, severity="blocks")
    assert compared([parts], [parts, look], [blocks], Job(), Job()).worse == (blocks,)
    assert compared([parts], [parts, blocks], [look], Job(), Job()).worse == ()
