"""Run, led through the real window: every step, and every way in which it goes wrong."""

import argparse
import contextlib
import hashlib
import io
import shutil
import sqlite3
import time
from dataclasses import replace
from pathlib import Path

import cv2
import numpy as np
import pikepdf
import pytest
import shapely
from PyQt6.QtCore import QPoint, QPointF, QRect, Qt
from PyQt6.QtGui import QGuiApplication
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QCheckBox, QComboBox, QLabel, QLineEdit, QMessageBox, QPushButton, QSpinBox
from svgelements import SVG, Group
from svgelements import Path as SvgPath

from hands import click, crash, drop, type_into
from honest_edge.app.edits.open_art import demo_project
from honest_edge.app.edits.orders import with_order
from honest_edge.app.run.loaded_look import grey_of
from honest_edge.core.run.state import state_of
from honest_edge.core.sheet.marks import marks_of
from honest_edge.core.values.book_records import Carrier, CarrierCare, CutRecipe
from honest_edge.core.values.errors import Cancelled
from honest_edge.core.values.job import Job
from honest_edge.core.values.machine import MACHINES, Machine
from honest_edge.core.values.orders import OrderLine
from honest_edge.core.values.run_seal import parse_sign
from honest_edge.core.values.stock import STOCKS
from honest_edge.files.book.records import CARE, CARRIER, LOADED, MEASURED, RECIPE, SETTING
from honest_edge.files.book.store import Book
from honest_edge.files.print_png import page_pixels, page_png
from honest_edge.files.project import load_project
from honest_edge.files.read_sign import sign_in
from honest_edge.files.runs.journal import runs_folder
from honest_edge.files.typefaces import font_library
from honest_edge.simulator.camera import photograph
from honest_edge.simulator.loaded_mat import Loading, on_carrier
from honest_edge.ui.shell.run_offer import RunOffer
from honest_edge.ui.shell.start import _begin
from honest_edge.ui.widgets.fields import Choice
from leader import Leader


@pytest.fixture
def lead(with_disc, settle, clock, tmp_path):
    """A job of twelve discs, its files written to a folder."""
    with_disc.document.out_folder = tmp_path / "out"
    leader = Leader(with_disc, settle, clock)
    leader.with_copies(12)
    return leader


def lines_in(path):
    """Return how many lines a cut file has besides its marks, counted by svgelements."""
    groups = [group for group in SVG.parse(str(path)).select(lambda e: isinstance(e, Group)) if group.id == "kiss"]
    return sum(len(list(one.as_subpaths())) for group in groups for one in group if isinstance(one, SvgPath))


def test_a_whole_run_is_led_with_one_key(lead, tmp_path):
    lead.begin(carriers=2)
    titles = []
    for _ in range(60):
        if lead.step.key == "ended":
            break
        titles.append(lead.view.title.text())
        lead.go_on()
    assert [t for n, t in enumerate(titles) if t not in titles[:n]] == [
        "Print sheet 1, and only this one",
        "Hold a ruler to sheet 1",
        "Let sheet 1 dry",
        "Lay sheet 1 on carrier A",
        "Set the machine for: kiss",
        "Watch the reader find each mark of sheet 1",
        "Cut one sticker of sheet 1 first",
        "Look at the proof sticker",
        "Cut the rest of sheet 1: kiss",
        "Sheet 1 is being cut",
        "Peel sheet 1 and look at every sticker",
        "Enough: the run is done",
    ]
    folder = tmp_path / "out" / f"run-{lead.keeper.conductor.seal.code}"
    assert sorted(path.name for path in folder.iterdir()) == [
        "cut-1-proof.dxf", "cut-1-proof.svg", "cut-1-rest.dxf", "cut-1-rest.svg",
    ]  # fmt: skip
    (kept,) = Book(runs_folder().parent / "book.sqlite").runs()
    assert (kept.run.good, kept.run.bad, kept.run.sheets) == (12, 0, 1)
    assert kept.run.job == lead.keeper.conductor.seal.run


def test_proof_and_rest_are_all_that_was_sealed_and_nothing_twice(lead, tmp_path):
    lead.begin()
    lead.until("pass")
    proof = lead.state.sheet(1).proofs
    lead.space()
    folder = tmp_path / "out" / f"run-{lead.keeper.conductor.seal.code}"
    assert [lines_in(folder / f"cut-1-{part}.svg") for part in ("proof", "rest")] == [1, 11]
    seal = lead.keeper.conductor.seal
    away = [
        (copy.x_mm - sum(x for x, _ in seal.mark_middles_mm) / 3) ** 2
        + (copy.y_mm - sum(y for _, y in seal.mark_middles_mm) / 3) ** 2
        for copy in seal.pages[0].copies
    ]
    assert away[proof[0]] == max(away)  # far from the marks


def test_what_is_printed_and_cut_comes_from_the_seal_whatever_is_changed_in_the_job(lead, tmp_path):
    lead.begin()
    conductor = lead.keeper.conductor
    before = hashlib.sha256(conductor.print_bytes((1,), lead.window.pipeline().fonts)).hexdigest()
    document = lead.window.document
    design = document.job.designs[0]
    document.edit(document.job.with_design(replace(design, width_mm=33.0)), "width")
    lead.settle()
    assert "“Disc”" in lead.room.differs.text()
    assert "goes on as it was sealed" in lead.room.differs.text()
    assert hashlib.sha256(conductor.print_bytes((1,), lead.window.pipeline().fonts)).hexdigest() == before
    document.undo_stack.undo()
    lead.settle()
    assert lead.room.differs.text() == ""


def test_speed_and_overcut_may_still_change(lead, tmp_path):
    lead.begin()
    document = lead.window.document
    sheet = document.job.sheet
    machine = replace(sheet.machine, overcut_mm=0.5, formats=("svg", "plt"))
    document.edit(replace(document.job, sheet=replace(sheet, machine=machine)), "overcut")
    lead.settle()
    assert lead.room.differs.text() == ""
    lead.until("pass")
    lead.space()
    folder = tmp_path / "out" / f"run-{lead.keeper.conductor.seal.code}"
    assert (folder / "cut-1-rest.plt").exists()


