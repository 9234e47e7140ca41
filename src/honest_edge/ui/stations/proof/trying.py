"""Tries fixes away from the window's thread, the worst finding's first, before they are offered."""

from __future__ import annotations

from collections.abc import Callable
from typing import TYPE_CHECKING, cast

from PyQt6.QtCore import QObject, pyqtSignal

from honest_edge.ui.shared.host import Host
from honest_edge.ui.stations.proof.state import ProofState, TriedKey, finding_key, tried_key

if TYPE_CHECKING:
    from honest_edge.app.edits.tried import TriedFix
    from honest_edge.app.results.progress import IsCancelled, ReportProgress
    from honest_edge.app.views.proof_view import ProofView
    from honest_edge.core.values.findings import Finding, Fix
    from honest_edge.core.values.job import Job

_MOST = 24
"""Of a long list the first are tried at once, others when they are taken in hand."""


class Trying(QObject):
    """Keeps what fixes of the job in hand would do."""

    found = pyqtSignal(object, object)

    def __init__(self, host: Host, state: ProofState, told: Callable[[], None], parent: QObject) -> None:
        """Take the window, where results are kept, and what is told of a new one."""
        super().__init__(parent)
        self._host, self._state, self._told = host, state, told
        self._job: Job | None = None
        self._task, self._all = host.new_task(), host.new_task()
        self.found.connect(self._take)
        self._task.failed.connect(self._give_up)
        self._all.failed.connect(lambda words: host.say(words, tone="danger"))
        self._use: Callable[[TriedFix, str], None] = lambda _found, _words: None
        self._all.done.connect(lambda made: self._use(*cast("tuple[TriedFix, str]", made)))
        self._all.progress.connect(lambda _share, words: host.say(words, actions=[("Cancel", self._all.cancel)]))

    def stop(self) -> None:
        """Try no more."""
        self._task.cancel()
        self._state.trying = set()

    def _give_up(self, words: str) -> None:
        self._state.trying = set()
        self._host.say(words, tone="danger")
        self._told()

    def begin(self, view: ProofView) -> None:
        """Try what was not tried yet of a list."""
        overview = self._host.workspace.overview
        if overview.job != self._job:
            self._state.tried.clear()
            self._job = overview.job
        wanted: list[tuple[Finding, Fix]] = []
        selected = self._state.selected
        for place, listed in enumerate(view.rows):
            finding = listed.finding
            is_selected = selected == finding_key(finding)
            if finding.left or (place >= _MOST and not is_selected):
                continue
            fixes = finding.fixes if is_selected else finding.fixes[:1]
            wanted += [(finding, fix) for fix in fixes if not fix.visit]
        left = [(finding, fix) for finding, fix in wanted if tried_key(finding, fix) not in self._state.tried]
        keys = {tried_key(finding, fix) for finding, fix in left}
        if keys <= self._state.trying:  # they are being tried, or there are none
            return
        self._state.trying = keys

        def work(*, report: ReportProgress, cancelled: IsCancelled) -> None:
            from honest_edge.app.edits.tried import tried

            pipeline = self._host.pipeline()
            for finding, fix in left:
                trial = tried(overview, finding, fix, pipeline, cancelled=cancelled)
                if cancelled():
                    return
                self.found.emit((overview.job, tried_key(finding, fix)), trial)

        self._task.submit(work)

    def all_of(self, check: str, use: Callable[[TriedFix, str], None]) -> None:
        """Try all fixes of one check together, then hand what they make of the job to ``use``."""
        overview, self._use = self._host.workspace.overview, use

        def work(*, report: ReportProgress, cancelled: IsCancelled) -> tuple[TriedFix, str]:
            from honest_edge.app.edits.tried import all_taken, of_a_kind, tried_job

            report(0.0, "Trying all of them together …")
            mended = of_a_kind(overview.findings, check)
            job = all_taken(overview.job, mended)
            trial = tried_job(overview, mended, job, self._host.pipeline(), cancelled=cancelled)
            return trial, f"Mend all {len(mended)}"

        self._all.submit(work)

    def _take(self, about: tuple[Job, TriedKey], made: TriedFix) -> None:
        job, key = about
        if job == self._job:
            self._state.tried[key] = made
            self._state.trying.discard(key)
            self._told()
