"""A run without its window: what the Book is told, what bad stickers point to, and jobs of which nothing is printed."""

import io
from dataclasses import replace
from datetime import UTC, datetime

import pikepdf
import pytest

from honest_edge.app.bench.bench_history import bench_history
from honest_edge.app.bench.view import bench_view
from honest_edge.app.book.desk import BookDesk
from honest_edge.app.edits.job_holder import JobHolder
from honest_edge.app.output.composed_sheets import composed_sheets
from honest_edge.app.results.compute_overview import compute_overview
from honest_edge.app.results.pipeline import Pipeline
from honest_edge.app.run.clocks import RunClock
from honest_edge.app.run.conductor import Conductor
from honest_edge.app.run.outcome import tally_of
from honest_edge.app.run.pointers import pointed_to
from honest_edge.app.run.run_facts import RunFacts, forgotten, run_facts
from honest_edge.app.run.sealing import Circumstances, Sealing, _pages, sealed
from honest_edge.app.run.telling import _metres, book_events
from honest_edge.core.run.foreseen import better_block, foreseen
from honest_edge.core.run.state import after, begun, state_of
from honest_edge.core.sheet.marks import aims_of
from honest_edge.core.values.bench_records import BenchSubject
from honest_edge.core.values.errors import HonestEdgeError
from honest_edge.core.values.job import Design, Job
from honest_edge.core.values.layers import AS_DRAWN, Layer, Shape
from honest_edge.core.values.log_event import RunRecord
from honest_edge.core.values.marks import with_mark_kind
from honest_edge.core.values.run_events import BadSticker
from honest_edge.core.values.run_times import RunTimes
from honest_edge.core.values.sheet import SheetSpec
from honest_edge.core.values.stock import Stock
from honest_edge.files.book.records import INSPECTED, TIMED
from honest_edge.files.book.store import RUN
from sealed import BOTH, KISS, NOW, THROUGH, event, page, seal

SPAN_MM = 215.9, 279.4
SEAL_HASH = "ab" * 32


def cut_and_inspected(sealed_run, *bad, carriers=1):
    """Events of a run whose first sheet is inspected."""
    at = NOW
    events = [event("ordered", 0, at, block=1, carriers=carriers)]
    for number in range(1, len(sealed_run.sheets) + 1):
        events.append(event("printed", number, at))
    events.append(event("measured", 1, at.after(60), verdict="true", across_mm=191.9, down_mm=255.4, ruler_mm=None))
    events.append(event("laid", 1, at.after(1260), carrier=0))
    events.append(event("set", 0, at.after(1275), kinds="kiss and through", setting="force 84"))
    events.append(event("read", 1, at.after(1325)))
    events.append(event("cut begun", 1, at.after(1330)))
    events.append(event("cut done", 1, at.after(1430)))
    events.append(event("out", 1, at.after(1440)))
    events.append(event("inspected", 1, at.after(1500), bad=bad))
    return events


def bad(copy, side, reason="white rim", wide_mm=0.5):
    return BadSticker(copy=copy, reason=reason, side=side, wide_mm=wide_mm)


def test_the_book_is_told_the_same_under_the_same_keys_however_often():
    run = seal(1)
    events = [*cut_and_inspected(run, bad(3, "left")), event("ended", 0, NOW.after(1600), reason="enough")]
    told = book_events(run, SEAL_HASH, events)
    assert [one.key for one in told] == [one.key for one in book_events(run, SEAL_HASH, events)]
    earlier = book_events(run, SEAL_HASH, events[:-1])
    assert {one.key for one in earlier} < {one.key for one in told}
    (record,) = [RunRecord(**one.data) for one in told if one.kind == RUN]
    assert (record.good, record.bad, record.sheets, record.setting) == (11, 1, 1, "kiss and through: force 84")
    assert record.forecast == pytest.approx(0.95)
    assert record.cut_m == pytest.approx(12 * 2 * 0.12)  # twelve squares of 30 mm, kissed and cut through


def test_what_was_taken_back_is_not_told():
    run = seal(1)
    events = cut_and_inspected(run)
    events.insert(3, event("back", 0, NOW.after(61)))
    events.insert(4, event("measured", 1, NOW.after(62), verdict="true"))
    assert state_of(run, events).measured == "true"
    assert len([one for one in book_events(run, SEAL_HASH, events) if one.kind == "inspected"]) == 1


