"""The Bench in the window: targets, pictures dropped on it, readings, what follows for the job."""

from __future__ import annotations

from dataclasses import replace

import pytest
from PIL import Image
from PyQt6.QtCore import QPoint, Qt
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QDialog, QLabel

from hands import click, come_to_rest, drop, type_into
from honest_edge.app.bench.practice import practised
from honest_edge.app.edits.open_art import demo_project
from honest_edge.core.measure.combs import comb_places
from honest_edge.core.measure.sheet_error import displaced
from honest_edge.core.values.bench_records import BenchSubject, kept_sheet
from honest_edge.core.values.measured import ErrorParts
from honest_edge.core.values.sheet import SheetSpec
from honest_edge.files.book.place import book_path
from honest_edge.files.book.records import MEASURED
from honest_edge.files.book.store import Book
from honest_edge.ui.rooms.bench.correction_dialog import CorrectionDialog
from honest_edge.ui.rooms.bench.readings_dialog import ReadingsDialog
from honest_edge.ui.rooms.bench.ruler_dialog import RulerDialog
from honest_edge.ui.rooms.bench.target_dialog import TargetDialog
from honest_edge.ui.shared.note_dialog import NoteDialog
from honest_edge.ui.shared.questions_dialog import QuestionsDialog
from pictures import disc_png


@pytest.fixture(scope="module")
def scans(tmp_path_factory):
    """Two scans of each of three sheets of one bench."""
    folder = tmp_path_factory.mktemp("scans")
    found = []
    for seed in (1, 2, 3):
        for scan, name in zip(practised(SheetSpec(paper="a5"), f"TESTKEY{seed + 1}", seed), "ab", strict=True):
            Image.fromarray(scan.grey).save(folder / f"{seed}{name}.png", dpi=(200, 200))
            found.append(folder / f"{seed}{name}.png")
    return found


def visited(window, settle):
    click(window.path_bar.rooms["bench"])
    settle(window)
    return window.workshop["bench"]


def dropped(window, settle, paths):
    room = visited(window, settle)
    drop(window, paths)
    settle(window)
    return room


def opened(window, kind):
    (found,) = [child for child in window.findChildren(kind) if child.isVisible()]
    return found


def test_a_bench_that_was_never_measured_says_how_it_is(window, settle):
    room = visited(window, settle)
    assert room.answer.answer.text() == "within 0.50 mm"
    assert room.answer.assumed.isVisible()
    assert "as it was typed" in room.answer.under.text()
    assert not room.answer.parts.isVisible()
    assert not room.history.isVisible()
    assert "Nothing is measured of this bench yet" in room.sheet.empty
    assert not book_path().exists()  # looking makes none


def test_scans_that_are_dropped_become_the_error_of_the_job(with_disc, settle, scans):
    window = with_disc
    steps = window.document.undo_stack.count()
    before = window.workspace.result.forecast
    room = dropped(window, settle, scans)
    assert "3 sheets measured and kept in the Book" in window.bar.message.text()
    assert "measured on 3 sheets" in room.answer.under.text()
    assert not room.answer.assumed.isVisible()
    assert len(room.sheet.as_table()) == 12
    assert room.sheet._picture is not None  # the scan itself lies under the arrows
    job = window.document.job
    assert job.measured_bench.sheets == 3
    assert window.document.undo_stack.count() == steps  # nothing that the user did
    window.go_to("edge")
    settle(window)
    panel = window.here.panel
    assert panel.error.title.text() == "Measured, 3 sheets, within a day"
    assert not panel.error.drift.isVisible()
    assert window.workspace.result.forecast.degrees_of_freedom == pytest.approx(5)
    assert window.workspace.result.forecast.starts[0].any()  # where the cut lands on average
    assert not before.starts[:, :2].any()
    click(panel.error.measure)
    assert room.widget.isVisible()


