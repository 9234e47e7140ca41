"""The Book of a window: the user's own or the demo's, never one in the other."""

from __future__ import annotations

import threading
from dataclasses import replace

import pytest
import shapely

from honest_edge.app.book.cut_trial import new_trial, state_of, trial_of
from honest_edge.app.book.demo_book import demo_events
from honest_edge.app.book.desk import BookDesk
from honest_edge.app.book.run_of_job import planned_run, run_event, run_of
from honest_edge.app.edits.job_holder import JobHolder, with_designs
from honest_edge.app.edits.open_art import design_from
from honest_edge.app.results.compute_overview import compute_overview
from honest_edge.app.results.pipeline import Pipeline
from honest_edge.core.values.book_records import BladeNote, CutSubject, Rates, StockFacts, StockMove
from honest_edge.core.values.errors import FileError
from honest_edge.core.values.job import Job
from honest_edge.core.values.log_event import RunRecord
from honest_edge.core.workshop.ladder import SettingRange
from honest_edge.files.book.records import BLADE, FACTS, KINDS, LOOK, MOVE, RATES, SETTING
from honest_edge.files.book.store import RUN, Book
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
    demo = BookDesk(lambda: tmp_path / "shop" / "book.sqlite", made_up=True)
    found = demo.runs("", NOW_MS)
    assert found.is_made_up
    assert len(found.rows) == 20
    assert demo.keep([run_event(TEA, NOW_MS)], NOW_MS)
    assert len(demo.runs("", NOW_MS).rows) == 21
    assert demo.look_after(NOW_MS) == ()
    assert not (tmp_path / "shop").exists()
    assert desk.runs("", NOW_MS).events == 0
    assert not desk.keep([run_event(TEA, NOW_MS)], NOW_MS)
    assert len(desk.runs("", NOW_MS).rows) == 1
    folder = demo._folder.name
    demo.close()
    assert not __import__("pathlib").Path(folder).exists()


def test_made_up_runs_are_whole_and_in_order():
    events = demo_events(NOW_MS)
    assert [event.at_ms for event in events] == sorted(event.at_ms for event in events)
    runs = [run_in(event) for event in events if event.kind == RUN]
    assert len(runs) == 20
    assert {event.kind for event in events} == {RUN, *KINDS} - {
        "kept",
        "aside",
        "moved",
        "sign",
        "sealed",
        "inspected",
        "timed",
        "found",
        "loaded",
        "pass",
    }
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


def test_a_check_that_finds_damage_puts_the_backup_in_its_place(desk, tmp_path):
    path = tmp_path / "shop" / "book.sqlite"
    desk.keep([run_event(replace(TEA, title=f"Tea {n}" * 40), NOW_MS + n) for n in range(300)], NOW_MS)
    assert desk.look_after(NOW_MS) == ()
    desk.close()
    data = bytearray(path.read_bytes())
    data[4096 * 20 : 4096 * 23] = b"\xff" * 4096 * 3
    path.write_bytes(data)
    (note,) = desk.look_after(NOW_MS + 8 * 86_400_000)
    assert "300 events took its place" in note
    assert len(desk.runs("", NOW_MS).rows) == 300


def test_nobody_waits_for_a_check(desk, monkeypatch):
    """A check takes seconds in a large Book: meanwhile others read and write."""
    desk.keep([run_event(TEA, NOW_MS)], NOW_MS)
    begun, go_on = threading.Event(), threading.Event()
    real = Book.wrong

    def slow(book):
        begun.set()
        assert go_on.wait(60)
        return real(book)

    monkeypatch.setattr(Book, "wrong", slow)
    said = []
    checking = threading.Thread(target=lambda: said.append(desk.look_after(NOW_MS)))
    checking.start()
    assert begun.wait(60)
    desk.keep([run_event(replace(TEA, title="Mint"), NOW_MS)], NOW_MS)
    assert len(desk.runs("", NOW_MS).rows) == 2
    go_on.set()
    checking.join()
    assert said == [()]


