"""How the next picture begins, set before it is dropped: the make line's first entries."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace
from typing import TYPE_CHECKING, Any

from PyQt6.QtCore import QSignalBlocker
from PyQt6.QtWidgets import QCheckBox, QVBoxLayout, QWidget

from honest_edge.core.values.papers import PAPER_TITLE
from honest_edge.core.values.specs import MOST_COPIES, SCHOOL_NAMES, WantedSize, with_school
from honest_edge.ui.widgets.fields import Choice, label
from honest_edge.ui.widgets.flow import Flow
from honest_edge.ui.widgets.theme import px
from honest_edge.ui.widgets.typed import Count, LengthField

if TYPE_CHECKING:
    from honest_edge.ui.shared.host import Host


class BeginLine(QWidget):
    """Shows how art was made last, and takes how the next is to be made; what differs by kind of art is left empty."""

    def __init__(self, host: Host, paper_chosen: Callable[[], object]) -> None:
        super().__init__()
        self._host, self._paper_chosen = host, paper_chosen
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 6, 0, 0)
        column.setSpacing(4)
        fields = Flow()
        self.width_field = LengthField("Cut width of the next picture")
        self.width_field.setFixedWidth(px(104))
        self.width_field.setPlaceholderText("its own")
        self.width_field.committed.connect(
            lambda mm: self._set(wanted=WantedSize(of="cut", side=0, length_mm=mm) if mm else None)
        )
        self.width_field.refused.connect(lambda words: host.say(words, tone="danger"))
        self.copies = Count("Copies of the next picture", 1, MOST_COPIES)
        self.copies.committed.connect(lambda copies: self._set(copies=copies, fills=False))
        self.copies.setFixedWidth(px(72))
        self.fills = QCheckBox("full sheet")
        self.fills.clicked.connect(lambda on: self._set(fills=on))
        self.school = Choice("Edge of the next picture", [(key, name.lower()) for key, name in SCHOOL_NAMES.items()])
        self.school.chosen.connect(self._set_school)
        papers = [(name, title) for name, title in PAPER_TITLE.items() if name != "own"]
        self.paper = Choice("Paper of the next job", papers)
        self.paper.chosen.connect(self._set_paper)
        self._parts: tuple[QWidget, ...] = (
            label("It begins cut"), self.width_field, label("wide  ·  copies"), self.copies, self.fills, self.school,
            self.paper,
        )  # fmt: skip
        for part in self._parts:
            fields.addWidget(part)
        column.addLayout(fields)
        self.note = label("Some kinds of art were made otherwise last; what you set here holds for all.", "soft")
        column.addWidget(self.note)

    def refresh(self) -> None:
        """Show how art begins now."""
        from honest_edge.app.edits.habits import begins_as

        begins, unit = begins_as(self._host.habits.known), self._host.prefs.unit
        wanted = begins.wanted
        if wanted is None or wanted.of != "cut" or wanted.side:
            self.width_field.show_nothing(unit)
        else:
            self.width_field.show_length(wanted.length_mm, unit)
        self.copies.show_value(begins.copies)
        with QSignalBlocker(self.fills):
            self.fills.setChecked(begins.fills)
        self.school.show_value(begins.edge.school)
        self.paper.show_value(self._host.workspace.job.sheet.paper)
        self.note.setVisible(begins.differs)
        self.setVisible(self._host.prefs.first_drop == "line")

    def _set(self, **changes: Any) -> None:
        from honest_edge.app.edits.habits import begun_so

        self._host.habits.take(begun_so(self._host.habits.known, **changes))
        self.refresh()

    def _set_school(self, school: Any) -> None:
        from honest_edge.app.edits.habits import begins_as

        self._set(edge=with_school(begins_as(self._host.habits.known).edge, school))

    def _set_paper(self, paper: Any) -> None:
        habits = self._host.habits.known
        if habits.sheet is not None:
            self._host.habits.take(replace(habits, sheet=replace(habits.sheet, paper=paper)))
        self._host.set_prefs(replace(self._host.prefs, paper=paper))
        self._paper_chosen()