def test_hands_are_timed_and_three_times_make_a_time_of_ones_own(tmp_path):
    desk = BookDesk(lambda: tmp_path / "book.sqlite")
    for number in range(3):
        run = replace(seal(1), run=f"{number}f" * 16)
        desk.keep(book_events(run, SEAL_HASH, cut_and_inspected(run)), NOW.wall_ms)
    known = run_facts(desk, seal(1).sheet, ["Mint"], NOW.wall_ms, "aa" * 16)
    assert known.own == {"put_in_s", "change_s", "take_out_s", "peel_s"}  # laying followed a wait of twenty minutes
    assert (known.times.put_in_s, known.times.change_s, known.times.peel_s) == (50, 15, 60)
    assert known.times.lay_s == RunTimes().lay_s
    assert known.inspected["Mint"] == [(12, 12)] * 3
    assert len(desk.look_up(lambda book: book.notes(TIMED, most=-1), "", NOW.wall_ms).rows) == 12
    desk.close()


def four_discs():
    sheet = SheetSpec()
    return seal(1, sheet=sheet.with_marks(with_mark_kind(sheet.marks, "four discs")))


def marks_found(run, off_mm=0.2):
    """The four marks of a sheet where they are planned, one of them a little beside."""
    aims, high = aims_of(run.sheet), run.sheet.size_mm[1]
    return tuple((n, x + (off_mm if n == 0 else 0.0), high - y) for n, (_, x, y) in enumerate(aims))


def cut_from_here(run, seconds, *more):
    """Events of a sheet that is aligned by hand and cut from here in one go."""
    at = NOW.after(2000)
    return [
        event("ordered", 0, NOW, block=1, carriers=1),
        event("printed", 1, NOW),
        event("unmeasured", 1, NOW),
        event("dry", 1, NOW),
        event("laid", 1, at, carrier=0),
        event("set", 0, at, kinds="kiss and through", setting=""),
        event("aligned", 1, at.after(60), places=marks_found(run)),
        event("cut begun", 1, at.after(70)),
        *(more or [event("cut done", 1, at.after(70 + seconds)), event("out", 1, at.after(90 + seconds))]),
    ]


def test_sheets_that_were_aligned_and_cut_from_here_tell_the_book_how_the_hand_reads_and_how_long_passes_take(tmp_path):
    desk = BookDesk(lambda: tmp_path / "book.sqlite")
    run = four_discs()
    reckoned_s = run.pages[0].passes[0].seconds
    for number in range(3):
        one = replace(run, run=f"{number}e" * 16)
        desk.keep(book_events(one, SEAL_HASH, cut_from_here(one, 1.5 * reckoned_s)), NOW.wall_ms)
    desk.keep(book_events(replace(run, run="3e" * 16, is_practice=True), SEAL_HASH, cut_from_here(run, 9)), NOW.wall_ms)
    known = run_facts(desk, run.sheet, [], NOW.wall_ms, "aa" * 16)
    assert known.found == 3, "of practice nothing is learnt"
    assert known.times.cut_pace == pytest.approx(1.5)
    # by hand: one mark 0.2 mm beside at one of four corners leaves half of it over, pooled over all: 0.2^2 / 2 a sheet;
    # 4 readings of 0.1 mm are 8 freedoms of the assumption, a sheet of four marks has 4
    assert known.hand_mm == pytest.approx(((8 * 0.01 + 3 * 0.02) / (8 + 3 * 4)) ** 0.5, rel=0.02)
    history = desk.look_up(lambda book: [bench_history(book, subject_of_bench(run), 1.0, NOW.wall_ms)], "", NOW.wall_ms)
    assert bench_view(history.rows[0], 1.0).notes == (
        "On 3 sheets that you aligned by hand the pointer stood within 0.20 mm, 19 times of 20.",
    )
    desk.close()


def subject_of_bench(run):
    return BenchSubject(machine=run.sheet.machine.name, printer=run.sheet.printer.name)


