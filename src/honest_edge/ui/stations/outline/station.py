"""Outline: what the window does while one decides where the sticker ends."""

from __future__ import annotations

import threading
from dataclasses import replace
from functools import cached_property
from typing import TYPE_CHECKING, cast

from PyQt6.QtWidgets import QGraphicsScene

from honest_edge.ui.shared.contract import Shown, Station
from honest_edge.ui.shared.host import Host
from honest_edge.ui.stations.outline.panel import OutlinePanel
from honest_edge.ui.table.tool import Tool

if TYPE_CHECKING:
    from honest_edge.app.results.design_result import DesignResult
    from honest_edge.app.results.fitted_outline import FittedOutline
    from honest_edge.app.results.outline_preview import OutlinePreview, Previewer
    from honest_edge.app.results.progress import IsCancelled, ReportProgress

_HINT = "hold B: before / after    M: caliper    click a part or hole to turn it    0: show all"


class OutlineStation(Station):
    """Shows the outline, at once what a moving control does to it, and takes what is drawn by hand."""

    def __init__(self, host: Host, question: str) -> None:
        super().__init__(host)
        self._question = question
        self._previewer: Previewer | None = None
        self._lock = threading.Lock()
        self._previews = 0
        self.previewing = host.new_task()
        self.previewing.done.connect(lambda preview: self._on_preview(cast("OutlinePreview", preview)))
        self._warming = host.new_task()
        self._fitted: FittedOutline | None = None
        self._fitting = host.new_task()
        self._fitting.done.connect(lambda found: self._on_fitted(cast("FittedOutline", found)))

    @cached_property
    def panel(self) -> OutlinePanel:
        """Background, gaps, parts, holes, curve."""
        return OutlinePanel(self.host, self._question, lambda: self.fitted)

    # -- drawing -------------------------------------------------------------------------------------

    def drawn_from(self) -> tuple[object, ...]:
        return self.workspace.result, self.workspace.job.sheet.stock, self._previews, self.fitted

    def draw(self, scene: QGraphicsScene) -> Shown | None:
        result = self.workspace.result
        if result is None:
            return None
        from honest_edge.ui.stations.outline.drawing import draw_outline  # loaded with the first drawing

        content = draw_outline(
            scene,
            result,
            self.fitted,
            self.host.tokens,
            self.workspace.unit,
            show_nodes=self.panel.nodes.isChecked(),
            show_deviation=self.panel.deviation.isChecked(),
        )
        return Shown(content=content, caption=_HINT)

    # -- at once -------------------------------------------------------------------------------------

    def look_closer(self) -> None:
        """Make ready what the first touch of a control needs."""
        result = self.workspace.result
        if result is None:
            return
        artwork = result.artwork

        def work(*, report: ReportProgress, cancelled: IsCancelled) -> None:
            self._first_looks().small(artwork)

        self._warming.submit(work)
        if self.fitted is None:
            self._fit(result)

    def _fit(self, result: DesignResult) -> None:
        def work(*, report: ReportProgress, cancelled: IsCancelled) -> FittedOutline:
            return self.host.pipeline().fitted(result)

        self._fitting.submit(work)

    def _on_fitted(self, fitted: FittedOutline) -> None:
        self._fitted = fitted
        if self.is_shown and self.fitted is not None:
            self.host.refresh()

    @property
    def fitted(self) -> FittedOutline | None:
        """The curves of the outline in hand; None until they are there."""
        result, curves = self.workspace.result, self._fitted
        return curves if result is not None and curves is not None and curves.outline is result.outline else None

    def show_at_once(self) -> bool:
        """Show at screen scale what changed of the outline in hand."""
        self.previewing.cancel()  # of what was undone meanwhile nothing may be drawn any more
        design, last = self.workspace.design, self.workspace.result
        if design is None or last is None or design == last.design:
            return False
        if design != replace(last.design, outline=design.outline):
            return False

        def work(*, report: ReportProgress, cancelled: IsCancelled) -> OutlinePreview:
            return self._first_looks().preview(design, last)

        self.previewing.submit(work)
        return True

    def _first_looks(self) -> Previewer:
        with self._lock:
            if self._previewer is None:
                from honest_edge.app.results.outline_preview import Previewer

                self._previewer = Previewer()
            return self._previewer

    def _on_preview(self, preview: OutlinePreview) -> None:
        if not self.is_shown:
            return
        from honest_edge.ui.stations.outline.drawing import draw_preview

        draw_preview(self.host.table.drawing(), preview, self.host.tokens)
        self._previews += 1  # so that the exact one is drawn over it
        self.host.preview_shown()

    # -- by hand -------------------------------------------------------------------------------------

    def lay_tool_down(self) -> None:
        self.panel.lay_tools_down()

    def stroke_drawn(self, tool: Tool, points_mm: list[tuple[float, float]]) -> None:
        self.panel.take_stroke(tool, points_mm)

    def table_clicked(self, x_mm: float, y_mm: float) -> None:
        """Drop the part or hole that is clicked where it is kept, keep it where it is dropped."""
        result = self.workspace.result
        if result is None:
            return
        from honest_edge.app.edits.outline_edits import picked_at

        picked = picked_at(result.outline, x_mm, y_mm)
        if picked is not None:
            self.panel.turn_round(picked)
