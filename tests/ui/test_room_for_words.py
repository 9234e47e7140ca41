"""Nothing is cut off and nothing lies over another thing: in a small window, in large letters, from right to left.

WCAG 2.2, success criteria 1.4.4 (text enlarged) and 1.4.10 (small windows): nothing is lost, at most scrolled.
"""

from itertools import combinations

import pytest
from PyQt6.QtCore import QRect
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import (
    QCheckBox,
    QLabel,
    QPushButton,
    QStyle,
    QStyleOptionComboBox,
    QStyleOptionFrame,
    QWidget,
)

from honest_edge.ui.shell import take_pictures
from honest_edge.ui.shell.message_bar import MessageBar
from honest_edge.ui.table.ruler import Ruler
from honest_edge.ui.widgets import theme
from honest_edge.ui.widgets.fields import Choice, ChoiceCard, ElidedLabel
from honest_edge.ui.widgets.help_mark import HelpMark
from honest_edge.ui.widgets.tiles import Tile
from honest_edge.ui.widgets.typed import LengthField

_TRIES, _TRY_MS = 50, 40
LARGEST = 18 / 11
"""A system font of 18 points where 11 is usual."""


LONGEST = {"mm": "406.68 mm", "in": "15 31/32 in"}
"""Of what a field for a length holds: as long as the longest side of a large sheet."""


def is_cut_off(widget):
    """Whether a widget has less room than its words need."""
    if isinstance(widget, LengthField):
        option = QStyleOptionFrame()
        widget.initStyleOption(option)
        room = widget.style().subElementRect(QStyle.SubElement.SE_LineEditContents, option, widget).width() - 4
        return room < max(widget.fontMetrics().horizontalAdvance(text) for text in LONGEST.values())
    if isinstance(widget, QLabel):
        if not widget.text() or isinstance(widget, ElidedLabel) or (widget.pixmap() is not None and not widget.text()):
            return False
        if widget.wordWrap():
            return widget.height() < widget.heightForWidth(widget.width()) - 2
        return widget.width() < widget.minimumSizeHint().width() - 2 or widget.height() < widget.fontMetrics().height()
    if isinstance(widget, QPushButton) and not isinstance(widget, ChoiceCard | Tile):
        return widget.width() < widget.fontMetrics().horizontalAdvance(widget.text())
    if isinstance(widget, Choice):
        option = QStyleOptionComboBox()
        widget.initStyleOption(option)
        room = widget.style().subControlRect(
            QStyle.ComplexControl.CC_ComboBox, option, QStyle.SubControl.SC_ComboBoxEditField, widget
        )
        return room.width() < widget.fontMetrics().horizontalAdvance(widget.currentText())
    return isinstance(widget, QCheckBox) and widget.width() < widget.sizeHint().width() - 2


def lies_over(one, other):
    """Whether two parts of the same whole share more than a rim."""
    both = one.geometry().intersected(other.geometry())
    return both.width() > 3 and both.height() > 3


def faults(window):
    found = []
    for widget in window.findChildren(QWidget):
        if not widget.isVisible() or widget.window() is not window:
            continue
        if is_cut_off(widget):
            words = widget.currentText() if isinstance(widget, Choice) else widget.text()
            found.append(("cut off", type(widget).__name__, words[:50], widget.size()))
        layout = widget.layout()
        if layout is None:
            continue
        parts = [p for p in widget.children() if isinstance(p, QWidget) and p.isVisible() and not p.isWindow()]
        parts = [part for part in parts if not isinstance(part, HelpMark | Ruler | MessageBar)]
        for one, other in combinations(parts, 2):
            if lies_over(one, other):
                found.append(
                    ("overlap", *(f"{type(p).__name__} {getattr(p, 'text', str)()[:30]}" for p in (one, other)))
                )
        for part in parts:
            inside = QRect(0, 0, widget.width(), widget.height()).adjusted(-2, -2, 2, 2)
            if not inside.contains(part.geometry()):
                found.append(("outside", type(widget).__name__, type(part).__name__, getattr(part, "text", str)()[:40]))
    return found


def lasting_faults(window):
    """What is wrong once all is laid out: a layout in a scrolled panel follows some events after that of the panel."""
    for _ in range(_TRIES):
        if not (found := faults(window)):
            return []
        QTest.qWait(_TRY_MS)
    return found


def in_every_place(window, settle):
    """What is wrong at each station with each design, and in each room."""
    stations = [(design, entry.key) for design in window.document.job.designs for entry in window.stations.entries]
    first, found = window.document.job.designs[0], {}
    rooms = [(first, place) for entry in window.workshop.entries for place in places_of(entry)]
    for design, place in (*stations, *rooms):
        window.take(design.key)
        window.go_to(place)
        settle(window)
        if some := lasting_faults(window):
            found[design.name, place] = some
    return found


def places_of(entry):
    return (entry.key, *(f"{entry.key}:{part}" for part in entry.parts))


def where_something_was_done(window, settle, monkeypatch, tmp_path):
    """A rehearsal, a run while ink dries and while a sheet is looked at, a practice bench, the start page."""
    found = {}
    look = lambda _window, path: found.setdefault(path.stem, lasting_faults(window))  # noqa: E731
    monkeypatch.setattr(take_pictures, "_grab", look)
    take_pictures._rehearse(window, tmp_path / "rehearsal.png")
    take_pictures._run(window, tmp_path, "")
    assert set(found) == {"rehearsal", "run-schedule", "run"}
    window.workshop["practice"].begin("dust")
    settle(window)
    found["practice bench"] = lasting_faults(window)
    window.start.show()
    settle(window)
    found["start"] = lasting_faults(window)
    return {place: some for place, some in found.items() if some}


@pytest.fixture
def letters(request, monkeypatch):
    """Letters so many times larger than usual, before a window is made."""
    monkeypatch.setattr(theme._Scale, "factor", request.param)


@pytest.mark.parametrize(
    ("letters", "width", "height", "designs", "is_done"),
    [
        (1.0, 960, 500, ("Price tag",), False),
        pytest.param(1.0, 960, 500, ("Badge", "Price tag"), True, marks=pytest.mark.long),
        (LARGEST, 1280, 800, ("Badge", "Price tag"), True),
    ],
    indirect=["letters"],
    ids=["small", "small and done", "large"],
)
def test_there_is_room_for_all_words(
    letters, with_some_of_the_demo, settle, monkeypatch, tmp_path, width, height, designs, is_done
):  # fmt: skip
    window = with_some_of_the_demo(*designs, copies=15, is_demo=True)
    window.resize(width, height)
    assert in_every_place(window, settle) == {}
    if is_done:
        assert where_something_was_done(window, settle, monkeypatch, tmp_path) == {}
