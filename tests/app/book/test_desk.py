"""The Book of a window: the user's own or the demo's, never one in the other."""

from __future__ import annotations

from dataclasses import replace

import pytest

from honest_edge.app.book.demo_book import demo_events
from honest_edge.app.book.desk import BookDesk
from honest_edge.app.book.run_of_job import expected_clean, run_event, run_of
from honest_edge.app.edits.job_holder import JobHolder, with_designs
from honest_edge.app.edits.open_art import design_from
from honest_edge.app.results.compute_overview import compute_overview
from honest_edge.app.results.overview import Overview
from honest_edge.app.results.pipeline import Pipeline
from honest_edge.core.values.errors import FileError, UsageError
from honest_edge.core.values.job import Job
from honest_edge.core.values.log_event import RunRecord
from honest_edge.files.book.store import Book
from honest_edge.files.book.store import run_of as run_in
from pictures import disc_png

NOW_MS = 1_790_000_000_000
TEA = RunRecord(title="Tea", sheets=1, good=11, bad=1)


@pytest.fixture
def desk(tmp_path):
    made = BookDesk(lambda: tmp_path / "shop" / "book.sqlite")
    yield made
    made.close()


def test_the_demo_s_book_is_made_up_and_touches_no_other(desk, tmp_path):
    desk.turn_to(made_up=True)
    found = desk.runs("", NOW_MS)
    assert found.is_made_up
    assert len(found.runs) == 20
    assert desk.keep([run_event(TEA, NOW_MS)], NOW_MS)
    assert len(desk.runs("", NOW_MS).runs) == 21
    assert not (tmp_path / "shop").exists()
    desk.turn_to(made_up=False)
    assert desk.runs("", NOW_MS).events == 0
    assert not desk.keep([run_event(TEA, NOW_MS)], NOW_MS)
    desk.turn_to(made_up=True)
    assert len(desk.runs("", NOW_MS).runs) == 20  # made anew: what was tried in it is gone


def test_the_demo_s_files_go_with_it(desk):
    desk.turn_to(made_up=True)
    desk.runs("", NOW_MS)
    folder = desk._folder.name
    desk.close()
    assert not __import__("pathlib").Path(folder).exists()


def test_made_up_runs_are_whole_and_in_order():
    events = demo_events(NOW_MS)
    assert [event.at_ms for event in events] == sorted(event.at_ms for event in events)
    runs = [run_in(event) for event in events]
    assert {run.stock for run in runs} >= {"White vinyl, satin", "White paper, matt", "Card, 220 g"}
    assert any(run.bad for run in runs)
    assert all(event.at_ms < NOW_MS for event in events)


def test_what_was_done_about_a_damaged_book_is_said_once(desk, tmp_path):
    path = tmp_path / "shop" / "book.sqlite"
    path.parent.mkdir()
    path.write_bytes(b"no Book at all" * 400)
    (note,) = desk.runs("", NOW_MS).notes
    assert "was damaged and kept as book.damaged-" in note
    assert desk.runs("", NOW_MS).notes == ()
    assert desk.look_after(NOW_MS) == ()


def test_no_book_is_made_only_to_look_after_it(desk, tmp_path):
    assert desk.look_after(NOW_MS) == ()
    assert not (tmp_path / "shop").exists()
    desk.keep([run_event(TEA, NOW_MS)], NOW_MS)
    assert desk.look_after(NOW_MS) == ()
    (backup,) = (tmp_path / "shop" / "backups").iterdir()
    with Book(backup) as book:
        assert [kept.run for kept in book.runs()] == [TEA]


@pytest.fixture(scope="module")
def overview():
    holder = JobHolder()
    design = design_from(holder, Job(title="Discs"), disc_png(), "disc.png")
    job = with_designs(Job(title="Discs"), [replace(design, copies=5, fills=False)])
    return compute_overview(job, Pipeline(holder.assets))


def test_a_run_says_what_was_cut_and_what_was_expected(overview):
    run = run_of(overview, sheets=1, good=4, bad=1, reason=" torn\n")
    sheet = overview.job.sheet
    assert (run.title, run.stock, run.machine) == ("Discs", sheet.stock.name, sheet.machine.name)
    assert run.reason == "torn"
    assert run.share_good == 0.8
    (result,) = overview.results.values()
    assert run.forecast == pytest.approx(result.forecast.share_clean)


def test_a_job_is_kept_as_it_was_and_each_original_once(overview, desk, tmp_path):
    assets = {design.asset: disc_png() for design in overview.job.designs}
    run = run_of(overview, sheets=1, good=4, bad=1, reason="")
    for now_ms in (NOW_MS, NOW_MS + 1):
        desk.keep_run(run, overview.job, assets, now_ms)
    kept = desk.runs("", NOW_MS).runs
    assert len({one.run.job for one in kept}) == 2
    assert desk.job_of(kept[0].run, NOW_MS) == (overview.job, assets)
    (original,) = (tmp_path / "shop" / "originals").iterdir()
    original.write_bytes(b"another picture")
    with pytest.raises(FileError, match=r"The original of disc\.png was changed"):
        desk.job_of(kept[0].run, NOW_MS)


def test_a_job_that_is_not_kept_here_is_said(desk):
    desk.keep([run_event(replace(TEA, job="a" * 32), NOW_MS)], NOW_MS)
    with pytest.raises(FileError, match="is not kept on this machine"):
        desk.job_of(desk.runs("", NOW_MS).runs[0].run, NOW_MS)


def test_the_sheets_cost_is_shared_by_the_good_pieces_and_unknown_is_not_nothing():
    assert replace(TEA, sheet_price=0.44, sheets=2).stock_cost_each == pytest.approx(0.08)  # 2 x 0.44 / 11
    assert TEA.stock_cost_each is None
    assert replace(TEA, good=0, bad=3, sheet_price=0.44).stock_cost_each is None


def test_nothing_laid_out_expects_nothing():
    assert expected_clean(Overview(job=Job())) is None


@pytest.mark.parametrize(
    ("changes", "words"),
    [
        ({"good": 0, "bad": 0}, "Nothing was cut"),
        ({"good": -1}, "0 to 1000000 good"),
        ({"sheets": 10_001}, "0 to 10000 sheets"),
        ({"reason": "w" * 401}, "401 letters"),
        ({"forecast": 1.5}, "between 0 and 1"),
        ({"sheet_price": -0.1}, "costs 0 to 1e[+]06"),
        ({"sheet_price": 2e6}, "costs 0 to 1e[+]06"),
        ({"job": "../../etc/passwd"}, "names no job"),
    ],
)
def test_impossible_figures_are_refused_in_words(changes, words):
    with pytest.raises(UsageError, match=words):
        replace(TEA, **changes)
