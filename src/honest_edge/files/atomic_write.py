"""Files that appear whole or not at all."""

from __future__ import annotations

import contextlib
import os
import tempfile
from collections.abc import Iterable, Mapping, Sequence
from pathlib import Path

from honest_edge.core.values.errors import FileError


def existing(folder: Path, names: Iterable[str]) -> list[str]:
    """Return which of the names are taken in ``folder``."""
    return [name for name in names if (folder / name).exists()]


def write_set(folder: Path, contents: Mapping[str, bytes], *, replace: bool, stale: Sequence[str] = ()) -> None:
    """Write several files into a folder, made if need be.

    All are written beside their places and flushed to the disk first; only then do they take their names, and
    the ``stale`` files of an earlier set go.

    Raises:
        FileError: a name is taken and ``replace`` is off, or the folder cannot be written; then nothing
            has changed.
    """
    taken = existing(folder, contents)
    if taken and not replace:
        raise FileError(f"{folder} already holds {', '.join(taken)}: use --force or choose another folder")
    staged: list[tuple[str, Path]] = []
    try:
        folder.mkdir(parents=True, exist_ok=True)
        for name in contents:
            if (folder / name).is_dir():
                raise FileError(f"Nothing was written to {folder}: {name} is a folder there; choose another")
        for name, data in contents.items():
            staged.append((_stage(folder, name, data), folder / name))
        for temporary, place in staged:
            os.replace(temporary, place)
        for name in stale:
            (folder / name).unlink(missing_ok=True)
        _flush_folder(folder)
    except OSError as error:
        _discard(staged)
        raise FileError(f"Nothing was written to {folder}: {_reason(error)}") from None
    except BaseException:
        _discard(staged)
        raise


def _stage(folder: Path, name: str, data: bytes) -> str:
    handle, temporary = tempfile.mkstemp(prefix=f".{name}.", suffix=".part", dir=folder)
    try:
        with os.fdopen(handle, "wb") as out:
            out.write(data)
            out.flush()
            os.fsync(out.fileno())
        os.chmod(temporary, _mode(folder / name))  # mkstemp makes it private
    except BaseException:
        os.unlink(temporary)
        raise
    return temporary


def _mode(place: Path) -> int:
    with contextlib.suppress(OSError):
        return place.stat().st_mode & 0o777
    mask = os.umask(0)
    os.umask(mask)
    return 0o666 & ~mask


def _flush_folder(folder: Path) -> None:
    handle = os.open(folder, os.O_RDONLY)
    try:
        os.fsync(handle)
    finally:
        os.close(handle)


def _discard(staged: list[tuple[str, Path]]) -> None:
    for temporary, _ in staged:
        with contextlib.suppress(OSError):
            os.unlink(temporary)


def _reason(error: OSError) -> str:
    if isinstance(error, PermissionError):
        return "the folder may not be written; choose another"
    if isinstance(error, (NotADirectoryError, FileExistsError)):
        return "that is a file, not a folder; choose another"
    if error.errno == 28:  # ENOSPC
        return "the disk is full; make room and try again"
    return f"{error.strerror or error}"
