"""How many copies of the design in hand: a number, or as many as fill the sheet."""

from __future__ import annotations

from PyQt6.QtCore import QSignalBlocker
from PyQt6.QtWidgets import QCheckBox

from honest_edge.core.values.job import Design
from honest_edge.core.values.specs import MOST_COPIES
from honest_edge.ui.shared.workspace import Workspace
from honest_edge.ui.widgets.fields import Form
from honest_edge.ui.widgets.typed import Count


class CopiesRows:
    """Two rows of a form; a number that is typed ends the filling."""

    def __init__(self, workspace: Workspace, form: Form) -> None:
        self._workspace = workspace
        self.count = Count("Copies", 0, MOST_COPIES)
        self.count.committed.connect(lambda count: workspace.edit_design("copies", copies=count, fills=False))
        self.fills = QCheckBox("Fill the sheet")
        self.fills.setToolTip("As many copies as the sheets have room for beside the others")
        self.fills.clicked.connect(self._fill)
        self._row = form.add("Copies", self.count)
        form.add_wide(self.fills)

    def _fill(self, on: bool) -> None:
        """Fill, or keep as many copies as are laid now."""
        design = self._workspace.design
        laid = self._workspace.laid_of(self._workspace.current)
        if design is not None:
            copies = laid if laid and not on else design.copies
            self._workspace.edit_design("fill the sheet", fills=on, copies=copies)

    def show_design(self, design: Design | None) -> None:
        """Show the copies of the design in hand, and while it fills the sheet how many that are."""
        self.count.setEnabled(design is not None)
        self.fills.setEnabled(design is not None)
        if design is None:
            return
        laid = self._workspace.laid_of(design.key) if design.fills else None
        self.count.show_value(design.copies if laid is None else laid)
        self._row.note(self._workspace.together_words)
        with QSignalBlocker(self.fills):
            self.fills.setChecked(design.fills)
        self.fills.setText("Fill the sheet" if laid is None else f"Fill the sheet: {laid} now")
