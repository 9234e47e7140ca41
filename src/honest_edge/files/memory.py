"""Memory that is not needed any more goes back to the system."""

from __future__ import annotations

import ctypes


def give_back_memory() -> None:
    """Return freed memory that the C library kept for later; nothing where it cannot (malloc_trim(3), glibc)."""
    trim = getattr(ctypes.CDLL(None), "malloc_trim", None)
    if trim is not None:
        trim(0)
