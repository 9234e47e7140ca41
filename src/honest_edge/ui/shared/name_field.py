"""What every design has whatever it is made of: a name."""

from __future__ import annotations

from dataclasses import replace

from PyQt6.QtWidgets import QLineEdit

from honest_edge.core.values.job import Design
from honest_edge.ui.shared.workspace import Workspace


class NameField(QLineEdit):
    """The name of the design in hand."""

    def __init__(self, workspace: Workspace) -> None:
        super().__init__()
        self._workspace = workspace
        self._key = ""
        self.setAccessibleName("Name")
        self.editingFinished.connect(self._rename)

    def show_design(self, design: Design) -> None:
        """Show a design's name; not over what is being typed, unless that was meant for another design."""
        if design.key != self._key:
            self._rename()
            self._key = design.key
        elif self.hasFocus() and self.isModified():
            return
        self.setText(design.name)
        self.setCursorPosition(0)  # a long name is seen from its beginning

    def _rename(self) -> None:
        """Give what was typed to the design that was shown while it was typed."""
        name, job = self.text().strip(), self._workspace.job
        named = next((design for design in job.designs if design.key == self._key), None)
        if named is not None and self.isModified() and name and name != named.name:
            self.setModified(False)
            self._workspace.replace_design(replace(named, name=name), "name")
