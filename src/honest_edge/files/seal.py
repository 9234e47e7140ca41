"""What of a job must not change between print and cut, as one number."""

from __future__ import annotations

import hashlib
from collections.abc import Mapping
from dataclasses import MISSING, Field, fields, is_dataclass
from typing import Any

import msgspec

from honest_edge.core.values.job import Job
from honest_edge.files.first_fields import FIRST_FIELDS

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

_FREE_OF_DESIGN = ("wanted",)
"""A promise for later changes: what it led to counts."""

_FREE_OF_MACHINE = (
    "name",
    "speed_mm_s",
    "travel_mm_s",
    "lines",
    "formats",
    "overcut_mm",
    "blade_offset_mm",
    "compensates",
    "finds_marks",
)


def seal_of(job: Job) -> str:
    """Return the SHA-256 of what must match, as sorted JSON, in hexadecimal."""
    return _hashed(_kept(job))


def parts_of(job: Job) -> dict[str, str]:
    """Return the SHA-256 of each part of it, by what the part is called in a sentence."""
    kept = _kept(job)
    sheet = kept.pop("sheet")
    machine = sheet.pop("machine")
    parts = {
        "the marks": machine.pop("marks"),
        "the machine": machine,
        "the stock": sheet.pop("stock"),
        "the printer": sheet.pop("printer"),
        "the paper": [sheet.pop(name) for name in ("paper", "own_mm", "is_landscape")],
        "the correction of the cut": kept.pop("cut_moved_by"),
    }
    for design in kept.pop("designs"):
        key = f"“{design['name']}”"
        parts[key if key not in parts else f"{key} ({design['key']})"] = design
    parts["the layout"] = [sheet, kept]
    return {name: _hashed(part) for name, part in parts.items()}


def differing(one: dict[str, str], two: dict[str, str]) -> tuple[str, ...]:
    """Return the parts in which two jobs differ, as they are called in a sentence."""
    return tuple(name for name in dict.fromkeys((*one, *two)) if one.get(name) != two.get(name))


def _plain(value: Any) -> Any:
    """Return a value as plain ones, without what came after the first version and is as it is by default."""
    if is_dataclass(value):
        first = FIRST_FIELDS.get(type(value).__name__, frozenset())
        return {
            field.name: _plain(held)
            for field in fields(value)
            if (held := getattr(value, field.name)) != _default(field) or field.name in first
        }
    if isinstance(value, tuple | list):
        return [_plain(one) for one in value]
    if isinstance(value, Mapping):
        return {key: _plain(one) for key, one in value.items()}
    return value


def _default(field: Field[Any]) -> Any:
    return field.default if field.default_factory is MISSING else field.default_factory()


def _kept(job: Job) -> dict[str, Any]:
    values: dict[str, Any] = _plain(job)
    kept = {name: value for name, value in values.items() if name not in _FREE}
    machine = kept["sheet"]["machine"]
    kept["sheet"] = {
        **kept["sheet"],
        "machine": {name: value for name, value in machine.items() if name not in _FREE_OF_MACHINE},
    }
    kept["sheet"].pop("settings", None)  # what is set at the cutter may change until it cuts
    kept["designs"] = [
        {name: value for name, value in design.items() if name not in _FREE_OF_DESIGN} for design in kept["designs"]
    ]
    kept["cut_moved_by"] = job.cut_moved_by.values
    return kept


def _hashed(value: Any) -> str:
    return hashlib.sha256(msgspec.json.encode(value, order="sorted")).hexdigest()
