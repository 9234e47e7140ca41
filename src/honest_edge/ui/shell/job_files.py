"""Jobs as files: new, opened, saved, brought back after a crash."""

from __future__ import annotations

from dataclasses import replace
from pathlib import Path

from PyQt6.QtWidgets import QFileDialog, QMessageBox, QWidget

from honest_edge.core.values.errors import HonestEdgeError
from honest_edge.core.values.job import Job
from honest_edge.core.values.layers import PLACEHOLDER_TITLE
from honest_edge.files.file_kinds import PROJECT_SUFFIX
from honest_edge.ui.station.host import Host

_PROJECTS = f"Honest Edge jobs (*{PROJECT_SUFFIX})"


class JobFiles:
    """Asks where a job is and where it goes; unsaved work is never left without a question."""

    def __init__(self, host: Host, parent: QWidget) -> None:
        self._host, self._parent = host, parent
        self._document = host.workspace.document

    def may_leave(self) -> bool:
        """Ask about unsaved work; return whether it may be left."""
        document = self._document
        if document.is_saved or not document.job.designs:
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
            self._document.drop_recovery()

    def fresh_job(self) -> Job:
        """Return an empty job on the user's usual paper."""
        job = Job()
        return replace(job, sheet=replace(job.sheet, paper=self._host.prefs.paper))

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
        try:
            notes = self._document.open(path)
        except HonestEdgeError as error:
            self._host.say(str(error), tone="danger")
            return
        self._document.drop_recovery()
        self._remember_folder(path)
        if notes:
            self._host.say(" ".join(notes), tone="look")

    def open_demo(self) -> None:
        """Open the job that ships with the application."""
        if self.may_leave():
            from honest_edge.app.edits.open_art import demo_project

            demo = demo_project()
            self._document.start(demo.job, demo.assets, None)

    def offer_recovery(self) -> None:
        """Offer what a session that ended badly left behind."""
        document = self._document
        found = document.recovered()
        if found is None:
            return
        self._host.say(
            f"Unsaved work on “{found.job.title}” was kept from last time.",
            actions=[
                ("Bring it back", lambda: document.start(found.job, found.assets, None, saved=False)),
                ("Discard it", document.drop_recovery),
            ],
        )

    def save(self) -> bool:
        """Save the job; return whether that was done."""
        path = self._document.path
        return self.save_as() if path is None else self._save_to(path)

    def save_as(self) -> bool:
        """Choose a place and save the job there."""
        document = self._document
        start = str(Path(self._host.prefs.folder) / f"{document.job.title}{PROJECT_SUFFIX}")
        name, _ = QFileDialog.getSaveFileName(self._parent, "Save job", start, _PROJECTS)
        if not name:
            return False
        path = Path(name)
        path = path if path.suffix == PROJECT_SUFFIX else path.with_name(path.name + PROJECT_SUFFIX)
        if document.job.title == PLACEHOLDER_TITLE:
            document.edit(replace(document.job, title=path.stem), "title")
        return self._save_to(path)

    def _save_to(self, path: Path) -> bool:
        try:
            self._document.save(path)
        except HonestEdgeError as error:
            self._host.say(str(error), tone="danger")
            return False
        self._remember_folder(path)
        return True

    def _remember_folder(self, path: Path) -> None:
        self._host.set_prefs(replace(self._host.prefs, folder=str(path.parent)))
