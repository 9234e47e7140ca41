"""Lists, sliders and whole numbers that the wheel passes over: it scrolls what they lie in, and changes nothing."""

from __future__ import annotations

from PyQt6.QtCore import Qt
from PyQt6.QtGui import QFocusEvent, QWheelEvent
from PyQt6.QtWidgets import QComboBox, QSlider, QSpinBox, QWidget


class DropDown(QComboBox):
    """A list that drops down; the wheel turns through it only once it is open."""

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)

    def wheelEvent(self, event: QWheelEvent | None) -> None:
        _pass_on(event)


class Slider(QSlider):
    """A slider from left to right."""

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(Qt.Orientation.Horizontal, parent)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)

    def wheelEvent(self, event: QWheelEvent | None) -> None:
        _pass_on(event)


class WholeNumber(QSpinBox):
    """A whole number; the wheel changes it once it was clicked into, and no sooner."""

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self._was_clicked = False

    def focusInEvent(self, event: QFocusEvent | None) -> None:
        self._was_clicked = event is not None and event.reason() == Qt.FocusReason.MouseFocusReason
        super().focusInEvent(event)

    def wheelEvent(self, event: QWheelEvent | None) -> None:
        if self._was_clicked and self.hasFocus():
            super().wheelEvent(event)
        else:
            _pass_on(event)


def _pass_on(event: QWheelEvent | None) -> None:
    if event is not None:
        event.ignore()
