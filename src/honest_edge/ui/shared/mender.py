"""Uses a fix once it was tried: one that does not mend, or that makes something else worse, says so first."""

from __future__ import annotations

from typing import TYPE_CHECKING, cast

from PyQt6.QtCore import QObject

from honest_edge.ui.shared.host import Host

if TYPE_CHECKING:
    from honest_edge.app.edits.tried import TriedFix
    from honest_edge.app.results.progress import IsCancelled, ReportProgress
    from honest_edge.core.values.findings import Finding, Fix
    from honest_edge.core.values.job import Job


class Mender(QObject):
    """Tries a fix away from the window's thread and takes it as one step of undo."""

    def __init__(self, host: Host, parent: QObject | None = None) -> None:
        """Take the window."""
        super().__init__(parent)
        self._host = host
        self._task = host.new_task()
        self._task.done.connect(lambda made: self.use(*cast("tuple[TriedFix, str]", made)))
        self._task.failed.connect(lambda words: host.say(words, tone="danger"))

    def mend(self, finding: Finding, fix: Fix) -> None:
        """Try a fix, then use it; or go where it is mended by hand."""
        if fix.visit:
            self._host.go_to(fix.visit)
            return
        workspace = self._host.workspace
        if not workspace.is_known:  # it holds what was found of an older job
            self._host.say("This is still being computed: press again in a moment")
            return
        overview = workspace.overview
        if finding.severity == "note":  # it is no trouble that may get worse: what is asked for is done
            self._take(fix)
            return

        def work(*, report: ReportProgress, cancelled: IsCancelled) -> tuple[TriedFix, str]:
            from honest_edge.app.edits.tried import tried

            return tried(overview, finding, fix, self._host.pipeline(), cancelled=cancelled), fix.words

        self._task.submit(work)

    def _take(self, fix: Fix) -> None:
        from honest_edge.app.edits.fixes import fixed_job

        job = self._host.workspace.build(lambda: fixed_job(self._host.workspace.job, fix))
        if job is not None:
            self._edit(job, fix.words)

    def use(self, found: TriedFix, words: str) -> None:
        """Use what was tried, or say first what it would make worse."""
        job = found.job
        if found.before != self._host.workspace.job:
            self._host.say("The job was changed meanwhile, and this was not used: press again")
        elif job is None:
            self._host.say(f"{words}: {found.words}.", tone="danger")
        elif found.worse or not found.is_mended:
            use_it = ("Use it anyway", lambda: self._edit(job, words))
            self._host.say(f"{words}: {found.words}.", tone="look", actions=[use_it])
        else:
            self._edit(job, words)

    def _edit(self, job: Job, words: str) -> None:
        self._host.workspace.document.edit(job, words[:1].lower() + words[1:])
