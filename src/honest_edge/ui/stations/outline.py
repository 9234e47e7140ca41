"""Outline: background, parts, holes, and how closely the curve follows."""

from __future__ import annotations

from dataclasses import replace

from PyQt6.QtWidgets import QCheckBox, QLineEdit

from honest_edge.ui.fields import Choice, Form, card, counted, label
from honest_edge.ui.stations.panel import Panel

_METHOD_WORDS = {
    "alpha": "Told apart by transparency.",
    "flood": "Told apart by the border's colour, from the border inward; white inside stays.",
    "none": "The whole rectangle is kept.",
}


class NumberField(QLineEdit):
    """A plain number with a unit behind it; empty means automatic."""


class OutlinePanel(Panel):
    """Where does the sticker end?"""

    station = "outline"

    def build(self) -> None:
        """Add the cards."""
        form = Form()
        self.background = Choice(
            "Background",
            (
                ("auto", "automatic"),
                ("alpha", "transparency"),
                ("flood", "from the border"),
                ("none", "keep rectangle"),
            ),
        )
        self.background.chosen.connect(lambda value: self._edit("background", background=value))
        self.tolerance = self._number("Tolerance", "tolerance", allow_empty=True)
        self.tolerance.setPlaceholderText("automatic")
        self.speck = self._number("Smallest part, mm²", "speck_mm2")
        self.hole = self._number("Smallest hole, mm²", "hole_mm2", allow_empty=True)
        self.hole.setPlaceholderText("fill all")
        form.add("Background", self.background)
        form.add("Tolerance", self.tolerance, "How far a colour may lie from the background's, 1 to 200 levels.")
        form.add("Smallest part, mm²", self.speck, "Specks below this area are left out.")
        form.add("Smallest hole, mm²", self.hole, "Holes of at least this area are cut out; empty fills every hole.")
        self.column.addWidget(form)
        self.nodes = QCheckBox("Show nodes")
        self.nodes.toggled.connect(self._show_nodes)
        self.column.addWidget(self.nodes)
        frame, inside = card()
        inside.addWidget(label("What was found", "heading"))
        self.method, self.parts, self.curve = label("", "soft"), label("", "soft"), label("", "soft")
        for line in (self.method, self.parts, self.curve):
            inside.addWidget(line)
        self.column.addWidget(frame)

    def _show_nodes(self, on: bool) -> None:
        self.desk.show_nodes = on
        self.desk.redraw_wanted.emit()

    def _number(self, name: str, field: str, *, allow_empty: bool = False) -> NumberField:
        made = NumberField()
        made.setAccessibleName(name)
        made.editingFinished.connect(lambda: self._commit(made, name, field, allow_empty))
        return made

    def _commit(self, control: NumberField, name: str, field: str, allow_empty: bool) -> None:
        design, text = self.desk.design, control.text().strip().replace(",", ".")
        if design is None or text == _shown(getattr(design.outline, field)):
            return
        if not text and allow_empty:
            self._edit(name, **{field: None})
            return
        try:
            value = float(text)
        except ValueError:
            self.desk.said.emit(f"{name}: “{text}” is no number")
            return
        self._edit(name, **{field: value})

    def _edit(self, words: str, **changes: object) -> None:
        design = self.desk.design
        if design is None:
            return
        recipe = self.desk.build(lambda: replace(design.outline, **changes))  # type: ignore[arg-type]
        if recipe is not None:
            self.desk.edit_design(words.lower(), outline=recipe)
        self.refresh()

    def refresh(self) -> None:
        """Show the design in hand."""
        design, result = self.desk.design, self.desk.result
        self.setEnabled(design is not None)
        if design is not None:
            recipe = design.outline
            self.background.show_value(recipe.background)
            for control, value in (
                (self.tolerance, recipe.tolerance),
                (self.speck, recipe.speck_mm2),
                (self.hole, recipe.hole_mm2),
            ):
                control.setText(_shown(value))
        if self.show_missing() or result is None:
            return
        outline = result.outline
        pieces = outline.part_count
        self.answer.setText(counted(pieces, "part"))
        cut_pieces = len(result.cut.area.geoms)
        joined = ", joined in one by the present cut" if pieces > 1 and cut_pieces == 1 else ""
        self.under.setText(f"{counted(pieces, 'part')} of art{joined}; {counted(outline.hole_count, 'hole')} cut out")
        method = _METHOD_WORDS[result.subject.method]
        tolerance = result.subject.tolerance
        self.method.setText(method + (f" Tolerance {tolerance:g}." if tolerance else ""))
        specks, filled = counted(outline.dropped_specks, "speck"), counted(outline.filled_holes, "hole")
        self.parts.setText(f"{specks} left out, {filled} filled.")
        nodes = sum(curve.node_count for curve in result.outline_curves)
        length_in = outline.area.length / 25.4
        self.curve.setText(
            f"{self.desk.length(outline.area.length)} long on {nodes} nodes, {nodes / length_in:.1f} an inch."
        )


def _shown(value: float | None) -> str:
    return "" if value is None else f"{value:g}"
