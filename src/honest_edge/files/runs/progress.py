"""How far a run's journal had come, as its lock file says: a journal that lost whole lines looks whole by itself."""

from __future__ import annotations

import contextlib
import os
from dataclasses import dataclass

import msgspec

from honest_edge.core.values.errors import FileError
from honest_edge.files.read_json import parsed

_MOST_BYTES = 1000


@dataclass(frozen=True, slots=True, kw_only=True)
class Progress:
    """How far a journal had come.

    Attributes:
        lines: that it had.
        hash: of the last one, or of the seal.
        is_copy: this was written into another file than it is read from.
    """

    lines: int
    hash: str
    is_copy: bool = False


class _Stored(msgspec.Struct):
    lines: int
    hash: str
    file: list[int]


def note_progress(lock: int, progress: Progress) -> None:
    """Write down how far a journal has come; where that cannot be, what was noted before still holds.

    It is written after the journal and not flushed: it may lag behind the journal, never run ahead of it.
    """
    text = msgspec.json.encode(_Stored(progress.lines, progress.hash, _identity(lock)))
    with contextlib.suppress(OSError):
        os.pwrite(lock, text.ljust(_MOST_BYTES), 0)  # of one length, in one go: nothing of an older note is left over


def known_progress(lock: int) -> Progress | None:
    """Return how far a journal had come; None where that was never noted, or not whole."""
    try:
        stored = parsed(os.pread(lock, _MOST_BYTES, 0), _Stored)
    except (OSError, FileError):
        return None
    return Progress(lines=stored.lines, hash=stored.hash, is_copy=stored.file != _identity(lock))


def _identity(lock: int) -> list[int]:
    status = os.fstat(lock)
    return [status.st_dev, status.st_ino]
