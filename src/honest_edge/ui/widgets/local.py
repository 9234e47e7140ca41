"""Numbers as the system's locale writes them: a comma where that is the custom. Typing takes either."""

from __future__ import annotations

import re

from PyQt6.QtCore import QLocale, Qt
from PyQt6.QtGui import QGuiApplication
from PyQt6.QtWidgets import QLabel, QWidget

from honest_edge.core.values.units import Unit, format_length, in_unit

_NUMBER = re.compile(r"(?<![\w.,])(\d+)\.(\d+)(?!\w|\.\w)")
"""A number that stands by itself: no part of a file's name, nor of a version."""
_QUOTED = re.compile(r"(“[^”]*”)")
"""Names that somebody gave stay as they are."""


_TIP = "toldTip"


def explain(widget: QWidget, tip: str) -> None:
    """Give a control a tooltip that is written anew in another unit."""
    widget.setProperty(_TIP, tip)
    widget.setToolTip(tip if isinstance(widget, Told) else local(tip))


class _Shown:
    unit: Unit = "mm"


def show_lengths_in(unit: Unit) -> None:
    """Let every text that is shown from now on say its lengths in a unit."""
    _Shown.unit = unit


def shown_unit() -> Unit:
    """Return the unit in which lengths are shown."""
    return _Shown.unit


def tell_anew(root: QWidget) -> None:
    """Write what labels and buttons say once more: in another unit, that is another text."""
    for widget in root.findChildren(QWidget):
        if (told := getattr(widget, "tell_anew", None)) is not None:
            told()
        if isinstance(tip := widget.property(_TIP), str):
            widget.setToolTip(local(tip))


def local(text: str) -> str:
    """Return a text with its lengths in the unit that is shown, and decimal points as the locale writes them."""
    sign = QLocale().decimalPoint()
    if _Shown.unit != "mm" and "m" in text:
        parts = _QUOTED.split(text)
        text = "".join(part if part.startswith("“") else in_unit(part, _Shown.unit) for part in parts)
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


class Told:
    """What says something that is written anew when lengths are shown in another unit."""

    told, tip = "", ""

    def setText(self, text: str | None) -> None:
        raise NotImplementedError

    def setToolTip(self, text: str | None) -> None:
        raise NotImplementedError

    def tell_anew(self) -> None:
        """Say the same once more."""
        if "mm" in self.told or "cm" in self.told:
            self.setText(self.told)
        if "mm" in self.tip or "cm" in self.tip:
            self.setToolTip(self.tip)


class Label(Told, QLabel):
    """A label whose numbers are written as the locale does."""

    def __init__(self, text: str = "", parent: QWidget | None = None) -> None:
        QLabel.__init__(self, local(text), parent)
        self.told = text
        if self.isRightToLeft():  # or Qt leaves English at the left, under what stands at the end of the line
            self.setAlignment(Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter)

    def setText(self, text: str | None) -> None:
        self.told = text or ""
        QLabel.setText(self, local(self.told))

    def setToolTip(self, text: str | None) -> None:
        self.tip = text or ""
        QLabel.setToolTip(self, local(self.tip))
