"""The tools that draw corrections on the table."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from PyQt6.QtWidgets import QFrame, QGridLayout, QPushButton

from honest_edge.core.values.specs import Correction
from honest_edge.ui.shared.host import Host
from honest_edge.ui.table.tool import Tool
from honest_edge.ui.widgets.fields import Button, label, row
from honest_edge.ui.widgets.help_mark import HelpMark
from honest_edge.ui.widgets.theme import px
from honest_edge.ui.widgets.typed import LengthField

_FIRST_BRUSH_MM = 2.0


@dataclass(frozen=True, slots=True, kw_only=True)
class ToolButton:
    """A tool and its key."""

    tool: Tool
    key: str


def brushed(tool: Tool, points_mm: list[tuple[float, float]], width_mm: float, brush_mm: float) -> Correction:
    """Return what was drawn on the table as a step of a recipe, in widths of the picture.

    Raises:
        UsageError: more places than a stroke may have.
    """
    points = tuple((min(max(x / width_mm, -1.0), 2.0), min(max(y / width_mm, -1.0), 2.0)) for x, y in points_mm)
    brush = brush_mm / width_mm if tool.shape == "brush" else 0.0
    return Correction(kind=tool.name, points=points, brush=brush)  # type: ignore[arg-type]  # its station's names


class Toolbox(QFrame):
    """One tool at a time; pressing it again, or Escape, lays it down."""

    def __init__(
        self,
        host: Host,
        heading: str,
        tools: Sequence[ToolButton],
        *,
        topic: str,
        with_brush: bool = True,
        columns: int = 4,
    ) -> None:
        super().__init__()
        self._host = host
        self.brush_mm = _FIRST_BRUSH_MM
        self.setProperty("card", "plain")
        HelpMark(self, topic)
        grid = QGridLayout(self)
        grid.setContentsMargins(10, 10, 10, 10)
        grid.setHorizontalSpacing(4)
        grid.addWidget(label(heading, "heading"), 0, 0, 1, columns)
        self.buttons: dict[str, QPushButton] = {}
        for number, item in enumerate(tools):
            button = Button(item.tool.word)
            button.setCheckable(True)
            button.setShortcut(item.key)
            button.setToolTip(f"{item.tool.hint[:1].upper()}{item.tool.hint[1:]} ({item.key})")
            button.setProperty("tool", True)
            button.clicked.connect(lambda on, tool=item.tool: self.take(tool if on else None))
            self.buttons[item.tool.name] = button
            grid.addWidget(button, 1 + number // columns, number % columns)
        self.brush = LengthField("Brush")
        self.brush.setFixedWidth(px(120))
        self.brush.committed.connect(self._set_brush)
        self.brush.refused.connect(lambda text: host.say(text, tone="danger"))
        self.brush.show_length(self.brush_mm, host.workspace.unit)
        if with_brush:
            grid.addLayout(row(label("Brush width"), self.brush), grid.rowCount(), 0, 1, columns)

    def take(self, tool: Tool | None) -> None:
        """Take a tool in hand; None lays it down."""
        for name, tool_button in self.buttons.items():
            tool_button.setChecked(tool is not None and name == tool.name)
        self._host.table.set_tool(tool, self.brush_mm)

    def _set_brush(self, width_mm: float) -> None:
        if not 0.05 <= width_mm <= 50:
            self.brush.refuse("must be 0.05 to 50 mm")
            return
        self.brush_mm = width_mm
        self.brush.show_length(width_mm, self._host.workspace.unit)
        self._host.table.set_tool(self._host.table.tool, width_mm)
