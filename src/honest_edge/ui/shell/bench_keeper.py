"""Keeps in the job what the Book says of its bench: looked up when the machine, the printer or the Book changes."""

from __future__ import annotations

import time
from dataclasses import replace
from typing import TYPE_CHECKING, cast

from PyQt6.QtCore import QObject

from honest_edge.core.values.bench_records import BenchSubject
from honest_edge.core.values.job import BenchCopy
from honest_edge.ui.shared.host import Host

if TYPE_CHECKING:
    from honest_edge.app.bench.bench_history import BenchHistory
    from honest_edge.app.results.progress import IsCancelled, ReportProgress

_Asked = tuple[str, str, bool, str]


class BenchKeeper(QObject):
    """Asks the Book away from the window's thread; what the user does is never a step to be undone because of it."""

    def __init__(self, host: Host) -> None:
        super().__init__()
        self._host = host
        self._asked: _Asked | None = None
        self._is_told = False
        self._task = host.new_task()
        self._task.done.connect(lambda found: self._take(cast("BenchHistory | None", found)))
        self._task.failed.connect(lambda words: host.say(words, tone="danger"))
        host.workspace.document.changed.connect(self._look_where_changed)

    def look_up(self) -> None:
        """Ask anew: the Book is another one."""
        self._asked, self._is_told = None, True
        self._look_where_changed()

    def _look_where_changed(self) -> None:
        document = self._host.workspace.document
        job = document.job
        key = "" if job.measured is None else job.measured.key
        asked = job.sheet.machine.name, job.sheet.printer.name, document.is_demo, key
        if not job.designs or asked == self._asked:
            return
        if document.is_demo and job.measured_bench is not None and not self._is_told:
            return  # the demo carries what its Book says, which is not made up before somebody looks into it
        self._asked = asked
        bench, assumed_mm = BenchSubject(machine=asked[0], printer=asked[1]), job.drift_mm

        desk = self._host.desk()

        def work(*, report: ReportProgress, cancelled: IsCancelled) -> BenchHistory | None:
            from honest_edge.app.bench.bench_history import bench_history

            now_ms = time.time_ns() // 1_000_000
            history = desk().look_up(lambda book: [bench_history(book, bench, assumed_mm, now_ms)], "", now_ms)
            return history.rows[0] if history.rows else None

        self._task.submit(work)

    def _take(self, known: BenchHistory | None) -> None:
        """Put into the job what is known; what it carries of a bench that this Book never saw stays."""
        job = self._host.workspace.job
        if known is None or not known.rows:
            return
        sheet = job.sheet
        if (known.bench.machine, known.bench.printer) != (sheet.machine.name, sheet.printer.name):
            return
        if _names(known.copy) != _names(job.measured):
            self._host.workspace.document.amend(replace(job, measured=known.copy))


def _names(copy: BenchCopy | None) -> tuple[str, ...] | None:
    return None if copy is None else (copy.machine, copy.printer, copy.key)