def test_passes_that_take_longer_end_later():
    run = seal(2, (page(6, (replace(BOTH, seconds=600.0),)),))
    state = after(run, begun(run), event("ordered", 0, NOW, block=1, carriers=1))
    slow, usual = (foreseen(run, state, NOW, RunTimes(cut_pace=pace)).end_s for pace in (2.0, 1.0))
    assert slow - usual == pytest.approx(2 * 600.0, abs=200), "of two sheets; some of it while other things are done"
    with pytest.raises(HonestEdgeError, match="pace of passes"):
        RunTimes(cut_pace=30.0)


def test_of_a_pass_that_was_torn_the_blade_has_cut_what_was_cut():
    run = four_discs()
    torn = event("lines cut", 1, NOW.after(2100), done=6, perhaps=1, why="the plug was pulled")
    for last in (
        event("spoiled", 1, NOW.after(2200), why="torn"),
        event("ended", 0, NOW.after(2200), reason="given up"),
    ):
        lost = [*cut_from_here(run, 0, torn), last]
        if last.what == "spoiled":
            lost.append(event("ended", 0, NOW.after(2300), reason="given up"))
        assert _metres(run, lost)[-1].metres == pytest.approx(12 * 2 * 0.12 * 6 / 24)
    gone_on = [event("cut begun", 1, NOW.after(2200)), event("cut done", 1, NOW.after(2300))]
    assert _metres(run, cut_from_here(run, 0, torn, *gone_on))[-1].metres == pytest.approx(12 * 2 * 0.12)
    assert [one.kind for one in book_events(run, SEAL_HASH, cut_from_here(run, 0, torn, *gone_on))].count("pass") == 0


def test_a_run_of_its_own_is_no_history_of_itself(tmp_path):
    desk = BookDesk(lambda: tmp_path / "book.sqlite")
    run = seal(1)
    desk.keep(book_events(run, SEAL_HASH, cut_and_inspected(run)), NOW.wall_ms)
    assert run_facts(desk, run.sheet, ["Mint"], NOW.wall_ms, run.run).inspected["Mint"] == []
    desk.close()


@pytest.mark.parametrize(
    ("bad_ones", "cause"),
    [
        ([bad(n, "left") for n in range(6)], "shift"),
        ([bad(0, "right", "art cut"), bad(1, "left"), bad(2, "left"), bad(4, "left")], "shift"),
        ([bad(3, "left"), bad(5, "right"), bad(0, "top"), bad(2, "top"), bad(9, "bottom"), bad(11, "bottom")], "scale"),
        ([bad(0, "left"), bad(1, "top"), bad(2, "bottom"), bad(4, "right"), bad(7, "top")], "random"),
    ],
)
def test_sides_of_bad_stickers_point_to_a_cause(bad_ones, cause):
    run = seal(1, (_centred(),))
    likely = pointed_to(run, state_of(run, cut_and_inspected(run, *bad_ones)))
    assert likely[0].cause == cause


def _centred():
    """Twelve squares about the middle of the paper."""
    made = page(12, (BOTH,))
    moved = []
    for copy in made.copies:
        x, y = copy.x_mm - 95, copy.y_mm - 125
        line = copy.lines[0]
        shifted = tuple(
            value + (SPAN_MM[0] / 2 - 95 if n % 2 == 0 else SPAN_MM[1] / 2 - 125) for n, value in enumerate(line.cubics)
        )
        moved.append(replace(copy, x_mm=x, y_mm=y, lines=tuple(replace(one, cubics=shifted) for one in copy.lines)))
    return replace(made, copies=tuple(moved))


def test_two_bad_stickers_point_nowhere():
    run = seal(1)
    assert pointed_to(run, state_of(run, cut_and_inspected(run, bad(0, "left"), bad(1, "left")))) == ()


def test_an_order_is_kept_unless_another_saves_over_two_minutes():
    run = seal(6, (page(6, (KISS, THROUGH)),))
    state = after(run, begun(run), event("ordered", 0, NOW, block=1, carriers=3))
    quick, slow = RunTimes(change_s=10), RunTimes(change_s=240)
    assert better_block(run, state, NOW, quick) == 1
    best = better_block(run, state, NOW, slow)
    assert best > 1
    saved = [foreseen(run, replace(state, block=block), NOW, slow).end_s for block in (1, best)]
    assert saved[0] - saved[1] > 120


