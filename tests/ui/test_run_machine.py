"""A run on a machine that is spoken to directly: the pen, marks by keys, the cut, what stops it and what goes on."""

import math
from dataclasses import replace
from types import SimpleNamespace

import numpy as np
import pytest
from PyQt6.QtCore import Qt
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QApplication, QComboBox, QLineEdit

from cutters import PortCutter
from hands import type_into
from honest_edge.app.run.practice_cutter import hidden_seat
from honest_edge.core.sheet.marks import aims_of
from honest_edge.core.sheet.strokes import Seat
from honest_edge.core.values.machine import DirectUse
from honest_edge.ui.rooms.run import machine_asks
from leader import Leader

SEAT = Seat(turn_rad=0.012, shift_mm=(21.3, 14.7))
"""How the sheet really lies in the machine."""


@pytest.fixture
def lead(with_disc, settle, clock, tmp_path):
    """A job of four discs for a machine that is spoken to in G-code."""
    with_disc.document.out_folder = tmp_path / "out"
    leader = Leader(with_disc, settle, clock)
    leader.with_copies(4)
    return leader


@pytest.fixture
def stand_in():
    made = []

    def make(language="gcode", **more):
        made.append(PortCutter(language, **more))
        return made[-1]

    yield make
    for one in made:
        one.close()


def speak(lead, direct, to, *, is_kept=True):
    document = lead.window.document
    sheet = document.job.sheet
    machine = replace(sheet.machine, name="Own cutter", width_mm=300.0, length_mm=400.0, direct=direct)
    lead.window.profiles.keep(machine if is_kept else replace(machine, direct=DirectUse()))
    document.edit(replace(document.job, sheet=sheet.with_profile(machine)), "machine")
    lead.settle()
    lead.window.set_prefs(replace(lead.window.prefs, cut_to=to))


def true_place(seal, mark):
    _, x, y = aims_of(seal.sheet)[mark]
    return SEAT.placed(np.array([[x, y]]), seal.sheet.size_mm[1])[0]


def wait(qtbot, lead, holds):
    qtbot.waitUntil(lambda: bool(holds()))
    lead.settle()


def keys_to(qtbot, lead, at, place):
    """Bring the pointer over a place by the arrow keys, step by finer step."""
    for step_mm in (10.0, 1.0, 0.1, 0.025):
        while at.step_mm != step_mm:
            QTest.keyClick(lead.view, Qt.Key.Key_Minus if at.step_mm > step_mm else Qt.Key.Key_Plus)
        for axis, (back, on) in enumerate(((Qt.Key.Key_Left, Qt.Key.Key_Right), (Qt.Key.Key_Down, Qt.Key.Key_Up))):
            for _ in range(math.floor(abs(place[axis] - at.at_mm[axis]) / step_mm + 1e-6)):
                QTest.keyClick(lead.view, on if place[axis] > at.at_mm[axis] else back)
                qtbot.waitUntil(lambda: not at.is_moving)


def align(qtbot, lead):
    at, seal = lead.keeper.machine, lead.keeper.conductor.seal
    for mark in range(len(aims_of(seal.sheet))):
        travel = [way for way in lead.view.ways if way.isVisible() and way.text().startswith("Travel")]
        if travel:
            travel[0].click()
            assert lead.view.hasFocus(), "the arrow keys go on from there"
            qtbot.waitUntil(lambda: not at.is_moving)
        assert not lead.view.primary.isEnabled() or travel, "one press too many takes no mark"
        keys_to(qtbot, lead, at, true_place(seal, mark))
        lead.press("It stands over")


def planned(lead):
    """What is to be cut of the sheet in hand, where the sheet really lies."""
    strokes, height_mm = lead.keeper.conductor.cut_strokes(lead.step)
    return [SEAT.placed(one.points, height_mm) for one in strokes]


def to_the_cut(qtbot, lead):
    lead.begin()
    lead.until("read")
    lead.press("Open it: nothing moves")
    wait(qtbot, lead, lambda: lead.keeper.machine.name)
    align(qtbot, lead)
    lead.press("Take it: go on to the cut")


TRIED = DirectUse(language="gcode", is_tried=True)