def test_a_typed_error_comes_first_and_can_be_taken_back(with_disc, settle, scans):
    window = with_disc
    dropped(window, settle, scans[:2])
    window.go_to("edge")
    settle(window)
    panel = window.here.panel
    panel.error.repeat.committed.emit(0.2)
    settle(window)
    assert window.document.job.error.repeat_mm == 0.2
    assert panel.error.title.text() == "Assumed, not measured"
    panel.error.forget.click()
    settle(window)
    assert panel.error.title.text().startswith("Measured, 1 sheet")


@pytest.mark.parametrize(
    ("make", "words"),
    [
        (lambda path: path.write_bytes(disc_png(ppi=300)), "shows no target of Honest Edge"),
        (lambda path: Image.new("L", (900, 1200), 5).save(path), "is black"),
        (lambda path: path.write_bytes(b"hello"), "no picture that can be read"),
    ],
)
def test_what_is_no_target_is_said_and_nothing_is_kept(window, settle, tmp_path, make, words):
    make(tmp_path / "other.png")
    room = dropped(window, settle, [tmp_path / "other.png"])
    assert words in window.bar.message.text()
    assert room.answer.assumed.isVisible()
    assert not window.document.job.designs  # it was not taken for art


def test_art_dropped_at_a_station_is_still_art(window, settle, scans):
    drop(window, [scans[0]])
    settle(window)
    assert len(window.document.job.designs) == 1


def room_words(room):
    return " ".join(text.text() for text in room.widget.findChildren(QLabel) if not text.isHidden())


def test_the_practice_bench_is_marked_and_never_counts_for_a_real_one(with_disc, settle):
    window = with_disc
    room = visited(window, settle)
    click(room.benches.cards[-1])
    settle(window)
    come_to_rest(window)
    place = room.practise.mapTo(window, QPoint(0, 0))
    click(room.practise)
    settle(window)
    come_to_rest(window)
    assert room.practise.mapTo(window, QPoint(0, 0)) == place
    assert room.answer.assumed_title.text() == "Simulated: the practice bench"
    assert "measured on 1 sheet" in room.answer.under.text()
    assert "simulated" in room.caption.text()
    assert window.document.job.measured is None
    with Book(book_path()) as book:
        (kept,) = book.notes(MEASURED)
        assert kept.record.simulated
        assert kept.record.machine == "Practice bench"
    assert "measure two more" in room_words(room)
    for sheets in (2, 3):
        click(room.practise)
        settle(window)
        assert f"measured on {sheets} sheets" in room.answer.under.text()
        assert "measure two more" not in window.bar.message.text() + room_words(room)
        assert room.practise.mapTo(window, QPoint(0, 0)) == place  # it can be pressed again where it is


def test_the_steady_part_is_moved_in_the_cut_files_and_back(with_disc, settle, scans):
    window = with_disc
    room = dropped(window, settle, scans)
    assert room.answer.steady.isVisible()
    click(room.answer.take_out)
    dialog = opened(window, CorrectionDialog)
    assert "right" in room.answer.parts.findChildren(type(room.answer.under))[0].text()
    click(dialog.move_files)
    settle(window)
    moved = window.document.job.cut_moved_by
    assert moved.shift_x_mm < -0.05
    assert abs(window.document.job.misregistration.shift_x_mm.bias) < 1e-3
    assert room.answer.steady_title.text() == "Cut files are moved for this bench"
    click(room.answer.take_out)
    click(opened(window, CorrectionDialog).back)
    settle(window)
    assert window.document.job.cut_moved_by.is_none


def test_what_is_typed_into_the_machine_makes_the_bench_unknown_until_the_next_target(with_disc, settle, scans):
    window = with_disc
    room = dropped(window, settle, scans[:2])
    room.take_out()
    dialog = opened(window, CorrectionDialog)
    click(dialog.typed)
    settle(window)
    assert room.answer.assumed.isVisible()
    assert "its steady part changed since" in room.answer.assumed_words.text()
    assert window.document.job.measured_bench is None


