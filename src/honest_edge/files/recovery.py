"""Copies of unsaved work that survive a crash: one folder for each window, locked while the window lives.

``<pid>-<number>/`` holds ``lock``, ``job.json``, the originals as ``assets/<sha256>`` and small pictures
``picture-<n>.png``. Whoever can take the lock knows that the window is gone.
"""

from __future__ import annotations

import contextlib
import hashlib
import os
import shutil
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from datetime import datetime
from pathlib import Path

from honest_edge.core.values.errors import FileError, HonestEdgeError
from honest_edge.core.values.job import Job
from honest_edge.files.atomic_write import write_set
from honest_edge.files.locks import locked
from honest_edge.files.project import job_bytes, load_project, parse_job
from honest_edge.files.read_input import read_input

MOST_PICTURES = 4
_JOB, _LOCK, _ASSETS, _DAMAGED, _OLD = "job.json", "lock", "assets", "damaged", "recovery.hedge"
_MOST_JOB_BYTES, _MOST_ASSET_BYTES = 50_000_000, 500_000_000


class Slot:
    """One window's folder, whose lock is held by this process."""

    def __init__(self, folder: Path, lock: int) -> None:
        """Take a folder and the handle of its lock."""
        self.folder = folder
        self._lock: int | None = lock

    def write(self, job: Job, assets: Mapping[str, bytes], pictures: Sequence[bytes] = ()) -> None:
        """Keep a job: originals that are not there yet, small pictures, and the job itself last.

        Raises:
            FileError: it cannot be written; the copy before stays.
        """
        wanted = {asset for design in job.designs for asset in design.assets}
        for asset in sorted(wanted):
            if not (self.folder / _ASSETS / asset).exists():
                write_set(self.folder / _ASSETS, {asset: assets[asset]}, replace=True)
        for number, picture in enumerate(pictures[:MOST_PICTURES], 1):
            with contextlib.suppress(OSError):  # they only help to tell copies apart
                (self.folder / f"picture-{number}.png").write_bytes(picture)
        write_set(self.folder, {_JOB: job_bytes(job)}, replace=True)

    def drop(self) -> None:
        """Remove the copy; what cannot be removed stays and is offered again."""
        with contextlib.suppress(OSError):
            shutil.rmtree(self.folder)
        self.release()

    def release(self) -> None:
        """Let the lock go, and the copy stay."""
        if self._lock is not None:
            os.close(self._lock)
            self._lock = None


@dataclass(frozen=True, slots=True, kw_only=True, eq=False)
class LeftWork:
    """What a window left that ended badly.

    Attributes:
        job: as it was kept last.
        assets: its originals by SHA-256.
        kept_at: when that was.
        pictures: small PNG pictures of its designs.
        slot: where it lies; held, so that no other window offers it meanwhile.
    """

    job: Job
    assets: dict[str, bytes]
    kept_at: datetime
    pictures: tuple[bytes, ...]
    slot: Slot


class RecoveryFolder:
    """All copies of unsaved work of this user."""

    def __init__(self, folder: Path) -> None:
        """Take the folder; it is made with the first copy."""
        self._folder = folder

    def new_slot(self) -> Slot:
        """Return a folder for a window's copy, made and locked.

        Raises:
            FileError: it cannot be made.
        """
        try:
            self._folder.mkdir(parents=True, exist_ok=True)
            number = 1
            while True:
                place = self._folder / f"{os.getpid()}-{number}"
                with contextlib.suppress(FileExistsError):
                    place.mkdir(mode=0o700)
                    break
                number += 1
            lock = locked(place / _LOCK)
        except OSError as error:
            raise FileError(f"Unsaved work cannot be kept safe in {self._folder}: {error.strerror or error}") from None
        assert lock is not None  # nobody else knows it yet
        return Slot(place, lock)

    def left(self) -> tuple[list[LeftWork], list[str]]:
        """Return the copies that no window holds, the latest first, and a sentence for each that cannot be read.

        Those are put aside, not removed.
        """
        works: list[LeftWork] = []
        said = self._take_old()
        with contextlib.suppress(OSError):
            for place in sorted(self._folder.iterdir()):
                if place.name == _DAMAGED or not place.is_dir() or (lock := _lock_of(place)) is None:
                    continue
                if not (place / _JOB).exists():
                    Slot(place, lock).drop()  # the window ended before it kept anything
                    continue
                try:
                    works.append(_read(place, lock))
                except (HonestEdgeError, OSError) as error:
                    os.close(lock)
                    said.append(self._put_aside(place, str(error)))
        return sorted(works, key=lambda work: work.kept_at, reverse=True), said

    def _take_old(self) -> list[str]:
        """Give the single copy of earlier versions a folder of its own; return what to say where it cannot be read."""
        old = self._folder.parent / _OLD
        if not old.is_file():
            return []
        try:
            kept = load_project(old)
            slot = self.new_slot()
            slot.write(kept.job, kept.assets)
            slot.release()
            old.unlink()
        except (HonestEdgeError, OSError) as error:
            return [self._put_aside(old, str(error))]
        return []

    def _put_aside(self, place: Path, why: str) -> str:
        aside = self._folder / _DAMAGED
        target = aside / place.name
        try:
            aside.mkdir(parents=True, exist_ok=True)
            number = 2
            while target.exists():
                target = aside / f"{place.name}-{number}"
                number += 1
            place.rename(target)
        except OSError:
            target = place
        return f"A copy of unsaved work cannot be read ({why}). It was put aside: {target}"


def _read(place: Path, lock: int) -> LeftWork:
    job, _ = parse_job(read_input(place / _JOB, _MOST_JOB_BYTES), place.name)
    assets = {}
    for asset, title in {key: name for design in job.designs for key, name in design.assets.items()}.items():
        data = read_input(place / _ASSETS / asset, _MOST_ASSET_BYTES)
        if hashlib.sha256(data).hexdigest() != asset:
            raise FileError(f"the original “{title}” is damaged")
        assets[asset] = data
    names = (place / f"picture-{number}.png" for number in range(1, MOST_PICTURES + 1))
    pictures = tuple(path.read_bytes() for path in names if path.is_file())
    kept_at = datetime.fromtimestamp((place / _JOB).stat().st_mtime)
    return LeftWork(job=job, assets=assets, kept_at=kept_at, pictures=pictures, slot=Slot(place, lock))


def _lock_of(place: Path) -> int | None:
    """Return the lock of a folder, or None where another window holds it or it cannot be taken."""
    with contextlib.suppress(OSError):
        return locked(place / _LOCK)
    return None
