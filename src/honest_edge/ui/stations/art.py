"""Art: finished size, sharpness, what the file said about itself."""

from __future__ import annotations

from PyQt6.QtWidgets import QLineEdit

from honest_edge.core.values.specs import CRISP_PPI, MOST_COPIES
from honest_edge.ui.fields import Count, Form, LengthField, card, label, set_tone
from honest_edge.ui.stations.panel import Panel


class ArtPanel(Panel):
    """Is it the right size, and sharp?"""

    station = "art"

    def build(self) -> None:
        """Add the cards."""
        form = Form()
        self.name = QLineEdit()
        self.name.setAccessibleName("Name")
        self.name.editingFinished.connect(self._rename)
        self.width_field = LengthField("Finished width")
        self.width_field.committed.connect(self._set_width)
        self.width_field.refused.connect(self.desk.said)
        self.height_field = LengthField("Finished height")
        self.height_field.committed.connect(self._set_height)
        self.height_field.refused.connect(self.desk.said)
        self.copies = Count("Copies", 1, MOST_COPIES)
        self.copies.committed.connect(lambda n: self.desk.edit_design("copies", copies=n))
        form.add("Name", self.name)
        form.add("Finished width", self.width_field, "Type any unit: 60 mm, 2 3/8 in, 700 px. Proportions stay.")
        form.add("Finished height", self.height_field, "The width follows.")
        form.add("Copies", self.copies)
        self.column.addWidget(form)
        self.sharp = label("", "fine")
        self.column.addWidget(self.sharp)
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

    def refresh(self) -> None:
        """Show the design in hand."""
        design, result = self.desk.design, self.desk.result
        self.setEnabled(design is not None)
        self.sand.setVisible(False)
        self.stated_card.setVisible(result is not None)
        if design is not None:
            if not self.name.hasFocus():
                self.name.setText(design.name)
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
        crisp_mm = design.width_mm * ppi / CRISP_PPI
        crisp = ppi >= CRISP_PPI - 0.5
        set_tone(self.sharp, "fine" if crisp else "look")
        word = "Crisp" if crisp else "Will look soft"
        self.sharp.setText(f"{word}: up to {self.desk.length(crisp_mm)} wide it stays at {CRISP_PPI:.0f} ppi or more.")
        self.file_name.setText(design.file_name)
        self.pixels.setText(f"{art.width_px} × {art.height_px} px")
        if art.size_source == "assumed":
            self.stated.setText(f"no size stated; {self.desk.length(art.stated_width_mm)} wide at 300 ppi")
        else:
            stated = f"{art.stated_ppi:.0f} ppi ({art.size_source})"
            self.stated.setText(f"{stated}, so {self.desk.length(art.stated_width_mm)} wide")
        self.notes.setText("\n".join(art.notes))
        self.notes.setVisible(bool(art.notes))
        self.sand.setVisible(art.size_source == "assumed" and abs(design.width_mm - art.stated_width_mm) < 1e-6)

    def _rename(self) -> None:
        design = self.desk.design
        name = self.name.text().strip()
        if design is not None and name and name != design.name:
            self.desk.edit_design("name", name=name)

    def _set_width(self, width_mm: float) -> None:
        if not self.desk.edit_design("finished width", width_mm=width_mm):
            self.width_field.mark_wrong()

    def _set_height(self, height_mm: float) -> None:
        result = self.desk.result
        if result is None:
            return
        self._set_width(height_mm * result.artwork.width_px / result.artwork.height_px)
