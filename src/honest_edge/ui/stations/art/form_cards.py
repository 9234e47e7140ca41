"""The cards of a design on a form: its sizes, its stickers in rows, and the table that fills it."""

from __future__ import annotations

from dataclasses import replace

from PyQt6.QtWidgets import QVBoxLayout, QWidget

from honest_edge.core.values.cautions import while_made
from honest_edge.core.values.forms import form_title
from honest_edge.core.values.job import Design
from honest_edge.ui.shared.host import Host
from honest_edge.ui.stations.art.form_fields import FormFields
from honest_edge.ui.stations.art.grid_rows import GridRows
from honest_edge.ui.stations.art.state import LayersState
from honest_edge.ui.stations.art.table_card import TableCard
from honest_edge.ui.widgets.fields import (
    Form,
    button,
    card,
    label,
)
from honest_edge.ui.widgets.typed import LengthField


class FormCards(QWidget):
    """Shown where the design in hand has a form."""

    def __init__(self, host: Host, state: LayersState) -> None:
        super().__init__()
        self.workspace, self._state = host.workspace, state
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(12)
        frame, inside = card(topic="forms")
        self.title = label("", "heading")
        inside.addWidget(self.title)
        self.fields = FormFields(host, lambda words, form: self.workspace.edit_design(words, form=form))
        inside.addWidget(self.fields)
        self.caution = label("", "look")
        inside.addWidget(self.caution)
        rows = Form(narrow=True)
        self.clear = LengthField("Words kept clear of cuts by")
        self.clear.committed.connect(lambda value: self.workspace.edit_job("words kept clear", kept_clear_mm=value))
        self.clear.refused.connect(lambda text: host.say(text, tone="danger"))
        rows.add("Words keep clear", self.clear, "Words closer to a cut or a hole are marked; 3 mm is common practice")
        inside.addWidget(rows)
        self.grid = GridRows(host, state)
        inside.addWidget(self.grid)
        self.fill = button("Fill it with stickers of all designs", self._fill)
        self.fill.setToolTip("Lays all other designs of the job on it in turn, in even rows, as many as it holds")
        inside.addWidget(self.fill)
        self.spread = button("Spread the stickers evenly", self._spread)
        self.spread.setToolTip("Lays all stickers of this sheet in rows, below the title")
        inside.addWidget(self.spread)
        column.addWidget(frame)
        self.table = TableCard(host)
        column.addWidget(self.table)

    def show_design(self, design: Design) -> None:
        """Show a design's form and table."""
        self.setVisible(design.form is not None)
        if design.form is None:
            return
        self.title.setText(form_title(design.form))
        self.fields.show_form(design.form)
        caution = while_made(design.form)
        self.caution.setText("" if caution is None else f"{caution[0]}. {caution[1]}")
        self.caution.setVisible(caution is not None)
        self.clear.show_length(self.workspace.job.kept_clear_mm, self.workspace.unit)
        self.grid.show_design(design)
        self.spread.setVisible(bool(design.stickers))
        self.fill.setVisible(design.form.kind == "sticker sheet")
        self.table.setVisible(not design.stickers)
        self.table.show_design(design)

    def _fill(self) -> None:
        from honest_edge.app.edits.layer_edits import filled_with_stickers, only_on_sheets, ring_mm

        design, view, workspace = self.workspace.design, self._state.layer_view, self.workspace
        if design is None or view is None:
            return
        others = [other for other in workspace.job.designs if other.key != design.key and not other.stickers]
        known = {other.key: workspace.fresh[other.key].cut_size_mm for other in others if other.key in workspace.fresh}
        names, boxes, gap_mm = {other.key: other.name for other in others}, view.boxes, ring_mm(workspace.job)
        layers = workspace.build(lambda: filled_with_stickers(design, known, names, boxes, gap_mm))
        if layers is not None:
            job = only_on_sheets(workspace.job.with_design(replace(design, layers=layers)), frozenset(known))
            workspace.document.edit(job, "fill the sheet with stickers")

    def _spread(self) -> None:
        from honest_edge.app.edits.layer_edits import spread_stickers

        design, view = self.workspace.design, self._state.layer_view
        if design is not None and view is not None:
            layers = self.workspace.build(lambda: spread_stickers(design, view.boxes))
            if layers is not None:
                self.workspace.edit_design("spread the stickers", layers=layers)
