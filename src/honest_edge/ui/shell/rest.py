"""What is done once the window has rested for a while."""

from __future__ import annotations

import threading
from collections.abc import Callable

from PyQt6.QtCore import QObject, QTimer, pyqtBoundSignal

from honest_edge.files.memory import give_back_memory

_REST_MS = 2000
"""Sooner, the next computation would have to ask the system for the same memory again."""


class Rest(QObject):
    """Gives memory back whenever nothing has been computed, read or written for a moment."""

    def __init__(self, parent: QObject, settled: pyqtBoundSignal, is_busy: Callable[[], bool]) -> None:
        super().__init__(parent)
        self._is_busy = is_busy
        self._timer = QTimer(self)
        self._timer.setSingleShot(True)
        self._timer.setInterval(_REST_MS)
        self._timer.timeout.connect(self._give_back)
        settled.connect(self._timer.start)

    def _give_back(self) -> None:
        if not self._is_busy():
            threading.Thread(target=give_back_memory, name="giving back memory", daemon=True).start()