def test_a_machine_is_tried_with_a_pen_aligned_by_keys_and_cuts_what_was_planned(lead, qtbot, stand_in, monkeypatch):
    monkeypatch.setattr(machine_asks, "QPrinterInfo", SimpleNamespace(availablePrinterNames=lambda: ["Vinyl"]))
    one = stand_in()
    speak(lead, DirectUse(language="gcode"), "")
    lead.begin()
    lead.until("read")
    assert not lead.view.primary.isEnabled(), "where the machine is was not said"
    (field,) = lead.view.asking.findChildren(QComboBox)
    field.setCurrentIndex(field.findData("queue:Vinyl"))
    assert (field.currentText(), lead.keeper.draft.way) == ("a queue of the system – queue:Vinyl", "queue:Vinyl")
    field.setEditText(one.to)
    lead.press("Open it: nothing moves")
    at = lead.keeper.machine
    wait(qtbot, lead, lambda: at.name)
    assert one.cutter.moves.seconds == 0, "opening a way moves nothing"
    assert "never tried" in lead.view.title.text()
    lead.press("Draw: the pen moves")
    wait(qtbot, lead, lambda: at.pen_is_done)
    drawing = one.cutter.strokes[:]
    assert [len(line) for line in drawing] == [3, 2, 3, 2, 2]
    assert math.dist(*drawing[3]) == pytest.approx(100)
    corner, points = lead.view.asking.findChildren(QComboBox)
    corner.chosen.emit("bottom left")
    points.chosen.emit("right")
    for arm, typed in zip(lead.view.asking.findChildren(QLineEdit), ("100", "100"), strict=True):
        type_into(arm, typed)
    lead.press("That is how it draws")
    wait(qtbot, lead, lambda: at.name)
    assert lead.window.profiles.all("machine")[-1].direct.is_tried
    one.cutter.strokes.clear()
    align(qtbot, lead)
    assert not one.cutter.strokes, "finding marks cuts nothing"
    assert "is found" in lead.view.title.text()
    assert "stays within that at" in lead.view.under.text()
    lead.press("Take it: go on to the cut")
    assert lead.step.key == "proof"
    assert at.step_mm == 10.0, "the next sheet begins with large steps"
    qtbot.waitUntil(lambda: lead.view.primary.isEnabled())
    assert "The blade travels, lifted, to" in lead.view.under.text()
    assert lead.view.isAncestorOf(lead.window.focusWidget()) or lead.view.hasFocus(), "Space cuts from here"
    plan = planned(lead)
    lead.press("Cut now")
    wait(qtbot, lead, lambda: lead.step.key == "look")
    for cut, meant in zip(one.cutter.strokes, plan, strict=True):
        assert np.abs(cut - meant).max() <= 0.12, "within 0.05 mm, and half a step of the keys at each mark"
    lead.space()
    qtbot.waitUntil(lambda: lead.view.primary.isEnabled())
    plan += planned(lead)
    one.cutter.fault, one.cutter.after, one.cutter.held_for = "lid", 2, math.inf
    lead.press("Cut now")
    qtbot.waitUntil(lambda: lead.view.title.text() == "The machine waits: its lid is open")
    one.cutter.held_for = 0  # somebody shuts it
    wait(qtbot, lead, lambda: lead.step.key == "take out")
    assert at.waits_for == "", "once it is shut it goes on"
    assert len(one.cutter.strokes) == len(plan) == 4
    assert (at.places, at.aligned) == ({}, None), "the next sheet lies otherwise"
    assert at.at_mm == one.cutter._at == (0.0, 0.0), "it went back to its corner, and that is known"
    lead.space()
    lead.space()
    assert lead.step.key == "tally"
    assert lead.room.tally.good.text() == "4 of 4"


def test_a_pause_keeps_the_place_and_a_stop_and_a_pulled_plug_are_gone_on_from(lead, qtbot, stand_in):
    one = stand_in()
    speak(lead, TRIED, one.to)
    to_the_cut(qtbot, lead)
    lead.keeper.machine.cut_ended.connect(lambda what: ended.append(what))
    ended = []
    qtbot.waitUntil(lambda: lead.view.primary.isEnabled())
    lead.press("Cut now")
    wait(qtbot, lead, lambda: lead.step.key == "look")
    lead.space()
    plan, before = planned(lead), len(one.cutter.strokes)
    qtbot.waitUntil(lambda: lead.view.primary.isEnabled())
    one.is_held.set()
    lead.view.primary.click()
    QTest.keyClick(QApplication.focusWidget() or lead.window, Qt.Key.Key_Space)  # from wherever the keys are
    one.is_held.clear()
    wait(qtbot, lead, lambda: lead.keeper.machine.cutting is None)
    assert "paused" in ended[-1]
    done = lead.state.sheet(1).lines_done
    assert 0 <= done < len(plan)
    assert lead.state.sheet(1).is_read, "nothing of the sheet's place is lost"
    assert not done or math.dist(lead.keeper.machine.at_mm, one.cutter._at) < 0.01
    one.cutter.fault, one.cutter.after = "unplugged", before + done + 1
    qtbot.waitUntil(lambda: lead.view.primary.isEnabled())
    lead.press("Cut now" if not done else f"Go on from line {done + 1}")
    wait(qtbot, lead, lambda: lead.keeper.machine.cutting is None)
    assert "lost" in lead.said
    assert "surely cut" in lead.said
    one.cutter.fault = ""
    lead.press("Open it: nothing moves")
    wait(qtbot, lead, lambda: lead.keeper.machine.name)
    qtbot.waitUntil(lambda: lead.view.primary.isEnabled() and "surely cut" in lead.view.under.text())
    whole = len(one.cutter.strokes) - before  # what the sheet shows
    lead.press(f"Go on from line {whole + 1}" if whole < len(plan) else "All of it is cut")
    wait(qtbot, lead, lambda: lead.step.key == "take out")
    assert len(one.cutter.strokes) == before + len(plan), "no line twice, none left out"


