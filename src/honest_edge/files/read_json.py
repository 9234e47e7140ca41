"""The one reader of JSON that others may have written: of a known size and depth, and refused in half a sentence."""

from __future__ import annotations

import re
from typing import Any, TypeVar

import msgspec

from honest_edge.core.values.errors import FileError, UsageError

T = TypeVar("T")

MOST_VALUES = 500_000
"""How many values one text may hold: a job of a thousand designs has a third of it."""

MOST_DEPTH = 100
"""How deep lists and objects may lie in each other; a job needs a dozen."""

_STRUCTURE = re.compile(rb'"(?:[^"\\]|\\.)*+"|[\[\]{}]', re.DOTALL)


def parsed(data: bytes, kind: type[T], *, most_values: int = MOST_VALUES) -> T:
    """Return what a JSON text holds; nothing is built of a text that holds too much or lies too deep.

    Args:
        data: the text in UTF-8.
        kind: what it is to be.
        most_values: it may hold, counted by commas and brackets, those in words too.

    Raises:
        FileError: half a sentence that says why it cannot be read.
    """
    opened = data.count(b"[") + data.count(b"{")
    values = data.count(b",") + opened
    if values > most_values:
        raise FileError(f"it holds {values:,} values, more than the {most_values:,} that are read")
    if opened > MOST_DEPTH and _depth(data) > MOST_DEPTH:
        raise FileError(f"it is nested more than {MOST_DEPTH} deep")
    try:
        return msgspec.json.decode(data, type=kind)
    except (msgspec.DecodeError, UsageError, ValueError, OverflowError) as error:
        raise FileError(str(error)) from None


def converted(plain: Any, kind: type[T]) -> T:
    """Return what plain values, as ``parsed`` gave them, are to be.

    Raises:
        FileError: half a sentence that says why they are not.
    """
    try:
        return msgspec.convert(plain, type=kind)
    except (msgspec.ValidationError, UsageError, ValueError, OverflowError) as error:
        raise FileError(str(error)) from None


def _depth(data: bytes) -> int:
    """Return how deep brackets lie in each other, up to the first that lies too deep."""
    depth = most = 0
    for bracket in _STRUCTURE.finditer(data):
        match bracket[0]:
            case b"[" | b"{":
                depth += 1
                most = max(most, depth)
                if most > MOST_DEPTH:
                    break
            case b"]" | b"}":
                depth -= 1
    return most
