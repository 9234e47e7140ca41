"""What is done once the window has rested for a while."""

from __future__ import annotations

import gc
import threading
from collections.abc import Callable

from PyQt6.QtCore import QObject, QTimer, pyqtBoundSignal

from honest_edge.files.memory import give_back_memory
from honest_edge.ui.shared.document import Document
from honest_edge.ui.shell.station_shelf import StationShelf

_PAUSE_MS = 250
"""A panel takes a few hundredths of a second: each is built in a moment of its own, while nobody waits."""
_REST_MS = 2000
"""Sooner, the next computation would have to ask the system for the same memory again."""


class IdleWork(QObject):
    """Whenever nothing has been computed, read or written for a moment, builds ahead and gives memory back."""

    def __init__(
        self,
        parent: QObject,
        settled: pyqtBoundSignal,
        is_busy: Callable[[], bool],
        stations: StationShelf,
        document: Document,
    ) -> None:
        super().__init__(parent)
        self._is_busy, self._stations = is_busy, stations
        self._pause = self._timer(_PAUSE_MS, self._build_ahead)
        self._rest = self._timer(_REST_MS, self._give_back)
        settled.connect(document.forget_others)
        settled.connect(self._pause.start)
        settled.connect(self._rest.start)

    def _timer(self, interval_ms: int, act: Callable[[], None]) -> QTimer:
        timer = QTimer(self)
        timer.setSingleShot(True)
        timer.setInterval(interval_ms)
        timer.timeout.connect(act)
        return timer

    def _build_ahead(self) -> None:
        """Build the panel of the next station that has none: its first visit would wait for it."""
        if not self._is_busy() and self._stations.build_next():
            self._pause.start()

    def _give_back(self) -> None:
        if not self._is_busy():
            gc.collect()  # called-off work leaves circles; in this thread, where alone Qt's objects may end
            threading.Thread(target=give_back_memory, name="giving back memory", daemon=True).start()
