"""Edge: what the window does while one decides how the edge comes out."""

from __future__ import annotations

from dataclasses import replace
from functools import cached_property
from typing import TYPE_CHECKING, cast

from PyQt6.QtCore import QRectF, Qt, QTimer
from PyQt6.QtGui import QKeyEvent
from PyQt6.QtWidgets import QGraphicsScene

from honest_edge.ui.shared.contract import Shown, Station
from honest_edge.ui.shared.host import Host
from honest_edge.ui.stations.edge.panel import EdgePanel
from honest_edge.ui.stations.edge.state import EdgeState
from honest_edge.ui.stations.edge.strip import EdgeStrip, Unrolled
from honest_edge.ui.table.tool import Tool

if TYPE_CHECKING:
    from honest_edge.app.results.design_result import DesignResult
    from honest_edge.app.results.edge_assessment import EdgeAssessment
    from honest_edge.app.results.edge_preview import EdgePreview
    from honest_edge.app.results.progress import IsCancelled, ReportProgress

_HINT = "hold B: before / after    M: caliper    ← →: next weak place    0: show all"
_COMPARED = "each as the likely worst of 20 would come out"
_AIR = 0.05


class EdgeStation(Station):
    """Shows the sticker as cut, tries schools and changes on it, and takes a cut that is dragged."""

    def __init__(self, host: Host, question: str) -> None:
        super().__init__(host)
        self._question = question
        self.state = EdgeState()
        self.assessing, self.dragging = host.new_task(), host.new_task()
        self.assessing.done.connect(lambda found: self._on_assessed(cast("EdgeAssessment", found)))
        self.dragging.done.connect(lambda preview: self._on_preview(cast("EdgePreview", preview)))

    @cached_property
    def panel(self) -> EdgePanel:
        """School, offset, bleed, corners."""
        edge_panel = EdgePanel(self.host, self._question, self.state)
        edge_panel.proposal_changed.connect(self._show_proposal)
        return edge_panel

    @cached_property
    def edge_strip(self) -> EdgeStrip:
        """The edge unrolled."""
        strip = EdgeStrip(self.host.tokens)
        strip.place_chosen.connect(self.host.table.go_to)
        return strip

    def strip(self) -> EdgeStrip:
        return self.edge_strip

    def refresh(self) -> None:
        self.panel.refresh()
        self._show_strip()

    # -- drawing -------------------------------------------------------------------------------------

    @property
    def _shown_result(self) -> DesignResult | None:
        """What is shown: the proposed change that is being looked at, else the newest result."""
        proposed = self.state.proposed
        return proposed.result if proposed is not None else self.workspace.result

    def drawn_from(self) -> tuple[object, ...]:
        job = self.workspace.job
        return self._shown_result, job.misregistration, job.sheet.stock

    def draw(self, scene: QGraphicsScene) -> Shown | None:
        result, assessment = self._shown_result, self.state.assessment
        if result is None:
            return None
        from honest_edge.ui.stations.edge import drawing  # loaded with the first drawing

        stock, tokens = self.workspace.job.sheet.stock, self.host.tokens
        if self.panel.side_by_side.isChecked() and assessment is not None:
            space = QRectF(scene.views()[0].rect()).size() * (1 - 2 * _AIR)
            content = drawing.draw_schools(scene, assessment.views, stock, tokens, space)
            return Shown(content=content, caption=_COMPARED, air=_AIR)
        content = drawing.draw_edge(scene, result, self.edge_strip.weak_places, stock, tokens, self.workspace.unit)
        if self.state.proposed is None:
            drawing.add_handle(scene, result, self._on_offset_moved, self._on_offset_released)
            drawing.add_ring_handle(scene, result, self._on_rings_moved, self._on_rings_released)
        drawing.draw_detail(scene, result, tokens)
        drawing.mark_losses(scene, result, tokens)
        return Shown(content=content, caption=_HINT)

    def _show_strip(self) -> None:
        result, job = self._shown_result, self.workspace.job
        what = None
        if result is not None:
            what = Unrolled(
                edge=result.edge,
                expected=result.forecast,
                error=job.misregistration,
                stock=job.sheet.stock,
                proposed=self.state.proposed is not None,
            )
        self.edge_strip.show_edge(what, self.workspace.unit)

    def _show_proposal(self) -> None:
        self._show_strip()
        self.host.redraw()

    def look_changed(self) -> None:
        self.edge_strip.tokens = self.host.tokens
        self.edge_strip.update()

    # -- assessing -----------------------------------------------------------------------------------

    def subject_changed(self) -> None:
        self.state.assessment = self.state.proposed = None
        self.assessing.cancel()

    def look_closer(self) -> None:
        """Try every school and the smallest changes; only where they are looked at, for it is much work."""
        result, overview = self.workspace.result, self.workspace.overview
        if result is None or self.state.assessment is not None:
            return
        if result.design != self.workspace.design or not self.workspace.is_known:
            return

        def work(*, report: ReportProgress, cancelled: IsCancelled) -> EdgeAssessment:
            from honest_edge.app.results.assess_edge import assess_edge

            return assess_edge(result, overview, self.host.pipeline(), cancelled=cancelled)

        self.assessing.submit(work)

    def _on_assessed(self, assessment: EdgeAssessment) -> None:
        self.state.assessment = assessment
        if self.is_shown:
            self.panel.refresh()
            if self.panel.side_by_side.isChecked():
                self.host.redraw(refit=True)

    # -- dragging the cut ----------------------------------------------------------------------------

    def _on_offset_moved(self, offset_mm: float) -> None:
        """Look at a dragged offset; the job changes when the hand lets go."""
        design, result, job = self.workspace.design, self.workspace.result, self.workspace.job
        if design is None or result is None:
            return
        edge = replace(design.edge, offset_mm=offset_mm)

        def work(*, report: ReportProgress, cancelled: IsCancelled) -> EdgePreview:
            from honest_edge.app.results.edge_preview import preview_edge

            return preview_edge(result, edge, job)

        self.dragging.submit(work)

    def _on_rings_moved(self, ring_mm: float) -> None:
        result, job = self.workspace.result, self.workspace.job
        if result is None:
            return

        def work(*, report: ReportProgress, cancelled: IsCancelled) -> EdgePreview:
            from honest_edge.app.results.edge_preview import preview_rings

            return preview_rings(result, ring_mm, job)

        self.dragging.submit(work)

    def _on_preview(self, preview: EdgePreview) -> None:
        if not self.is_shown:
            return
        from honest_edge.ui.stations.edge.drawing import draw_preview

        draw_preview(self.host.table.drawing(), preview, self.host.tokens)
        self.panel.show_dragged(preview)
        self.host.preview_shown()

    def _on_offset_released(self, offset_mm: float) -> None:
        self.dragging.cancel()
        # the grip itself is drawn anew, so its own event has to end first
        QTimer.singleShot(0, lambda: self.panel.take_offset(offset_mm))

    def _on_rings_released(self, ring_mm: float) -> None:
        self.dragging.cancel()
        QTimer.singleShot(0, lambda: self.panel.take_rings(ring_mm))

    # -- by hand -------------------------------------------------------------------------------------

    def key_pressed(self, event: QKeyEvent) -> None:
        if event.key() in (Qt.Key.Key_Left, Qt.Key.Key_Right) and not event.isAutoRepeat():
            self.edge_strip.next_weak_place(1 if event.key() == Qt.Key.Key_Right else -1)

    def lay_tool_down(self) -> None:
        self.panel.toolbox.take(None)

    def stroke_drawn(self, tool: Tool, points_mm: list[tuple[float, float]]) -> None:
        self.panel.take_stroke(tool, points_mm)
