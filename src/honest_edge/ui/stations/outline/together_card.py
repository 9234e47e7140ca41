"""Does the cut hang together? Which border joins its parts, and the button that takes it."""

from __future__ import annotations

from dataclasses import replace
from typing import TYPE_CHECKING

from PyQt6.QtWidgets import QVBoxLayout, QWidget

from honest_edge.ui.shared.workspace import Workspace
from honest_edge.ui.widgets.fields import button, card, label

if TYPE_CHECKING:
    from honest_edge.app.results.design_result import DesignResult


class TogetherCard(QWidget):
    """Shown where there are several parts."""

    def __init__(self, workspace: Workspace) -> None:
        super().__init__()
        self._workspace = workspace
        frame, inside = card(topic="outline")
        inside.addWidget(label("Does it hang together?", "heading"))
        self.words = label()
        self.join = button("Join", self._join)
        inside.addWidget(self.words)
        inside.addWidget(self.join)
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.addWidget(frame)

    def _join(self) -> None:
        design, result = self._workspace.design, self._workspace.result
        if design is None or result is None or result.joining_mm is None:
            return
        from honest_edge.core.outline.joining import offered_offset_mm

        edge = replace(design.edge, school="border", offset_mm=offered_offset_mm(result.joining_mm))
        self._workspace.edit_design("offset that joins all parts", edge=edge)

    def show_result(self, result: DesignResult, pieces: int, loose: int) -> None:
        """Show what joins so many parts of the outline, of which so many of the cut are loose."""
        self.setVisible(pieces > 1)
        if pieces == 1:
            return
        from honest_edge.core.outline.joining import is_a_set, offered_offset_mm

        if is_a_set(list(result.cut.area.geoms)):
            self.join.hide()
            self.words.setText(f"A set of {loose} pieces alike that lie apart: each is cut by itself.")
            return
        moved = self._workspace.length(result.design.edge.signed_offset_mm, 2)
        offered_mm = None if result.joining_mm is None else offered_offset_mm(result.joining_mm)
        is_used = result.design.edge.school == "border" and result.design.edge.offset_mm == offered_mm
        self.join.setVisible(offered_mm is not None and not is_used)
        if offered_mm is not None:
            smallest = "the smallest border" if loose == 1 else "a border"
            self.join.setText(f"Use {smallest}, {self._workspace.length(offered_mm, 2)}")
        if result.joining_mm is None:
            self.words.setText(f"{pieces} parts: too many to ask which border joins them.")
            return
        joins = self._workspace.length(result.joining_mm, 2)
        self.words.setText(
            f"All {pieces} parts join from a border of {joins} on; the cut lies {moved} outside."
            if loose == 1
            else f"At {moved} the cut falls into {loose} pieces; the loose ones are marked. "
            f"All join from a border of {joins} on."
        )