# -- printing and measuring ---


def test_every_sheet_carries_its_run_and_number_in_words_and_as_a_code(lead, tmp_path):
    """Read by another library than the one that wrote it (zxing-cpp reads, segno writes)."""
    lead.window.document.edit(replace(lead.window.document.job, prints=(3,)), "prints")
    lead.settle()
    lead.begin()
    conductor = lead.keeper.conductor
    data = conductor.print_bytes((1, 2, 3), lead.window.pipeline().fonts)
    with pikepdf.open(io.BytesIO(data)) as pdf:
        assert len(pdf.pages) == 3
    for number in (1, 2, 3):
        picture = tmp_path / f"found-{number}.png"
        picture.write_bytes(page_png(data, number - 1, 300))
        assert sign_in(picture) == (conductor.seal.code, number)
        assert parse_sign(conductor.sign(number)) == (conductor.seal.code, number)
    assert data == conductor.print_bytes((1, 2, 3), lead.window.pipeline().fonts)


def test_a_print_that_was_fitted_to_the_page_stops_the_run_by_its_number(lead):
    lead.begin()
    lead.until("measure")
    lead.ruler("183.0")
    lead.space()
    assert "95.4 %: the dialog fitted it to the page" in lead.said
    assert lead.state.sheet(1).spoiled == "printed at 95.4 % of its size"
    assert lead.view.title.text() == "Print sheet 2 in its place"
    lead.space()
    lead.ruler("192", "255.5", "50")
    lead.space()
    assert lead.step.key == "dry"


@pytest.mark.parametrize(
    ("typed", "said"),
    [
        ("19", "cannot be this print"),
        ("7.55", "read in inches"),
        ("abc", "is no length"),
    ],
)
def test_a_reading_that_cannot_be_is_said_and_nothing_is_lost(lead, typed, said):
    lead.begin()
    lead.until("measure")
    lead.ruler(typed)
    if typed != "abc":
        lead.space()
    assert said in lead.said
    assert lead.step.key == "measure"
    assert not lead.state.sheet(1).spoiled
    lead.ruler("191.9", "255.4", "50")
    lead.space()
    assert lead.step.key == "dry"


def test_inches_are_taken_where_they_are_said(lead):
    lead.begin()
    lead.until("measure")
    lead.ruler("7.55 in", "10 1/16 in")
    lead.space()
    assert lead.step.key == "dry"


def test_nothing_typed_is_no_reading(lead):
    lead.begin()
    lead.until("measure")
    lead.press("That is what the ruler says")
    assert "Nothing was read" in lead.said
    assert lead.step.key == "measure"
    lead.press("I have no ruler")
    assert lead.step.key == "dry"
    assert lead.state.measured == "not measured"


def test_printing_that_broke_off_at_the_third_sheet_is_said_and_the_rest_is_asked_for_again(lead):
    lead.window.document.edit(replace(lead.window.document.job, prints=(5,)), "prints")
    lead.settle()
    lead.begin()
    lead.until("print rest")
    assert lead.view.title.text() == "Print sheets 2 to 5"
    lead.room.printing._sent = 2
    lead.room.printing._on_failed("The printer “Simulated” stopped after 2 of 4 sheets")
    assert "2 sheets went out before: type how many came out" in lead.said
    count = lead.view.asking.findChildren(QSpinBox)[0]
    count.setValue(2)
    count.committed.emit(2)
    lead.press("They are printed")
    assert lead.view.title.text() == "Print sheets 4 to 5"


def test_printing_is_called_off_and_what_went_out_is_said(lead, monkeypatch, qtbot):
    lead.window.document.edit(replace(lead.window.document.job, prints=(4,)), "prints")
    lead.settle()
    lead.begin()
    lead.until("print rest")

    def slow(_printer, _data, count, *, report, cancelled):
        report(1 / count, f"Sending sheet 2 of {count}")
        while not cancelled():
            time.sleep(0.01)
        raise Cancelled

    monkeypatch.setattr("honest_edge.ui.rooms.run.printing.send", slow)
    monkeypatch.setattr("honest_edge.ui.rooms.run.printing.is_device", lambda _printer: True)
    monkeypatch.setattr("honest_edge.ui.rooms.run.printing.obstacle", lambda *_: None)
    click(lead.view.ways[0])
    lead.room.printing.dialog.accept()
    qtbot.waitUntil(lambda: "Sending sheet 2 of 3" in lead.said)
    assert lead.view.ways[0].text() == "Call printing off"
    assert not lead.view.primary.isEnabled()
    lead.press("Call printing off")
    assert lead.said == "Printing was called off. 1 sheet went out before and may still come."
    assert lead.view.ways[0].text() == "Print…"
    assert lead.view.primary.isEnabled()


def test_the_cut_that_runs_can_be_stopped_from_a_step_of_another_sheet(lead):
    lead.window.document.edit(replace(lead.window.document.job, prints=(2,)), "prints")
    lead.settle()
    lead.begin(carriers=2)
    lead.until("load", sheet=2)
    assert lead.step.is_meanwhile
    assert "the cutter is done in" in [made.text() for made in lead.view.figures.findChildren(QLabel)]
    lead.escape()
    lead.press("The cut of sheet 1 went wrong")
    lead.press("In the middle: cut it again")
    assert lead.state.sheet(1).passes == 0
    assert (lead.step.key, lead.step.sheet) == ("read", 1)


# -- waiting ---


