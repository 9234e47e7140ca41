"""The hand is obeyed: what was typed, chosen and pressed is what happens, whatever arrives meanwhile."""

import threading
from dataclasses import replace

import pytest
from PyQt6.QtCore import QPoint, QSize, Qt
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import (
    QAbstractButton,
    QAbstractSpinBox,
    QComboBox,
    QDialog,
    QLabel,
    QLineEdit,
    QScrollArea,
    QSpinBox,
    QVBoxLayout,
    QWidget,
)

from hands import PATIENCE_S, click, come_to_rest, turn_wheel
from honest_edge.ui.shared.name_field import NameField
from honest_edge.ui.shell.first_frame import opening_size
from honest_edge.ui.table.light_table import LightTable
from honest_edge.ui.widgets.fields import Choice
from honest_edge.ui.widgets.typed import Count, LengthField
from honest_edge.ui.widgets.unwheeled import Slider


@pytest.fixture
def scrolled(qtbot):
    """A dialog with a list, a slider and a number in a panel that can be scrolled."""
    dialog, area, inside = QDialog(), QScrollArea(), QWidget()
    column = QVBoxLayout(inside)
    controls = Choice("Paper", [("a4", "A4"), ("letter", "Letter")]), Slider(), Count("Copies", 0, 99)
    for control in controls:
        column.addWidget(control)
    column.addSpacing(3000)
    area.setWidget(inside)
    area.setWidgetResizable(True)
    QVBoxLayout(dialog).addWidget(area)
    qtbot.addWidget(dialog)
    dialog.show()
    dialog.activateWindow()
    qtbot.waitUntil(dialog.isActiveWindow)
    yield area, controls
    dialog.close()


def test_the_wheel_scrolls_past_lists_sliders_and_numbers(scrolled):
    area, (paper, slider, copies) = scrolled
    for control in (paper, slider, copies):
        area.verticalScrollBar().setValue(0)
        turn_wheel(control)
        assert area.verticalScrollBar().value() > 0, control.accessibleName()
    assert (paper.currentIndex(), slider.value(), copies.value()) == (0, 0, 0)


def test_a_number_that_was_clicked_into_is_turned_by_the_wheel_and_one_that_tab_reached_is_not(scrolled):
    area, (_, _, copies) = scrolled
    copies.setFocus(Qt.FocusReason.TabFocusReason)
    turn_wheel(copies, 1)
    assert copies.value() == 0
    copies.clearFocus()
    area.verticalScrollBar().setValue(0)
    copies.setFocus(Qt.FocusReason.MouseFocusReason)
    turn_wheel(copies, 1)
    assert copies.value() == 1


def fields_of(window):
    """What can be typed into at the station in hand."""
    panel = window.here.panel
    lines = [line for line in panel.findChildren(QLineEdit) if line.objectName() != "qt_spinbox_lineedit"]
    return [one for one in (*lines, *panel.findChildren(QSpinBox)) if one.isVisibleTo(panel) and one.isEnabled()]


def arrive(window):
    """Let the last results arrive once more, as those of a slow computation do."""
    window._on_overview(window.workspace.overview)


@pytest.mark.parametrize("place", ["art", "outline", "edge", "sheet", "proof", "files"])
def test_what_arrives_while_somebody_types_does_not_take_the_place_of_what_is_typed(with_disc, settle, place):
    window = with_disc
    window.go_to(place)
    settle(window)
    typed = 0
    for number in range(len(fields_of(window))):
        fields = fields_of(window)
        if number >= len(fields):
            break
        field = fields[number]
        line = field.lineEdit() if isinstance(field, QSpinBox) else field
        before = line.text()
        field.setFocus()
        line.selectAll()
        for sign in "17":
            QTest.keyClicks(field, sign)
            arrive(window)
        assert line.text().startswith("17"), (place, field.accessibleName())
        line.setText(before)  # and is not taken up: what each does is asked elsewhere
        line.setModified(False)
        window.setFocus()
        settle(window)
        typed += 1
    assert typed or place in ("proof", "files")


