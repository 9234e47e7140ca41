"""Circles of objects are taken apart by the window's thread alone.

Python collects them in whichever thread happens to make an object. A circle may hold widgets, and Qt's objects may end
in the window’s thread only (https://doc.qt.io/qt-6/threads-qobject.html); ended by a worker, they end the process.
"""

from __future__ import annotations

import gc

from PyQt6.QtCore import QObject, QTimer

_EVERY_MS = 250


class Collector(QObject):
    """Collects when Python would have, but from a timer of the window's thread; works until its parent goes."""

    def __init__(self, parent: QObject) -> None:
        super().__init__(parent)
        gc.disable()
        self._timer = QTimer(self)
        self._timer.timeout.connect(self.collect)
        self._timer.start(_EVERY_MS)

    def collect(self) -> None:
        """Collect the oldest generation whose count is over its threshold, and those younger than it."""
        counts, thresholds = gc.get_count(), gc.get_threshold()
        for generation in (2, 1, 0):
            if counts[generation] > thresholds[generation] > 0:
                gc.collect(generation)
                return