def test_every_sheet_dries_by_its_own_clock_and_the_end_is_told(lead):
    lead.begin()
    lead.until("dry")
    at = lead.clock.seconds
    assert lead.view.primary.isEnabled() is False
    lead.clock.seconds = at + 600
    lead.room.tick()
    waited = lead.step.wait_s
    assert 0 < waited <= 600
    lead.clock.shift_s = -3600  # summer time ends, or a hand sets the clock back
    lead.room.tick()
    assert lead.step.wait_s == waited
    lead.room.show_run()
    assert "set back by 50 min" in lead.room.differs.text()
    lead.clock.shift_s = 0
    lead.clock.seconds = at + 1300
    lead.room.tick()
    assert lead.room.alerts.said == ["Sheet 1 is dry."]
    assert lead.step.key == "load"


def test_a_desktop_without_notifications_is_said_once_and_quietly(lead):
    lead.begin()
    assert lead.room.lacking.isVisible()
    assert lead.room.lacking.text().startswith("This desktop shows no notifications and may put the screen to sleep")
    lead.room.alerts.tell("Sheet 1 is dry.", with_sound=True)  # no bell, no bus: nothing breaks


def test_a_touch_can_say_that_it_is_dry_and_that_is_written_down(lead):
    lead.begin()
    lead.until("dry")
    lead.press("I touched it: it is dry")
    assert lead.step.key == "load"
    assert [event.what for event in lead.keeper.conductor.events][-1] == "dry"


def test_laminate_has_its_step_where_it_is_wanted(lead):
    lead.begin(laminated=True)
    lead.until("laminate")
    assert "two passes" in lead.view.under.text()
    assert lead.room.tally.caution.text() == "Open a window"
    lead.space()
    assert lead.step.key == "load"


# -- at the cutter ---


def test_a_missed_mark_stops_and_names_remedies_in_order_three_times(lead):
    lead.begin()
    lead.until("read")
    said = []
    for _ in range(3):
        QTest.mouseClick(lead.view.drawing, Qt.MouseButton.LeftButton, pos=_mark(lead, 0))
        lead.escape()
        said.append(lead.view.under.text())
    assert lead.state.sheet(1).tries == 3
    assert lead.state.sheet(1).missed == (1, 2)
    assert lead.view.title.text() == "What is wrong?"
    lead.escape()
    assert lead.view.title.text().startswith("Missed: top right and bottom left. Nothing is cut")
    assert "square to the edge" in said[0]
    assert "Matt tape" in said[1]
    assert "longer and thicker marks" in lead.view.under.text()
    lead.space()
    assert lead.step.key == "proof"


def _mark(lead, number):
    drawing = lead.view.drawing
    return drawing._place().map(QPointF(*lead.keeper.conductor.seal.mark_middles_mm[number])).toPoint()


def test_marks_are_ticked_by_their_numbers_too(lead):
    lead.begin()
    lead.until("read")
    boxes = lead.view.asking.findChildren(QCheckBox)
    boxes[2].click()
    lead.settle()
    assert lead.keeper.draft.found == {2}
    assert "3 bottom left: found" in lead.view.drawing.accessibleDescription()


def test_a_bad_proof_stops_the_rest_and_says_what_to_try(lead):
    lead.begin()
    lead.until("look")
    lead.press("White shows")
    assert not lead.view.primary.isEnabled()
    side = lead.view.asking.findChildren(QComboBox)[0]
    side.setCurrentIndex(side.findData("left"))
    side.chosen.emit("left")
    lead.press("Stop here, and say why")
    assert "White showed: left" in lead.view.title.text()
    assert "it is steady" in lead.view.under.text()
    lead.press("Read the marks again")
    assert lead.step.key == "read"
    lead.space()
    assert lead.step.key == "proof"
    assert lead.step.copy not in lead.state.sheet(1).proofs
    events = [event for event in lead.keeper.conductor.events if event.what == "proof judged"]
    assert [(event.verdict, event.side) for event in events] == [("white rim", "left")]


def test_ink_may_dry_as_long_as_can_be_typed(lead):
    lead.visit()
    before = lead.room.before
    before.drying.setValue(9_999)
    lead.settle()
    assert "min" in before._numbers[1][1].text() or "h" in before._numbers[1][1].text()
    lead.begin(dry_min=9_999)
    assert lead.keeper.conductor.seal.drying_s == 60 * 9_999


def test_a_sheet_that_moved_is_read_again(lead):
    lead.begin()
    lead.until("pass")
    lead.escape()
    lead.press("It moved")
    assert lead.step.key == "read"


def test_a_new_blade_ends_the_metres_of_the_old_one_and_offers_a_ladder(lead):
    lead.begin()
    lead.until("pass")
    lead.escape()
    lead.press("The blade was changed")
    (field,) = lead.view.asking.findChildren(QLineEdit)
    type_into(field, "Blade no. 3")
    lead.press("It is in")
    assert "small ladder" in lead.said
    assert lead.step.key == "set"
    lead.until("ended")
    (kept,) = Book(runs_folder().parent / "book.sqlite").runs()
    assert kept.run.blade == "Blade no. 3"


@pytest.mark.parametrize(
    ("words", "then", "passes"),
    [
        ("In the middle", "read", 0),
        ("It cut nothing yet", "read", 0),
        ("It was done", "take out", 1),
    ],
)
def test_a_pass_that_broke_off_is_never_taken_for_done(lead, words, then, passes):
    lead.begin()
    lead.until("cutting")
    lead.escape()
    assert lead.view.title.text() == "Where did sheet 1 stop?"
    lead.press(words)
    assert lead.step.key == then
    assert lead.state.sheet(1).passes == passes


def test_a_lost_sheet_is_printed_again_from_the_seal_under_a_new_number(lead):
    lead.window.document.edit(replace(lead.window.document.job, prints=(2,)), "prints")
    lead.settle()
    lead.begin()
    lead.until("pass")
    lead.escape()
    lead.press("Sheet 1 is lost")
    lead.press("Torn or creased")
    lead.press("Print another one in its place")
    assert lead.state.sheet(1).spoiled == "torn or creased"
    assert (lead.step.key, lead.step.sheets) == ("print rest", (3,))
    lead.until("ended")
    (kept,) = Book(runs_folder().parent / "book.sqlite").runs()
    assert kept.run.sheets == 3
    assert "sheet 1: torn or creased" in kept.run.reason


