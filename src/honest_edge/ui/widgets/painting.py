"""The brush that widgets paint themselves with."""

from __future__ import annotations

from PyQt6.QtCore import Qt
from PyQt6.QtGui import QPainter
from PyQt6.QtWidgets import QFrame, QWidget


class Painted(QFrame):
    """A picture that its widget paints: a screen reader says its name, as that of a panel.

    A bare ``QWidget`` is told as filler (AT-SPI), which screen readers pass over.
    """


def painter_on(widget: QWidget, *, is_smooth: bool = True) -> QPainter:
    """Return a painter that writes from left to right: charts, rulers and English do so in every layout.

    A bare ``QPainter`` takes the direction of the application, not that of the widget, and puts signs to wrong sides.
    """
    painter = QPainter(widget)
    painter.setRenderHint(QPainter.RenderHint.Antialiasing, is_smooth)
    painter.setLayoutDirection(Qt.LayoutDirection.LeftToRight)
    return painter
