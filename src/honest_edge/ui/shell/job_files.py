"""Jobs as files: new, opened, saved, brought back after a crash."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace
from pathlib import Path
from typing import TYPE_CHECKING, Any, cast

from PyQt6.QtWidgets import QFileDialog, QMessageBox, QWidget

from honest_edge.app.edits.habits import begun_job
from honest_edge.core.values.job import Job
from honest_edge.core.values.layers import PLACEHOLDER_TITLE
from honest_edge.core.values.names import readable
from honest_edge.files.atomic_write import MARKER, finish, unfinished
from honest_edge.files.file_kinds import PROJECT_SUFFIX
from honest_edge.ui.shared.host import Host
from honest_edge.ui.shell.message_bar import MessageBar
from honest_edge.ui.shell.recovery_offer import RecoveryOffer
from honest_edge.ui.shell.waiting import Waiting

if TYPE_CHECKING:
    from honest_edge.app.results.progress import IsCancelled, ReportProgress
    from honest_edge.files.profiles import Kind
    from honest_edge.files.project import LoadedProject
    from honest_edge.files.recovery import LeftWork

_PROJECTS = f"Honest Edge jobs (*{PROJECT_SUFFIX})"


def _finished(folder: Path) -> list[str]:
    """Finish the set of files whose writing a kill interrupted; return what to say of it."""
    names = ", ".join(unfinished(folder))
    if not names:
        return []
    try:
        finish(folder)
    except OSError as error:
        return [
            f"The files in {folder} are not one set: writing {names} was interrupted and cannot be finished: {error}."
        ]
    return [f"Writing {names} to {folder} was interrupted last time; it is finished now."]


class JobFiles:
    """Asks where a job is and where it goes; unsaved work is never left without a question."""

    def __init__(self, host: Host, bar: MessageBar, recovery: Path, parent: QWidget) -> None:
        """Take the window's parts, and the folder of all windows' recovery copies."""
        self._host, self._parent, self.recovery = host, parent, recovery
        self._document = host.workspace.document
        self.waiting = Waiting(host, bar)
        self.offer = RecoveryOffer(self._bring_back)
        self._looking = host.new_task()
        self._looking.done.connect(lambda found: self._on_left(*cast("tuple[list[LeftWork], list[str]]", found)))
        self._looking.failed.connect(lambda text: host.say(text, tone="danger"))
        self._document.keeper.failed.connect(lambda text: host.say(text, tone="danger"))

    @property
    def host_acts(self) -> tuple[Callable[..., None], Callable[..., bool], Callable[[], None]]:
        """What rooms open jobs by: one made again, a practice job, and that job's end."""
        return self.make_again, self.practise, self.end_practice

    def may_leave(self) -> bool:
        """Ask about unsaved work; return whether it may be left."""
        document = self._document
        if document.is_saved or document.is_practice or not document.job.designs:
            return True
        answer = self.ask_to_save(self._parent, document.job.title)
        if answer == QMessageBox.StandardButton.Save:
            return self.save()
        return answer == QMessageBox.StandardButton.Discard

    @staticmethod
    def ask_to_save(parent: QWidget, title: str) -> QMessageBox.StandardButton:
        """Ask whether to keep unsaved work."""
        return QMessageBox.question(
            parent,
            "Save first?",
            f"“{title}” has changes that are not saved.",
            QMessageBox.StandardButton.Save | QMessageBox.StandardButton.Discard | QMessageBox.StandardButton.Cancel,
        )

    def new(self) -> None:
        """Start an empty job."""
        if self.may_leave():
            self._document.start(self.fresh_job(), {}, None)

    def begin_empty_anew(self) -> None:
        """Let a job of which there is nothing yet begin with what is usual now."""
        if not self._document.job.designs and self._document.path is None and not self._document.is_practice:
            self._document.start(self.fresh_job(), {}, None)

    def fresh_job(self) -> Job:
        """Return an empty job on the user's usual paper, for the user's own machine, printer and stock."""
        job, prefs = Job(), self._host.prefs
        sheet = replace(job.sheet, paper=prefs.paper, arrangement="tidy")
        wanted: dict[Kind, str] = {"machine": prefs.machine, "printer": prefs.printer, "stock": prefs.stock}
        for kind, name in wanted.items():
            named = [one for one in self._host.profiles.all(kind) if one.name == name] if name else []
            sheet = sheet.with_profile(named[0]) if named else sheet
        return begun_job(replace(job, sheet=sheet), self._host.habits.known)

    def open(self) -> None:
        """Choose a job and open it."""
        if not self.may_leave():
            return
        name, _ = QFileDialog.getOpenFileName(self._parent, "Open job", self._host.prefs.folder, _PROJECTS)
        if name:
            self.open_path(Path(name))

    def open_dropped(self, path: Path) -> None:
        """Open a job that was dropped on the window."""
        if self.may_leave():
            self.open_path(path)

    def open_path(self, path: Path) -> None:
        """Open a job; the present one stays where that fails."""

        def run(work: Callable[[], Any]) -> Any:
            return self.waiting.for_result(work, f"Opening {path.name}")

        notes = self.waiting.told(lambda: self._document.open(path, run), f"Opening {path.name}")
        if notes is None:
            return
        self._remember_folder(path)
        if notes:
            self._host.say(" ".join(notes), tone="look")

    def open_demo(self) -> None:
        """Open the job that ships with the application."""
        if not self.may_leave():
            return

        def read() -> LoadedProject:
            from honest_edge.app.edits.open_art import demo_project

            return demo_project()

        demo = self.waiting.told(lambda: self.waiting.for_result(read, "Opening the demo job"), "Opening the demo job")
        if demo is not None:
            self._document.start(demo.job, demo.assets, None, is_demo=True)

    def make_again(self, job: Job, assets: dict[str, bytes]) -> None:
        """Open a job that was made before, as one that is not saved yet, where its sheets are seen."""
        if self.may_leave():
            self._document.start(job, assets, None, saved=False)
            self._host.go_to("sheet")

    def practise(self, job: Job, assets: dict[str, bytes]) -> bool:
        """Open a practice job; return whether the job in hand could be left."""
        if not self.may_leave():
            return False
        self._document.start(job, assets, None, is_practice=True)
        return True

    def end_practice(self) -> None:
        """Close a practice job, if one is open."""
        if self._document.is_practice:
            self._document.start(self.fresh_job(), {}, None)

    def offer_recovery(self) -> None:
        """Offer what windows left that ended badly; their copies are looked through away from the window's thread."""
        folder, written = self.recovery, Path(self._host.prefs.written_folder or ".")

        def work(*, report: ReportProgress, cancelled: IsCancelled) -> tuple[list[LeftWork], list[str]]:
            from honest_edge.files.recovery import RecoveryFolder

            works, said = RecoveryFolder(folder).left()
            return works, [*_finished(written), *said]

        if folder.is_dir() or folder.with_suffix(PROJECT_SUFFIX).exists() or (written / MARKER).exists():
            self._looking.submit(work)

    def _on_left(self, works: list[LeftWork], said: list[str]) -> None:
        self.offer.show_works(works)
        if said:
            self._host.say(" ".join(said), tone="danger")

    def _bring_back(self, work: LeftWork) -> bool:
        if not self.may_leave():
            return False
        self._document.bring_back(work)
        return True

    def save(self) -> bool:
        """Save the job; return whether that was done."""
        path = self._document.path
        if path is None:
            return self.save_as()
        is_changed = self._document.is_changed_on_disk
        if is_changed:
            answer = self.ask_to_overwrite(self._parent, path)
            if answer == QMessageBox.StandardButton.Save:
                return self.save_as()
            if answer != QMessageBox.StandardButton.Yes:
                return False
        return self._save_to(path, over=is_changed)

    @staticmethod
    def ask_to_overwrite(parent: QWidget, path: Path) -> QMessageBox.StandardButton:
        """Ask what to do with a file that was written meanwhile: Yes, Save (under another name) or Cancel."""
        box = QMessageBox(parent)
        box.setIcon(QMessageBox.Icon.Warning)
        box.setWindowTitle("Changed meanwhile")
        box.setText(f"{path.name} was changed by another window or program since you opened it here.")
        over = box.addButton("Save over it", QMessageBox.ButtonRole.DestructiveRole)
        aside = box.addButton("Save under another name…", QMessageBox.ButtonRole.AcceptRole)
        box.addButton(QMessageBox.StandardButton.Cancel)
        box.setDefaultButton(aside)
        box.exec()
        if box.clickedButton() is over:
            return QMessageBox.StandardButton.Yes
        return QMessageBox.StandardButton.Save if box.clickedButton() is aside else QMessageBox.StandardButton.Cancel

    def save_as(self) -> bool:
        """Choose a place and save the job there."""
        document = self._document
        from honest_edge.files.job_folder import folder_name

        name = f"{folder_name(document.job)}{PROJECT_SUFFIX}"
        start = str(document.path or self._host.workspace.place.art / name)
        name, _ = QFileDialog.getSaveFileName(self._parent, "Save job", start, _PROJECTS)
        if not name:
            return False
        path = Path(name)
        path = path if path.suffix == PROJECT_SUFFIX else path.with_name(path.name + PROJECT_SUFFIX)
        if document.job.title == PLACEHOLDER_TITLE:
            document.edit(replace(document.job, title=readable(path.stem)), "title")
        return self._save_to(path, over=True)

    def _save_to(self, path: Path, *, over: bool) -> bool:
        def run(work: Callable[[], Any]) -> Any:
            return self.waiting.for_result(work, f"Saving {path.name}")

        def save() -> bool:
            self._document.save(path, run, over=over)
            return True

        if self.waiting.told(save, f"Saving {path.name}") is None:
            return False
        self._remember_folder(path)
        return True

    def _remember_folder(self, path: Path) -> None:
        self._host.set_prefs(replace(self._host.prefs, folder=str(path.parent)))