def test_a_sheet_is_set_aside_and_counts_again(with_disc, settle, scans):
    window = with_disc
    room = dropped(window, settle, scans)
    QTest.keyClick(room.history, Qt.Key.Key_Left)
    assert room.caption.text().startswith("Sheet 2 of 3")
    click(room.set_aside)
    settle(window)
    assert window.document.job.measured_bench.sheets == 2
    room.history._pick(1)
    assert room.set_aside.text() == "Let it count"
    click(room.set_aside)
    settle(window)
    assert window.document.job.measured_bench.sheets == 3


def test_a_change_is_noted_on_the_history(window, settle, scans):
    room = dropped(window, settle, scans[:2])
    click(room.noted)
    dialog = opened(window, NoteDialog)
    click(dialog.keep)
    settle(window)
    assert any("A new blade" in line for line in room.history.as_table())


def test_readings_are_typed_with_the_keyboard_and_a_slip_is_marked(window, settle):
    room = visited(window, settle)
    click(room.read)
    dialog = opened(window, ReadingsDialog)
    places = comb_places(window.document.job.sheet, 9)
    moved = displaced(ErrorParts(shift_x_mm=0.2, shift_y_mm=-0.1), places.from_middle)
    numbers = [f"{round(2 * value / 0.1) / 2:g}" for pair in moved.tolist() for value in pair]
    numbers[9] = "7"  # place 5, down
    for number in numbers:
        QTest.keyClicks(dialog.focusWidget(), number)
        QTest.keyClick(dialog.focusWidget(), Qt.Key.Key_Return)
    assert "place 5: down does not fit the rest" in dialog.said.text()
    assert dialog.fields[4][1].property("wrong")
    assert not dialog.fields[4][0].property("wrong")
    click(dialog.keep_it)
    settle(window)
    assert "0.19 mm" in room.answer._cells[0][1].text()
    assert "by eye" in room.caption.text()


def test_a_reading_that_is_none_is_refused_in_words(window, settle):
    room = visited(window, settle)
    dialog = ReadingsDialog(window, 0.5, lambda _measured: None)
    dialog.fields[0][0].setText("0.1 in")
    dialog.judged()
    assert "no number of a comb" in dialog.said.text()
    dialog.fields[0][0].setText("1")
    dialog.judged()
    assert "too few to tell" in dialog.said.text()
    assert not dialog.keep_it.isEnabled()
    dialog.close()
    assert room is not None


def test_questions_lead_to_a_cause_by_the_keyboard(window, settle):
    room = visited(window, settle)
    click(room.ask_me)
    dialog = opened(window, QuestionsDialog)
    truth = {"same": True, "next": True, "wide": True}
    asked = 0
    while dialog._asked is not None:
        QTest.keyClick(dialog, Qt.Key.Key_Y if truth.get(dialog._asked.key, False) else Qt.Key.Key_N)
        asked += 1
    assert asked == 8
    assert dialog.bars.as_table()[0].startswith("All of it is shifted")
    assert "Reset the carriage" in dialog.remedies.text()
    click(dialog.again)
    click(dialog.skip)
    assert dialog.number.text() == "Question 2 of 8"
    dialog.accept()


@pytest.mark.parametrize(("kind", "places"), [("picture", 12), ("eye", 9)])
def test_a_target_is_written_into_a_folder_of_its_own(window, settle, tmp_path, kind, places):
    room = visited(window, settle)
    click(room.target)
    dialog = opened(window, TargetDialog)
    dialog.kind.show_value(kind)
    dialog._show_kind(kind)
    dialog.write_to(tmp_path / "out")
    settle(window)
    (folder,) = (tmp_path / "out").iterdir()
    assert {"print.pdf", "cut-1.svg", "target.json"} <= {path.name for path in folder.iterdir()}
    assert f"{places}" == dialog.places.currentText()
    assert "print it at 100 %" in window.bar.message.text()
    assert not dialog.isVisible()