def test_inspections_move_the_share_and_the_chance():
    run = replace(seal(2), measured_sheets=6)
    known = RunFacts()

    def tally(*bad_ones):
        state = state_of(run, cut_and_inspected(run, *bad_ones))
        return tally_of(run, state, known.prior(run), known.forecasts(run), known.history(run))

    good, poor = tally(), tally(*[bad(n, "left") for n in range(6)])
    assert good.good == 12
    assert (poor.good, poor.bad, poor.lacking) == (6, 6, 14)
    assert good.share > 0.95 > poor.share
    assert good.chance > 0.9
    assert poor.chance == 0.0  # twelve more cannot give fourteen
    assert (good.one_more, poor.one_more) == (None, 0)


def test_a_run_of_coloured_stock_alone_is_cut_and_nothing_is_printed(tmp_path):
    kraft = Stock(rgb=(201, 172, 132))
    layer = Layer(
        key="back", name="Back", role="stock", stock=kraft, shape=Shape(kind="oval", width_mm=60.0, height_mm=60.0)
    )
    job = Job(designs=(Design(key="d1", name="Wreath", layers=(layer,), outline=AS_DRAWN, copies=2),))
    pipeline = Pipeline(JobHolder().assets)
    found = Circumstances(run="0f" * 16, sealed_at="2026-09-21T14:13:20Z", drying_s=1200.0)
    sealing = sealed(compute_overview(job, pipeline), pipeline, found)
    assert sealing.print_file is None
    conductor = Conductor.begin(tmp_path, sealing, RunClock(lambda: NOW), block=1, carriers=1)
    assert conductor.step().key == "load"  # no print, no ruler, no drying
    conductor.happens(event("laid", 1, carrier=0))
    conductor.happens(event("set", kinds="through", setting=""))
    assert conductor.step().key == "read"
    conductor.happens(event("read", 1))
    conductor.happens(event("proof begun", 1, copy=conductor.step().copy))
    conductor.happens(event("proof cut", 1))
    conductor.happens(event("proof judged", 1, verdict="good"))
    assert set(conductor.cut_files(conductor.step())) == {"cut-1-rest.svg", "cut-1-rest.dxf"}
    conductor.journal.close()


def test_the_seal_says_when_in_iso_8601():
    """ISO 8601, read by Python's own library."""
    at = datetime.fromisoformat(seal().sealed_at)
    assert at.tzinfo == UTC
    assert at == datetime(2026, 9, 21, 14, 13, 20, tzinfo=UTC)


def test_a_blade_that_is_changed_in_the_middle_has_its_own_metres_closed():
    run = seal(2)
    events = cut_and_inspected(run)
    events.insert(1, event("blade", 0, NOW, blade="Blade no. 2"))
    at = NOW.after(1600)
    events += [
        event("blade", 0, at, blade="Blade no. 3"),
        event("laid", 2, at.after(40), carrier=0),
        event("set", 0, at.after(50), kinds="kiss and through", setting="force 90"),
        event("read", 2, at.after(90)),
        event("cut begun", 2, at.after(91)),
        event("cut done", 2, at.after(191)),
        event("inspected", 2, at.after(260)),
        event("ended", 0, at.after(261), reason="done"),
    ]
    told = book_events(run, SEAL_HASH, events)
    blades = [(one.data["blade"], one.data["what"], one.data["metres"]) for one in told if one.kind == "blade"]
    a_sheet_m = 12 * 2 * 0.12
    assert blades == [
        ("Blade no. 2", "changed early", pytest.approx(a_sheet_m)),
        ("Blade no. 3", "fitted", 0.0),
    ]
    (record,) = [one.data for one in told if one.kind == RUN]
    assert (record["blade"], record["cut_m"]) == ("Blade no. 3", pytest.approx(a_sheet_m))


def test_only_what_is_cut_again_is_cut_again_and_counts_for_the_blade():
    run = seal(1)
    events = cut_and_inspected(run)[:-1]
    at = NOW.after(1600)
    state = state_of(run, [*events, event("again", 1, at, copies=(2, 5))])
    assert (state.sheet(1).again, state.sheet(1).passes, state.sheet(1).is_read) == ((2, 5), 0, False)
    events += [
        event("again", 1, at, copies=(2, 5)),
        event("read", 1, at),
        event("cut begun", 1, at),
        event("cut done", 1, at),
        event("inspected", 1, at),
        event("ended", 0, at, reason="done"),
    ]
    (record,) = [one.data for one in book_events(run, SEAL_HASH, events) if one.kind == RUN]
    assert record["good"] == 12
    assert record["cut_m"] == pytest.approx((12 + 2) * 2 * 0.12)