def test_escape_stops_at_once_and_closing_the_window_leaves_whole_lines(lead, qtbot, stand_in):
    one = stand_in()
    speak(lead, TRIED, one.to)
    to_the_cut(qtbot, lead)
    qtbot.waitUntil(lambda: lead.view.primary.isEnabled())
    one.is_held.set()
    lead.view.primary.click()
    lead.window.go_to("sheet")
    QTest.keyClick(lead.window, Qt.Key.Key_Escape)
    one.is_held.clear()
    wait(qtbot, lead, lambda: lead.keeper.machine.cutting is None)
    assert one.cutter.is_stopped
    assert "It was stopped" in lead.said
    assert lead.state.sheet(1).proof == "under way"
    lead.visit()
    lead.press("Open it: nothing moves")
    wait(qtbot, lead, lambda: lead.keeper.machine.name)
    qtbot.waitUntil(lambda: lead.view.primary.isEnabled())
    child, before = lead.keeper.machine._link._child, len(one.cutter.strokes)
    one.is_held.set()
    lead.view.primary.click()
    step = lead.keeper.machine.cutting
    folder = lead.keeper.conductor.journal.folder
    lead.room.leave.click()
    lead.settle()
    one.is_held.clear()
    child.wait(60)
    assert len(one.cutter.strokes) - before <= 1, "a line that was begun is whole, and no other is"
    lead.keeper.take_up(folder)
    lead.settle()
    assert lead.step.key == step.key == "proof"
    assert "was being cut when this was closed" in lead.view.title.text()
    lead.press("It stands still: go on from there")
    assert "was cut" in lead.view.title.text() or "Open the way" in lead.view.title.text()


def test_what_tells_nothing_back_is_never_taken_for_cut(lead, qtbot, stand_in):
    one = stand_in("hpgl")
    speak(lead, replace(TRIED, language="hpgl"), one.to, is_kept=False)  # the job says what the shelf does not
    to_the_cut(qtbot, lead)
    qtbot.waitUntil(lambda: lead.view.primary.isEnabled())
    lead.press("Cut now")
    wait(qtbot, lead, lambda: lead.keeper.machine.is_sent)
    assert "tells nothing back" in lead.view.under.text()
    assert lead.state.sheet(1).proof == "under way"
    lead.press("It stands still: all is cut")
    assert lead.step.key == "look"
    assert len(one.cutter.strokes) == 1
    lead.space()
    qtbot.waitUntil(lambda: lead.view.primary.isEnabled())
    lead.view.primary.click()
    lead.keeper.machine.pause()
    wait(qtbot, lead, lambda: lead.keeper.machine.cutting is None or lead.keeper.machine.is_sent)
    if lead.keeper.machine.cutting is None:  # it was paused before all was sent
        assert lead.state.sheet(1).lines_done == 0


def test_a_pen_whose_machine_goes_away_holds_no_keys(lead, qtbot, stand_in):
    one = stand_in()
    speak(lead, replace(TRIED, is_tried=False), one.to)
    lead.begin()
    lead.until("read")
    lead.press("Open it: nothing moves")
    at = lead.keeper.machine
    wait(qtbot, lead, lambda: at.name)
    one.is_held.set()
    lead.press("Draw: the pen moves")
    assert at.is_drawing
    at._link._child._process.kill()
    wait(qtbot, lead, lambda: not at.name)
    one.is_held.clear()
    assert not at.is_drawing
    lead.escape()
    assert lead.view.title.text() == "What is wrong?", "Escape is the page's again"