def test_only_some_stickers_are_cut_with_the_same_marks_and_origin(lead, tmp_path):
    lead.begin()
    lead.until("load")
    lead.escape()
    lead.press("Cut only some of its stickers")
    for copy in (0, 4, 7):
        QTest.mouseClick(lead.view.drawing, Qt.MouseButton.LeftButton, pos=_middle(lead, copy))
    lead.press("Cut only these")
    assert lead.state.sheet(1).skipped == tuple(n for n in range(12) if n not in (0, 4, 7))
    lead.until("cutting")
    folder = tmp_path / "out" / f"run-{lead.keeper.conductor.seal.code}"
    assert [lines_in(folder / f"cut-1-{part}.svg") for part in ("proof", "rest")] == [1, 2]
    lead.until("inspect")
    assert "3 of 3" in [label.text() for label in lead.view.figures.findChildren(type(lead.view.title))]


def _middle(lead, copy):
    drawing = lead.view.drawing
    return drawing._whole(copy, drawing._place()).boundingRect().center().toPoint()


def test_a_press_too_much_is_taken_back(lead):
    lead.begin()
    lead.until("load")
    lead.space()
    assert lead.state.sheet(1).carrier == 0
    lead.escape()
    lead.press("One press too many")
    assert lead.state.sheet(1).carrier is None
    assert lead.step.key == "load"


def test_a_run_is_given_up_and_stays_in_the_project_and_on_the_disk(lead, tmp_path):
    lead.window.document.save(tmp_path / "mint.hedge")
    lead.begin()
    lead.until("measure")
    lead.escape()
    lead.press("Give the run up")
    assert "1 printed sheet would be left uncut" in lead.view.under.text()
    lead.press("Give it up")
    assert lead.view.title.text() == "The run was given up"
    run = lead.keeper.conductor.seal.run
    kept = load_project(tmp_path / "mint.hedge")
    assert list(kept.runs) == [run]
    assert lead.window.document.is_saved
    assert not lead.window.document.is_changed_on_disk


# -- looking at what came out ---


def test_bad_stickers_are_tapped_or_walked_to_and_the_book_learns_why(lead):
    document = lead.window.document
    design = document.job.designs[0]
    lines = [OrderLine(design=design.key, quantity=7, whom="Anna"), OrderLine(design=design.key, quantity=5)]
    document.edit(with_order(document.job, lines), "an order")
    lead.settle()
    lead.begin()
    lead.until("inspect")
    combos = lead.view.asking.findChildren(QComboBox)
    combos[1].setCurrentIndex(combos[1].findData("right"))
    combos[1].chosen.emit("right")
    QTest.mouseClick(lead.view.drawing, Qt.MouseButton.LeftButton, pos=_middle(lead, 3))
    lead.view.drawing.setFocus()
    here = lead.view.drawing.at
    QTest.keyClick(lead.view.drawing, Qt.Key.Key_Left)
    assert lead.view.drawing.at != here
    QTest.keyClick(lead.view.drawing, Qt.Key.Key_Return)
    lead.settle()
    assert lead.view.primary.text() == "10 good, 2 bad"
    assert len(lead.keeper.draft.bad) == 2
    lead.press("10 good, 2 bad")
    assert lead.step.key == "tally"
    assert lead.room.tally.good.text() == "10 of 12"
    assert lead.room.tally.order.text() == f"3 of 5 × {design.name}\n✓ 7 × {design.name} for Anna"
    assert "2 stickers wanting: print one more sheet?" in lead.view.title.text()
    book = Book(runs_folder().parent / "book.sqlite")
    (note,) = [event.data for event in book.events("inspected")]
    assert (note["good"], note["bad"], note["to_right"], note["reasons"]) == (10, 2, 2, "white rim")
    lead.press("Print one more sheet")
    assert (lead.step.key, lead.step.sheets) == ("print rest", (2,))
    lead.until("inspect")
    lead.until("tally")
    assert lead.room.tally.good.text() == "12 of 12"
    assert lead.room.tally.order.text() == f"✓ 7 × {design.name} for Anna\n✓ 5 × {design.name}"


def test_enough_is_offered_to_stop_at_and_asked_when_stickers_are_wanting(lead, monkeypatch):
    lead.begin()
    lead.until("inspect")
    QTest.mouseClick(lead.view.drawing, Qt.MouseButton.LeftButton, pos=_middle(lead, 0))
    lead.space()
    asked = []
    no, yes = QMessageBox.StandardButton.No, QMessageBox.StandardButton.Yes
    monkeypatch.setattr(QMessageBox, "question", lambda *a: asked.append(a[2:]) or (no if len(asked) == 1 else yes))
    lead.press("That is enough: end the run")
    assert lead.step.key == "tally"
    assert "still wanting" in asked[0][0]
    assert asked[0][-1] == no
    lead.press("That is enough: end the run")
    assert lead.view.title.text() == "The run was ended"
    assert "came out 92 %" in lead.view.under.text()


def test_what_comes_next_and_when_stands_above_three_lanes(lead):
    lead.window.document.edit(replace(lead.window.document.job, prints=(3,)), "prints")
    lead.settle()
    lead.begin(carriers=2)
    lead.until("dry")
    assert lead.room.lanes.next.text().startswith("Next at ")
    assert "lay down sheet 1" in lead.room.lanes.next.text()
    words = lead.room.lanes.lanes.accessibleDescription()
    assert "cutter: pass sheet 3" in words
    assert "drying: dry sheet 2" in words


# -- left and taken up again ---


