"""Edge: the school, its numbers, the bench's error, and the smallest change that would help."""

from __future__ import annotations

from dataclasses import replace
from typing import TYPE_CHECKING

from PyQt6.QtCore import pyqtSignal
from PyQt6.QtWidgets import QButtonGroup, QCheckBox, QVBoxLayout

from honest_edge.core.proof import register
from honest_edge.core.proof.register import of_checks
from honest_edge.core.values.specs import SCHOOL_NAMES, School, with_school
from honest_edge.ui.shared.finding_list import FindingList
from honest_edge.ui.shared.fold import Fold
from honest_edge.ui.shared.host import Host
from honest_edge.ui.shared.panel import Panel
from honest_edge.ui.shared.toolbox import Toolbox, ToolButton, brushed
from honest_edge.ui.stations.edge.change_list import ChangeList
from honest_edge.ui.stations.edge.error_fields import ErrorFields
from honest_edge.ui.stations.edge.state import EdgeState
from honest_edge.ui.table.tool import Tool
from honest_edge.ui.widgets.fields import (
    Choice,
    ChoiceCard,
    Form,
    button,
    counted,
    label,
)
from honest_edge.ui.widgets.typed import LengthField, NumberField
from honest_edge.ui.widgets.words import percent

if TYPE_CHECKING:
    from honest_edge.app.results.design_result import DesignResult
    from honest_edge.app.results.edge_assessment import EdgeAssessment
    from honest_edge.app.results.edge_preview import EdgePreview
    from honest_edge.core.edge.forecast import Forecast
    from honest_edge.core.values.job import Design

_SCHOOL_DETAILS: tuple[tuple[School, str], ...] = (
    ("border", "cut outside, stock between"),
    ("bleed", "colour carried past the cut"),
    ("inside", "lose an edge, no white"),
    ("bare", "cut where the ink ends"),
)
_TOOLS = (
    ToolButton(
        tool=Tool(name="guard", shape="brush", word="Never cut", hint="brush over what must not be cut"), key="G"
    ),
    ToolButton(tool=Tool(name="spare", shape="brush", word="May be cut", hint="brush over what may be cut"), key="S"),
)
_SAID_HERE = (
    register.INSET, register.MATTE, register.MIRROR, register.CLOTH, register.RING, register.QUIET,
)  # fmt: skip
"""What the share and the strip do not say."""
_FILLS = (
    ("nearest", "nearest colour"),
    ("plain", "plain colour"),
    ("mirror", "mirrored art"),
    ("cloth", "the cloth’s colour"),
)


