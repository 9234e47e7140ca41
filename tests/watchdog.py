"""How long the window's thread computes at a stretch, in its own processor time: other work does not count."""

import sys
import threading
import time
import weakref
from collections import Counter
from pathlib import Path

from PyQt6.QtCore import QAbstractEventDispatcher, QObject

LISTED_S = 0.1
HELD_S = 1.0
"""What no step may come to on any machine, however slow; what is over the tenth of a second is printed."""


def _watch(dog, watched):
    """Note fifty times a second what the thread does, as long as anybody has the dog."""
    while (one := dog()) is not None:
        frame, stack = sys._current_frames().get(watched), []
        while frame is not None:
            if "honest_edge" in frame.f_code.co_filename:
                stack.append(f"{Path(frame.f_code.co_filename).name}:{frame.f_lineno} {frame.f_code.co_name}")
            frame = frame.f_back
        one._stacks.append(" < ".join(stack[:6]))
        del one, frame
        time.sleep(0.02)


class Watchdog(QObject):
    """Knows how long the thread computed between two rests of the event loop, and during which action."""

    def __init__(self):
        super().__init__()
        self.doing, self.held, self._since = "", [], time.thread_time()
        self._stacks, self._watched = [], threading.get_ident()
        threading.Thread(target=_watch, args=(weakref.ref(self), self._watched), daemon=True).start()
        dispatcher = QAbstractEventDispatcher.instance()
        dispatcher.awake.connect(self.begin)
        dispatcher.aboutToBlock.connect(self.end)

    def begin(self):
        self._since = time.thread_time()
        self._stacks.clear()

    def end(self):
        spent = time.thread_time() - self._since
        if spent > LISTED_S:
            where = "; ".join(f"{count} x {stack}" for stack, count in Counter(self._stacks).most_common(3))
            self.held.append((spent, f"{self.doing}: {where}"))
        self.begin()
