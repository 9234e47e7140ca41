"""The smallest changes that reach a share of clean stickers: looked at before they are made."""

from __future__ import annotations

from PyQt6.QtCore import pyqtSignal
from PyQt6.QtWidgets import QPushButton, QVBoxLayout, QWidget

from honest_edge.app.results.edge_assessment import EdgeChange
from honest_edge.core.values.specs import EdgeRecipe
from honest_edge.ui.shared.workspace import Workspace
from honest_edge.ui.stations.edge.state import EdgeState
from honest_edge.ui.widgets.fields import button, card, label, row
from honest_edge.ui.widgets.words import percent, whole_percent


class ChangeList(QWidget):
    """One card for each share that can be reached; the first holds the station's filled button."""

    proposal_changed = pyqtSignal()

    def __init__(self, workspace: Workspace, state: EdgeState) -> None:
        super().__init__()
        self.workspace, self._state = workspace, state
        self._column = QVBoxLayout(self)
        self._column.setContentsMargins(0, 0, 0, 0)
        self._column.setSpacing(8)
        self.uses: list[QPushButton] = []
        self.looks: list[QPushButton] = []
        self._shown: object = None

    def refresh(self) -> None:
        """Show what is proposed for the design in hand."""
        assessment, design = self._state.assessment, self.workspace.design
        changes = assessment.changes if assessment and design else ()
        key = (changes, self.workspace.unit)
        self.setVisible(bool(changes))
        if key == self._shown:
            for look, change in zip(self.looks, changes, strict=True):
                look.setChecked(self._state.proposed is change)
            return
        self._shown = key
        while (item := self._column.takeAt(0)) is not None:
            if (widget := item.widget()) is not None:
                widget.setParent(None)
                widget.deleteLater()
        self.uses, self.looks = [], []
        for change in changes:
            if design is not None:
                self._add(change, design.edge)

    def _add(self, change: EdgeChange, before: EdgeRecipe) -> None:
        frame, inside = card("look", topic="forecast")
        inside.addWidget(label(f"Smallest change for {whole_percent(change.target)}", "heading"))
        steps = label(self._words(change.edge, before))
        inside.addWidget(steps)
        inside.addWidget(label(f"{percent(change.share)} of the stickers clean with it", "soft"))
        use = button("Use this", lambda: self._use(change), filled=not self.uses)
        look = button("Look at it", lambda: self._look(change))
        look.setCheckable(True)
        look.setToolTip("Show the edge as it would be; press again to go back")
        inside.addLayout(row(use, look))
        self.uses.append(use)
        self.looks.append(look)
        self._column.addWidget(frame)

    def _words(self, after: EdgeRecipe, before: EdgeRecipe) -> str:
        steps = []
        for name, old, new in (
            ("Bleed", before.bleed_mm, after.bleed_mm),
            ("Offset", before.offset_mm, after.offset_mm),
        ):
            if old != new:
                steps.append(f"{name} {self.workspace.length(old, 2)} → {self.workspace.length(new, 2)}")
        return "\n".join(steps)

    def _use(self, change: EdgeChange) -> None:
        self._state.proposed = None
        self.workspace.edit_design("smallest change", edge=change.edge)

    def _look(self, change: EdgeChange) -> None:
        self._state.proposed = None if self._state.proposed is change else change
        self.refresh()
        self.proposal_changed.emit()