def test_a_target_that_has_no_room_says_so(window, settle, tmp_path):
    window.document.edit(replace(window.document.job, sheet=SheetSpec(paper="a5")), "paper")
    room = visited(window, settle)
    click(room.target)
    dialog = opened(window, TargetDialog)
    dialog.places.setCurrentText("30")
    dialog.write_to(tmp_path)
    settle(window)
    assert "does not fit A5" in window.bar.message.text()
    assert dialog.isVisible()
    dialog.close()


def test_the_printed_ruler_gives_the_printer_its_scale(window, settle):
    room = visited(window, settle)
    click(room.ruler)
    dialog = opened(window, RulerDialog)
    across, down = dialog.fields
    assert "drawn as 170.0 mm" in across.accessibleName()
    type_into(across, "170.5 mm")
    type_into(down, "239.4 mm")
    click(dialog.take)
    printer = window.document.job.sheet.printer
    assert (printer.scale_x_percent, printer.scale_y_percent) == pytest.approx((0.294, -0.25))
    assert "+0.29 % across and -0.25 % down" in window.bar.message.text()
    window.document.undo_stack.undo()
    assert window.document.job.sheet.printer.scale_x_percent == 0.0


def test_another_machine_is_another_bench(with_disc, settle, scans):
    window = with_disc
    dropped(window, settle, scans[:2])
    job = window.document.job
    machine = replace(job.sheet.machine, name="Second cutter")
    window.document.edit(replace(job, sheet=job.sheet.with_profile(machine)), "machine")
    settle(window)
    assert window.document.job.measured_bench is None
    window.document.undo_stack.undo()
    settle(window)
    assert window.document.job.measured_bench.sheets == 1


def test_a_job_keeps_what_a_bench_of_another_book_told(with_disc, settle, scans):
    """A job from elsewhere carries its copy; this Book never saw that bench."""
    window = with_disc
    dropped(window, settle, scans[:2])
    job = window.document.job
    with Book(book_path()) as book:
        measured = book.notes(MEASURED)[0].record.measured
    book_path().unlink()
    window.desk()().close()
    with Book(book_path()) as book:  # there is one, and it knows another bench
        other = BenchSubject(machine="Second cutter", printer="Home printer")
        book.add([MEASURED.event(kept_sheet(measured, other, "b" * 32), "c" * 32, 1_790_000_000_000)])
    window.document.start(replace(job, title="from elsewhere"), {}, None)
    window.bench_changed()
    settle(window)
    assert window.document.job.measured_bench.sheets == 1


def test_places_are_told_on_hover(window, settle, scans):
    room = dropped(window, settle, scans[:2])
    assert "mm to the right" in room.sheet.as_table()[0] or "mm to the left" in room.sheet.as_table()[0]
    assert room.sheet.enlarged in (10, 20, 50, 100)
    assert room.sheet.childAt(QPoint(1, 1)) is None
    assert not [child for child in window.findChildren(QDialog) if child.isVisible()]


def test_lengths_are_shown_in_inches(window, settle, scans):
    room = dropped(window, settle, scans[:2])
    window.choices.swap_unit()
    settle(window)
    assert room.answer.answer.text().endswith(" in")
    assert " in," in room.history.as_table()[0]


def test_the_demo_s_book_is_not_made_up_before_somebody_looks_into_it(window, settle):
    demo = demo_project()
    job = replace(demo.job, designs=demo.job.designs[4:5], layout=(), pins=())
    window.document.start(job, demo.assets, None, is_demo=True)
    settle(window)
    demo = window.workshop._desks.get(True)
    assert demo is None or demo._folder is None
    assert window.document.job.measured_bench.sheets == 4
    room = visited(window, settle)
    assert "measured on 4 sheets" in room.answer.under.text()
