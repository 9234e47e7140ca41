"""Parts that are meant to be discs or boxes are made so, all at once."""

from __future__ import annotations

from collections import Counter
from collections.abc import Sequence
from dataclasses import replace
from typing import TYPE_CHECKING

from PyQt6.QtWidgets import QVBoxLayout, QWidget

from honest_edge.ui.shared.workspace import Workspace
from honest_edge.ui.widgets.fields import button, card, label

if TYPE_CHECKING:
    from honest_edge.app.results.design_result import DesignResult
    from honest_edge.core.outline.true_form import FormKind

_SEVERAL = {"disc": "discs", "box": "boxes", "rounded box": "rounded boxes"}


class TrueCard(QWidget):
    """Shown where traced parts are almost a plain form, or were made one."""

    def __init__(self, workspace: Workspace) -> None:
        super().__init__()
        self._workspace, self._offered_mm = workspace, 0.0
        frame, inside = card(topic="outline")
        inside.addWidget(label("True forms", "heading"))
        self.words = label()
        self.make = button("Make it true", lambda: self._set(self._offered_mm, "true forms"))
        self.leave = button("As it was traced", lambda: self._set(0.0, "forms as they were traced"))
        for widget in (self.words, self.make, self.leave):
            inside.addWidget(widget)
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.addWidget(frame)

    def _set(self, true_mm: float, words: str) -> None:
        design = self._workspace.design
        if design is not None:
            self._workspace.edit_outline(words, replace(design.outline, true_mm=true_mm))

    def show_result(self, result: DesignResult) -> None:
        """Show what of the parts is meant to be a plain form, and how far it strays."""
        offered = result.outline.true_forms
        self._offered_mm = offered.within_mm
        forms = () if result.design.is_layered else offered.kinds
        is_made = result.design.outline.true_mm > 0
        self.setVisible(bool(forms) or is_made)
        self.make.setVisible(bool(forms) and not is_made)
        self.leave.setVisible(is_made)
        named = _named(forms)
        strays = self._workspace.length(self._offered_mm, 1)
        self.words.setText(f"{named}, to within {strays}." if forms else "")
        self.make.setText("Make it true" if len(forms) == 1 else "Make them true")


def _named(forms: Sequence[FormKind]) -> str:
    """Return forms in words, such as "39 rounded boxes, 1 disc"."""
    counts = Counter(forms).most_common()
    return ", ".join(f"{count} {kind if count == 1 else _SEVERAL[kind]}" for kind, count in counts)