def test_a_number_typed_while_another_arrives_counts_though_it_is_the_one_of_before(qtbot):
    copies, told = Count("Copies", 0, 99), []
    qtbot.addWidget(copies)
    copies.show()
    copies.activateWindow()
    qtbot.waitUntil(copies.isActiveWindow)
    copies.show_value(12)
    copies.committed.connect(told.append)
    copies.setFocus()
    copies.lineEdit().selectAll()
    QTest.keyClicks(copies, "12")
    copies.show_value(9)
    QTest.keyClick(copies, Qt.Key.Key_Return)
    assert (copies.value(), told) == (12, [12])
    copies.show_value(9)
    assert copies.value() == 9


def test_undo_shows_what_it_undid_though_a_first_look_comes_late(with_disc, settle, qtbot):
    window = with_disc
    window.go_to("outline")
    settle(window)
    station, go_on = window.here, threading.Event()
    real = station._first_looks().preview

    def late(design, last):
        assert go_on.wait(PATIENCE_S)
        return real(design, last)

    station._first_looks().preview = late
    design = window.workspace.design
    window.workspace.replace_design(replace(design, outline=replace(design.outline, threshold=0.2)), "threshold")
    window.document.undo_stack.undo()
    qtbot.waitUntil(lambda: not window.overviews.is_waiting)
    go_on.set()
    settle(window)
    assert window._drawn._from[3:] == station.drawn_from()
    assert station._previews == 0
    window.table.setFocus()
    QTest.keyClick(window.table, Qt.Key.Key_Y, Qt.KeyboardModifier.ControlModifier)
    assert window.workspace.design.outline.threshold == 0.2
    QTest.keyClick(window.table, Qt.Key.Key_Z, Qt.KeyboardModifier.ControlModifier)
    assert window.workspace.design == design


def press_ctrl(widget, key):
    QTest.keyClick(widget, key, Qt.KeyboardModifier.ControlModifier)


def test_the_window_s_keys_hold_in_fields_and_enter_presses_what_has_the_keys(with_disc, settle, monkeypatch):
    window = with_disc
    window.go_to("art")
    settle(window)
    width = window.here.panel.findChildren(LengthField)[0]
    width.setFocus()
    before, unit = width.text(), window.prefs.unit
    press_ctrl(width, Qt.Key.Key_U)
    assert window.prefs.unit != unit
    assert width.text()
    press_ctrl(width, Qt.Key.Key_U)
    assert (window.prefs.unit, width.text()) == (unit, before)
    copies = window.here.panel.copies.count
    copies.setFocus()
    for key in (Qt.Key.Key_3, Qt.Key.Key_1):
        press_ctrl(copies, key)
        copies.setFocus()
    assert window.station == "art"
    width.setFocus()
    width.setText("12")
    press_ctrl(width, Qt.Key.Key_A)
    assert width.selectedText() == "12"
    window.path_bar.buttons["edge"].setFocus()
    QTest.keyClick(window.path_bar.buttons["edge"], Qt.Key.Key_Return)
    assert window.station == "edge"


def test_undo_and_redo_in_a_text_of_several_lines_are_those_of_the_job(with_disc, settle):
    window = with_disc
    window.go_to("art")
    settle(window)
    click(window.here.panel.to_layers)
    settle(window)
    panel = window.here.panel
    next(action for action in panel.add.menu().actions() if action.text() == "Words").trigger()
    settle(window)

    def words():
        return window.workspace.design.layers[-1].lettering.text

    before, text = words(), panel.fields.text
    text.setFocus()
    text.selectAll()
    QTest.keyClicks(text, "Mint & lemon")
    QTest.qWait(450)
    settle(window)
    assert words() == "Mint & lemon"
    while words() != before:
        press_ctrl(text, Qt.Key.Key_Z)
        settle(window)
    assert text.toPlainText() == before
    assert window.document.undo_stack.canRedo()
    while window.document.undo_stack.canRedo():
        press_ctrl(text, Qt.Key.Key_Y)
        settle(window)
    assert words() == text.toPlainText() == "Mint & lemon"
    name = panel.findChildren(NameField)[0]
    name.setFocus()
    QTest.keyClicks(name, "x")
    typed = name.text()
    press_ctrl(name, Qt.Key.Key_Z)  # what is being typed is taken back, and nothing of the job
    assert name.text() != typed
    assert words() == "Mint & lemon"