def test_a_check_and_a_backup_look_at_the_book_beside_a_writer(desk, tmp_path):
    """Over a connection of its own, which SQLite lets see one moment of it while another connection writes."""
    desk.keep([run_event(TEA, NOW_MS)], NOW_MS)
    book = desk._opened.book
    with book._lock:  # somebody is in the middle of something
        assert book.wrong() == []
        book.back_up(tmp_path / "copy.sqlite")
    with Book(tmp_path / "copy.sqlite") as copy:
        assert copy.count() == 1


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
    kept = desk.runs("", NOW_MS).rows
    assert len({one.run.job for one in kept}) == 2
    assert desk.job_of(kept[0].run, NOW_MS) == (overview.job, assets)
    (original,) = (tmp_path / "shop" / "originals").iterdir()
    original.write_bytes(b"another picture")
    with pytest.raises(FileError, match=r"The original of disc\.png was changed"):
        desk.job_of(kept[0].run, NOW_MS)


def test_a_job_that_is_not_kept_here_is_said(desk):
    desk.keep([run_event(replace(TEA, job="a" * 32), NOW_MS)], NOW_MS)
    with pytest.raises(FileError, match="is not kept on this machine"):
        desk.job_of(desk.runs("", NOW_MS).rows[0].run, NOW_MS)


def test_looks_and_the_setting_come_back_and_the_newest_of_a_session_counts(desk):
    trial = new_trial(CutSubject(stock="Tea paper", machine="Cutter", blade="No. 3"), SettingRange())
    for number, (clean, marked) in enumerate(((3, 5), (3, 6))):
        state = state_of(trial)
        trial = trial.read(state.ladder, clean, marked)
        desk.note([(LOOK, trial.looks[-1]), (SETTING, state_of(trial).found)], NOW_MS + number)
    assert desk.looks_of(trial.session, NOW_MS) == trial.looks
    again = state_of(trial_of(desk.looks_of(trial.session, NOW_MS)))
    assert again.window == state_of(trial).window
    (kept,) = desk.settings("tea", NOW_MS).rows
    assert (kept.record.looks, kept.at_ms) == (2, NOW_MS + 1)
    assert desk.setting_for("Tea paper", "Cutter", NOW_MS) == kept
    assert desk.setting_for("Tea paper", "Another", NOW_MS) is None
    known = desk.cut_facts(NOW_MS)
    assert known.settings == (kept,)
    assert known.looks["Cutter"].highest == 200


def test_stock_is_what_came_less_what_runs_took_and_a_count_stands_for_all_before(desk):
    day = 86_400_000
    desk.keep([run_event(replace(TEA, stock="Kraft", sheets=3), NOW_MS - 20 * day)], NOW_MS)
    desk.note([(MOVE, StockMove(stock="Kraft", what="bought", sheets=10, price=0.4))], NOW_MS - 30 * day)
    (row,) = desk.stock("", NOW_MS).rows
    assert (row.level.sheets, row.level.price, row.level.used) == (7, 0.4, 3)
    desk.note([(MOVE, StockMove(stock="Kraft", what="counted", sheets=5))], NOW_MS - 10 * day)
    desk.note([(MOVE, StockMove(stock="Kraft", what="spoiled", sheets=1))], NOW_MS - 9 * day)
    desk.note([(FACTS, StockFacts(stock="Kraft", remark="grain"))], NOW_MS)
    (row,) = desk.stock("kra", NOW_MS).rows
    assert (row.level.sheets, row.facts.remark) == (4, "grain")
    assert row.level.per_day == pytest.approx(4 / 20)
    assert desk.stock("vinyl", NOW_MS).rows == ()
    known = desk.what_worked("Kraft", "", 5, NOW_MS)
    assert (known.on_hand, known.wanted, known.run.run.sheets) == (4, 5, 3)
    assert desk.cost_of(replace(TEA, stock="Kraft"), NOW_MS).amount == pytest.approx(0.4 / 11)
    desk.keep_run(replace(TEA, stock="Kraft"), Job(title="Tea"), {}, NOW_MS)
    assert desk.runs("", NOW_MS).rows[0].run.sheet_price == 0.4  # what was paid last, kept with the run


