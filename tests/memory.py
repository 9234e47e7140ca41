"""What a process of tests holds."""

from __future__ import annotations

import ctypes
import gc


def let_go() -> None:
    """Free what nobody holds and hand the heap's free pages back: else a process grows with every large picture."""
    gc.collect()
    trim = getattr(ctypes.CDLL(None), "malloc_trim", None)  # glibc alone has it
    if trim:
        trim(0)