def test_nothing_is_true_before_it_is_written_down(tmp_path, monkeypatch):
    run = replace(seal(1), print_sha256="")
    conductor = Conductor.begin(tmp_path, Sealing(seal=run, print_file=None), lambda: NOW, block=1, carriers=1)
    before = conductor.state

    def full(_handle):
        raise OSError(28, "No space left on device")

    with monkeypatch.context() as patch:
        patch.setattr("os.fsync", full)
        for act in (lambda: conductor.happens(event("printed", 1)), conductor.back):
            with pytest.raises(HonestEdgeError):
                act()
            assert conductor.state == before
    conductor.happens(event("printed", 1))
    assert conductor.state.sheet(1).printed is not None
    conductor.journal.close()


def test_sheets_that_are_not_printed_have_no_page_of_the_print_and_take_none(tmp_path):
    """Pieces of coloured stock lie on sheets of their own, between those that are printed."""
    kraft = Stock(name="Kraft card", rgb=(201, 172, 132))
    shape = Shape(kind="oval", width_mm=150.0, height_mm=200.0)
    designs = (
        Design(key="d1", name="First", layers=(Layer(key="a", shape=shape),), outline=AS_DRAWN, copies=1),
        Design(key="d2", name="Back", layers=(Layer(key="b", role="stock", stock=kraft, shape=shape),),
               outline=AS_DRAWN, copies=1),
        Design(key="d3", name="Second", layers=(Layer(key="c", shape=shape),), outline=AS_DRAWN, copies=1),
    )  # fmt: skip
    pipeline = Pipeline({})
    overview = compute_overview(Job(designs=designs), pipeline)
    made = sealed(overview, pipeline, Circumstances(run="0f" * 16, sealed_at="2026-09-21T14:13:20Z", drying_s=1200.0))
    pages = [page.print_page for page in made.seal.pages]
    assert sorted(pages, key=str) == [0, 1, None]
    with pikepdf.open(io.BytesIO(made.print_file)) as pdf:
        assert len(pdf.pages) == 2
    composed = composed_sheets(overview.job, pipeline)
    other_way = replace(
        composed, plan=replace(composed.plan, pages=composed.plan.pages[::-1]), pages=composed.pages[::-1]
    )
    turned = [page.print_page for page in _pages(other_way, overview.job)]
    assert [page for page in turned if page is not None] == [0, 1]  # wherever the sheet that is only cut lies


def test_each_design_on_a_sheet_has_a_key_of_its_own_in_the_book(tmp_path):
    """Two designs of one sheet are two notes: the Book takes the second of one key for the first told again."""
    run = seal(1)
    two = (*run.designs, replace(run.designs[0], name="Sage"))
    copies = tuple(replace(copy, design=n % 2) for n, copy in enumerate(run.pages[0].copies))
    run = replace(run, designs=two, pages=(replace(run.pages[0], copies=copies),))
    desk = BookDesk(lambda: tmp_path / "book.sqlite")
    desk.keep(book_events(run, SEAL_HASH, cut_and_inspected(run, bad(1, "left"))), NOW.wall_ms)
    notes = desk.look_up(lambda book: book.notes(INSPECTED, most=-1), "", NOW.wall_ms).rows
    assert sorted((kept.record.design, kept.record.good, kept.record.bad) for kept in notes) == [
        ("Mint", 6, 0),
        ("Sage", 5, 1),
    ]
    desk.close()


def test_what_the_book_knows_and_the_journal_does_not_is_said(tmp_path):
    desk = BookDesk(lambda: tmp_path / "book.sqlite")
    run = seal(2)
    events = cut_and_inspected(run)
    desk.keep(book_events(run, SEAL_HASH, events), NOW.wall_ms)
    known = run_facts(desk, run.sheet, ["Mint"], NOW.wall_ms, run.run)
    assert forgotten(known, state_of(run, events)) == ""
    assert "The Book has sheet 1 of this run as inspected" in forgotten(known, state_of(run, events[:2]))
    other = run_facts(desk, run.sheet, ["Mint"], NOW.wall_ms, "ab" * 16)
    assert forgotten(other, state_of(run, events[:2])) == ""
    desk.close()
