"""Files that appear whole or not at all, one or a set of them.

A set is written beside its places and flushed to the disk first. Then a marker that names it is laid down, the files
take their names, and the marker goes. Whoever finds a marker can therefore finish the set: nothing is missing.
"""

from __future__ import annotations

import contextlib
import json
import os
import re
import tempfile
import time
from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass, field
from pathlib import Path

from honest_edge.core.values.errors import FileError

MARKER = ".honest-edge-unfinished.json"
"""Stands in a folder while a set of files takes its names there."""

_OURS = re.compile(r"\..+\.[a-z0-9_]{8}\.(part|old)")  # as mkstemp names what is staged or kept
_FORGOTTEN_S = 3600.0


def existing(folder: Path, names: Iterable[str]) -> list[str]:
    """Return which of the names are taken in ``folder``."""
    return [name for name in names if os.path.lexists(folder / name)]


def write_set(folder: Path, contents: Mapping[str, bytes], *, replace: bool, stale: Sequence[str] = ()) -> None:
    """Write several files into a folder, made if need be; the ``stale`` files of an earlier set go with them.

    Links are followed. What an earlier set left unfinished there is finished first.

    Raises:
        FileError: a name is taken and ``replace`` is off, or the folder cannot be written. Nothing has changed then,
            or the message names what has.
    """
    taken = existing(folder, contents)
    if taken and not replace:
        raise FileError(f"{folder} already holds {', '.join(taken)}: use --force or choose another folder")
    change = _Change(folder)
    try:
        _make_folder(folder)
        finish(folder)
        _sweep(folder)
        for name, data in contents.items():
            change.stage(name, data)
        change.take_away([name for name in stale if os.path.lexists(folder / name)])
        change.happen()
    except OSError as error:
        raise FileError(change.undone(_reason(error))) from None
    except BaseException:
        change.undone("")
        raise


def unfinished(folder: Path) -> list[str]:
    """Return the names of a set of files that did not all take their names in a folder; none where all is whole."""
    marked = _marked(folder)
    return [] if marked is None else [*(name for _, name in marked.written), *marked.removed]


def finish(folder: Path) -> list[str]:
    """Give a set of files its names that was interrupted while it took them; return the names.

    Raises:
        OSError: one cannot be given; the marker stays.
    """
    marked = _marked(folder)
    if marked is None:
        return []
    for temporary, name in marked.written:
        with contextlib.suppress(FileNotFoundError):  # it has its name already
            os.replace(folder / temporary, _place(folder, name))
    for name in (*marked.removed, *marked.kept):
        (folder / name).unlink(missing_ok=True)
    (folder / MARKER).unlink()
    _flush_folder(folder)
    return [*(name for _, name in marked.written), *marked.removed]


@dataclass(frozen=True, slots=True, kw_only=True)
class _Marked:
    """What a marker says: what is staged for which name, what goes, and what was kept of before."""

    written: tuple[tuple[str, str], ...]
    removed: tuple[str, ...]
    kept: tuple[str, ...]


def _marked(folder: Path) -> _Marked | None:
    """Return what a folder's marker says; None without one, or where it is none of ours."""
    try:
        said = json.loads((folder / MARKER).read_bytes()[:1_000_000])
        marked = _Marked(
            written=tuple((str(a), str(b)) for a, b in said["written"]),
            removed=tuple(map(str, said["removed"])),
            kept=tuple(map(str, said["kept"])),
        )
    except (OSError, ValueError, KeyError, TypeError, RecursionError):
        return None
    temporaries = [*(temporary for temporary, _ in marked.written), *marked.kept]
    names = [*(name for _, name in marked.written), *marked.removed]
    if any("/" in name or name in ("", ".", "..") for name in names):
        return None
    return marked if all(_OURS.fullmatch(name) and "/" not in name for name in temporaries) else None