def test_a_run_that_was_left_goes_on_exactly_where_it_was(lead):
    lead.begin()
    lead.until("read")
    state, seal = lead.state, lead.keeper.conductor.seal
    click(lead.room.leave)
    lead.settle()
    assert lead.keeper.conductor is None
    (again,) = lead.room.before.left.findChildren(QPushButton)
    assert seal.code in again.text()
    click(again)
    lead.settle()
    assert lead.state == state
    assert lead.keeper.conductor.seal == seal
    assert lead.step.key == "read"


def test_a_window_that_died_while_it_cut_asks_where_the_pass_stopped(lead):
    lead.begin()
    lead.until("cutting")
    folder = lead.keeper.conductor.journal.folder
    lead.keeper.let_go()
    lead.keeper.take_up(folder)
    lead.settle()
    assert lead.view.title.text() == "Where did sheet 1 stop?"
    lead.space()
    assert lead.step.key == "read"
    assert lead.state.sheet(1).passes == 0


def test_two_windows_never_lead_one_run(lead, make_window, settle):
    lead.begin()
    other = Leader(make_window(), settle, lead.clock)
    other.visit()
    other.keeper.take_up(lead.keeper.conductor.journal.folder)
    other.settle()
    assert "Another window has this run in hand" in other.said
    assert other.keeper.conductor is None
    lead.space()
    assert lead.step.key == "measure"


def test_a_run_goes_on_though_its_job_is_gone(lead, tmp_path):
    lead.begin()
    lead.until("measure")
    seal = lead.keeper.conductor.seal
    click(lead.room.leave)
    lead.window.document.undo_stack.setClean()
    lead.window.document.start(Job(), {}, None)
    lead.settle()
    lead.visit()
    lead.keeper.take_up(runs_folder() / seal.run)
    lead.settle()
    lead.until("cutting")
    assert "goes on as it was sealed" in lead.room.differs.text()
    folder = tmp_path / "out" / f"run-{seal.code}"
    assert (folder / "cut-1-rest.svg").exists()
    lead.until("ended")


def test_a_book_that_is_damaged_in_the_middle_stops_no_run(lead):
    lead.begin()
    lead.until("inspect")
    lead.window.desk()().close()
    path = runs_folder().parent / "book.sqlite"
    for rest in ("", "-wal", "-shm"):
        Path(f"{path}{rest}").unlink(missing_ok=True)
    path.write_bytes(b"no book at all" * 400)
    lead.space()
    assert lead.state.sheet(1).bad == ()
    assert lead.step.key == "tally"
    lead.until("ended")
    events = lead.keeper.conductor.journal.events
    assert state_of(lead.keeper.conductor.journal.seal, events).ended == "done"
    assert [row.name for row in lead.room.list.rows if not row.is_done] == [], "nothing is left to do"


def test_a_sheet_that_turned_up_is_known_again_typed_or_photographed(lead, tmp_path):
    lead.begin()
    lead.until("dry")
    conductor = lead.keeper.conductor
    sign = conductor.sign(1)
    picture = tmp_path / "found.png"
    picture.write_bytes(page_png(conductor.print_bytes((1,), lead.window.pipeline().fonts), 0, 300))
    click(lead.room.leave)
    lead.settle()
    type_into(lead.room.before.sign, sign.lower())
    lead.settle()
    assert "printed and not cut; take the run up above and cut it" in lead.room.before.sign_words.text()
    lead.room.before.sign_words.clear()
    drop(lead.window, [picture])
    lead.settle()
    assert "printed and not cut" in lead.room.before.sign_words.text()
    type_into(lead.room.before.sign, "ABCD")
    lead.settle()
    assert "is no sign of a sheet" in lead.room.before.sign_words.text()
    type_into(lead.room.before.sign, "00000000-1")
    lead.settle()
    assert "No run 00000000 is kept on this machine" in lead.room.before.sign_words.text()


# -- other machines, and nothing to print ---


def test_a_machine_with_marks_of_its_own_is_led_by_its_own_program(lead):
    document = lead.window.document
    sheet = replace(document.job.sheet, machine=MACHINES[3])
    document.edit(replace(document.job, sheet=sheet), "machine")
    lead.settle()
    lead.begin()
    assert lead.step.key == "print rest"
    assert "By the machine’s own program" in lead.view.under.text()
    lead.space()
    lead.until("read")
    assert "Its own program finds the frame" in lead.view.under.text()
    lead.until("ended")


def test_without_art_the_run_says_why_it_cannot_begin(window, settle, clock):
    leader = Leader(window, settle, clock)
    leader.visit()
    assert leader.room.before.title.text() == "Not yet"
    assert "there is no art yet" in leader.room.before.under.text()
    assert not leader.room.before.begin.isEnabled()


def test_the_step_stands_on_another_screen_too(lead):
    lead.begin()
    click(lead.room.other_screen)
    other = lead.room._other
    assert other.view.title.text() == lead.view.title.text()
    QTest.keyClick(other.view, Qt.Key.Key_Space)
    lead.settle()
    assert lead.step.key == "measure"
    assert lead.view.title.text() == other.view.title.text() == "Hold a ruler to sheet 1"
    other.close()
    lead.settle()
    assert lead.room._other is None


def test_the_seal_holds_all_that_must_match(lead):
    lead.begin()
    journal = lead.keeper.conductor.journal
    events = Book(runs_folder().parent / "book.sqlite").events("sealed")
    assert [event.data["seal"] for event in events] == [journal.seal_hash]
    assert hashlib.sha256(journal.print_file()).hexdigest() == journal.seal.print_sha256
    assert list(lead.window.document.runs) == [journal.seal.run]


