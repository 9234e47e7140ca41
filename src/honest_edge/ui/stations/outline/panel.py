"""Outline: background, gaps, parts and holes, what hangs together, and how closely the curve follows."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace
from typing import TYPE_CHECKING, Any

from PyQt6.QtWidgets import QCheckBox, QVBoxLayout

from honest_edge.core.proof import register
from honest_edge.core.proof.register import of_checks
from honest_edge.core.values.specs import NARROWEST_HOLE_MM, OutlineRecipe
from honest_edge.ui.shared.backgrounds import BACKGROUNDS
from honest_edge.ui.shared.finding_list import FindingList
from honest_edge.ui.shared.fold import Fold
from honest_edge.ui.shared.host import Host
from honest_edge.ui.shared.panel import Panel
from honest_edge.ui.shared.toolbox import Toolbox, brushed
from honest_edge.ui.stations.outline import tools
from honest_edge.ui.stations.outline.component_lists import ComponentList, GapList, StepList
from honest_edge.ui.stations.outline.subject_card import SubjectCard
from honest_edge.ui.stations.outline.together_card import TogetherCard
from honest_edge.ui.stations.outline.true_card import TrueCard
from honest_edge.ui.table.tool import Tool
from honest_edge.ui.widgets.fields import (
    Choice,
    Form,
    button,
    card,
    counted,
    label,
    paint_button,
    row,
    set_tone,
)
from honest_edge.ui.widgets.number_slider import NumberSlider
from honest_edge.ui.widgets.theme import px
from honest_edge.ui.widgets.typed import LengthField, NumberField

if TYPE_CHECKING:
    from honest_edge.app.edits.outline_edits import Picked
    from honest_edge.app.results.design_result import DesignResult
    from honest_edge.app.results.fitted_outline import FittedOutline

_METHOD_WORDS = {
    "alpha": "Told apart by transparency.",
    "flood": "Told apart by the border’s colour, from the border inward; white inside stays.",
    "colour": "This colour is cleared everywhere, inside the art too.",
    "none": "The whole rectangle is kept.",
}


class OutlinePanel(Panel):
    """Where does the sticker end?"""

    topic = "outline"
    habit = "outline"

    def __init__(self, host: Host, question: str, fitted: Callable[[], FittedOutline | None]) -> None:
        """Take what returns the curves of the outline in hand, None until they are there."""
        self._fitted = fitted
        super().__init__(host, question)

    def build(self) -> None:
        """Add the cards."""
        self._gesture = -1
        self._build_background()
        self.gaps = GapList(self.host)
        self.toolbox = Toolbox(self.host, "By hand, on the table", tools.BUTTONS, topic="by-hand")
        self.subject = SubjectCard(self.host, self._turn, self._edit_recipe)
        self.steps = StepList(self.host)
        for widget in (self.gaps, self.toolbox, self.subject, self.steps):
            self.column.addWidget(widget)
        self._build_parts()
        self._build_curve()

    def _build_background(self) -> None:
        form = Form()
        self.background = Choice("Background", BACKGROUNDS)
        self.background.chosen.connect(lambda value: self._edit("background", background=value))
        form.add("Background", self.background)
        self.colour = button("from the border", self._pick_colour)
        self.colour.setAccessibleName("Background colour")
        form.add(
            "Its colour",
            self.colour,
            "Press, then click the background on the table; press again to take the border’s.",
        )
        self.column.addWidget(form)
        self.background_form = form
        self.method = label("", "soft")
        self.column.addWidget(self.method)
        self.kept = FindingList(self.host, links=False)
        self.column.addWidget(self.kept)
        self.tolerance = self._slider(
            "tolerance",
            NumberSlider(
                "Tolerance",
                1,
                200,
                digits=0,
                unit="levels",
                automatic=True,
                tip="How far a colour may lie from the background’s. Automatic measures the picture’s own noise.",
            ),
        )
        self.threshold = self._slider(
            "threshold",
            NumberSlider(
                "Threshold",
                0.02,
                0.98,
                digits=2,
                unit="",
                automatic=False,
                tip="How much of a soft edge must be art to count as art.",
            ),
        )

    def _build_parts(self) -> None:
        form = Form()
        self.speck = self._area("Smallest part", "speck_mm2")
        self.hole = self._area("Smallest hole", "hole_mm2", allow_empty=True)
        self.hole.setPlaceholderText("fill all")
        form.add("Smallest part, mm²", self.speck, "Specks below this area are left out.")
        form.add("Smallest hole, mm²", self.hole, "Holes of at least this area are cut out; empty fills every hole.")
        self.column.addWidget(form)
        self.hole_rule = label("", "soft")
        self.column.addWidget(self.hole_rule)
        self.parts = ComponentList(self.host, "part")
        self.holes = ComponentList(self.host, "hole")
        self.column.addWidget(self.parts)
        self.column.addWidget(self.holes)
        self.together = TogetherCard(self.workspace)
        self.true = TrueCard(self.workspace)
        for one in (self.together, self.true):
            self.column.addWidget(one)
        self.fine, inside = card("sand", topic="blades")
        inside.addWidget(label("Assumed, not measured", "look"))
        self.narrowest = LengthField("Narrowest strand or gap")
        self.narrowest.committed.connect(lambda value: self.workspace.edit_job("narrowest strand", narrowest_mm=value))
        self.narrowest.refused.connect(self.refuse)
        self.narrowest.setFixedWidth(px(120))
        inside.addLayout(row(label("The blade follows down to"), self.narrowest))
        self.narrow = label()
        inside.addWidget(self.narrow)
        self.column.addWidget(self.fine)

    def _build_curve(self) -> None:
        fold = Fold(self.host, "The curve", topic="outline")
        self.smoothness = self._slider(
            "smoothness_mm",
            NumberSlider(
                "Smoothness",
                0.005,
                1.0,
                digits=3,
                unit="mm",
                automatic=True,
                tip="How far the curve may stray from the raw edge: more gives fewer nodes.",
            ),
            fold.inside,
        )
        self.corners = self._slider(
            "corner_deg",
            NumberSlider(
                "Corners from",
                10,
                120,
                digits=0,
                unit="°",
                automatic=False,
                tip="A turn sharper than this stays a corner; a larger number rounds more of them.",
            ),
            fold.inside,
        )
        self.curve = label("", "soft")
        fold.inside.addWidget(self.curve)
        self.nodes = QCheckBox("Show nodes")
        self.nodes.toggled.connect(lambda _on: self.host.redraw())
        self.deviation = QCheckBox("Show deviation, 20 times")
        self.deviation.setToolTip("How far the curve lies beside the raw edge, drawn 20 times as large")
        self.deviation.toggled.connect(lambda _on: self.host.redraw())
        for tick in (self.nodes, self.deviation):
            fold.inside.addWidget(tick)
        self.column.addWidget(fold)

    # -- edits ---------------------------------------------------------------------------------------

    def _slider(self, field: str, slider: NumberSlider, where: QVBoxLayout | None = None) -> NumberSlider:
        slider.moved.connect(lambda value, goes_on: self._turn(field, value, goes_on))
        slider.refused.connect(self.refuse)
        (self.column if where is None else where).addWidget(slider)
        return slider

    def _turn(self, field: str, value: float | None, goes_on: bool) -> None:
        if not goes_on:
            self._gesture = self.workspace.new_gesture()
        self._edit(field.split("_")[0], merge=self._gesture, **{field: value})

    def _area(self, name: str, field: str, *, allow_empty: bool = False) -> NumberField:
        area_field = NumberField(name, allow_empty=allow_empty, is_area=True)
        area_field.committed.connect(lambda value: self._edit(name, merge=-1, **{field: value}))
        area_field.refused.connect(self.refuse)
        return area_field

    def _edit(self, words: str, *, merge: int = -1, **changes: Any) -> None:
        design = self.workspace.design
        if design is None:
            return
        recipe = self.workspace.build(lambda: replace(design.outline, **changes))
        self.workspace.edit_outline(words.lower(), recipe, merge=merge)
        self.refresh()

    def _pick_colour(self) -> None:
        design = self.workspace.design
        if design is not None and design.outline.colour is not None:
            self._edit("background colour", colour=None)
            return
        self.toolbox.take(tools.PICK)
        self.colour.setText("click it on the table")

    # -- the table -----------------------------------------------------------------------------------

    def lay_tools_down(self) -> None:
        """Lay down whatever is in hand."""
        for box in (self.toolbox, self.subject.toolbox):
            box.take(None)

    def take_stroke(self, tool: Tool, points_mm: list[tuple[float, float]]) -> None:
        """Make what was drawn on the table a step of the recipe."""
        design, result = self.workspace.design, self.workspace.result
        if design is None or result is None:
            return
        if tool == tools.PICK:
            self._take_colour(result, points_mm[-1])
            return
        if tool == tools.AREA:
            self._take_area(result, points_mm)
            return
        if tool in tools.LOOPS:
            self.subject.take_loop(tool, points_mm, result.width_mm)
            return
        if tool == tools.DAM and len(points_mm) < 2:
            return
        box = self.subject.toolbox if design.outline.background == "subject" else self.toolbox
        step = self.workspace.build(lambda: brushed(tool, points_mm, result.width_mm, box.brush_mm))
        if step is not None:
            self._edit(tool.name, corrections=(*design.outline.corrections, step))

    def _take_colour(self, result: DesignResult, place: tuple[float, float]) -> None:
        x, y = (int(value / result.outline.pixel_mm) for value in place)
        if 0 <= x < result.artwork.width_px and 0 <= y < result.artwork.height_px:
            red, green, blue = (int(level) for level in result.artwork.pixels[y, x, :3])
            kept = self.workspace.design.outline.background if self.workspace.design else "flood"
            background = kept if kept in ("flood", "colour") else "flood"
            self._edit("background colour", colour=(red, green, blue), background=background)
        self.toolbox.take(None)

    def _edit_recipe(self, words: str, recipe: OutlineRecipe) -> None:
        self.workspace.edit_outline(words, recipe)
        self.lay_tools_down()
        self.refresh()

    def _take_area(self, result: DesignResult, points: list[tuple[float, float]]) -> None:
        (x0, y0), (x1, y1) = points[0], points[-1]
        wide, high = result.width_mm, result.height_mm
        xs, ys = (sorted(min(max(v / s, 0.0), 1.0) for v in pair) for pair, s in (((x0, x1), wide), ((y0, y1), high)))
        whole = len(points) < 2 or xs[1] - xs[0] < 0.01 or ys[1] - ys[0] < 0.01
        self._edit("trace area", trace_area=None if whole else (xs[0], ys[0], xs[1], ys[1]))
        self.toolbox.take(None)

    def turn_round(self, picked: Picked) -> None:
        """Drop what is kept, keep what is dropped."""
        from honest_edge.app.edits.outline_edits import turned_round

        design, result = self.workspace.design, self.workspace.result
        if design is None or result is None:
            return
        kept = [part for part in result.outline.parts if part.kept]
        if picked.kind == "part" and picked.component.kept and len(kept) == 1:
            self.refuse("This is the only part: a sticker needs at least one")
            return
        self.workspace.edit_outline(
            f"{'leave out' if picked.component.kept else 'keep'} a {picked.kind}",
            turned_round(design.outline, picked, result.width_mm),
        )

    # -- showing -------------------------------------------------------------------------------------

    def refresh(self) -> None:
        """Show the design in hand."""
        design, result = self.workspace.design, self.workspace.result
        self.setEnabled(design is not None)
        if result is None:
            for widget in (self.gaps, self.parts, self.holes, self.together, self.true):
                widget.hide()
        self.fine.setVisible(result is not None)
        self.steps.refresh()
        said = (
            of_checks(result.findings, register.SHADED, register.BAYS, register.GROUND, register.SLIT) if result else ()
        )
        self.kept.show_findings([(finding.message, finding) for finding in said])
        if design is not None:
            recipe = design.outline
            self.background.show_value(recipe.background)
            self.threshold.show_value(recipe.threshold)
            self.corners.show_value(recipe.corner_deg)
            measured = result.subject.tolerance if result else None
            self.tolerance.show_value(recipe.tolerance or measured or 16.0, automatic=recipe.tolerance is None)
            follows = result.outline.style.tolerance_mm if result else 0.024
            self.smoothness.show_value(recipe.smoothness_mm or follows, automatic=recipe.smoothness_mm is None)
            self.speck.show_number(recipe.speck_mm2)
            self.hole.show_number(recipe.hole_mm2)
            self._show_colour(result)
            # layers are told from nothing: their outline is known
            is_subject = recipe.background == "subject" and not design.is_layered
            self.background_form.setVisible(not design.is_layered)
            self.threshold.setVisible(not design.is_layered)
            self.toolbox.setVisible(not design.is_layered and not is_subject)
            self.subject.setVisible(is_subject)
            self.subject.closely.show_value(recipe.closely_mm)
            self.steps.setVisible(bool(recipe.corrections) and not design.is_layered)
        if self.show_missing() or result is None:
            return
        self._show_found(result)

    def _show_colour(self, result: DesignResult | None) -> None:
        design = self.workspace.design
        rgb = design.outline.colour if design else None
        if rgb is None and result is not None:
            rgb = result.subject.background_rgb
        by_colour = rgb is not None
        self.colour.setEnabled(True)
        self.tolerance.setVisible(by_colour and design is not None and not design.is_layered)
        if rgb is None:
            self.colour.setText("pick on the table")
            self.colour.setStyleSheet("")
            return
        chosen = design is not None and design.outline.colour is not None
        paint_button(self.colour, rgb, "" if chosen else ", found")

    def _show_found(self, result: DesignResult) -> None:
        outline, workspace = result.outline, self.workspace
        pieces, loose = outline.part_count, len(result.cut.area.geoms)
        self.answer.setText(counted(pieces, "part"))
        joined = "joined in one by the present cut; " if pieces > 1 and loose == 1 else ""
        self.under.setText(
            f"{joined}{counted(outline.hole_count, 'hole') if outline.hole_count else 'no hole'} cut out"
        )
        known = "Known exactly from its layers."
        words = self.subject.words(result) or _METHOD_WORDS[result.subject.method]
        self.method.setText(known if result.composed is not None else words)
        self.gaps.show_leaks(result)
        self.hole_rule.setText(
            f"Holes that the border leaves between parts are closed below {result.design.edge.hole_mm2:g} mm². "
            f"Holes of the art stay; where less than {workspace.length(NARROWEST_HOLE_MM)} is left, it is marked."
        )
        self.parts.show_components(outline.parts)
        self.holes.show_components(outline.holes)
        self.together.show_result(result, pieces, loose)
        self.true.show_result(result)
        self.narrowest.show_length(workspace.job.narrowest_mm, workspace.unit)
        strands = sum(place.kind == "strand" for place in result.narrow)
        gaps = len(result.narrow) - strands
        self.narrow.setText(
            f"{counted(strands, 'strand')} and {counted(gaps, 'gap')} of the cut are narrower; they are marked."
            if result.narrow
            else "No strand or gap of the cut is narrower."
        )
        set_tone(self.narrow, "look" if result.narrow else "soft")
        self._show_curve(outline.area.length)

    def _show_curve(self, length_mm: float) -> None:
        fitted, length = self._fitted(), self.workspace.length
        if fitted is None:
            self.curve.setText(f"{length(length_mm)}; its curves are being fitted …")
            return
        self.curve.setText(
            f"Greatest deviation {length(fitted.deviation_mm, 3)}; {length(length_mm)} "
            f"on {fitted.node_count} nodes, {fitted.node_count / (length_mm / 25.4):.1f} an inch."
        )
