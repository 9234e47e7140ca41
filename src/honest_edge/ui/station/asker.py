"""Questions to the Book, asked away from the window's thread."""

from __future__ import annotations

import time
from collections.abc import Callable
from typing import TYPE_CHECKING, Any

from PyQt6.QtCore import QObject

from honest_edge.ui.station.host import Host

if TYPE_CHECKING:
    from honest_edge.app.results.progress import IsCancelled, ReportProgress


class Asker(QObject):
    """Asks one thing at a time away from the window's thread; a newer question takes the place of an older one."""

    def __init__(self, host: Host) -> None:
        super().__init__()
        self._task = host.new_task()
        self._task.done.connect(lambda found: self._then(found))
        self._task.failed.connect(lambda words: host.say(words, tone="danger"))
        self._then: Callable[[Any], object] = lambda _found: None

    def __call__(self, ask: Callable[[int], object], then: Callable[[Any], object]) -> None:
        """Ask with the present time, in UTC milliseconds, then tell what came of it."""
        self._then = then

        def work(*, report: ReportProgress, cancelled: IsCancelled) -> object:
            return ask(time.time_ns() // 1_000_000)

        self._task.submit(work)
