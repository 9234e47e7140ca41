"""Numbers with their nouns, as findings say them."""

from __future__ import annotations


def counted(number: int, noun: str) -> str:
    """Return a number with its noun in the singular or plural."""
    return f"{number} {noun}{'' if number == 1 else 's'}"
