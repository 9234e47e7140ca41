"""The tools that draw corrections on the table."""

from __future__ import annotations

from collections.abc import Sequence

from PyQt6.QtWidgets import QFrame, QGridLayout, QPushButton

from honest_edge.core.values.specs import Correction
from honest_edge.ui.desk import Desk
from honest_edge.ui.fields import LengthField, label, row

Tools = Sequence[tuple[str, str, str, str]]
"""Name within the recipe, word, key and tip."""

OUTLINE_TOOLS: Tools = (
    ("dam", "Dam", "D", "Draw a line that the background does not cross"),
    ("keep", "Keep", "K", "Brush over what belongs to the art"),
    ("clear", "Clear", "X", "Brush over what is background"),
    ("area", "Area", "A", "Draw a box: outside of it all is background; a click takes the whole picture again"),
)


def brushed(tool: str, points_mm: list[tuple[float, float]], width_mm: float, brush_mm: float) -> Correction:
    """Return what was drawn on the table as a step of a recipe, in widths of the picture.

    Raises:
        UsageError: more places than a stroke may have.
    """
    points = tuple((min(max(x / width_mm, -1.0), 2.0), min(max(y / width_mm, -1.0), 2.0)) for x, y in points_mm)
    return Correction(kind=tool, points=points, brush=0.0 if tool == "dam" else brush_mm / width_mm)  # type: ignore[arg-type]


class Toolbox(QFrame):
    """One tool at a time; pressing it again, or Escape, lays it down."""

    def __init__(self, desk: Desk, heading: str, tools: Tools, *, with_brush: bool = True) -> None:
        super().__init__()
        self.desk = desk
        self.setProperty("card", "plain")
        grid = QGridLayout(self)
        grid.setContentsMargins(10, 10, 10, 10)
        grid.setHorizontalSpacing(4)
        grid.addWidget(label(heading, "heading"), 0, 0, 1, 4)
        self.buttons: dict[str, QPushButton] = {}
        for column, (tool, name, key, tip) in enumerate(tools):
            made = QPushButton(name)
            made.setCheckable(True)
            made.setShortcut(key)
            made.setToolTip(f"{tip} ({key})")
            made.setProperty("tool", True)
            made.clicked.connect(lambda on, tool=tool: self.take(tool if on else ""))
            self.buttons[tool] = made
            grid.addWidget(made, 1, column)
        self.brush = LengthField("Brush")
        self.brush.setFixedWidth(96)
        self.brush.committed.connect(self._set_brush)
        self.brush.refused.connect(desk.said)
        self.brush.show_length(desk.brush_mm, desk.unit)
        if with_brush:
            grid.addLayout(row(label("Brush width"), self.brush), 2, 0, 1, 4)

    def take(self, tool: str) -> None:
        """Take a tool in hand; "" lays it down."""
        for name, made in self.buttons.items():
            made.setChecked(name == tool)
        self.desk.tool_wanted.emit(tool)

    def _set_brush(self, width_mm: float) -> None:
        if not 0.05 <= width_mm <= 50:
            self.brush.refuse("must be 0.05 to 50 mm")
            return
        self.desk.brush_mm = width_mm
        self.brush.show_length(width_mm, self.desk.unit)
        self.desk.tool_wanted.emit(next((name for name, made in self.buttons.items() if made.isChecked()), ""))
