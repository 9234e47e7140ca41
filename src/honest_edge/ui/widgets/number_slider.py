"""A number set by sliding or typing, whose effect is seen while it moves."""

from __future__ import annotations

import math

from PyQt6.QtCore import QSignalBlocker, pyqtSignal
from PyQt6.QtWidgets import QGridLayout, QLineEdit, QWidget

from honest_edge.core.values.units import MM_PER_INCH
from honest_edge.ui.widgets.local import Label, local, shown_unit
from honest_edge.ui.widgets.theme import px
from honest_edge.ui.widgets.unwheeled import Slider

_STEPS = 240


class NumberSlider(QWidget):
    """A name, a field and a slider. An empty field means automatic, where that is offered."""

    moved = pyqtSignal(object, bool)
    """The new value, None for automatic, and whether it goes on from the same press of the slider."""
    refused = pyqtSignal(str)

    def __init__(
        self, name: str, lowest: float, highest: float, *, digits: int, unit: str, automatic: bool, tip: str
    ) -> None:
        super().__init__()
        self._name, self._lowest, self._highest, self._digits = name, lowest, highest, digits
        self._automatic, self._value, self._sliding = automatic, lowest, False
        self._is_automatic = False
        grid = QGridLayout(self)
        grid.setContentsMargins(0, 0, 0, 0)
        grid.setVerticalSpacing(2)
        self._is_length = unit == "mm"
        caption = Label(f"{name}, {unit}" if unit else name)
        self.field = QLineEdit()
        self.field.setAccessibleName(name)
        self.field.setFixedWidth(px(126))
        self.field.editingFinished.connect(self._typed)
        if automatic:
            self.field.setToolTip(f"{tip} Empty means automatic.")
        caption.setBuddy(self.field)
        self.slider = Slider()
        self.slider.setRange(0, _STEPS)
        self.slider.setPageStep(_STEPS // 12)
        self.slider.setAccessibleName(f"{name} slider")
        self.slider.valueChanged.connect(self._slid)
        self.slider.sliderReleased.connect(self._let_go)
        grid.addWidget(caption, 0, 0)
        grid.addWidget(self.field, 0, 1)
        grid.addWidget(self.slider, 1, 0, 1, 2)
        grid.setColumnStretch(0, 1)
        self.setToolTip(tip)

    def show_value(self, value: float, *, automatic: bool = False) -> None:
        """Show without telling anyone."""
        self._value, self._is_automatic = value, automatic
        with QSignalBlocker(self.slider):
            if not self.slider.isSliderDown():
                self.slider.setValue(self._place(value))
        if not self.field.hasFocus() or not self.field.isModified():
            self.field.setText("" if automatic else self._text(value))
        self.field.setPlaceholderText(f"auto, {self._text(value)}" if automatic else "")

    def _text(self, value: float) -> str:
        digits = self._digits if self._unit_mm == 1.0 else self._digits + 1
        return local(f"{value / self._unit_mm:.{digits}f}")

    @property
    def _unit_mm(self) -> float:
        return MM_PER_INCH if self._is_length and shown_unit() != "mm" else 1.0

    def _place(self, value: float) -> int:
        """The slider is logarithmic: small values are set more finely."""
        span = math.log(self._highest / self._lowest)
        return round(_STEPS * math.log(min(max(value, self._lowest), self._highest) / self._lowest) / span)

    def _slid(self, place: int) -> None:
        value = self._lowest * (self._highest / self._lowest) ** (place / _STEPS)
        goes_on, self._sliding = self._sliding, self.slider.isSliderDown()
        self.moved.emit(round(value, self._digits), goes_on and self._sliding)

    def _let_go(self) -> None:
        self._sliding = False

    def _typed(self) -> None:
        typed = self.field.text().strip()
        text = typed.replace(",", ".")
        self.field.setModified(False)
        if typed == ("" if self._is_automatic else self._text(self._value)):
            return
        if not text and self._automatic:
            self.moved.emit(None, False)
            return
        try:
            self.moved.emit(float(text) * self._unit_mm, False)
        except ValueError:
            self.refused.emit(f"{self._name}: “{text}” is no number")
