"""The one that reads and writes a window's project files: one thing after the other, as they were handed over."""

from __future__ import annotations

import threading
from collections.abc import Callable, Mapping
from concurrent.futures import Future, ThreadPoolExecutor
from pathlib import Path
from typing import TypeVar

from honest_edge.core.values.errors import FileError
from honest_edge.core.values.job import Job
from honest_edge.files.project import LoadedProject, load_project, save_project

T = TypeVar("T")
_Stamp = tuple[int, int, int]
"""What tells a file from a later one of its name."""


class ProjectWriter:
    """Keeps projects; what was handed over is done in that order, by one thread, and a file of others is never lost.

    A file that is not as this writer saw it last was written by another window or program: nothing is written over it
    unless that is asked for.
    """

    def __init__(self) -> None:
        self._thread = ThreadPoolExecutor(1, thread_name_prefix="project")
        self._lock = threading.Lock()
        self._seen: dict[Path, _Stamp | None] = {}
        self._pending = 0

    def load(self, path: Path) -> Callable[[], LoadedProject]:
        """Begin to read a project; return what waits for it, and raises FileError where it cannot be read."""

        def load() -> LoadedProject:
            seen = _stamp(path)
            loaded = load_project(path)
            self._see(path, seen)
            return loaded

        return self._hand_over(load)

    def save(
        self,
        path: Path,
        job: Job,
        assets: Mapping[str, bytes],
        runs: Mapping[str, bytes],
        *,
        over: bool,
        out_folder: str = "",
    ) -> Callable[[], None]:
        """Begin to write a project; return what waits for it, and raises FileError where it cannot be written.

        Args:
            path: the file.
            job: what it is to hold.
            assets: originals by SHA-256.
            runs: seals and journals by what names each.
            over: write over a file that changed meanwhile, too.
            out_folder: where its files were written last.
        """

        def save() -> None:
            if not over:
                self._check(path)
            save_project(path, job, assets, runs, out_folder)
            self._see(path, _stamp(path))

        return self._hand_over(save)

    def note_run(self, path: Path, run: str, text: bytes) -> Callable[[], None]:
        """Begin to write a run into a project, and nothing else of it; return what waits for it.

        What waits raises FileError where the file is gone, changed meanwhile, or cannot be read or written.
        """

        def note() -> None:
            self._check(path)
            kept = load_project(path)
            save_project(path, kept.job, kept.assets, {**kept.runs, run: text}, kept.out_folder)
            self._see(path, _stamp(path))

        return self._hand_over(note)

    def is_changed_elsewhere(self, path: Path) -> bool:
        """Whether a file is not as it was read or written here; one that is being written here is not told of."""
        with self._lock:
            seen = self._seen.get(path)
            return not self._pending and seen is not None and _stamp(path) not in (seen, None)

    def wait(self) -> None:
        """Wait until all is written."""
        self._thread.submit(lambda: None).result()

    def _hand_over(self, work: Callable[[], T]) -> Callable[[], T]:
        def done() -> T:
            try:
                return work()
            finally:
                with self._lock:
                    self._pending -= 1

        with self._lock:
            self._pending += 1
        future: Future[T] = self._thread.submit(done)
        return future.result

    def _see(self, path: Path, stamp: _Stamp | None) -> None:
        with self._lock:
            self._seen[path] = stamp

    def _check(self, path: Path) -> None:
        """Refuse a file that others wrote.

        Raises:
            FileError: it is not as it was seen last.
        """
        with self._lock:
            seen = self._seen.get(path)
        now = _stamp(path)
        if seen is not None and now is not None and now != seen:
            raise FileError(f"{path.name} was changed by another window or program meanwhile: save again, and choose")


def _stamp(path: Path) -> _Stamp | None:
    """Return what tells a file from a later one of its name; None where there is none."""
    try:
        status = path.stat()
    except OSError:
        return None
    return status.st_ino, status.st_size, status.st_mtime_ns
