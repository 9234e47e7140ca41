"""How long work says how far it is, and learns that it is no longer wanted."""

from __future__ import annotations

from collections.abc import Callable

ReportProgress = Callable[[float, str], None]
"""Told the share that is done, from 0 to 1, and in words what is being done."""

IsCancelled = Callable[[], bool]


def never() -> bool:
    """Nobody cancels."""
    return False


def unreported(_share: float, _what: str) -> None:
    """Nobody watches."""
