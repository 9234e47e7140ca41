"""Work on several values at once: what computes is mostly in libraries that let other threads run meanwhile."""

from __future__ import annotations

import os
from collections.abc import Callable, Sequence
from concurrent.futures import ThreadPoolExecutor
from typing import TypeVar

S = TypeVar("S")
T = TypeVar("T")

_MOST_AT_ONCE = 4
"""More would hold more pictures in memory than they gain in time."""


def in_parallel(work: Callable[[S], T], values: Sequence[S]) -> list[T]:
    """Return ``work`` of each value, in their order, done on a few threads.

    Raises:
        BaseException: what the first that failed raised; the others are not begun any more.
    """
    threads = min(len(values), os.cpu_count() or 1, _MOST_AT_ONCE)
    if threads < 2:
        return [work(value) for value in values]
    with ThreadPoolExecutor(threads, thread_name_prefix="at once") as pool:
        futures = [pool.submit(work, value) for value in values]
        try:
            return [future.result() for future in futures]
        except BaseException:
            pool.shutdown(wait=False, cancel_futures=True)
            raise