def test_what_is_cut_from_lies_there_before_it_is_started_and_so_does_the_way_to_it(lead, monkeypatch):
    shown = []
    monkeypatch.setattr("honest_edge.ui.shared.folder_links.show_folder", shown.append)
    lead.begin()
    for key in ("proof", "pass"):
        lead.until(key)
        names = lead.keeper.written
        assert names
        assert all((lead.keeper.run_folder() / name).is_file() for name in names)
        assert all(name in lead.view.under.text() for name in names)
        assert lead.view.primary.text().startswith("Start")
        click(lead.view.links.show_it)
        click(lead.view.links.copy)
        assert shown.pop() == lead.keeper.run_folder() == Path(QGuiApplication.clipboard().text())
    assert not lead.state.sheet(1).passes


def test_a_run_that_was_left_goes_on_by_one_press_at_the_start(lead, make_window, settle, root):
    lead.begin()
    lead.until("measure")
    title = lead.keeper.conductor.seal.title
    click(lead.room.leave)
    lead.settle()
    window = make_window()
    RunOffer(window).look()
    settle(window)
    assert window.bar.message.text() == f"A run of “{title}” was left in the middle. It goes on exactly there."
    (way,) = [made for made in window.bar.findChildren(QPushButton) if made.text() == "Go on with it"]
    click(way)
    settle(window)
    room = window.workshop["run"]
    assert room.keeper.step().key == "measure"
    assert room.view.isVisible()
    assert "changed" not in room.differs.text()  # no job is open
    window.workspace.edit_job("title", title="Other")
    window.take_files([root / "demo" / "art" / "teapot.png"])
    settle(window)
    click(window.path_bar.buttons["run"])
    settle(window)
    assert room.differs.text() == "Its job is not open here. The run goes on as it was sealed."


def test_after_a_kill_work_and_run_are_each_one_press_away(lead, make_window, settle):
    lead.begin()
    lead.until("measure")
    crash(lead.window)
    lead.room.close()
    window = make_window()
    _begin(window, argparse.Namespace(demo=False, practice=False, files=[], station=None))
    settle(window)
    click(next(made for made in window.jobs.offer.findChildren(QPushButton) if made.text() == "Bring it back"))
    settle(window)
    click(next(made for made in window.bar.findChildren(QPushButton) if made.text() == "Go on with it"))
    settle(window)
    assert window.workshop["run"].keeper.step().key == "measure"
    assert not window.workshop["run"].differs.isVisible()  # nothing was changed, and nothing is said to be


def test_an_order_that_turns_out_slow_is_changed_openly(lead, monkeypatch):
    lead.window.document.edit(replace(lead.window.document.job, prints=(3,)), "prints")
    lead.settle()
    lead.begin(carriers=2)
    monkeypatch.setattr("honest_edge.core.run.foreseen.better_block", lambda *_: 2)
    lead.until("dry")
    lead.settle()
    assert lead.state.block == 2
    assert "saves over two minutes" in lead.said


def test_stickers_that_were_not_cut_through_are_cut_again_alone(lead, tmp_path):
    lead.begin()
    lead.until("inspect")
    lead.escape()
    lead.press("Cut some of its stickers again")
    for copy in (1, 6):
        QTest.mouseClick(lead.view.drawing, Qt.MouseButton.LeftButton, pos=_middle(lead, copy))
    lead.press("Cut these again")
    lead.until("cutting")
    folder = tmp_path / "out" / f"run-{lead.keeper.conductor.seal.code}"
    assert lines_in(folder / "cut-1.svg") == 2
    lead.until("ended")
    assert lead.room.tally.good.text() == "12 of 12"


def test_when_enough_are_good_the_rest_need_not_be_cut(lead):
    lead.window.document.edit(replace(lead.window.document.job, prints=(2,)), "prints")
    lead.settle()
    lead.begin(carriers=1)
    lead.until("inspect", sheet=1)
    lead.space()
    assert lead.step.sheet == 2
    lead.press("Enough are good: end here")
    assert lead.view.title.text() == "The run was ended"
    (kept,) = Book(runs_folder().parent / "book.sqlite").runs()
    assert (kept.run.good, kept.run.sheets) == (12, 2)


def test_sealing_that_is_called_off_leaves_no_run_behind(lead):
    lead.visit()
    before = lead.room.before
    click(before.begin)
    assert before.cancel.isVisible()
    click(before.cancel)
    lead.settle()
    assert lead.keeper.conductor is None
    assert not runs_folder().is_dir() or not list(runs_folder().iterdir())
    assert before.begin.isVisible()


def test_a_run_begins_though_the_book_cannot_be_read(lead):
    path = runs_folder().parent / "book.sqlite"
    path.parent.mkdir(parents=True, exist_ok=True)
    with contextlib.closing(sqlite3.connect(path)) as other:
        other.execute("CREATE TABLE notes_of_another_program (words TEXT)")
    lead.visit()
    assert "is a file of another program" in lead.room.before.unread.text()
    lead.begin()
    assert "is a file of another program" in lead.said
    assert "The run goes on" in lead.said
    assert lead.step.key == "print first"


def test_a_run_that_was_led_on_another_machine_is_told_by_the_project(lead, tmp_path):
    lead.window.document.save(tmp_path / "mint.hedge")
    lead.begin()
    lead.until("tally")
    code = lead.keeper.conductor.seal.code
    lead.until("ended")
    lead.space()
    shutil.rmtree(runs_folder())
    lead.window.document.open(tmp_path / "mint.hedge")
    lead.settle()
    lead.visit()
    assert f"Run {code}" in lead.room.before.elsewhere.text()
    assert "1 of 1 sheets were inspected there" in lead.room.before.elsewhere.text()


def test_no_step_is_ticked_before_it_was_there(lead):
    lead.begin(dry_min=0)
    seen = {"before"}
    while lead.step.key != "ended":
        here = next(row for row in lead.room.list.rows if row.is_here)
        seen.add(here.key)
        ticked = {row.key for row in lead.room.list.rows if row.is_done}
        assert ticked <= seen | {"dry", "measure", "print rest", "proof"}, (here.key, ticked - seen)
        lead.go_on()


