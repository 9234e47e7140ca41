"""The labels of a table as each lies on its sheet: those of one page, made away from the window’s thread."""

from __future__ import annotations

from typing import TYPE_CHECKING, cast

from PyQt6.QtCore import QObject

from honest_edge.app.results.overview import Overview
from honest_edge.ui.shared.host import Host

if TYPE_CHECKING:
    from honest_edge.app.results.design_result import DesignResult
    from honest_edge.app.results.own_rows import Laid
    from honest_edge.app.results.progress import IsCancelled, ReportProgress
    from honest_edge.core.sheet.plan import Plan


class OwnLabels(QObject):
    """Keeps those of the last page; until they are there the row that is shown elsewhere stands for all."""

    def __init__(self, host: Host) -> None:
        super().__init__()
        self._host, self._task = host, host.new_task()
        self._task.done.connect(lambda found: self._on_made(*cast("tuple[_Key, Laid]", found)))
        self._asked: _Key | None = None
        self._made: tuple[_Key, Laid] | None = None
        self.version = 0
        """Another one when other labels are there to be drawn."""

    def of(self, overview: Overview, page: int) -> tuple[Plan, tuple[DesignResult, ...]]:
        """Return a layout and what its numbers stand for, each copy of the page with its own row."""
        plan, laid = overview.plan, overview.laid
        assert plan is not None
        if all(result.design.table is None for result in laid):
            return plan, laid
        key = (plan, laid, page)
        if self._made is not None and _same(self._made[0], key):
            return self._made[1]
        if self._asked is None or not _same(self._asked, key):
            self._ask(overview, key)
        return plan, laid

    def _ask(self, overview: Overview, key: _Key) -> None:
        self._asked, host = key, self._host

        def work(*, report: ReportProgress, cancelled: IsCancelled) -> tuple[_Key, Laid]:
            from honest_edge.app.results.own_rows import labelled

            return key, labelled(overview, key[2], host.pipeline(), cancelled=cancelled)

        self._task.submit(work)

    def _on_made(self, key: _Key, made: Laid) -> None:
        self._made = key, made
        self.version += 1
        self._host.refresh()


_Key = tuple["Plan", "tuple[DesignResult, ...]", int]


def _same(one: _Key, two: _Key) -> bool:
    return one[0] is two[0] and one[1] is two[1] and one[2] == two[2]
