"""What is larger than the sheet, split over pages: how many, how far they overlap, and the press that does it."""

from __future__ import annotations

from PyQt6.QtWidgets import QFrame, QVBoxLayout

from honest_edge.ui.shared.host import Host
from honest_edge.ui.widgets.fields import Form, button, label
from honest_edge.ui.widgets.help_mark import HelpMark
from honest_edge.ui.widgets.typed import LengthField

_USUAL_OVERLAP_MM = 10.0


class TilingCard(QFrame):
    """Shown while the design in hand is what keeps a layout from being made."""

    def __init__(self, host: Host) -> None:
        super().__init__()
        self._host, self.workspace = host, host.workspace
        self._overlap_mm = _USUAL_OVERLAP_MM
        self.setProperty("card", "plain")
        HelpMark(self, "large")
        inside = QVBoxLayout(self)
        inside.setContentsMargins(12, 10, 12, 10)
        inside.setSpacing(8)
        inside.addWidget(label("Or split it over pages", "heading"))
        self.words = label("", "soft")
        inside.addWidget(self.words)
        form = Form(narrow=True)
        self.overlap = LengthField("Overlap of pages")
        self.overlap.committed.connect(self._set_overlap)
        self.overlap.refused.connect(lambda text: host.say(text, tone="danger"))
        form.add("Overlap", self.overlap, "How far each page lies over its neighbour, to be glued")
        inside.addWidget(form)
        self.split = button("Split", self._split)
        inside.addWidget(self.split)
        self.hide()

    def _set_overlap(self, overlap_mm: float) -> None:
        self._overlap_mm = overlap_mm
        self.refresh()

    def refresh(self) -> None:
        """Count the pages of the design in hand; hidden where it fits, or cannot be split."""
        from honest_edge.core.values.errors import HonestEdgeError

        result, overview = self.workspace.result, self.workspace.overview
        is_stuck = overview.plan is None and bool(overview.sheet_findings) and self.workspace.is_known
        self.setVisible(result is not None and is_stuck and result.design.form is None)
        if result is None or not is_stuck:
            return
        from honest_edge.app.edits.tiling import tiling_of

        self.overlap.show_length(self._overlap_mm, self.workspace.unit)
        try:
            tiling = tiling_of(result, self.workspace.job, self._overlap_mm)
        except HonestEdgeError as error:
            self.words.setText(str(error))
            self.split.setEnabled(False)
            return
        if tiling.pages == 1:
            self.hide()
            return
        self.split.setEnabled(True)
        page = self.workspace.size(tiling.page_mm)
        self.words.setText(
            f"{tiling.pages} pages, {tiling.columns} × {tiling.rows}, each {page}. "
            "Ticks show where the next page’s edge goes."
        )
        self.split.setText(f"Split over {tiling.pages} pages")

    def _split(self) -> None:
        from honest_edge.app.edits.tiling import tiled, tiling_of

        result, workspace = self.workspace.result, self.workspace
        if result is None:
            return
        job = workspace.build(lambda: tiled(workspace.job, result, tiling_of(result, workspace.job, self._overlap_mm)))
        if job is not None:
            workspace.document.edit(job, "split over pages")
            undo = workspace.document.undo_stack.undo
            self._host.say("It lies in pages now, row by row from the top left.", actions=[("Undo", undo)])
