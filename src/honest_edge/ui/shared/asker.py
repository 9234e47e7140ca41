"""The Book, asked and told away from the window's thread."""

from __future__ import annotations

import time
from collections.abc import Callable
from typing import TYPE_CHECKING, Any

from PyQt6.QtCore import QObject

from honest_edge.ui.shared.host import Host

if TYPE_CHECKING:
    from honest_edge.app.book.desk import BookDesk
    from honest_edge.app.results.progress import IsCancelled, ReportProgress

    Ask = Callable[[BookDesk, int], object]
    """Asks or tells a Book, with the present time in UTC milliseconds."""


class Asker(QObject):
    """Asks one thing at a time; a newer question takes the place of an older one, so nothing may be told by it."""

    def __init__(self, host: Host) -> None:
        super().__init__()
        self._host, self._task = host, host.new_task()
        self._task.done.connect(lambda found: self._then(found))
        self._task.failed.connect(lambda words: host.say(words, tone="danger"))
        self._then: Callable[[Any], object] = lambda _found: None

    def __call__(self, ask: Ask, then: Callable[[Any], object]) -> None:
        """Ask the Book of the job in hand, then tell what came of it."""
        self._then, desk = then, self._host.desk()

        def work(*, report: ReportProgress, cancelled: IsCancelled) -> object:
            return ask(desk(), _now_ms())

        self._task.submit(work)


class Teller(QObject):
    """Tells one thing after the other, in the order in which they were handed over; none is lost."""

    def __init__(self, host: Host, failed: Callable[[str], object] | None = None) -> None:
        """Take what is told why something could not be kept; it is said in the window else."""
        super().__init__()
        self._host = host
        self._failed = failed or (lambda words: host.say(words, tone="danger"))

    def __call__(self, tell: Ask, then: Callable[[Any], object] = lambda _found: None) -> None:
        """Tell the Book of the job in hand, then say what came of it."""
        desk = self._host.desk()
        self._host.writes.submit(lambda: tell(desk(), _now_ms()), then, self._failed)


def _now_ms() -> int:
    return time.time_ns() // 1_000_000