def test_a_machine_without_a_reader_is_set_by_hand_moved_compared_and_confirmed(lead):
    document = lead.window.document
    machine = next(one for one in MACHINES if not one.finds_marks)
    document.edit(replace(document.job, sheet=replace(document.job.sheet, machine=machine)), "machine")
    lead.settle()
    lead.begin()
    lead.until("read")
    # a disc of 6 mm whose outer side lies 12 mm from the edges of Letter, 8.5 x 11 in (ANSI/ASME Y14.1)
    assert lead.view.title.text() == "Move the blade over the top left mark of sheet 1"
    assert [value for _, value in lead.view.page.figures] == ["15.0 mm", "15.0 mm"]
    lead.press("It stands over the middle")
    assert lead.view.title.text() == "Compare: move on to the top right mark"
    assert lead.view.page.figures == (("to the right", "185.9 mm"),)
    lead.press("It lies beside it: begin again")
    assert lead.view.title.text().startswith("Again: lay the sheet straight")
    for _ in range(2):
        lead.space()
    assert lead.view.page.figures == (("down", "249.4 mm"),)
    for _ in range(2):
        lead.space()
    assert lead.step.key == "read"
    assert lead.view.title.text() == "Sheet 1 is set by hand: 4 marks compared"
    lead.press("Set: go on to the cut")
    assert lead.step.key == "proof"


@pytest.mark.parametrize("size", [(1024, 640), (1280, 756)])
def test_no_message_lies_over_what_is_next_and_the_keys_stand_on_it(lead, size):
    window = lead.window
    window.resize(*size)
    window.say("5 files are in a folder of some name, read back and whole.", actions=[("Show folder", lambda: None)])
    lead.visit()
    begin = lead.room.before.begin
    assert window.bar.isVisible()
    places = [QRect(made.mapTo(window, QPoint(0, 0)), made.size()) for made in (begin, window.bar)]
    assert not places[0].intersects(places[1])
    assert window.focusWidget() is begin
    QTest.keyClick(window.focusWidget(), Qt.Key.Key_Return)
    lead.settle()
    assert lead.step.key == "print first"


def test_the_carrier_that_suits_the_stock_is_advised_asked_for_and_its_loads_are_counted(lead):
    """2 CPU s."""
    with Book(runs_folder().parent / "book.sqlite") as book:
        notes = [(CARRIER, Carrier(name="Strong one", tack="strong")), (CARRIER, Carrier(name="Green mat"))]
        notes.append((CARE, CarrierCare(carrier="Green mat", what="cleaned")))
        recipe = CutRecipe(stock=STOCKS[0].name, machine=Machine().name, force=84, passes=2)
        notes.append((RECIPE, recipe))
        book.add([kind.event(note, f"{n:032x}", 1_780_000_000_000 + n) for n, (kind, note) in enumerate(notes)])
    lead.begin(carriers=1)
    lead.until("load")
    assert lead.view.title.text() == "Lay sheet 1 on Green mat"
    assert "Leave 300.0 mm free behind the machine" in lead.view.under.text()
    choice = next(one for one in lead.view.asking.findChildren(Choice) if one.accessibleName() == "Carrier")
    choice.setCurrentIndex(choice.findData("Strong one"))
    choice.activated.emit(choice.currentIndex())
    lead.settle()
    assert lead.view.title.text() == "Lay sheet 1 on Strong one"
    assert "wants a standard tack" in lead.view.under.text()
    lead.go_on()
    assert lead.state.sheet(1).carrier_name == "Strong one"
    assert lead.step.key == "set"
    assert "force 84, 2 passes" in [figure.text() for figure in lead.view.figures.findChildren(QLabel)]
    lead.until("inspect")
    lead.keeper.draft.reason = "bands"
    lead.keeper.draft.tap(0)
    lead.keeper.changed.emit()
    lead.until("ended")
    with Book(runs_folder().parent / "book.sqlite") as book:
        loads = [(kept.record.carrier, kept.record.sheet) for kept in book.notes(LOADED)[::-1]]
        assert loads == [("Strong one", 1), ("Green mat", 2)], "one more was wanted: it lies as advised"
        (run,) = book.runs()
        assert run.run.setting == "kiss: force 84, 2 passes"
        assert "bands" in run.run.reason


def test_a_picture_of_the_sheet_on_its_carrier_is_dropped_and_said_what_it_shows(lead, tmp_path):
    """6 CPU s."""
    lead.begin(carriers=1)
    lead.until("load")
    conductor = lead.keeper.conductor
    page = grey_of(page_pixels(conductor.print_bytes((1,), font_library()), 0, 150))
    size = conductor.seal.sheet.size_mm
    upside_down = "It lies with its bottom first; its top edge goes in first"
    shown = {0: "It is sheet 1, the right way round, 3 marks whole and dark", 180: upside_down}
    for turn_deg, words in shown.items():
        loading = Loading(turn_deg=turn_deg)
        path = tmp_path / f"{turn_deg}.jpg"
        picture = photograph(on_carrier(page, 150 / 25.4, size, loading), 8, 4, tilt_deg=10, curl_mm=0.5)
        path.write_bytes(bytes(cv2.imencode(".jpg", picture)[1]))
        drop(lead.window, [path])
        lead.settle()
        assert words in lead.view.under.text()
        assert lead.keeper.draft.looked.is_fine is (turn_deg == 0)
    assert lead.step.key == "load", "what a picture shows forbids nothing"
    drop(lead.window, [Path(__file__)])
    lead.settle()
    assert "test_run.py" in lead.said
    lead.go_on()
    assert lead.state.sheet(1).carrier == 0


def test_the_practice_phone_takes_a_picture_too(lead):
    """3 CPU s."""
    lead.begin(practice=True, carriers=1)
    lead.until("load")
    lead.press("Let the practice phone look at it")
    assert "sheet 1" in lead.view.under.text()


