"""Numbers as the system's locale writes them: a comma where that is the custom. Typing takes either."""

from __future__ import annotations

import re

from PyQt6.QtCore import QLocale, Qt
from PyQt6.QtGui import QGuiApplication
from PyQt6.QtWidgets import QLabel, QWidget

from honest_edge.core.values.units import Unit, format_length

_NUMBER = re.compile(r"(?<![\w.,])(\d+)\.(\d+)(?!\w|\.\w)")
"""A number that stands by itself: no part of a file's name, nor of a version."""
_QUOTED = re.compile(r"(“[^”]*”)")
"""Names that somebody gave stay as they are."""


def local(text: str) -> str:
    """Return a text with its decimal points as the locale writes them."""
    sign = QLocale().decimalPoint()
    if sign == "." or "." not in text:
        return text
    parts = _QUOTED.split(text)
    return "".join(part if part.startswith("“") else _NUMBER.sub(rf"\1{sign}\2", part) for part in parts)


def from_the_left(text: str) -> str:
    """Return a text that keeps its signs where they stand in English when the window runs from right to left.

    Unicode Standard Annex 9: an isolate from U+2066 to U+2069.
    """
    is_turned = QGuiApplication.layoutDirection() == Qt.LayoutDirection.RightToLeft
    return f"\u2066{text}\u2069" if is_turned and text else text


def shown_length(length_mm: float, unit: Unit, *, digits: int | None = None) -> str:
    """Return a length as ``format_length`` does, in the locale's way of writing."""
    return local(format_length(length_mm, unit, digits=digits))


class Label(QLabel):
    """A label whose numbers are written as the locale does."""

    def __init__(self, text: str = "", parent: QWidget | None = None) -> None:
        super().__init__(local(text), parent)
        if self.isRightToLeft():  # or Qt leaves English at the left, under what stands at the end of the line
            self.setAlignment(Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter)

    def setText(self, text: str | None) -> None:
        super().setText(local(text or ""))

    def setToolTip(self, text: str | None) -> None:
        super().setToolTip(local(text or ""))
