"""The present: by the clock, and by what no hand sets back."""

from __future__ import annotations

import time
from functools import cache
from pathlib import Path

from honest_edge.core.values.run_events import Moment

_BOOT = Path("/proc/sys/kernel/random/boot_id")


@cache
def _boot() -> str:
    try:
        return _BOOT.read_text().strip()
    except OSError:
        return ""


def present() -> Moment:
    """Return the present moment (CLOCK_BOOTTIME of clock_gettime(2) goes on while the machine sleeps)."""
    return Moment(
        wall_ms=time.time_ns() // 1_000_000,
        up_ms=time.clock_gettime_ns(time.CLOCK_BOOTTIME) // 1_000_000,
        boot=_boot(),
    )