def test_one_sheet_on_plain_paper_tells_what_to_expect_of_the_good_stock(window, settle, clock, tmp_path):
    """18 CPU s: nine bees, cut by the practice bench and measured by its phone."""
    demo = demo_project()
    bees = tuple(replace(one, copies=9, fills=False) for one in demo.job.designs if one.name == "Bee")
    job = replace(demo.job, designs=bees, layout=(), pins=(), measured=None, error=None, prints=())
    window.document.start(job, demo.assets, None)
    window.document.out_folder = tmp_path / "out"
    settle(window)
    lead = Leader(window, settle, clock)
    lead.visit()
    lead.room.before.practice.setChecked(True)
    click(lead.room.before.plain)
    settle(window)
    seal = lead.keeper.conductor.seal
    assert (seal.sheet.stock.name, len(seal.sheets), seal.is_practice) == ("Plain paper", 1, True)
    lead.until("inspect")
    assert lead.view.title.text() == "Measure the plain sheet 1"
    lead.press("Take the practice picture")
    assert lead.view.title.text() == "What the plain sheet told"
    assert "Plain paper does not tell how ink lies and dries on" in lead.view.under.text()
    assert [label.text() for label in lead.view.figures.findChildren(QLabel) if "%" in label.text()]
    with Book(runs_folder().parent / "book.sqlite") as book:
        (sheet,) = book.notes(MEASURED)
    assert sheet.record.measured.by == "stickers"
    lead.press("Go back to the job")
    assert lead.step.key == "ended"


def test_plain_art_cannot_be_measured_on_plain_paper_and_is_counted_by_eye(lead):
    """3 CPU s."""
    lead.visit()
    lead.room.before.practice.setChecked(True)
    click(lead.room.before.plain)
    lead.settle()
    lead.until("inspect")
    lead.press("Take the practice picture")
    assert "measure a target instead" in lead.said or "does not show this job’s stickers" in lead.said
    lead.press("Count by eye instead")
    assert lead.view.title.text() == "Peel sheet 1 and look at every sticker"


def test_test_squares_are_cut_in_a_free_corner_of_the_sheet_and_set_the_force(lead, tmp_path):
    """3 CPU s."""
    lead.with_copies(4)
    lead.begin(carriers=1)
    lead.until("set")
    seal = lead.keeper.conductor.seal
    (box, *_) = seal.pages[0].corners_mm
    lines = [line for copy in seal.pages[0].copies for line in copy.lines]
    cut = [np.array(line.cubics).reshape(-1, 2) for line in lines]
    assert not any(shapely.box(*box).intersects(shapely.LineString(points)) for points in cut)
    keep_outs = [room for mark in marks_of(seal.sheet) for room in mark.keep_outs]
    for corner in seal.pages[0].corners_mm:
        assert not any(shapely.box(*corner).intersects(shapely.box(*room)) for room in keep_outs)
    lead.press("Test squares in a free corner")
    assert "test-1-1.dxf and test-1-1.svg" in lead.view.under.text() or "test-1-1.svg" in lead.view.under.text()
    (path,) = (tmp_path / "out").rglob("test-1-1.svg")
    groups = [group for group in SVG.parse(str(path), ppi=25.4).select(lambda e: isinstance(e, Group)) if group.id]
    assert [group.id for group in groups][:1] == ["1-force-20"]
    assert groups[-1].id == "marks"
    whole = SVG.parse(str(path), ppi=25.4)
    assert (whole.width, whole.height) == pytest.approx(seal.sheet.size_mm)
    left, top, right, bottom = groups[0].bbox()
    assert box[0] <= left < right <= box[2]
    assert box[1] <= top < bottom <= box[3]
    for words in ("test-1-1", "test-1-2"):
        assert words in lead.view.under.text()
        assert not lead.view.primary.isEnabled()
        clean, marked = (
            next(one for one in lead.view.asking.findChildren(Choice) if one.accessibleName() == name)
            for name in ("The first that lifts clean", "The first whose liner is marked")
        )
        for choice, number in ((clean, 5), (marked, 2)):
            choice.setCurrentIndex(number)
            choice.chosen.emit(str(number))
        assert not lead.view.primary.isEnabled(), "a marked liner was cut through"
        for choice, number in ((clean, 3), (marked, 6)):
            choice.setCurrentIndex(number)
            choice.chosen.emit(str(number))
        lead.press("Keep this reading")
    assert lead.view.title.text().startswith("Likely window ")
    lead.press("Set it so")
    (newest, _) = kept_settings()
    assert lead.keeper.draft.setting == f"force {newest.best:g}"
    assert lead.step.key == "set"
    lead.press("It is set")
    assert lead.state.settings[0][1] == f"force {newest.best:g}"


def kept_settings():
    with Book(runs_folder().parent / "book.sqlite") as book:
        return [kept.record for kept in book.notes(SETTING)]


def test_a_picture_of_the_print_is_looked_at_before_it_dries(lead, tmp_path):
    """5 CPU s."""
    lead.begin(carriers=1)
    lead.until("measure")
    conductor = lead.keeper.conductor
    page = page_pixels(conductor.print_bytes((1,), font_library()), 0, 200)
    size = conductor.seal.sheet.size_mm
    channels = [np.ascontiguousarray(page[..., n]) for n in range(3)]  # blue first, as OpenCV writes it
    shown = [photograph(on_carrier(one, 200 / 25.4, size, Loading()), 12, 4, curl_mm=0.5) for one in channels]
    path = tmp_path / "print.jpg"
    path.write_bytes(bytes(cv2.imencode(".jpg", np.dstack(shown))[1]))
    drop(lead.window, [path])
    lead.settle()
    assert "its inks, greys and fine lines are there, without bands" in lead.view.under.text()
    assert "The ruler is truer" in lead.view.under.text()
    assert lead.step.key == "measure"
