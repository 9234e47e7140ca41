"""What is done once the window has rested for a while."""

from __future__ import annotations

import threading
from collections.abc import Callable

from PyQt6.QtCore import QObject, QTimer, pyqtBoundSignal

from honest_edge.files.memory import give_back_memory

_REST_MS = 2000
"""Sooner, the next computation would have to ask the system for the same memory again."""


def give_back_at_rest(parent: QObject, settled: pyqtBoundSignal, is_busy: Callable[[], bool]) -> None:
    """Give memory back whenever nothing has been computed, read or written for a moment."""
    rest = QTimer(parent)
    rest.setSingleShot(True)
    rest.setInterval(_REST_MS)
    settled.connect(rest.start)

    def give_back() -> None:
        if not is_busy():
            threading.Thread(target=give_back_memory, name="giving back memory", daemon=True).start()

    rest.timeout.connect(give_back)
