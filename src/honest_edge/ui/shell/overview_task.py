"""Keeps what is known of the job up to date: computed away from the window's thread, said where it takes long."""

from __future__ import annotations

import time
from collections.abc import Callable, Mapping
from typing import TYPE_CHECKING, cast

from PyQt6.QtCore import QObject, QTimer, pyqtSignal

from honest_edge.app.results.overview import Overview
from honest_edge.core.values.errors import FileError
from honest_edge.core.values.job import Job
from honest_edge.ui.shared.host import Host
from honest_edge.ui.shared.tasks import Work
from honest_edge.ui.shell.message_bar import MessageBar
from honest_edge.ui.widgets.words import whole_percent

if TYPE_CHECKING:
    from honest_edge.app.book.desk import BookDesk
    from honest_edge.app.results.design_result import DesignResult
    from honest_edge.app.results.progress import IsCancelled, ReportProgress
    from honest_edge.core.values.artwork import Artwork

_EXACT_DELAY_MS = 80
"""A control that is still moving asks for the first look only."""

_PATIENCE_S = 0.5


class OverviewTask(QObject):
    """Computes a job's overview; the newest job wins."""

    found = pyqtSignal(str, object)
    """A design's key and its result, as soon as it is there."""
    done = pyqtSignal(object)
    """The whole overview."""
    laid_out = pyqtSignal(object)
    """An overview with a first layout, while a better one is made."""

    def __init__(self, host: Host, bar: MessageBar, parent: QObject) -> None:
        super().__init__(parent)
        self._host, self._bar = host, bar
        self._asked_at, self._announced = 0.0, False
        self._bring_back: Callable[[], object] = bar.hide
        self._delay = QTimer(self)
        self._delay.setSingleShot(True)
        self._delay.setInterval(_EXACT_DELAY_MS)
        self._delay.timeout.connect(self.compute)
        self._task = host.new_task()
        self._task.done.connect(lambda overview: self._on_done(cast(Overview, overview)))
        self._task.progress.connect(self._on_progress)
        self._task.failed.connect(lambda text: host.say(text, tone="danger"))

    @property
    def is_waiting(self) -> bool:
        """Whether it waits for a control to rest."""
        return self._delay.isActive()

    @property
    def is_busy(self) -> bool:
        """Whether it computes, or is about to."""
        return self._task.busy or self.is_waiting

    def compute_soon(self) -> None:
        """Compute once no newer job came for a moment; the older request gives way at once."""
        self._task.cancel()
        self._delay.start()

    def compute(self) -> None:
        """Compute the overview of the present job, the design in hand first."""
        self._delay.stop()
        job, first = self._host.workspace.job, self._host.workspace.current
        if not job.designs:
            self._task.cancel()
            self._on_done(Overview(job=job))
            return
        self._asked_at = time.monotonic()
        self._task.submit(self._work(job, first, dict(self._host.workspace.decoded)))

    def _work(self, job: Job, first: str | None, decoded: Mapping[str, Artwork]) -> Work:
        before, is_demo = self._host.workspace.overview, self._host.workspace.document.is_demo
        desk = self._host.desk()

        def work(*, report: ReportProgress, cancelled: IsCancelled) -> Overview:
            from honest_edge.app.results.compute_overview import compute_overview

            def found(key: str, result: DesignResult) -> None:
                if not cancelled():
                    self.found.emit(key, result)

            def laid_out(overview: Overview) -> None:
                if not cancelled():
                    self.laid_out.emit(overview)

            pipeline = self._host.pipeline()
            for design in job.designs:
                if design.key in decoded:
                    pipeline.keep_decoded(design, decoded[design.key])
            computed = compute_overview(
                job,
                pipeline,
                first=first,
                found=found,
                before=before,
                laid_out=laid_out,
                report=report,
                cancelled=cancelled,
            )
            return computed if is_demo else self._with_bench(computed, desk())

        return work

    def _with_bench(self, overview: Overview, desk: BookDesk) -> Overview:
        """Return an overview with what the bench and the Book say; the demo's Book is made up only when looked into."""
        from honest_edge.app.book.job_facts import known_findings

        try:
            return overview.with_bench(known_findings(overview, desk, time.time_ns() // 1_000_000))
        except FileError:
            return overview  # its room says what is wrong with it

    def stop(self) -> None:
        """Compute nothing any more."""
        self._delay.stop()
        self._task.cancel()

    def _on_progress(self, share: float, words: str) -> None:
        """Say what takes long; what is done at once is not announced."""
        if time.monotonic() - self._asked_at >= _PATIENCE_S and not self._bar.is_urgent:
            if not self._announced:
                self._bring_back = self._bar.set_aside()
            self._host.say(f"{words} … {whole_percent(share)}", actions=[("Cancel", self._call_off)])
            self._announced = True

    def _call_off(self) -> None:
        self._task.cancel()
        self._announced = False
        self._host.say("Called off: what is shown may be older than the settings.", actions=[("Compute", self.compute)])

    def _on_done(self, overview: Overview) -> None:
        if self._announced:
            self._announced = False
            self._bring_back()
        self.done.emit(overview)
