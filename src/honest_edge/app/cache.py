"""Results kept by what they were computed from."""

from __future__ import annotations

import threading
from collections import OrderedDict
from collections.abc import Callable, Hashable
from typing import TypeVar

T = TypeVar("T")


class ResultCache:
    """The newest results of each stage, safe to use from several threads."""

    def __init__(self, most: int = 24) -> None:
        self._most = most
        self._kept: OrderedDict[tuple[str, Hashable], object] = OrderedDict()
        self._lock = threading.Lock()

    def get(self, stage: str, key: Hashable, make: Callable[[], T]) -> T:
        """Return the result for ``key``, made by ``make`` where it is not kept."""
        with self._lock:
            if (stage, key) in self._kept:
                self._kept.move_to_end((stage, key))
                return self._kept[stage, key]  # type: ignore[return-value]
        made = make()  # outside the lock: two threads may make the same, never wait for each other
        with self._lock:
            self._kept[stage, key] = made
            of_stage = [kept for kept in self._kept if kept[0] == stage]
            for old in of_stage[: -self._most]:
                del self._kept[old]
        return made
