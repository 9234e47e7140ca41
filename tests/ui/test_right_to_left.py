"""A window that runs from right to left: English in it keeps its signs, charts keep their direction."""

import numpy as np
import pytest
from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QApplication, QLabel, QWidget

from honest_edge.ui.widgets.fields import Button, card, end_margins
from honest_edge.ui.widgets.local import from_the_left
from honest_edge.ui.widgets.painting import painter_on

ISOLATE, END = "\u2066", "\u2069"  # Unicode Standard Annex 9


@pytest.fixture
def turned(qapp):
    """The whole application runs from right to left."""
    QApplication.setLayoutDirection(Qt.LayoutDirection.RightToLeft)
    yield
    QApplication.setLayoutDirection(Qt.LayoutDirection.LeftToRight)


def test_nothing_is_added_where_reading_runs_from_the_left(qapp):
    assert from_the_left("Take it out…") == "Take it out…"
    assert end_margins(1, 2, 3) == (1, 2, 3, 2)


def test_english_is_isolated_where_reading_runs_from_the_right(turned, qtbot):
    assert from_the_left("") == ""
    assert end_margins(1, 2, 3) == (3, 2, 1, 2)
    made = Button("Take it out…")
    qtbot.addWidget(made)
    assert made.text() == f"{ISOLATE}Take it out…{END}"


class Written(QWidget):
    """Writes two words with a sign at their end."""

    def paintEvent(self, _event):
        painter = painter_on(self)
        painter.fillRect(self.rect(), Qt.GlobalColor.white)
        painter.drawText(self.rect(), Qt.AlignmentFlag.AlignLeft, "ab …")


def ink_columns(widget):
    image = widget.grab().toImage()
    dark = [[image.pixelColor(x, y).lightness() < 128 for x in range(image.width())] for y in range(image.height())]
    return np.flatnonzero(np.any(dark, axis=0))


def test_what_is_painted_is_painted_alike(qtbot, qapp):
    seen = []
    for direction in (Qt.LayoutDirection.LeftToRight, Qt.LayoutDirection.RightToLeft):
        QApplication.setLayoutDirection(direction)
        made = Written()
        qtbot.addWidget(made)
        made.resize(80, 24)
        seen.append(ink_columns(made).tolist())
    QApplication.setLayoutDirection(Qt.LayoutDirection.LeftToRight)
    assert seen[0]
    assert seen[0] == seen[1]


def test_a_heading_keeps_clear_of_the_mark_at_the_end_of_its_line(turned, with_disc, settle):
    window = with_disc
    window.go_to("proof")
    settle(window)
    label = window.here.panel.now
    assert label.alignment() & Qt.AlignmentFlag.AlignRight
    frame, layout = card("sand", topic="edge")
    margins = layout.contentsMargins()
    assert margins.left() > margins.right()
    frame.deleteLater()


def test_the_book_shows_what_lies_beside_its_first_row(turned, with_some_of_the_demo, settle):
    window = with_some_of_the_demo("Badge", is_demo=True)
    window.go_to("book:runs")
    settle(window)
    room = window.workshop["book"]
    assert room.page.ledger.picked is not None
    titles = [label.text() for label in window.findChildren(QLabel) if label.isVisible()]
    assert room.page.ledger.picked.run.title in titles
