"""The one way in for every file that a user names: whole, of a known size, and never waited for."""

from __future__ import annotations

import os
import stat
from pathlib import Path

from honest_edge.core.values.errors import ArtError, FileError, HonestEdgeError


def read_input(path: Path, most_bytes: int, error: type[HonestEdgeError] = FileError) -> bytes:
    """Return a file's bytes; its kind and size are known before anything of it is read.

    Args:
        path: links are followed.
        most_bytes: larger files are refused unread.
        error: what is raised, where not ``FileError``.

    Raises:
        HonestEdgeError: it is missing, a folder, a device or pipe, too large, may not be read, or is being written.
    """
    try:
        # a pipe without a writer would wait for one
        handle = os.open(path, os.O_RDONLY | os.O_NONBLOCK | os.O_CLOEXEC | os.O_NOCTTY)
        try:
            before = os.fstat(handle)
            _check(before, path, most_bytes, error)
            data = _all_of(handle, before.st_size)
            after = os.stat(path)
        finally:
            os.close(handle)
    except FileNotFoundError:
        raise error(f"{path} does not exist: check the name") from None
    except PermissionError:
        raise error(f"{path} may not be read: change its permissions or copy it") from None
    except (OSError, ValueError) as problem:
        raise error(f"{path} cannot be opened: {getattr(problem, 'strerror', None) or problem}") from None
    if (before.st_size, before.st_mtime_ns) != (after.st_size, after.st_mtime_ns) or len(data) != after.st_size:
        raise error(f"{path} is being written by another program: take it again when that is done")
    return data


def read_picture(path: Path) -> bytes:
    """Return a picture file's bytes.

    Raises:
        ArtError: as for ``read_input``, or it is empty.
    """
    data = read_input(path, MOST_PICTURE_BYTES, ArtError)
    if not data:
        raise ArtError(f"{path} is empty: export the picture again")
    return data


MOST_PICTURE_BYTES = 300_000_000


def _check(found: os.stat_result, path: Path, most_bytes: int, error: type[HonestEdgeError]) -> None:
    if stat.S_ISDIR(found.st_mode):
        raise error(f"{path} is a folder: name a file in it")
    if not stat.S_ISREG(found.st_mode):
        raise error(f"{path} is a pipe or a device, not a file: save it as a file first")
    if found.st_size > most_bytes:
        raise error(
            f"{path} has {_megabytes(found.st_size)}, more than the {_megabytes(most_bytes)} that are read: make it "
            "smaller"
        )


def _megabytes(size: int) -> str:
    return f"{size / 1e9:.1f} GB" if size >= 1e9 else f"{size / 1e6:.0f} MB"


def _all_of(handle: int, size: int) -> bytes:
    """Return up to ``size`` bytes and one more, so that a file that grows is seen."""
    parts, left = [], size + 1
    while left and (part := os.read(handle, min(left, 1 << 24))):
        parts.append(part)
        left -= len(part)
    return b"".join(parts)
