"""Everything that a window computes away from its own thread: what is asked, and who is told."""

from __future__ import annotations

import threading
from pathlib import Path
from typing import TYPE_CHECKING

from PyQt6.QtCore import QObject, pyqtSignal

from honest_edge.app.overview import Overview
from honest_edge.core.values.job import Design, Job
from honest_edge.core.values.specs import EdgeRecipe
from honest_edge.ui.document import Document
from honest_edge.ui.tasks import LatestOnly, WorkerPool

if TYPE_CHECKING:
    from honest_edge.app.blade_way import BladeWay
    from honest_edge.app.edge_preview import EdgePreview
    from honest_edge.app.holding import Held
    from honest_edge.app.layer_view import LayerView
    from honest_edge.app.overview import Judgement
    from honest_edge.app.pipeline import DesignResult, IsCancelled, Pipeline, Report
    from honest_edge.app.preview import Preview, Previewer
    from honest_edge.app.sheet_edits import SheetLimits
    from honest_edge.core.sheet.plan import Plan
    from honest_edge.core.values.artwork import Artwork


class Background(QObject):
    """Of each kind of work the newest request wins; each tells its result by a signal of its own."""

    found = pyqtSignal(str, object)
    """A design's key and its result, as soon as it is there."""
    better = pyqtSignal(object)
    """A better layout, as soon as it is there."""

    def __init__(self, document: Document, parent: QObject) -> None:
        super().__init__(parent)
        self._document = document
        self._pipeline: Pipeline | None = None
        self._previewer: Previewer | None = None
        self._lock = threading.Lock()
        self.pool = WorkerPool(5)  # what was called off may still finish a step
        self.looking = LatestOnly(self.pool, self)
        self.judging = LatestOnly(self.pool, self)
        self.previewing = LatestOnly(self.pool, self)
        self.dragging = LatestOnly(self.pool, self)
        self.laying = LatestOnly(self.pool, self)
        self.fonting = LatestOnly(self.pool, self)
        self.fitting = LatestOnly(self.pool, self)
        self.limiting = LatestOnly(self.pool, self)
        self.holding = LatestOnly(self.pool, self)
        self.following = LatestOnly(self.pool, self)
        self._warming = LatestOnly(self.pool, self)

    @property
    def _works(self) -> tuple[LatestOnly, ...]:
        return (
            self.looking,
            self.judging,
            self.previewing,
            self.dragging,
            self.laying,
            self.fonting,
            self.fitting,
            self.limiting,
            self.holding,
            self.following,
            self._warming,
        )

    @property
    def busy(self) -> bool:
        """Whether any request, old or new, is still at work."""
        return any(work.busy for work in self._works)

    def cancel(self) -> None:
        """Call everything off."""
        for work in self._works:
            work.cancel()

    def pipeline(self) -> Pipeline:
        """Return what computes; loading it takes longer than showing the window, so that is done last."""
        with self._lock:
            if self._pipeline is None:
                from honest_edge.app.pipeline import Pipeline

                self._pipeline = Pipeline(self._document.holder.assets)
            return self._pipeline

    def _first_looks(self) -> Previewer:
        with self._lock:
            if self._previewer is None:
                from honest_edge.app.preview import Previewer

                self._previewer = Previewer()
            return self._previewer

    def look(self, job: Job, first: str | None) -> None:
        """Compute a job's overview, the design in hand first."""

        def work(*, report: Report, cancelled: IsCancelled) -> Overview:
            from honest_edge.app.looking import overview

            def found(key: str, result: DesignResult) -> None:
                if not cancelled():
                    self.found.emit(key, result)

            return overview(job, self.pipeline(), first=first, found=found, report=report, cancelled=cancelled)

        self.looking.submit(work)

    def judge(self, result: DesignResult, seen: Overview) -> None:
        """Try every school and the smallest changes on one design."""

        def work(*, report: Report, cancelled: IsCancelled) -> Judgement:
            from honest_edge.app.judging import judge

            return judge(result, seen, self.pipeline(), cancelled=cancelled)

        self.judging.submit(work)

    def preview(self, design: Design, last: DesignResult) -> None:
        """Take a first look at a changed outline."""

        def work(*, report: Report, cancelled: IsCancelled) -> Preview:
            return self._first_looks().preview(design, last)

        self.previewing.submit(work)

    def warm(self, artwork: Artwork) -> None:
        """Make ready what the first touch of a control needs."""

        def work(*, report: Report, cancelled: IsCancelled) -> None:
            self._first_looks().small(artwork)

        self._warming.submit(work)

    def drag(self, result: DesignResult, edge: EdgeRecipe, job: Job) -> None:
        """Take a first look at an edge that is being dragged."""

        def work(*, report: Report, cancelled: IsCancelled) -> EdgePreview:
            from honest_edge.app.edge_preview import preview_edge

            return preview_edge(result, edge, job)

        self.dragging.submit(work)

    def lay(self, design: Design, job: Job) -> None:
        """Put the layers in hand together, ahead of all else."""

        def work(*, report: Report, cancelled: IsCancelled) -> LayerView:
            from honest_edge.app.layer_view import layer_view

            pipeline = self.pipeline()
            return layer_view(design, pipeline.layers, pipeline.stickers(design, job, cancelled=cancelled))

        self.laying.submit(work)

    def fit_better(self, seen: Overview) -> None:
        """Look for better layouts until called off."""

        def work(*, report: Report, cancelled: IsCancelled) -> Plan:
            from honest_edge.app.sheet_edits import improved

            def found(plan: Plan) -> None:
                if not cancelled():
                    self.better.emit(plan)

            return improved(seen, found=found, cancelled=cancelled)

        self.fitting.submit(work)

    def hold(self, path: Path, seen: Overview) -> None:
        """Read a cut file and find the sheet that it lies nearest to."""

        def work(*, report: Report, cancelled: IsCancelled) -> Held:
            from honest_edge.app.holding import hold

            return hold(path, seen)

        self.holding.submit(work)

    def follow_blade(self, seen: Overview, page: int) -> None:
        """Find the blade's way over a sheet."""

        def work(*, report: Report, cancelled: IsCancelled) -> BladeWay:
            from honest_edge.app.blade_way import blade_way

            return blade_way(seen, page)

        self.following.submit(work)

    def limit(self, seen: Overview, key: str) -> None:
        """Find what limits a design on the sheets."""

        def work(*, report: Report, cancelled: IsCancelled) -> SheetLimits | None:
            from honest_edge.app.sheet_edits import sheet_limits

            return sheet_limits(seen, key, cancelled=cancelled)

        self.limiting.submit(work)

    def list_fonts(self) -> None:
        """Find the fonts of this machine."""

        def work(*, report: Report, cancelled: IsCancelled) -> dict[str, tuple[str, ...]]:
            from honest_edge.files.typefaces import font_library

            return font_library().families()

        self.fonting.submit(work)
