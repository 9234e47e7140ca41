"""Tools of the hand on the table: what a stroke or a click at a station does."""

from __future__ import annotations

from typing import TYPE_CHECKING

from PyQt6.QtCore import QObject

if TYPE_CHECKING:
    from honest_edge.ui.window import MainWindow


class HandTools(QObject):
    """Takes tools up and lays them down, and passes strokes and clicks to the station that asked for them."""

    def __init__(self, window: MainWindow) -> None:
        super().__init__(window)
        self._window = window
        window.table.clicked.connect(self._on_click)
        window.table.stroke_drawn.connect(self._on_stroke)
        window.desk.tool_wanted.connect(self._take)

    def lay_down(self) -> None:
        """Go back to the bare hand."""
        panels = self._window.panels
        for panel in (panels.outline, panels.edge, panels.sheet):
            panel.toolbox.take("")

    def _take(self, tool: str) -> None:
        self._window.table.brush_mm = self._window.desk.brush_mm
        self._window.table.set_tool(tool)

    def _on_stroke(self, tool: str, points: list[tuple[float, float]]) -> None:
        window = self._window
        if window.station == "sheet":
            window.panels.sheet.toolbox.take("")
            window.sheet_work.take_stroke(points)
            return
        panel = window.panels.edge if window.station == "edge" else window.panels.outline
        panel.take_stroke(tool, points)

    def _on_click(self, x_mm: float, y_mm: float) -> None:
        result = self._window.desk.result
        if self._window.station != "outline" or result is None:
            return
        from honest_edge.app.picking import picked_at

        picked = picked_at(result.outline, x_mm, y_mm)
        if picked is not None:
            self._window.panels.outline.turn_round(picked)
