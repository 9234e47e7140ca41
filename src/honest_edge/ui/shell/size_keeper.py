"""Keeps the sizes that were typed: what an edit changed of them is set right in the same step of undo."""

from __future__ import annotations

from typing import TYPE_CHECKING, cast

from PyQt6.QtCore import QObject

if TYPE_CHECKING:
    from honest_edge.app.results.design_result import DesignResult
    from honest_edge.app.results.overview import Overview
    from honest_edge.core.values.job import Job
    from honest_edge.ui.shared.host import Host
    from honest_edge.ui.shell.overview_task import OverviewTask

_MOST_TRIES = 6
"""Corners and easing depend on the size a little: a few steps come as near as it gets."""


class SizeKeeper(QObject):
    """Looks at every result of a design with a promise; the first that tells of a broken one mends it."""

    def __init__(self, host: Host, overviews: OverviewTask) -> None:
        super().__init__(overviews)
        self._host, self._document = host, host.workspace.document
        self._tries, self._said = 0, ""
        self._after: Job | None = None
        overviews.found.connect(lambda key, result: self._keep({key: result}))
        overviews.done.connect(lambda overview: self._keep(dict(cast("Overview", overview).results)))

    def _keep(self, results: dict[str, DesignResult]) -> None:
        job = self._document.job
        if not any(design.wanted is not None for design in job.designs):
            return
        from honest_edge.app.edits.promised_size import kept_sizes

        self._tries = self._tries + 1 if job == self._after else 0
        kept, why = kept_sizes(job, results)
        if why and why[0] != self._said:
            undo = ("Undo", self._document.undo_stack.undo)
            self._host.say(why[0], tone="danger", actions=[undo])
        self._said = why[0] if why else ""
        if kept != job and self._tries < _MOST_TRIES:
            self._after = kept
            self._document.follow(kept)


def keeping_sizes(host: Host, overviews: OverviewTask) -> OverviewTask:
    """Return what computes overviews, with a keeper of sizes that hears of each."""
    SizeKeeper(host, overviews)
    return overviews
