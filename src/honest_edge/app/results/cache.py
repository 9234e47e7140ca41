"""Results kept by what they were computed from, bounded by how much memory they take."""

from __future__ import annotations

import threading
from collections import OrderedDict
from collections.abc import Callable, Hashable, Mapping
from dataclasses import fields, is_dataclass
from typing import TypeVar

import numpy as np
import shapely

T = TypeVar("T")

_Key = tuple[str, Hashable]
_SMALL_BYTES = 64  # a number, a short text, an object's own header
_LEAST_KEPT = 5  # or every step on a very large picture would push out the one before
_LEAST_BYTES, _PAST_SHARE = 75_000_000, 1.4
"""What is kept beside a small job, and of what a job needs: 300 edits stay within 1.5 of the start, measured."""

_COORDINATE_BYTES = 16  # a point of a GEOS geometry, x and y


class ResultCache:
    """The newest results, safe to use from several threads.

    A result that two threads ask for at once is made once: the second waits for the first.
    """

    def __init__(self, most_bytes: int, least_kept: int = _LEAST_KEPT) -> None:
        """Take the bound; it is raised where single results are so large that ``least_kept`` would not be kept."""
        self._most_bytes, self._least_kept = most_bytes, least_kept
        self._bound = most_bytes
        self._kept: OrderedDict[_Key, tuple[object, int, int]] = OrderedDict()
        """Each result with its size and the turn in which it was last asked for."""
        self._turn = 0
        self._bytes = 0
        self._making: dict[_Key, threading.Event] = {}
        self._lock = threading.Lock()

    @property
    def held_bytes(self) -> int:
        """How much memory the kept results take, about; what two of them share counts twice."""
        return self._bytes

    def begin_turn(self) -> None:
        """All that is asked for from now on belongs to one whole; as much is kept as there may be."""
        with self._lock:
            self._turn += 1
            self._bound = self._most_bytes

    def end_turn(self) -> None:
        """Keep what the turn asked for and a share of what was before: a small job keeps no large past."""
        with self._lock:
            needed = sum(size for _, size, turn in self._kept.values() if turn == self._turn)
            self._bound = min(self._most_bytes, max(_LEAST_BYTES, round(_PAST_SHARE * needed)))
            self._let_go()

    def knows(self, stage: str, key: Hashable) -> bool:
        """Whether the result for ``key`` is kept."""
        with self._lock:
            return (stage, key) in self._kept

    def get(self, stage: str, key: Hashable, make: Callable[[], T]) -> T:
        """Return the result for ``key``, made by ``make`` where it is not kept.

        Where ``make`` raises, whoever waited for it tries by itself.
        """
        place = (stage, key)
        while True:
            with self._lock:
                if place in self._kept:
                    result, size, _ = self._kept[place]
                    self._kept[place] = result, size, self._turn
                    self._kept.move_to_end(place)
                    return result  # type: ignore[return-value]
                under_way = self._making.get(place)
                if under_way is None:
                    self._making[place] = threading.Event()
                    break
            under_way.wait()
        try:
            result = make()  # outside the lock: other results are made meanwhile
            self._keep(place, result)
            return result
        finally:
            with self._lock:
                self._making.pop(place).set()

    def _keep(self, place: _Key, made: object) -> None:
        size = size_of(made)
        with self._lock:
            self._kept[place] = made, size, self._turn
            self._bytes += size
            self._let_go()

    def _let_go(self) -> None:
        """Let the oldest go beyond the bound; the lock is held."""
        if self._bytes <= self._bound:
            return
        largest = max((size for _, size, turn in self._kept.values() if turn == self._turn), default=0)
        most_bytes = max(self._bound, self._least_kept * largest)
        while self._bytes > most_bytes:
            _, (_, freed, _) = self._kept.popitem(last=False)
            self._bytes -= freed


def size_of(value: object) -> int:
    """Return about how many bytes a value takes: pictures, points and texts; shared parts count once."""
    return _size_of(value, set())


def _size_of(value: object, counted: set[int]) -> int:
    if id(value) in counted:
        return 0
    counted.add(id(value))
    match value:
        case np.ndarray():
            shared = isinstance(value.base, np.ndarray)  # a view keeps the whole that it shows a part of
            return _size_of(value.base, counted) if shared else value.nbytes
        case bytes() | str() | bytearray():
            return len(value) + _SMALL_BYTES
        case shapely.Geometry():
            return int(shapely.get_num_coordinates(value)) * _COORDINATE_BYTES + _SMALL_BYTES
        case Mapping():
            return sum(_size_of(part, counted) for pair in value.items() for part in pair) + _SMALL_BYTES
        case list() | tuple() | set() | frozenset():
            return sum(_size_of(part, counted) for part in value) + _SMALL_BYTES
        case _ if is_dataclass(value) and not isinstance(value, type):
            return sum(_size_of(getattr(value, field.name), counted) for field in fields(value)) + _SMALL_BYTES
        case _:
            return _SMALL_BYTES
