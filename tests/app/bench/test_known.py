"""What the Book knows of a bench, and what is shown of it."""

from __future__ import annotations

import secrets

import pytest

from honest_edge.app.bench.bench_history import bench_history, unmeasured
from honest_edge.app.bench.keeping import to_keep
from honest_edge.app.bench.view import PRACTICE, bench_shelf, bench_view, learnt_sign, taken_out, to_type
from honest_edge.app.book.demo_bench import BENCH
from honest_edge.app.book.demo_book import demo_events
from honest_edge.app.edits.open_art import demo_project
from honest_edge.core.values.bench_records import BenchNote, BenchSheet, SetAside, cut_moved, kept_sheet
from honest_edge.core.values.errors import UsageError
from honest_edge.core.values.job import Job
from honest_edge.core.values.measured import ErrorParts, MeasuredPlace, MeasuredSheet
from honest_edge.files.book.records import ASIDE, CHANGED, MEASURED, MOVED, SIGN
from honest_edge.files.book.store import Book

NOW, DAY = 1_790_000_000_000, 86_400_000
POINTS = [(x, y) for y in (-100, 0, 100) for x in (-80, 0, 80)]


def sheet(shift_x=0.3, shift_y=-0.2, *, name="", correction=ErrorParts()):  # noqa: B008
    wobble = [0.01, -0.02, 0.015, -0.01, 0.02, -0.015, 0.0, 0.01, -0.01]
    places = tuple(
        MeasuredPlace(x_mm=x, y_mm=y, dx_mm=shift_x + w, dy_mm=shift_y - w)
        for (x, y), w in zip(POINTS, wobble, strict=True)
    )
    return MeasuredSheet(
        picture="scan", by="scan", error=ErrorParts(shift_x_mm=shift_x, shift_y_mm=shift_y), unsure=ErrorParts(),
        repeat_mm=0.02, degrees_of_freedom=13, places=places, sheet=name, correction=correction,
    )  # fmt: skip


@pytest.fixture
def book(tmp_path):
    with Book(tmp_path / "book.sqlite") as made:
        yield made


def add(book, kind, record, days=0):
    book.add([kind.event(record, secrets.token_hex(16), NOW - days * DAY)])


def keep(book, measured, days=0):
    record = kept_sheet(measured, BENCH, secrets.token_hex(16))
    add(book, MEASURED, record, days)
    return record


def known(book):
    return bench_history(book, BENCH, 0.5, NOW)


def test_a_kept_sheet_comes_back_as_it_was():
    measured = sheet(name="KEY-1", correction=ErrorParts(rotation_deg=-0.02))
    again = kept_sheet(measured, BENCH, "a" * 32).measured
    assert again.error == measured.error
    assert again.correction == measured.correction
    for one, other in zip(again.places, measured.places, strict=True):
        assert (one.dx_mm, one.dy_mm) == pytest.approx((other.dx_mm, other.dy_mm), abs=1e-4)


@pytest.mark.parametrize(
    ("field", "text", "words"),
    [
        ("places", "1 2 three 4 1", "no numbers"),
        ("error", "1 2 3", "five parts"),
        ("places", "", "places that it was measured at"),
    ],
)
def test_a_damaged_record_says_what_is_wrong(field, text, words):
    plain = kept_sheet(sheet(), BENCH, "a" * 32)
    values = {name: getattr(plain, name) for name in BenchSheet.__dataclass_fields__} | {field: text}
    with pytest.raises(UsageError, match=words):
        BenchSheet(**values)


def test_a_sheet_measured_again_counts_once(book):
    keep(book, sheet(0.1, name="KEY-1"), 3)
    keep(book, sheet(0.3, name="KEY-1"), 1)
    assert [row.kept.measured.error.shift_x_mm for row in known(book).rows] == [0.3]


def test_a_sheet_that_is_set_aside_counts_no_more_until_it_does_again(book):
    keep(book, sheet(0.1), 3)
    other = keep(book, sheet(0.9), 2)
    aside = SetAside(machine=BENCH.machine, printer=BENCH.printer, key=other.key)
    add(book, ASIDE, aside, 1)
    assert known(book).belief.shift_x_mm.mean == pytest.approx(0.1, abs=0.01)
    add(book, ASIDE, SetAside(machine=BENCH.machine, printer=BENCH.printer, key=other.key, counts=True))
    assert known(book).belief.shift_x_mm.mean > 0.4


def test_after_a_reset_nothing_steady_is_known_until_the_next_sheet(book):
    keep(book, sheet(0.5), 10)
    add(book, CHANGED, BenchNote(machine=BENCH.machine, printer=BENCH.printer, what="carriage reset"), 5)
    assert known(book).belief is None
    assert known(book).copy is None
    keep(book, sheet(0.1), 1)
    assert known(book).belief.shift_x_mm.mean == pytest.approx(0.1, abs=0.01)
    assert known(book).copy.sheets == 1


def test_a_new_blade_moves_nothing_steady(book):
    keep(book, sheet(0.3), 10)
    add(book, CHANGED, BenchNote(machine=BENCH.machine, printer=BENCH.printer, what="new blade"), 5)
    assert known(book).belief is not None


