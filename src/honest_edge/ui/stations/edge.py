"""Edge: the school, its numbers, the assumed drift and the smallest change that would help."""

from __future__ import annotations

from dataclasses import replace

from PyQt6.QtWidgets import QButtonGroup, QVBoxLayout

from honest_edge.core.values.specs import School, with_school
from honest_edge.ui.fields import Choice, ChoiceCard, Form, LengthField, button, card, label, row
from honest_edge.ui.stations.panel import Panel

_SCHOOLS: tuple[tuple[School, str, str], ...] = (
    ("border", "White border", "cut outside, paper white between"),
    ("bleed", "Full bleed", "colour carried past the cut"),
    ("inside", "Cut inside", "lose a rim, no white"),
    ("bare", "Bare", "cut at the ink, nothing added"),
)


class EdgePanel(Panel):
    """How should the edge come out?"""

    station = "edge"

    def build(self) -> None:
        """Add the cards."""
        self.schools: dict[School, ChoiceCard] = {}
        group = QButtonGroup(self)
        for school, name, detail in _SCHOOLS:
            made = ChoiceCard(name, detail)
            made.clicked.connect(lambda _checked, school=school: self._choose(school))
            group.addButton(made)
            self.schools[school] = made
        ways = QVBoxLayout()
        ways.setSpacing(6)
        for made in self.schools.values():
            ways.addWidget(made)
        self.column.addLayout(ways)
        form = Form()
        self.offset = self._length("Offset", "offset_mm")
        self.bleed = self._length("Bleed past the cut", "bleed_mm")
        self.corners = Choice("Corners", (("round", "round"), ("mitre", "mitred"), ("bevel", "bevelled")))
        self.corners.chosen.connect(lambda value: self._edit("corners", corners=value))
        self.line = Choice("Cut", (("kiss", "kiss, liner whole"), ("through", "through")))
        self.line.chosen.connect(lambda value: self._edit("line kind", line_kind=value))
        form.add("Offset", self.offset, "Distance of the cut from the art.")
        form.add("Bleed past the cut", self.bleed, "How far the art's colour is carried beyond the cut.")
        form.add("Corners", self.corners)
        form.add("Cut", self.line)
        self.column.addWidget(form)
        sand, inside = card("sand")
        inside.addWidget(label("Assumed, not measured", "look"))
        self.drift = LengthField("Drift of print against cut")
        self.drift.committed.connect(self._set_drift)
        self.drift.refused.connect(self.desk.said)
        self.drift.setFixedWidth(96)
        inside.addLayout(row(label("Print and cut agree within"), self.drift))
        self.column.addWidget(sand)
        self.mend, inside = card("look")
        self.mend_words = label("", "heading")
        inside.addWidget(self.mend_words)
        self.mend_button = button("Use this", self._use_change, filled=True)
        inside.addWidget(self.mend_button)
        self.column.addWidget(self.mend)

    def _length(self, name: str, field: str) -> LengthField:
        made = LengthField(name)
        made.committed.connect(lambda value: self._edit(name.lower(), **{field: value}))
        made.refused.connect(self.desk.said)
        return made

    def _choose(self, school: School) -> None:
        design = self.desk.design
        if design is not None and design.edge.school != school:
            self.desk.edit_design("school of edge", edge=with_school(design.edge, school))
        self.refresh()

    def _edit(self, words: str, **changes: object) -> None:
        design = self.desk.design
        if design is None:
            return
        edge = self.desk.build(lambda: replace(design.edge, **changes))  # type: ignore[arg-type]
        if edge is not None:
            self.desk.edit_design(words, edge=edge)

    def _set_drift(self, drift_mm: float) -> None:
        self.desk.edit_job("assumed drift", drift_mm=drift_mm)

    def _use_change(self) -> None:
        if self.desk.change is not None:
            self.desk.edit_design(self.desk.change.name.lower(), edge=self.desk.change.edge)

    def refresh(self) -> None:
        """Show the design in hand."""
        design, result = self.desk.design, self.desk.result
        self.setEnabled(design is not None)
        self.mend.setVisible(self.desk.change is not None)
        if self.desk.change is not None:
            change = self.desk.change
            lengths = f"{self.desk.length(change.before_mm, 2)} → {self.desk.length(change.after_mm, 2)}"
            self.mend_words.setText(f"To stand the drift:\n{change.name} {lengths}")
        self.drift.show_length(self.desk.job.drift_mm, self.desk.unit)
        if design is not None:
            self.schools[design.edge.school].setChecked(True)
            ppi = result.ppi if result else 300.0
            self.offset.show_length(design.edge.offset_mm, self.desk.unit, ppi)
            self.bleed.show_length(design.edge.bleed_mm, self.desk.unit, ppi)
            self.corners.show_value(design.edge.corners)
            self.line.show_value(design.edge.line_kind)
        if self.show_missing() or result is None:
            return
        narrowest = result.edge.narrowest_mm
        self.answer.setText(self.desk.length(narrowest, 2))
        self.under.setText("of drift before anything shows, at the weakest place")
