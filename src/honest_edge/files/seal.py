"""What of a job must not change between print and cut, as one number."""

from __future__ import annotations

import hashlib
from typing import Any

import msgspec

from honest_edge.core.values.job import Job

_FREE = (
    "title",
    "drift_mm",
    "error",
    "measured",
    "visible_mm",
    "narrowest_mm",
    "kept_clear_mm",
    "png_ppi",
    "left",
    "prints",
)
"""What changes neither the print nor where it is cut."""

_FREE_OF_MACHINE = (
    "name",
    "speed_mm_s",
    "travel_mm_s",
    "lines",
    "formats",
    "overcut_mm",
    "blade_offset_mm",
    "compensates",
)


def seal_of(job: Job) -> str:
    """Return the SHA-256 of what must match, as sorted JSON, in hexadecimal."""
    values: dict[str, Any] = msgspec.to_builtins(job)
    kept = {name: value for name, value in values.items() if name not in _FREE}
    machine = kept["sheet"]["machine"]
    kept["sheet"] = {
        **kept["sheet"],
        "machine": {name: value for name, value in machine.items() if name not in _FREE_OF_MACHINE},
    }
    kept["cut_moved_by"] = job.cut_moved_by.values
    return hashlib.sha256(msgspec.json.encode(kept, order="sorted")).hexdigest()
