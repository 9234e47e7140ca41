"""What a process of tests holds."""

from __future__ import annotations

import ctypes


def give_back_memory() -> None:
    """Hand the heap's free pages back to the system: else a process grows with every large picture that it let go."""
    trim = getattr(ctypes.CDLL(None), "malloc_trim", None)  # glibc alone has it
    if trim:
        trim(0)
