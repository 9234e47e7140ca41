"""The open job as the window sees it: edits that can be undone, its file, its recovery copy."""

from __future__ import annotations

import contextlib
from pathlib import Path
from typing import TYPE_CHECKING

from PyQt6.QtCore import QObject, QTimer, pyqtSignal
from PyQt6.QtGui import QUndoCommand, QUndoStack

from honest_edge.app.edits.job_holder import JobHolder
from honest_edge.core.values.errors import FileError, HonestEdgeError
from honest_edge.core.values.job import Job

if TYPE_CHECKING:
    from honest_edge.files.project import LoadedProject

_RECOVERY_DELAY_MS = 1500


class _ReplaceJob(QUndoCommand):
    """Swaps whole frozen jobs; edits of one field within one gesture merge into one step."""

    def __init__(self, holder: JobHolder, after: Job, words: str, merge: int) -> None:
        super().__init__(words)
        self._holder, self._before, self._after, self._merge = holder, holder.job, after, merge

    def id(self) -> int:
        return self._merge

    def redo(self) -> None:
        self._holder.replace(self._after)

    def undo(self) -> None:
        self._holder.replace(self._before)

    def mergeWith(self, other: QUndoCommand | None) -> bool:
        if not isinstance(other, _ReplaceJob):
            return False
        self._after = other._after
        self.setObsolete(self._after == self._before)
        return True


class Document(QObject):
    """Holds the job, its undo history and its place on disk."""

    changed = pyqtSignal()
    file_changed = pyqtSignal()

    def __init__(self, recovery: Path, parent: QObject | None = None) -> None:
        super().__init__(parent)
        self.holder = JobHolder()
        self.holder.listen(lambda _job: self._on_job())
        self.undo_stack = QUndoStack(self)
        self.undo_stack.cleanChanged.connect(self.file_changed)
        self.path: Path | None = None
        self.recovery = recovery
        self._recovery_timer = QTimer(self)
        self._recovery_timer.setSingleShot(True)
        self._recovery_timer.setInterval(_RECOVERY_DELAY_MS)
        self._recovery_timer.timeout.connect(self.write_recovery)

    @property
    def job(self) -> Job:
        """The present job."""
        return self.holder.job

    @property
    def is_saved(self) -> bool:
        """Whether the file on disk holds the present job."""
        return self.undo_stack.isClean()

    def edit(self, job: Job, words: str, *, merge: int = -1) -> None:
        """Make ``job`` the present one, as one step of undo."""
        if job != self.job:
            self.undo_stack.push(_ReplaceJob(self.holder, job, words, merge))

    def start(self, job: Job, assets: dict[str, bytes], path: Path | None, *, saved: bool = True) -> None:
        """Show another job; the old one's history goes."""
        self.holder.assets.update(assets)
        self.undo_stack.clear()
        if not saved:
            self.undo_stack.resetClean()
        self.path = path
        self.holder.replace(job)
        self.file_changed.emit()

    def open(self, path: Path) -> tuple[str, ...]:
        """Open a project; return what of it is not as it was saved, each one sentence.

        Raises:
            FileError: it cannot be read; the present job stays.
        """
        from honest_edge.files.project import load_project

        found = load_project(path)
        self.start(found.job, found.assets, path)
        return found.notes

    def save(self, path: Path) -> None:
        """Save the job.

        Raises:
            FileError: it cannot be written; nothing is lost.
        """
        from honest_edge.files.project import save_project

        save_project(path, self.job, self.holder.assets)
        self.path = path
        self.undo_stack.setClean()
        self.drop_recovery()
        self.file_changed.emit()

    def _on_job(self) -> None:
        self._recovery_timer.start()
        self.changed.emit()

    def write_recovery(self) -> None:
        """Keep a copy of unsaved work where a crash does not reach it."""
        if self.is_saved or not self.job.designs:
            return
        from honest_edge.files.project import save_project

        # a copy that cannot be written must not disturb the work it is a copy of
        with contextlib.suppress(FileError):
            save_project(self.recovery, self.job, self.holder.assets)

    def drop_recovery(self) -> None:
        """Remove the recovery copy once the work is safe or given up."""
        self._recovery_timer.stop()
        self.recovery.unlink(missing_ok=True)

    def recovered(self) -> LoadedProject | None:
        """Return the job of a recovery copy left by a session that ended badly."""
        if not self.recovery.exists():
            return None
        from honest_edge.files.project import load_project

        try:
            return load_project(self.recovery)
        except HonestEdgeError:
            return None
