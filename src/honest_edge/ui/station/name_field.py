"""What every design has whatever it is made of: a name and a number of copies."""

from __future__ import annotations

from PyQt6.QtWidgets import QLineEdit

from honest_edge.core.values.job import Design
from honest_edge.core.values.specs import MOST_COPIES
from honest_edge.ui.station.workspace import Workspace
from honest_edge.ui.widgets.fields import Count


class NameField(QLineEdit):
    """The name of the design in hand."""

    def __init__(self, workspace: Workspace) -> None:
        super().__init__()
        self._workspace = workspace
        self.setAccessibleName("Name")
        self.editingFinished.connect(self._rename)

    def show_design(self, design: Design) -> None:
        """Show a design's name, but not over what is being typed."""
        if not self.hasFocus():
            self.setText(design.name)

    def _rename(self) -> None:
        design, name = self._workspace.design, self.text().strip()
        if design is not None and name and name != design.name:
            self._workspace.edit_design("name", name=name)


def copies_field(workspace: Workspace, name: str = "Copies") -> Count:
    """Return a field for the copies of the design in hand."""
    made = Count(name, 0, MOST_COPIES)
    made.committed.connect(lambda count: workspace.edit_design("copies", copies=count))
    return made