class EdgePanel(Panel):
    """How should the edge come out?"""

    proposal_changed = pyqtSignal()
    """Another change is looked at, or none."""

    topic = "edge"
    habit = "edge"

    def __init__(self, host: Host, question: str, state: EdgeState) -> None:
        self._state = state
        self._assessed: str | None = None
        super().__init__(host, question)

    def build(self) -> None:
        """Add the cards."""
        self.findings = FindingList(self.host, links=False)
        self.column.addWidget(self.findings)
        self._build_schools()
        self._build_numbers()
        self.changes = ChangeList(self.workspace, self._state)
        self.changes.proposal_changed.connect(self.proposal_changed)
        self.column.addWidget(self.changes)
        self._build_rest()
        self.error = ErrorFields(self.host)
        self.column.addWidget(self.error)
        self.sheet_words = label("", "soft")
        self.column.addWidget(self.sheet_words)
        self.toolbox = Toolbox(self.host, "Detail, by hand", _TOOLS, topic="by-hand")
        self.column.addWidget(self.toolbox)
        self.forget = button("Forget what was brushed", self._forget_detail)
        self.column.addWidget(self.forget)

    def _build_schools(self) -> None:
        self.schools: dict[School, ChoiceCard] = {}
        group = QButtonGroup(self)
        ways = QVBoxLayout()
        ways.setSpacing(6)
        for school, detail in _SCHOOL_DETAILS:
            name = SCHOOL_NAMES[school]
            card = ChoiceCard(name, detail)
            card.clicked.connect(lambda _checked, school=school: self._choose(school))
            group.addButton(card)
            ways.addWidget(card)
            self.schools[school] = card
        self.column.addLayout(ways)
        self.advice = label("", "soft")
        self.column.addWidget(self.advice)
        self.side_by_side = QCheckBox("Lay all four side by side")
        self.side_by_side.setToolTip("The likely worst sticker of 20 under each school")
        self.side_by_side.toggled.connect(lambda _on: self.host.redraw(refit=True))
        self.column.addWidget(self.side_by_side)

    def _build_numbers(self) -> None:
        form = Form()
        self.offset = self._length("Offset", "offset_mm")
        self.bleed = self._length("Bleed past the cut", "bleed_mm")
        self.rings = LengthField("Rings")
        self.rings.committed.connect(self.take_rings)
        self.rings.refused.connect(self.refuse)
        self.line = Choice("Cut", (("kiss", "kiss, liner whole"), ("through", "through")))
        self.line.chosen.connect(lambda value: self._edit("line kind", line_kind=value))
        self._rows = [
            form.add("Offset", self.offset, "Distance of the cut from the art. Drag the cut on the table to set it."),
            form.add("Bleed past the cut", self.bleed, "How far the art’s colour is carried beyond the cut."),
            form.add("Cut", self.line),
        ]
        self.rings_row = form.add(
            "Rings", self.rings, "How far the sheet’s colour keeps off its stickers. Drag a ring to set it."
        )
        self.column.addWidget(form)

    def _build_rest(self) -> None:
        fine = Form()
        self.corners = Choice("Corners", (("round", "round"), ("mitre", "mitred"), ("bevel", "bevelled")))
        self.corners.chosen.connect(lambda value: self._edit("corners", corners=value))
        self.fill = Choice("Bleed filled with", _FILLS)
        self.fill.chosen.connect(lambda value: self._edit("bleed’s fill", fill=value))
        self.ease = self._length("Ease notches", "ease_mm")
        self.fatten = self._length("Fatten thin strokes", "fatten_mm")
        self.hole = NumberField("Close holes below", is_area=True)
        self.hole.committed.connect(lambda value: self._edit("holes of the cut", hole_mm2=value))
        self.hole.refused.connect(self.refuse)
        fine.add("Corners", self.corners)
        fine.add(
            "Bleed filled with",
            self.fill,
            "Mirrored suits rectangular photographs only; the cloth’s colour is in the stock’s profile.",
        )
        fine.add("Ease notches", self.ease, "Radius that rounds concave notches of the cut.")
        fine.add("Fatten thin strokes", self.fatten, "Strokes under 1.5 mm become so much thicker.")
        fine.add("Close holes below, mm²", self.hole, "Holes that the offset leaves between parts.")
        self.more = Fold(self.host, "More of the cut", topic="cut-lines")
        self.more.inside.addWidget(fine)
        self.column.addWidget(self.more)

    def _length(self, name: str, field: str) -> LengthField:
        length_field = LengthField(name)
        length_field.committed.connect(lambda value: self._edit(name.lower(), **{field: value}))
        length_field.refused.connect(self.refuse)
        return length_field

    def _choose(self, school: School) -> None:
        design = self.workspace.design
        if design is not None and design.edge.school != school:
            self.workspace.edit_design("school of edge", edge=with_school(design.edge, school))
        self.refresh()

    def _edit(self, words: str, **changes: object) -> None:
        design = self.workspace.design
        if design is None:
            return
        edge = self.workspace.build(lambda: replace(design.edge, **changes))  # type: ignore[arg-type]
        if edge is not None:
            self.workspace.edit_design(words, edge=edge)

    def show_dragged(self, preview: EdgePreview) -> None:
        """Show what a cut that is being dragged would come to."""
        self.answer.setText(percent(preview.share_clean))
        self.under.setText(f"with {preview.moved} of {self.workspace.length(preview.length_mm, 2)}, let go to take it")

    def take_offset(self, offset_mm: float) -> None:
        """Take the offset at which a dragged cut was let go."""
        self._edit("offset", offset_mm=offset_mm)
        self.refresh()

    def take_rings(self, ring_mm: float) -> None:
        """Take the width at which the rings round a sheet's stickers were let go."""
        from honest_edge.app.edits.layer_edits import with_rings

        design = self.workspace.design
        edited = None if design is None else self.workspace.build(lambda: with_rings(design, ring_mm))
        if edited is not None:
            self.workspace.replace_design(edited, "rings")
        self.refresh()

    def take_stroke(self, tool: Tool, points_mm: list[tuple[float, float]]) -> None:
        """Make what was brushed on the table a step of the recipe."""
        design, result = self.workspace.design, self.workspace.result
        if design is None or result is None:
            return
        step = self.workspace.build(lambda: brushed(tool, points_mm, result.width_mm, self.toolbox.brush_mm))
        if step is not None:
            self._edit(f"{tool.name} detail", detail=(*design.edge.detail, step))

    def _forget_detail(self) -> None:
        self._edit("forget detail by hand", detail=())

    # -- showing -------------------------------------------------------------------------------------

    def refresh(self) -> None:
        """Show the design in hand."""
        design, result = self.workspace.design, self.workspace.result
        self.setEnabled(design is not None)
        self.error.refresh()
        if design is not None:
            recipe, ppi = design.edge, result.ppi if result else 300.0
            self.schools[recipe.school].setChecked(True)
            for field, length_mm in (
                (self.offset, recipe.offset_mm),
                (self.bleed, recipe.bleed_mm),
                (self.ease, recipe.ease_mm),
                (self.fatten, recipe.fatten_mm),
            ):
                field.show_length(length_mm, self.workspace.unit, ppi)
            for row in self._rows:
                row.note(self.workspace.together_words)
            kiss = result.kiss if result else None
            self.rings_row.setVisible(kiss is not None and any(one.is_cleared for one in kiss.stickers))
            self.rings.show_length(kiss.ring_mm if kiss else 0.0, self.workspace.unit, ppi)
            self.hole.show_number(recipe.hole_mm2)
            self.corners.show_value(recipe.corners)
            self.line.show_value(recipe.line_kind)
            self.fill.show_value(recipe.fill)
            self.forget.setVisible(bool(recipe.detail))
        assessment = self._state.assessment
        self._show_schools(result, assessment)
        if not self._keep_standing(design, assessment):
            self.changes.refresh()
            self._show_advice(assessment)
            self._show_sheet(assessment)
        findings = of_checks(result.findings, *_SAID_HERE) if result else []
        self.findings.show_findings([(finding.message, finding) for finding in findings])
        if self.show_missing() or result is None:
            return
        expected = result.forecast
        self.answer.setText(percent(expected.share_clean))
        bench = self.workspace.job.measured_bench
        rests = "assumed" if bench is None else f"measured on {counted(bench.sheets, 'sheet')}"
        clean = f"of the stickers are expected clean{_give_or_take(expected)}{self._border_words(result)}"
        self.under.setText(f"{clean}; the bench is {rests}")

    def _keep_standing(self, design: Design | None, assessment: EdgeAssessment | None) -> bool:
        """Grey what was said of the same design a moment ago, so that nothing moves until it is said anew."""
        key = None if design is None else design.key
        is_old = assessment is None and key is not None and key == self._assessed
        if assessment is not None or not is_old:
            self._assessed = key if assessment is not None else None
        for said in (self.changes, self.advice, self.sheet_words):
            said.setEnabled(not is_old)
        return is_old

    def _border_words(self, result: DesignResult) -> str:
        narrowest = result.forecast.narrowest_border_mm
        if narrowest is None:
            return ""
        if narrowest <= 0:
            return f"; the border of {self.workspace.length(result.design.edge.offset_mm)} is gone somewhere in 1 of 20"
        shown = self.workspace.length(narrowest, 1)
        return f"; in 19 of 20 the border of {self.workspace.length(result.design.edge.offset_mm)} keeps {shown}"

    def _show_schools(self, result: DesignResult | None, assessment: EdgeAssessment | None) -> None:
        for tile in self.schools.values():
            tile.show_figure("", "")
        for view in assessment.views if assessment else ():
            tile = self.schools[view.school]
            tile.show_figure("–", "soft")
            tile.setToolTip(view.error)
            if view.result is not None:
                expected = view.result.forecast
                share = expected.share_clean
                tile.setToolTip(f"{percent(share)} of the stickers expected clean{_give_or_take(expected)}")
                tile.show_figure(percent(share), "danger" if share < 0.8 else "figures")
        if result is not None and assessment is None:
            self.schools[result.design.edge.school].show_figure(percent(result.forecast.share_clean), "figures")

    def _show_advice(self, assessment: EdgeAssessment | None) -> None:
        advice = assessment.advice if assessment else None
        self.advice.setVisible(advice is not None)
        if advice is not None:
            self.advice.setText(f"{SCHOOL_NAMES[advice.school]} suits this art. " + ". ".join(advice.reasons) + ".")

    def _show_sheet(self, assessment: EdgeAssessment | None) -> None:
        place, whole = (assessment.on_sheet, assessment.whole_sheet) if assessment else (None, None)
        self.sheet_words.setVisible(place is not None)
        if place is None:
            return
        length = self.workspace.length
        words = (
            f"On the sheet: {percent(place.nearest)} clean {length(place.nearest_mm, 0)} from the marks’ middle, "
            f"{percent(place.farthest)} in the farthest place, {length(place.farthest_mm, 0)} away."
        )
        if whole is not None:
            words += f" Every sticker of sheet 1 clean: {percent(whole)} of the sheets."
        self.sheet_words.setText(words)


def _give_or_take(expected: Forecast) -> str:
    return f", give or take {percent(expected.uncertainty)}" if expected.uncertainty >= 0.0005 else ""
