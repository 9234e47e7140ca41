"""Tab walks as one reads, round and round, and every stop says what it is.

WCAG 2.2, success criteria 2.1.1 (keyboard), 2.1.2 (no trap), 2.4.3 (focus order) and 4.1.2 (name).
"""

from itertools import pairwise

import pytest
from PyQt6.QtCore import QPoint, Qt
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import (
    QAbstractButton,
    QAbstractSlider,
    QAbstractSpinBox,
    QApplication,
    QCheckBox,
    QComboBox,
    QFrame,
    QHBoxLayout,
    QLabel,
    QLineEdit,
    QPushButton,
    QScrollArea,
    QVBoxLayout,
    QWidget,
)

from hands import come_to_rest
from honest_edge.ui.shell.focus_order import step, stops_of

READ = (QAbstractButton, QAbstractSlider, QAbstractSpinBox, QFrame, QLineEdit)
"""What AT-SPI has a role for; all else is told as filler, which is passed over."""
TAB, BACK = Qt.Key.Key_Tab, Qt.Key.Key_Backtab


def press(key):
    QTest.keyClick(QApplication.focusWidget(), key)


def names(stops):
    return [stop.accessibleName() or stop.text() for stop in stops]


@pytest.fixture
def columns(qtbot):
    """Two columns whose parts came in no order, the second of them scrolled."""
    root, first, second, area = QWidget(), QVBoxLayout(), QVBoxLayout(), QScrollArea()
    across, inside = QHBoxLayout(root), QWidget()
    buttons = {name: QPushButton(name) for name in ("d", "a", "c", "b")}
    for name in "cd":
        second.addWidget(buttons[name])
    for name in "ab":
        first.addWidget(buttons[name])
    second.addSpacing(2000)
    last = QLineEdit()
    last.setAccessibleName("e")
    second.addWidget(last)
    inside.setLayout(second)
    area.setWidget(inside)
    area.setFocusPolicy(Qt.FocusPolicy.NoFocus)
    across.addLayout(first)
    across.addWidget(area)
    qtbot.addWidget(root)
    root.resize(400, 300)
    root.show()
    qtbot.waitExposed(root)
    return root


def test_columns_are_read_one_after_the_other(columns):
    assert names(stops_of(columns)) == ["a", "b", "c", "d", "e"]


def test_columns_begin_at_the_right_where_reading_does(columns, qtbot):
    columns.setLayoutDirection(Qt.LayoutDirection.RightToLeft)
    qtbot.waitUntil(lambda: names(stops_of(columns)) == ["c", "d", "e", "a", "b"])


def test_what_was_scrolled_keeps_its_place(columns):
    (area,) = columns.findChildren(QScrollArea)
    area.verticalScrollBar().setValue(1500)
    assert names(stops_of(columns)) == ["a", "b", "c", "d", "e"]


def test_of_buttons_of_which_one_is_taken_that_one_is_a_stop(qtbot):
    root = QWidget()
    across = QHBoxLayout(root)
    for name in ("one", "two", "three"):
        made = QPushButton(name)
        made.setCheckable(True)
        made.setAutoExclusive(True)
        across.addWidget(made)
    across.addWidget(QCheckBox("fourth"))
    qtbot.addWidget(root)
    root.show()
    assert names(stops_of(root)) == ["one", "two", "three", "fourth"]
    root.findChildren(QPushButton)[1].setChecked(True)
    assert names(stops_of(root)) == ["two", "fourth"]


def test_tab_goes_on_from_what_was_clicked_though_it_is_no_stop(columns, qtbot):
    stops = {stop.text(): stop for stop in stops_of(columns)[:4]}
    stops["c"].setFocusPolicy(Qt.FocusPolicy.ClickFocus)
    stops["c"].setFocus()
    assert names(stops_of(columns)) == ["a", "b", "d", "e"]
    step(columns, forward=True)
    assert columns.focusWidget() is stops["d"]
    stops["c"].setFocus()
    step(columns, forward=False)
    assert columns.focusWidget() is stops["b"]


def is_told(stop, window):
    """Whether a screen reader says what this is: AT-SPI takes a choice's value for its name, and asks its label."""
    if isinstance(stop, QComboBox):
        has_label = any(label.buddy() is stop and label.text() for label in window.findChildren(QLabel))
        return has_label or bool(stop.accessibleDescription())
    return isinstance(stop, READ) and bool(stop.accessibleName() or getattr(stop, "text", str)())


def test_tab_walks_every_place_from_its_beginning_to_its_end_and_back(with_some_of_the_demo, settle, qtbot):
    window = with_some_of_the_demo("Badge", "Price tag")
    for entry in (*window.stations.entries, *window.workshop.entries):
        window.go_to(entry.key)
        settle(window)
        come_to_rest(window)
        stops = stops_of(window)
        assert len(stops) > 3, entry.key
        assert [stop for stop in stops if not is_told(stop, window)] == [], entry.key
        stops[0].setFocus()
        for key, wanted in ((TAB, (*stops[1:], stops[0])), (BACK, (*stops[:0:-1], stops[0]))):
            for stop in wanted:
                press(key)
                assert QApplication.focusWidget() is stop, (entry.key, stop.accessibleName())
                assert not stop.visibleRegion().isEmpty(), (entry.key, "out of sight", stop.accessibleName())


def test_a_station_is_read_from_the_path_over_the_table_to_the_cards(with_disc, settle):
    window = with_disc
    window.go_to("edge")
    settle(window)
    order = names(stops_of(window))
    wanted = [
        "Edge",
        "Menu",
        "Designs",
        "Add art…",
        "Light table",
        "Edge profile",
        "Offset",
        "Bleed past the cut",
        "Cut",
    ]
    assert [name for name in order if name in wanted] == wanted


def test_within_a_card_lines_run_downward(with_disc, settle):
    window = with_disc
    for place in ("edge", "sheet"):
        window.go_to(place)
        settle(window)
        panel = window.here.panel
        tops = [stop.mapTo(panel.widget(), QPoint(0, stop.height() // 2)).y() for stop in stops_of(panel.widget())]
        assert all(later > sooner - 12 for sooner, later in pairwise(tops)), place
