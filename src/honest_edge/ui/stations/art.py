"""Art: finished size, sharpness, what the file said about itself."""

from __future__ import annotations

from dataclasses import replace
from typing import TYPE_CHECKING, Any

from PyQt6.QtCore import QSignalBlocker
from PyQt6.QtWidgets import QCheckBox, QLineEdit

from honest_edge.core.values.comparison import COMPARISONS, typed_comparison
from honest_edge.core.values.specs import CRISP_PPI
from honest_edge.ui.fields import Choice, Count, Form, LengthField, button, card, label, set_tone
from honest_edge.ui.stations.naming import NameField, copies_field
from honest_edge.ui.stations.panel import Panel

if TYPE_CHECKING:
    from honest_edge.app.pipeline import DesignResult
    from honest_edge.core.values.artwork import Artwork
    from honest_edge.core.values.job import Design

_TYPED = "typed"


class ArtPanel(Panel):
    """Is it the right size, and sharp?"""

    station = "art"

    def build(self) -> None:
        """Add the cards."""
        form = Form()
        self.name = NameField(self.desk)
        self.width_field = LengthField("Finished width")
        self.width_field.committed.connect(self._set_width)
        self.width_field.refused.connect(self.desk.said)
        self.height_field = LengthField("Finished height")
        self.height_field.committed.connect(self._set_height)
        self.height_field.refused.connect(self.desk.said)
        self.copies = copies_field(self.desk)
        form.add("Name", self.name)
        form.add("Finished width", self.width_field, "Type any unit: 60 mm, 2 3/8 in, 700 px. Proportions stay.")
        form.add("Finished height", self.height_field, "The width follows.")
        form.add("Copies", self.copies)
        self.page = Count("Page", 1, 10_000)
        self.page.committed.connect(lambda page: self._set_source("page", page=page))
        self.page_row = form.add("Page", self.page, "Which page of the file")
        self.column.addWidget(form)
        self.sharp = label("", "fine")
        self.column.addWidget(self.sharp)
        self.layers_card, self.layers = card()
        self.layers.addWidget(label("Layers of the file", "heading"))
        self.layer_ticks: list[QCheckBox] = []
        self.column.addWidget(self.layers_card)
        self.split_card, inside = card()
        self.split_words = label()
        inside.addWidget(self.split_words)
        self.split = button("Split", self.desk.split_wanted.emit)
        inside.addWidget(self.split)
        self.column.addWidget(self.split_card)
        self._build_comparison()
        self.to_layers = button("Add words, shapes or pictures", self._to_layers)
        self.to_layers.setToolTip("Makes this picture the first of several layers")
        self.column.addWidget(self.to_layers)
        self.stated_card, inside = card()
        inside.addWidget(label("What the file says", "heading"))
        self.file_name, self.pixels, self.stated, self.notes = (
            label(),
            label("", "soft"),
            label("", "soft"),
            label("", "soft"),
        )
        for line in (self.file_name, self.pixels, self.stated, self.notes):
            inside.addWidget(line)
        self.column.addWidget(self.stated_card)
        self.sand, inside = card("sand")
        inside.addWidget(label("Assumed, not stated", "look"))
        inside.addWidget(
            label("The file names no size, so 300 ppi was taken. Hold a ruler to where it will go and type the width.")
        )
        self.column.addWidget(self.sand)

    def _build_comparison(self) -> None:
        frame, inside = card()
        inside.addWidget(label("Hold it against", "heading"))
        options = (("", "nothing"), *((c.name, c.name) for c in COMPARISONS), (_TYPED, "typed size"))
        self.compare = Choice("Hold it against", options)
        self.compare.chosen.connect(self._compare)
        self.compare_size = QLineEdit()
        self.compare_size.setAccessibleName("Size to compare with")
        self.compare_size.setPlaceholderText("63 mm, or 2 x 3 in")
        self.compare_size.editingFinished.connect(lambda: self._compare(_TYPED))
        self.compare_size.hide()
        self.ruler = QCheckBox("Lay a ruler on the table")
        self.ruler.setToolTip("Drag it where you need it")
        self.ruler.toggled.connect(self._lay_ruler)
        for widget in (self.compare, self.compare_size, self.ruler):
            inside.addWidget(widget)
        self.column.addWidget(frame)

    def _compare(self, name: str) -> None:
        self.compare_size.setVisible(name == _TYPED)
        known = {c.name: c for c in COMPARISONS}
        if name != _TYPED:
            self.desk.compare = known.get(name)
        elif self.compare_size.text().strip():
            typed = self.desk.build(lambda: typed_comparison(self.compare_size.text(), self.desk.unit))
            if typed is None:
                return
            self.desk.compare = typed
        self.desk.redraw_wanted.emit()

    def _lay_ruler(self, on: bool) -> None:
        self.desk.lay_ruler = on
        self.desk.redraw_wanted.emit()

    def _to_layers(self) -> None:
        from honest_edge.app.layering import turned_layered

        design, result = self.desk.design, self.desk.result
        if design is not None and result is not None:
            made = turned_layered(design, result.height_mm)
            if self.desk.replace_design(made, "make layers"):
                self.desk.take_layers((made.layers[0].key,))

    def _set_source(self, words: str, **changes: Any) -> None:
        design = self.desk.design
        if design is not None:
            source = self.desk.build(lambda: replace(design.source, **changes))
            if source is not None:
                self.desk.edit_design(words, source=source)

    def _show_file(self, design: Design, art: Artwork) -> None:
        """Show what of the file is used: its page and its layers."""
        self.page_row.setVisible(art.page_count > 1)
        self.page.setMaximum(max(1, art.page_count))
        self.page.show_value(design.source.page)
        self.layers_card.setVisible(bool(art.layers))
        if [tick.text() for tick in self.layer_ticks] != list(reversed(art.layers)):
            for old in self.layer_ticks:
                self.layers.removeWidget(old)
                old.setParent(None)
                old.deleteLater()
            self.layer_ticks = [self._layer(index, name) for index, name in reversed(list(enumerate(art.layers)))]
        for index, tick in enumerate(reversed(self.layer_ticks)):
            with QSignalBlocker(tick):
                tick.setChecked(index not in design.source.hidden_layers)

    def _layer(self, index: int, name: str) -> QCheckBox:
        tick = QCheckBox(name)
        tick.clicked.connect(lambda on: self._show_layer(index, on))
        self.layers.addWidget(tick)
        return tick

    def _show_layer(self, index: int, on: bool) -> None:
        design = self.desk.design
        if design is not None:
            hidden = {*design.source.hidden_layers, index} - ({index} if on else set())
            self._set_source("layers", hidden_layers=tuple(sorted(hidden)))

    def _show_split(self, result: DesignResult) -> None:
        drawings = len(result.cut.area.geoms)
        self.split_card.setVisible(drawings > 1)
        self.split_words.setText(f"This picture holds {drawings} separate drawings at the present offset.")
        self.split.setText(f"Split into {drawings} designs")

    def refresh(self) -> None:
        """Show the design in hand."""
        design, result = self.desk.design, self.desk.result
        self.setEnabled(design is not None)
        self.sand.setVisible(False)
        self.stated_card.setVisible(result is not None)
        self.to_layers.setEnabled(result is not None)
        for widget in (self.page_row, self.layers_card, self.split_card):
            widget.setVisible(False)
        if design is not None:
            self.name.show_design(design)
            self.width_field.show_length(design.width_mm, self.desk.unit)
            self.copies.show_value(design.copies)
        if result is None or design is None:
            self.show_missing()
            self.sharp.setText("")
            return
        art = result.artwork
        height_mm = design.width_mm * art.height_px / art.width_px
        ppi = art.ppi_at(design.width_mm)
        self.height_field.show_length(height_mm, self.desk.unit, ppi)
        self.width_field.show_length(design.width_mm, self.desk.unit, ppi)
        self.answer.setText(f"{ppi:.0f} ppi")
        self.under.setText(f"at {self.desk.length(design.width_mm)} × {self.desk.length(height_mm)}")
        if art.is_vector:
            set_tone(self.sharp, "fine")
            self.sharp.setText("A drawing: it stays crisp at every size.")
        crisp_mm = design.width_mm * ppi / CRISP_PPI
        crisp = ppi >= CRISP_PPI - 0.5
        if not art.is_vector:
            set_tone(self.sharp, "fine" if crisp else "look")
            word = "Crisp" if crisp else "Will look soft"
            crisp_to = self.desk.length(crisp_mm)
            self.sharp.setText(f"{word}: up to {crisp_to} wide it stays at {CRISP_PPI:.0f} ppi or more.")
        self._show_file(design, art)
        self._show_split(result)
        self.file_name.setText(design.file_name)
        drawn = "drawn as " if art.is_vector else ""
        self.pixels.setText(f"{drawn}{art.width_px} × {art.height_px} px")
        if art.size_source == "assumed":
            self.stated.setText(f"no size stated; {self.desk.length(art.stated_width_mm)} wide at 300 ppi")
        else:
            said = [f"{source}: {self._meaning(art, ppi)}" for source, ppi in art.statements]
            taken = f"\nThey differ; {art.size_source} was taken." if art.has_conflict else ""
            self.stated.setText("\n".join(said) + taken)
        set_tone(self.stated, "look" if art.has_conflict else "soft")
        self.notes.setText("\n".join(art.notes))
        self.notes.setVisible(bool(art.notes))
        self.sand.setVisible(art.size_source == "assumed" and abs(design.width_mm - art.stated_width_mm) < 1e-6)

    def _meaning(self, art: Artwork, ppi: float) -> str:
        width = f"{self.desk.length(art.width_px / ppi * 25.4)} wide"
        return width if art.is_vector else f"{ppi:.0f} ppi, so {width}"

    def _set_width(self, width_mm: float) -> None:
        if not self.desk.edit_design("finished width", width_mm=width_mm):
            self.width_field.mark_wrong()

    def _set_height(self, height_mm: float) -> None:
        result = self.desk.result
        if result is None:
            return
        self._set_width(height_mm * result.artwork.width_px / result.artwork.height_px)
