"""How widgets stand to each other."""

from __future__ import annotations

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QScrollArea, QStackedWidget, QVBoxLayout, QWidget


def show_in(stack: QStackedWidget, widget: QWidget) -> None:
    """Show a widget of a stack, put into it first if need be."""
    if stack.indexOf(widget) < 0:
        stack.addWidget(widget)
    stack.setCurrentWidget(widget)


def column_of(*widgets: QWidget) -> QVBoxLayout:
    """Return widgets one above another, with nothing between."""
    column = QVBoxLayout()
    column.setSpacing(0)
    column.setContentsMargins(0, 0, 0, 0)
    for widget in widgets:
        column.addWidget(widget)
    return column


def scrolled(widget: QWidget) -> QScrollArea:
    """Return an area that scrolls a widget up and down where it is higher than its room."""
    area = QScrollArea()
    scroll_downward(area)
    area.setWidget(widget)
    for part in (widget, area.viewport()):
        if part is not None:
            part.setAutoFillBackground(False)  # it stands on the ground of what is round it
    return area


def scroll_downward(area: QScrollArea) -> None:
    """Let an area scroll what it holds up and down alone, and leave the keys to that."""
    area.setWidgetResizable(True)
    area.setFocusPolicy(Qt.FocusPolicy.NoFocus)
    area.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