def lying(window):
    """Where every control that can be seen lies in the window."""
    places = {}
    for control in window.findChildren(QWidget):
        kinds = (QAbstractButton, QLineEdit, QComboBox, QAbstractSpinBox, LightTable)
        if isinstance(control, kinds) and control.isVisible() and not window.bar.isAncestorOf(control):
            at = control.mapTo(window, QPoint(0, 0))
            places[control] = (type(control).__name__, control.accessibleName(), at.x(), at.y(), control.size())
    return places


def moved(before, after):
    return [(*before[key], after[key][2:]) for key in before.keys() & after.keys() if before[key] != after[key]]


def stays_where_it_is(window, settle, place):
    """Find nothing moved while something is said, while something is computed, and once it is there."""
    settle(window)
    come_to_rest(window)
    before = lying(window)
    window.say("Something was done, and this says what it was, at some length, so that it takes its room.")
    come_to_rest(window)
    assert moved(before, lying(window)) == [], (place, "while something is said")
    window.bar.hide()
    design = window.workspace.design
    window.workspace.replace_design(replace(design, edge=replace(design.edge, hole_mm2=design.edge.hole_mm2 + 0.1)), "")
    come_to_rest(window)  # not long: while most of it is still computed
    assert moved(before, lying(window)) == [], (place, "while it is computed")
    settle(window)
    come_to_rest(window)
    assert moved(before, lying(window)) == [], (place, "once it is computed")


@pytest.mark.parametrize("size", [(1024, 640), (1280, 800), (1920, 1080)])
def test_nothing_moves_while_something_is_computed_or_said_nor_from_station_to_station(with_disc, settle, size):
    window = with_disc
    window.set_prefs(replace(window.prefs, guide="on"))
    window.resize(*size)
    settle(window)
    steady = [*window.path_bar.buttons.values(), *window.path_bar.rooms.values(), window.table, window.guide.usual]
    first = None
    for place in ("art", "outline", "edge", "sheet", "proof", "files"):
        window.go_to(place)
        settle(window)
        come_to_rest(window)
        where = [(one.mapTo(window, QPoint(0, 0)), one.width()) for one in steady]
        first = first or where
        assert where == first, place
        stays_where_it_is(window, settle, place)


@pytest.mark.parametrize(
    "names", [("Bee", "Thyme"), pytest.param(("Bee", "Badge", "Thyme", "Teapot"), marks=pytest.mark.long)], ids=len
)
def test_nothing_moves_where_there_are_layers_gaps_parts_and_long_lists(with_some_of_the_demo, settle, names):
    window = with_some_of_the_demo(*names)
    for design in window.document.job.designs:
        window.take(design.key)
        for place in ("art", "outline", "edge"):
            window.go_to(place)
            stays_where_it_is(window, settle, (design.name, place))


def test_the_window_fits_on_1920_by_1080_at_twice_the_scale(window):
    least, screen = window.minimumSize(), opening_size(QSize(960, 540))
    assert least.width() <= screen.width()
    assert least.height() <= screen.height()


def test_what_is_taken_together_is_said_at_the_field_marked_in_the_tray_and_ends_with_the_job(
    with_some_of_the_demo, settle
):
    window = with_some_of_the_demo("Bee", "Badge", "Thyme")
    for row in range(3):
        window.tray.shelf.item(row).setSelected(True)
    window.go_to("art")
    settle(window)
    captions = [label.text() for label in window.here.panel.findChildren(QLabel) if label.isVisible()]
    assert {"Copies, 3 designs", "Cut size, width × height, 3 designs"} <= set(captions)
    before = {design.key: design.copies for design in window.document.job.designs}
    other = replace(window.document.job, title="Another with the same keys")
    window.go_to("edge")
    window.say("Something of the old job.")
    window.workspace.page = 2
    window.document.start(other, window.document.holder.assets, None)
    assert window.station == "art"
    assert not window.bar.isVisible()
    assert (window.workspace.picked, window.workspace.page, window.workspace.result) == ((), 0, None)
    assert [item.text() for item in window.tray.shelf.selectedItems()] == [other.designs[0].name]
    settle(window)
    window.here.panel.copies.count.setValue(77)
    assert [design.copies for design in window.document.job.designs] == [77, *list(before.values())[1:]]
    window.jobs.may_leave = lambda: True
    window.jobs.new()
    assert window.tray.shelf.count() == 0
    assert window.start.is_shown
    assert all(button.state == "empty" for button in window.path_bar.buttons.values())
