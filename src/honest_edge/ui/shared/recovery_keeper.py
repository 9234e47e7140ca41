"""Keeps a copy of unsaved work where a crash does not reach it, away from the window's thread."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from concurrent.futures import Future, ThreadPoolExecutor
from pathlib import Path
from typing import TYPE_CHECKING

from PyQt6.QtCore import QObject, QTimer, pyqtSignal

from honest_edge.core.values.errors import HonestEdgeError
from honest_edge.core.values.job import Job
from honest_edge.files.log import LOGGER

if TYPE_CHECKING:
    from honest_edge.files.recovery import Slot

_SOON_MS = 1500
"""How long after the first edit that is not kept yet it is kept, however many follow meanwhile."""


class RecoveryKeeper(QObject):
    """One copy, of one window; everything that touches it is done one after another on a thread of its own."""

    failed = pyqtSignal(str)
    """The work cannot be kept safe, and why; said once until it can again."""

    def __init__(self, folder: Path, unsaved: Callable[[], tuple[Job, Mapping[str, bytes]] | None]) -> None:
        """Take the folder of all copies, and what returns the unsaved work, or None where all is saved."""
        super().__init__()
        self._folder, self._unsaved = folder, unsaved
        self.pictures: Callable[[], list[bytes]] = list
        self._thread = ThreadPoolExecutor(1, thread_name_prefix="recovery")
        self._last: Future[None] | None = None
        self._slot: Slot | None = None  # touched by that thread alone
        self._was_said = False
        self._timer = QTimer(self)
        self._timer.setSingleShot(True)
        self._timer.setInterval(_SOON_MS)
        self._timer.timeout.connect(self.keep)

    def soon(self) -> None:
        """Keep the work in a moment; edits that follow do not put it off."""
        if not self._timer.isActive():
            self._timer.start()

    def keep(self) -> None:
        """Keep what is not saved now."""
        if self._last is not None and not self._last.done():
            self.soon()  # the disk is slower than the hand
            return
        unsaved = self._unsaved()
        if unsaved is not None:
            (job, assets), pictures = unsaved, self.pictures()
            kept = dict(assets)
            self._submit(lambda: self._write(job, kept, pictures))

    def drop(self) -> None:
        """Remove the copy: the work is saved, or given up."""
        self._timer.stop()
        self._submit(self._drop)

    def adopt(self, slot: Slot) -> None:
        """Go on in a copy that another window left."""

        def take() -> None:
            self._drop()
            self._slot = slot

        self._submit(take)

    def wait(self) -> None:
        """Wait until all that was asked for is done."""
        if self._last is not None:
            self._last.result()

    def _submit(self, work: Callable[[], None]) -> None:
        self._last = self._thread.submit(work)

    def _write(self, job: Job, assets: Mapping[str, bytes], pictures: list[bytes]) -> None:
        from honest_edge.files.recovery import RecoveryFolder

        try:
            if self._slot is None or not self._slot.folder.is_dir():
                self._slot = RecoveryFolder(self._folder).new_slot()
            self._slot.write(job, assets, pictures)
        except HonestEdgeError as error:
            self._say(str(error))
        except Exception as error:  # whatever it is must be known before the crash that the copy is for
            LOGGER.exception("unsaved work could not be kept")
            self._say(f"Unsaved work cannot be kept safe ({error!r})")
        else:
            self._was_said = False

    def _say(self, why: str) -> None:
        if not self._was_said:
            self._was_said = True
            self.failed.emit(f"{why}. Save the job yourself meanwhile.")

    def _drop(self) -> None:
        if self._slot is not None:
            self._slot.drop()
            self._slot = None
