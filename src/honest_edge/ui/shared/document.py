"""The open job as the window sees it: edits that can be undone, its file, its recovery copy."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from functools import cached_property
from pathlib import Path
from typing import TYPE_CHECKING, Any

from PyQt6.QtCore import QObject, pyqtSignal
from PyQt6.QtGui import QUndoCommand, QUndoStack

from honest_edge.app.edits.job_holder import JobHolder
from honest_edge.app.edits.promised_size import without_broken
from honest_edge.core.values.job import Job
from honest_edge.files.practice_mark import PracticeMark
from honest_edge.ui.shared.recovery_keeper import RecoveryKeeper

if TYPE_CHECKING:
    from honest_edge.files.project_writer import ProjectWriter
    from honest_edge.files.recovery import LeftWork

Run = Callable[[Callable[[], Any]], Any]
"""Does a piece of work and returns what it returns, or raises what it raises."""


def at_once(work: Callable[[], Any]) -> Any:
    """Do a piece of work here and now."""
    return work()


class _ReplaceJob(QUndoCommand):
    """Swaps whole frozen jobs; edits of one field within one gesture merge into one step."""

    def __init__(self, holder: JobHolder, after: Job, words: str, merge: int) -> None:
        super().__init__(words)
        self._holder, self._before, self._after, self._merge = holder, holder.job, after, merge

    @property
    def jobs(self) -> tuple[Job, Job]:
        """What was before and what is after."""
        return self._before, self._after

    def end_with(self, job: Job) -> None:
        """Let the step lead to another job than it did."""
        self._after = job

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
        """Take the folder of all windows' recovery copies."""
        super().__init__(parent)
        self.holder = JobHolder()
        self.holder.listen(lambda _job: self._on_job())
        self.undo_stack = QUndoStack(self)
        self.undo_stack.cleanChanged.connect(self.file_changed)
        self.path: Path | None = None
        self.is_demo = False
        """Whether it is the job that ships with the application, until that is saved as the user's own."""
        self.is_practice = False
        self.out_folder: Path | None = None
        """Where this job's files are written: chosen, or proposed and written to; None before."""
        self.art_folder: Path | None = None
        """Where its art came from last; None where none was opened yet."""
        """Whether it is a practice job, of which nothing is kept unless it is saved."""
        self.practice_mark = PracticeMark(recovery.with_name("practice"))
        self.opened = 0
        """How many jobs were opened here: tells whether what was read for one still belongs to the one in hand."""
        self.runs: dict[str, bytes] = {}
        """Seals and journals of the runs of this job, which no undo touches."""
        self._has_others = False
        """Whether originals of a job that is no longer open may still be here."""
        self.keeper = RecoveryKeeper(recovery, self._unsaved)

    @cached_property
    def files(self) -> ProjectWriter:
        """What reads and writes this window's projects; loaded with the first of them."""
        from honest_edge.files.project_writer import ProjectWriter

        return ProjectWriter()

    def wait(self) -> None:
        """Wait until all is written."""
        if "files" in self.__dict__:
            self.files.wait()
        self.keeper.wait()

    @property
    def job(self) -> Job:
        """The present job."""
        return self.holder.job

    @property
    def is_saved(self) -> bool:
        """Whether the file on disk holds the present job."""
        return self.undo_stack.isClean()

    @property
    def is_changed_on_disk(self) -> bool:
        """Whether another window or program wrote the file since it was opened or saved here."""
        return self.path is not None and self.files.is_changed_elsewhere(self.path)

    def edit(self, job: Job, words: str, *, merge: int = -1) -> None:
        """Make ``job`` the present one, as one step of undo."""
        job = without_broken(self.job, job)
        if job != self.job:
            self.undo_stack.push(_ReplaceJob(self.holder, job, words, merge))

    def follow(self, job: Job) -> None:
        """Make ``job`` the present one as part of the step that was done last: it follows from that."""
        stack = self.undo_stack
        last = stack.command(stack.index() - 1) if stack.index() and not stack.isClean() else None
        if isinstance(last, _ReplaceJob) and last.jobs[1] == self.job:
            last.end_with(job)
            self.holder.replace(job)
        else:
            self.edit(job, "size")

    def amend(self, job: Job) -> None:
        """Make ``job`` the present one without a step of undo: what changed is nothing that the user did."""
        self.holder.replace(job)

    def start(
        self,
        job: Job,
        assets: dict[str, bytes],
        path: Path | None,
        *,
        saved: bool = True,
        is_demo: bool = False,
        is_practice: bool = False,
        runs: Mapping[str, bytes] | None = None,
        out_folder: str = "",
    ) -> None:
        """Show another job; the old one's history goes, and its recovery copy."""
        self.out_folder, self.art_folder = Path(out_folder) if out_folder else None, None
        self.is_demo, self.is_practice = is_demo, is_practice
        self.runs = dict(runs or {})
        self.keeper.drop()
        self.holder.assets.update(assets)
        self._has_others = True
        self.opened += 1
        self.undo_stack.clear()
        if not saved:
            self.undo_stack.resetClean()
        self.path = path
        is_equal = job == self.job
        self.holder.replace(job)
        if is_equal:
            self.changed.emit()  # it is another job all the same
        self.file_changed.emit()

    def open(self, path: Path, run: Run = at_once) -> tuple[str, ...]:
        """Open a project; return what of it is not as it was saved, each one sentence.

        Args:
            path: the file.
            run: does what takes long.

        Raises:
            FileError: it cannot be read; the present job stays.
        """
        loaded = run(self.files.load(path))
        self.start(loaded.job, loaded.assets, path, runs=loaded.runs, out_folder=loaded.out_folder)
        return tuple(loaded.notes)

    def save(self, path: Path, run: Run = at_once, *, over: bool = False) -> None:
        """Save the job.

        Args:
            path: the file.
            run: does what takes long.
            over: write over a file that another window or program changed meanwhile, too.

        Raises:
            FileError: it cannot be written, or was changed meanwhile; nothing is lost.
        """
        assets, runs = dict(self.holder.assets), dict(self.runs)
        is_over, folder = over or path != self.path, str(self.out_folder or "")
        run(self.files.save(path, self.job, assets, runs, over=is_over, out_folder=folder))
        self.path, self.is_demo, self.is_practice = path, False, False
        self.undo_stack.setClean()
        self.keeper.drop()
        self.file_changed.emit()

    def note_run(self, key: str, text: bytes) -> Callable[[], None]:
        """Keep a run with the job, and begin to write it into the file on disk, where there is one.

        Returns:
            What waits for that, and raises FileError where it could not be written.
        """
        self.runs[key] = text
        if self.is_demo or self.path is None or not self.path.exists():
            return lambda: None
        return self.files.note_run(self.path, key, text)

    def forget_others(self) -> None:
        """Let go of the originals of jobs that are no longer open; what undo can bring back stays.

        To be called while nothing is computed: what still works on an earlier job needs its originals.
        """
        if not self._has_others:
            return
        commands = [self.undo_stack.command(number) for number in range(self.undo_stack.count())]
        jobs = [self.job, *(job for one in commands if isinstance(one, _ReplaceJob) for job in one.jobs)]
        needed = {asset for job in jobs for design in job.designs for asset in design.assets}
        for asset in self.holder.assets.keys() - needed:
            del self.holder.assets[asset]
        self._has_others = False

    def bring_back(self, work: LeftWork) -> None:
        """Show unsaved work that another window left, and go on in its copy."""
        self.start(work.job, work.assets, None, saved=False)
        self.keeper.adopt(work.slot)

    def _on_job(self) -> None:
        self.keeper.soon()
        self.changed.emit()

    def _unsaved(self) -> tuple[Job, Mapping[str, bytes]] | None:
        is_kept = not (self.is_saved or self.is_practice) and bool(self.job.designs)
        return (self.job, dict(self.holder.assets)) if is_kept else None