def test_a_mark_found_beside_is_named_and_found_again_and_nonsense_moves_nothing(lead, qtbot, stand_in):
    one = stand_in()
    speak(lead, TRIED, one.to)
    document = lead.window.document
    marks = replace(document.job.sheet.machine.marks, kind="four discs")
    machine = replace(document.job.sheet.machine, marks=marks)
    lead.window.profiles.keep(machine)
    document.edit(replace(document.job, sheet=document.job.sheet.with_profile(machine)), "marks")
    lead.settle()
    lead.begin()
    lead.until("read")
    lead.press("Open it: nothing moves")
    at, seal = lead.keeper.machine, lead.keeper.conductor.seal
    wait(qtbot, lead, lambda: at.name)
    for mark in range(4):
        at.go(tuple(true_place(seal, mark) + ((0.9, 0.0) if mark == 2 else (0.0, 0.0))))
        qtbot.waitUntil(lambda: not at.is_moving)
        lead.press("It stands over")
    assert lead.view.primary.text().startswith("Find the bottom left mark again")
    lead.press("Find the bottom left mark again")
    assert "bottom left mark, 3 of 4" in lead.view.title.text()
    assert lead.view.hasFocus(), "the arrow keys move the pointer, and nothing else"
    at.go((500.0, 10.0))
    wait(qtbot, lead, lambda: not at.is_moving)
    assert "nothing was moved" in lead.said
    at.go(tuple(true_place(seal, 2)))
    qtbot.waitUntil(lambda: not at.is_moving)
    lead.press("It stands over")
    assert "is found" in lead.view.title.text()
    lead.press("Find the top left mark again")
    at.go(tuple(true_place(seal, 1)))  # where another mark was found
    qtbot.waitUntil(lambda: not at.is_moving)
    assert not lead.view.primary.isEnabled()
    at.forget_mark(1)
    for mark in (1, 0):  # one for the other
        at.go(tuple(true_place(seal, mark)))
        qtbot.waitUntil(lambda: not at.is_moving)
        lead.press("It stands over")
    assert "Nothing was moved; find the marks anew" in lead.said
    assert not one.cutter.strokes
    for mark in range(3):
        at.go(tuple(true_place(seal, mark)))
        qtbot.waitUntil(lambda: not at.is_moving)
        lead.press("It stands over")
    at.go(tuple(true_place(seal, 3)))
    qtbot.waitUntil(lambda: not at.is_moving)
    lead.press("It stands over")
    assert "is found" in lead.view.title.text()
    assert not lead.window.bar.isVisible(), "what was said of the wrong order is true no more"
    lead.press("Find the top left mark again")
    one.drop()
    QTest.keyClick(lead.view, Qt.Key.Key_Up)
    wait(qtbot, lead, lambda: not at.name)
    assert "was lost" in lead.said
    assert lead.view.primary.text() == "Open it: nothing moves", "a way that is gone can be opened anew"


def test_practice_aligns_and_cuts_on_the_practice_cutter(lead, qtbot):
    speak(lead, replace(TRIED, corner="top left", x_points="right"), "")  # the practice cutter knows nothing of that
    lead.begin(practice=True)
    lead.until("read")
    assert "Switch the practice cutter on" in lead.view.title.text()
    lead.press("Switch it on: nothing moves")
    at, conductor = lead.keeper.machine, lead.keeper.conductor
    wait(qtbot, lead, lambda: at.name)
    seat = hidden_seat(conductor.seal, 1, at.machine_of(conductor))
    around = at.around(conductor, 1)
    assert lead.view.drawing.picture.around.wide_mm == around.wide_mm == 420.0
    first = seat.placed(np.array([aims_of(conductor.seal.sheet)[0][1:]]), conductor.seal.sheet.size_mm[1])[0]
    keys_to(qtbot, lead, at, first)
    nearest = min(np.hypot(*mark.T).min() for mark in at.around(conductor, 1).marks)
    assert nearest < 0.05, "the crosshair stands on the mark's corner"
    assert at.around(conductor, 1).wide_mm == 3.0, "a finer step looks closer"
    before = at.at_mm
    for _ in range(9):  # faster than it moves: a few are kept, and no pile of them
        QTest.keyClick(lead.view, Qt.Key.Key_Right)
    qtbot.waitUntil(lambda: not at.is_moving)
    assert 2 <= round((at.at_mm[0] - before[0]) / 0.025) <= 6
    for mark in range(3):
        place = seat.placed(np.array([aims_of(conductor.seal.sheet)[mark][1:]]), conductor.seal.sheet.size_mm[1])[0]
        at.go(tuple(place))
        qtbot.waitUntil(lambda: not at.is_moving)
        lead.press("It stands over it")
    lead.press("Take it: go on to the cut")
    qtbot.waitUntil(lambda: lead.view.primary.isEnabled())
    lead.press("Cut now")
    wait(qtbot, lead, lambda: lead.step.key == "look")
    stand_in = at._link._stand_in._process
    lead.room.leave.click()
    assert stand_in.poll() is not None, "the practice cutter ends with the run"
