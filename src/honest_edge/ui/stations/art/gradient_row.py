"""The colours of a gradient, side by side: each pressed to change it, one more or one fewer."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial

from PyQt6.QtWidgets import QHBoxLayout, QPushButton, QWidget

from honest_edge.core.values.layers import MOST_GRADIENT_COLOURS
from honest_edge.core.values.specs import Colour
from honest_edge.ui.widgets import dialogs
from honest_edge.ui.widgets.fields import Button, button, paint_button
from honest_edge.ui.widgets.theme import px


class GradientRow(QWidget):
    """Tells all colours whenever one of them changes."""

    def __init__(self, take: Callable[[tuple[Colour, ...]], object]) -> None:
        super().__init__()
        self._take = take
        self._colours: tuple[Colour, ...] = ()
        line = QHBoxLayout(self)
        line.setContentsMargins(0, 0, 0, 0)
        line.setSpacing(4)
        self.swatches: list[QPushButton] = []
        for number in range(MOST_GRADIENT_COLOURS):
            swatch = Button()
            swatch.setAccessibleName(f"Colour {number + 1} of the gradient")
            swatch.clicked.connect(partial(self._choose, number))
            line.addWidget(swatch, 1)
            self.swatches.append(swatch)
        self.more = button("+", lambda: self._take((*self._colours, self._colours[-1])))
        self.more.setToolTip("One more colour")
        self.fewer = button("−", lambda: self._take(self._colours[:-1]))
        self.fewer.setToolTip("One colour fewer")
        for tool in (self.more, self.fewer):
            tool.setFixedWidth(px(26))
            tool.setProperty("tool", True)
            line.addWidget(tool)

    def show_colours(self, colours: tuple[Colour, ...]) -> None:
        """Show a gradient's colours."""
        self._colours = colours
        for number, swatch in enumerate(self.swatches):
            swatch.setVisible(number < len(colours))
            if number < len(colours):
                paint_button(swatch, colours[number])
                swatch.setText("")
                swatch.setToolTip("#{:02x}{:02x}{:02x}".format(*colours[number]))
        self.more.setEnabled(len(colours) < MOST_GRADIENT_COLOURS)
        self.fewer.setEnabled(len(colours) > 2)

    def _choose(self, number: int) -> None:
        chosen = dialogs.ask_colour(self, self._colours[number])
        if chosen is not None:
            self._take((*self._colours[:number], chosen, *self._colours[number + 1 :]))