def test_a_blade_s_metres_are_those_of_its_runs_and_end_with_it(desk):
    def cut(blade, metres, at_ms, stock="Paper"):
        desk.keep([run_event(replace(TEA, blade=blade, cut_m=metres, stock=stock), at_ms)], at_ms)

    desk.note([(BLADE, BladeNote(blade="A", what="fitted", metres=5))], 10 + NOW_MS)
    cut("A", 10, NOW_MS + 20)
    cut("A", 4, NOW_MS + 30, "Kraft")
    desk.note([(FACTS, StockFacts(stock="Kraft", hardness=2))], NOW_MS + 31)
    desk.note([(BLADE, BladeNote(blade="A", what="dull"))], NOW_MS + 40)
    cut("A", 1, NOW_MS + 50)  # another one of that name, which nobody said was fitted
    rows = desk.blades("", NOW_MS).rows
    assert [(row.ended, row.all_m, row.hard_m) for row in rows] == [(None, 1, 1), ("dull", 19, 23)]
    assert all(row.dull is None for row in rows)
    desk.note([(BLADE, BladeNote(blade="A", what="dull"))], NOW_MS + 60)
    cut("B", 8, NOW_MS + 70)
    (row, *_) = desk.blades("", NOW_MS).rows
    assert row.dull_blades == 2
    assert 0 < row.dull.low < row.dull.likely < row.dull.high < 1
    assert desk.what_worked("Paper", "", 0, NOW_MS).blades == ("B",)
    assert row.is_noted
    cut("B", 40, NOW_MS + 80)
    assert desk.blades("", NOW_MS).rows[0].needs_a_look


def test_what_a_job_takes_is_metres_of_its_cuts_and_the_area_that_is_inked(overview):
    (result,) = overview.results.values()
    run = planned_run(overview)
    assert (run.good, run.bad) == (5, 0)
    outline = shapely.union_all(result.cut.area)
    assert run.cut_m == pytest.approx(5 * outline.length / 1000, rel=0.01)
    assert run.ink_cm2 == pytest.approx(5 * result.inked.area / 100, rel=0.03)
    assert run_of(overview, sheets=2, good=9, bad=1).cut_m == pytest.approx(2 * run.cut_m / run.sheets)


def test_prices_are_those_typed_last(desk):
    assert desk.rates(NOW_MS) == Rates()
    desk.note([(RATES, Rates(ink=0.1))], NOW_MS)
    desk.note([(RATES, Rates(ink=0.2, hour=12))], NOW_MS + 1)
    assert desk.rates(NOW_MS) == Rates(ink=0.2, hour=12)


def test_a_search_begins_where_the_blade_cuts_by_now_once_readings_ask_for_it(desk):
    subject, reach = CutSubject(stock="Tea", machine="Cutter", blade="A"), SettingRange()
    ladder = (50, 57, 65, 75, 86, 98, 112, 130)
    for number in range(18):  # a square more is torn every 60 m
        metres, first = 10.0 * number, 2 + number // 6
        desk.keep([run_event(replace(TEA, blade="A", cut_m=10.0 if number else 0.0), NOW_MS + number)], NOW_MS + number)
        assert desk.blade_metres("A", NOW_MS) == metres
        trial = desk.begin_trial(subject, reach, None, NOW_MS).read(ladder, first, first + 3, metres)
        desk.note([(LOOK, trial.looks[-1])], NOW_MS + number)
        if number == 0:
            found = replace(state_of(trial).found, low=66.0, high=90.0)
            early = trial.session
    begun = desk.begin_trial(subject, reach, found, NOW_MS).similar.low
    assert 66 * 2**0.35 < begun < 66 * 2**0.6
    assert found.session == early
    new = replace(subject, blade="a new one")
    assert desk.begin_trial(new, reach, found, NOW_MS).similar.low == 66
    assert desk.blade_metres("", NOW_MS) is None