def test_what_cut_files_are_moved_by_is_taken_out_and_proved_by_a_second_target(book):
    for days in (5, 4, 3):
        keep(book, sheet(0.3, -0.2), days)
    before = bench_view(known(book), 0.5)
    assert before.without_steady_mm < 0.6 * before.within_mm
    moved = taken_out(before)
    assert (moved.shift_x_mm, moved.shift_y_mm) == pytest.approx((-0.3, 0.2), abs=0.01)
    add(book, MOVED, cut_moved(BENCH, moved), 2)
    after = bench_view(known(book), 0.5)
    assert after.within_mm == pytest.approx(before.without_steady_mm, rel=0.02)
    assert known(book).copy.correction == moved
    assert abs(known(book).copy.error.shift_x_mm.bias) < 1e-3
    keep(book, sheet(0.01, 0.0, correction=moved), 1)  # the second target, cut with it
    proved = bench_view(known(book), 0.5)
    assert abs(proved.parts[0].mean) < 0.02
    assert proved.within_mm < before.within_mm / 2


def test_the_sign_of_the_machine_s_number_is_learnt_never_guessed(book):
    for days in (6, 5):
        keep(book, sheet(0.3, -0.2), days)
    view = bench_view(known(book), 0.5)
    typed = to_type(view)
    assert not typed.is_known
    assert (typed.across_mm, typed.down_mm) == pytest.approx((-0.3, 0.2), abs=0.02)
    note = BenchNote(
        machine=BENCH.machine, printer=BENCH.printer, what="typed into the machine",
        typed_x_mm=typed.across_mm, typed_y_mm=typed.down_mm,
    )  # fmt: skip
    add(book, CHANGED, note, 4)
    # across goes the other way, down as hoped
    records, said = to_keep(known(book), [sheet(0.6, 0.0)], 0.5)
    signs = {record.axis: record.sign for kind, record in records if kind is SIGN}
    assert signs == {"across": -1, "down": 1}
    assert "across goes the other way" in said[0]
    for kind, record in records:
        add(book, kind, record, 3)
    again = to_type(bench_view(known(book), 0.5))
    assert again.is_known
    assert again.across_mm == pytest.approx(0.6, abs=0.04)  # 0.6 too far right, and typing more moves left
    assert to_keep(known(book), [sheet()], 0.5)[1] == []  # learnt once


@pytest.mark.parametrize(("after", "sign"), [(0.0, 1), (0.6, -1), (0.3, None), (2.0, None)])
def test_a_sign_is_told_by_how_far_the_cut_moved(after, sign):
    assert learnt_sign(0.3, -0.3, after) == sign


def test_a_typed_number_that_is_nearly_nothing_tells_no_sign():
    assert learnt_sign(0.3, 0.001, 0.3) is None


def test_one_sheet_says_that_it_tells_nothing_about_the_spread(book):
    keep(book, sheet(0.3))
    view = bench_view(known(book), 0.5)
    assert "nothing about how much sheets differ" in view.notes[0]
    assert view.causes[0].cause == "shift"


def test_a_sheet_that_contradicts_the_typed_distance_is_said(book):
    for days in (1, 2):
        keep(book, sheet(1.5, 0.0), days)
    assert "contradicts the 0.5 mm" in " ".join(bench_view(known(book), 0.5).notes)


def test_nothing_is_claimed_of_a_bench_that_was_never_measured(book):
    view = bench_view(unmeasured(BENCH), 0.5)
    assert view.within_mm is None
    assert view.causes == ()
    assert to_type(view) is None
    assert taken_out(view).is_none
    shelf = bench_shelf(None, BENCH, BENCH, 0.5, NOW)
    assert [row.bench for row in shelf.rows] == [BENCH, PRACTICE]
    assert shelf.view.sheets == 0


def test_the_demo_job_carries_what_its_book_says(book):
    """Else the demo would be computed twice when it is opened."""
    book.add(demo_events(NOW))
    measured, job = known(book).copy, demo_project().job
    assert job.measured.key == measured.key
    assert job.measured_bench is not None
    assert job.misregistration.shift_x_mm.bias == pytest.approx(measured.error.shift_x_mm.bias, abs=1e-6)
    assert bench_view(known(book), 0.5).sheets == job.measured.sheets == 4


def test_what_was_measured_of_another_bench_is_not_taken():
    job = demo_project().job
    other = job.sheet.with_profile(job.sheet.printer.__class__(name="Another printer"))
    assert Job(sheet=other, measured=job.measured).measured_bench is None
    assert Job(sheet=other, measured=job.measured).misregistration == Job().misregistration


def test_keys_name_all_that_a_copy_rests_on(book):
    keep(book, sheet(0.3), 3)
    first = known(book).copy.key
    keep(book, sheet(0.2), 2)
    second = known(book).copy.key
    add(book, MOVED, cut_moved(BENCH, ErrorParts(shift_x_mm=-0.1)))
    assert len({first, second, known(book).copy.key}) == 3
