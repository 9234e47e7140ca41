"""How the C library keeps memory: glibc's own settings, which do nothing elsewhere."""

from __future__ import annotations

import ctypes

_M_ARENA_MAX, _ARENAS = -8, 2  # mallopt(3)


def keep_memory_together() -> None:
    """Let all threads take memory from two pools: one each leaves a sixth of it in gaps. Before threads start."""
    set_option = getattr(ctypes.CDLL(None), "mallopt", None)
    if set_option is not None:
        set_option(_M_ARENA_MAX, _ARENAS)


def give_back_memory() -> None:
    """Return freed memory that was kept for later to the system (malloc_trim(3))."""
    trim = getattr(ctypes.CDLL(None), "malloc_trim", None)
    if trim is not None:
        trim(0)
