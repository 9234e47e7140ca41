"""How the parts of the window stand: the bar above, below it the path or a room."""

from __future__ import annotations

from PyQt6.QtWidgets import QBoxLayout, QHBoxLayout, QWidget

from honest_edge.ui.shell.workshop import Workshop
from honest_edge.ui.widgets.layouts import column_of


def body_of(
    top: QWidget, notes: QBoxLayout, workshop: Workshop, tray: QWidget, middle: QBoxLayout, cards: QWidget
) -> QWidget:
    """Return the window's content: what is said, then tray, middle and cards, which are the path, or a room."""
    path = QWidget()
    across = QHBoxLayout(path)
    across.setContentsMargins(0, 0, 0, 0)
    across.setSpacing(0)
    across.addWidget(tray)
    across.addLayout(middle, 1)
    across.addWidget(cards)
    workshop.set_path(path)
    body = QWidget()
    column = column_of(top)
    column.addLayout(notes)
    column.addWidget(workshop.stack)
    column.setStretchFactor(workshop.stack, 1)
    body.setLayout(column)
    return body