@dataclass
class _Change:
    """One set on its way: what is staged, what stood there before, and what has its name already."""

    folder: Path
    staged: dict[str, str] = field(default_factory=dict)
    gone: list[str] = field(default_factory=list)
    kept: dict[str, str] = field(default_factory=dict)
    stood: set[str] = field(default_factory=set)
    done: list[str] = field(default_factory=list)
    is_marked: bool = False

    def stage(self, name: str, data: bytes) -> None:
        """Write a file beside its place and flush it."""
        place = _place(self.folder, name)
        if place.exists():
            self.stood.add(name)
        handle, temporary = tempfile.mkstemp(prefix=f".{name[:80]}.", suffix=".part", dir=place.parent)
        self.staged[name] = temporary
        with os.fdopen(handle, "wb") as out:
            out.write(data)
            out.flush()
            os.fsync(out.fileno())
        os.chmod(temporary, _mode(place))  # mkstemp makes it private

    def take_away(self, names: Sequence[str]) -> None:
        """Note what goes with this change."""
        self.gone = list(names)

    def happen(self) -> None:
        """Let every file take its name."""
        if len(self.staged) + len(self.gone) > 1:
            self._keep_before()
            self._mark()
        for name, temporary in self.staged.items():
            os.replace(temporary, _place(self.folder, name))
            self.done.append(name)
        for name in self.gone:
            os.unlink(self.folder / name)
            self.done.append(name)
        if self.is_marked:
            (self.folder / MARKER).unlink()
        for kept in self.kept.values():
            os.unlink(kept)
        _flush_folder(self.folder)

    def _keep_before(self) -> None:
        """Keep what stands there under another name, where the file system can, so that it can be put back."""
        for name in (*self.staged, *self.gone):
            place = _place(self.folder, name)
            if not place.exists():
                continue
            handle, kept = tempfile.mkstemp(prefix=f".{name[:80]}.", suffix=".old", dir=place.parent)
            os.close(handle)
            os.unlink(kept)
            with contextlib.suppress(OSError):
                os.link(place, kept)
                self.kept[name] = kept

    def _mark(self) -> None:
        inside = all(Path(temporary).parent == self.folder for temporary in self.staged.values())
        if not inside:
            return  # links lead out of the folder: put back where it fails, but not finished by others
        said = {
            "what": "A set of files was being written here. Honest Edge finishes it when it next writes or looks here.",
            "written": [[Path(temporary).name, name] for name, temporary in self.staged.items()],
            "removed": self.gone,
            "kept": [Path(kept).name for kept in self.kept.values()],
        }
        with open(self.folder / MARKER, "x", encoding="utf-8", errors="surrogateescape") as out:
            json.dump(said, out)
            out.flush()
            os.fsync(out.fileno())
        self.is_marked = True
        _flush_folder(self.folder)

    def undone(self, reason: str) -> str:
        """Put back what stood there before and return what to say of it."""
        for name in reversed(self.done.copy()):
            place = _place(self.folder, name)
            with contextlib.suppress(OSError):
                if name in self.kept:
                    os.replace(self.kept[name], place)
                    self.done.remove(name)
                elif name in self.staged and name not in self.stood:
                    os.unlink(place)
                    self.done.remove(name)
        for temporary in (*self.staged.values(), *self.kept.values()):
            with contextlib.suppress(OSError):
                os.unlink(temporary)
        if self.is_marked:
            with contextlib.suppress(OSError):
                (self.folder / MARKER).unlink()
        if not self.done:
            return f"Nothing was written to {self.folder}: {reason}"
        left = [name for name in (*self.staged, *self.gone) if name not in self.done]
        before = f"; {', '.join(left)} as before" if left else ""
        return f"Only {', '.join(self.done)} of the set changed in {self.folder}{before}: {reason}"


def _place(folder: Path, name: str) -> Path:
    """Return where a name leads: the end of a link, or the place itself.

    Raises:
        OSError: it is a folder, or a link that leads nowhere.
    """
    place = folder / name
    if place.is_symlink():
        if not place.exists():
            raise OSError(f"{name} is a link that leads nowhere: remove it or choose another name")
        place = Path(os.path.realpath(place))
    if place.is_dir():
        raise OSError(f"{name} is a folder there; choose another")
    return place


def _make_folder(folder: Path) -> None:
    """Make a folder with what is missing above it, each flushed in its parent."""
    missing = []
    above = folder
    while not above.exists():
        missing.append(above)
        above = above.parent
    folder.mkdir(parents=True, exist_ok=True)
    for folder_made in reversed(missing):
        _flush_folder(folder_made.parent)


def _sweep(folder: Path) -> None:
    """Remove what writings left that were killed long ago."""
    with contextlib.suppress(OSError), os.scandir(folder) as entries:
        for entry in entries:
            if _OURS.fullmatch(entry.name) and time.time() - entry.stat().st_mtime > _FORGOTTEN_S:
                with contextlib.suppress(OSError):
                    os.unlink(entry.path)


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


def _reason(error: OSError) -> str:
    if isinstance(error, PermissionError):
        return "the folder may not be written; choose another"
    if isinstance(error, (NotADirectoryError, FileExistsError)):
        return "that is a file, not a folder; choose another"
    if error.errno == 28:  # ENOSPC
        return "the disk is full; make room and try again"
    if error.errno == 36:  # ENAMETOOLONG
        return "the name is too long; choose a shorter one"
    return f"{error.strerror or error}"
