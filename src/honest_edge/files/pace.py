"""Plain pacing: no more is under way to a machine than it holds, by how long it needs to obey."""

from __future__ import annotations

import time
from collections import deque
from collections.abc import Callable

HELD_BYTES = 512
"""Half of what plotters of the 1980s hold (the 7475A of HP-GL's manual 1,024 bytes, from memory)."""

_SLICE_S = 0.1


class Pace:
    """Knows by the clock what a machine that answers nothing has still to obey."""

    def __init__(
        self, clock: Callable[[], float] = time.monotonic, sleep: Callable[[float], object] = time.sleep
    ) -> None:
        """Take a clock in seconds, and what lets time go by."""
        self._clock, self._sleep = clock, sleep
        self._held: deque[tuple[int, float]] = deque()

    def wait(self, size: int, seconds: float, is_stopped: Callable[[], bool]) -> bool:
        """Wait until there is room for so many bytes, which take so long to obey; return whether it was not stopped."""
        now = self._clock()
        while self._held and (self._held[0][1] <= now or sum(held for held, _ in self._held) + size > HELD_BYTES):
            if (left_s := self._held[0][1] - now) <= 0:
                self._held.popleft()
                continue
            if is_stopped():
                return False
            self._sleep(min(left_s, _SLICE_S))
            now = self._clock()
        begins = max(now, self._held[-1][1]) if self._held else now
        self._held.append((size, begins + seconds))
        return True

    def forget(self) -> None:
        """Nothing is under way any more."""
        self._held.clear()
