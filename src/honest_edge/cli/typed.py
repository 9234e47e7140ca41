"""Values as they are typed on the command line; what cannot be read is named with its option."""

from __future__ import annotations

import re
from pathlib import Path

from honest_edge.core.values.errors import UsageError
from honest_edge.core.values.names import readable
from honest_edge.core.values.units import parse_length


def length(option: str, text: str | None, default_mm: float) -> float:
    """Read a length; ``default_mm`` where none was typed."""
    if text is None:
        return default_mm
    try:
        return 0.0 if text.strip() == "0" else parse_length(text)
    except UsageError as error:
        raise UsageError(f"{option}: {error}") from None


def number(option: str, text: str | None, unit: str) -> float:
    """Read a number that carries one of the two units which are no lengths."""
    if text is None:
        return 0.0
    match = re.fullmatch(rf"\s*(-?[0-9]*\.?[0-9]+)\s*(?:{unit})?\s*", text)
    if match is None:
        raise UsageError(f"{option}: “{text}” is no number: write one such as 0.1{unit}")
    return float(match[1])


def pair(option: str, text: str | None) -> tuple[float, float]:
    """Read two lengths; none where none were typed."""
    if text is None:
        return 0.0, 0.0
    parts = text.split(",")
    if len(parts) != 2:
        raise UsageError(f"{option}: “{text}” is no pair of lengths: write x,y such as 120mm,80mm")
    return length(option, parts[0], 0.0), length(option, parts[1], 0.0)


def shown(path: Path) -> str:
    """Return a file's name as it can be printed and stored, whatever bytes it is made of."""
    return readable(path.name)
