"""What a process of tests holds."""

from __future__ import annotations

import ctypes
import gc
import resource

_GROWN_BYTES = 50_000_000
_last_bytes = 0


def let_go_if_grown() -> None:
    """Let go once the process has grown by some windows: looking through all there is takes a tenth of a second."""
    if _held_bytes() > _last_bytes + _GROWN_BYTES:
        let_go()


def _held_bytes() -> int:
    with open("/proc/self/statm") as file:
        return int(file.read().split()[1]) * resource.getpagesize()


def let_go() -> None:
    """Free what nobody holds and hand the heap's free pages back: else a process grows with every large picture."""
    global _last_bytes
    gc.collect()
    trim = getattr(ctypes.CDLL(None), "malloc_trim", None)  # glibc alone has it
    if trim:
        trim(0)
    _last_bytes = _held_bytes()
