"""Where the files of the job in hand lie, and where a dialog for them opens."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path
from typing import TYPE_CHECKING

from PyQt6.QtCore import QUrl
from PyQt6.QtGui import QDesktopServices, QGuiApplication

if TYPE_CHECKING:
    from honest_edge.files.prefs import Prefs
    from honest_edge.ui.shared.document import Document


class JobPlace:
    """One job has one folder: nothing of another job is proposed or replaced."""

    def __init__(self, document: Document, prefs: Callable[[], Prefs]) -> None:
        self._document, self._prefs = document, prefs

    @property
    def folder(self) -> Path:
        """Where the job's files go: where they went last, or a folder of its name that no other job has."""
        document = self._document
        if document.out_folder is not None:
            return document.out_folder
        from honest_edge.files.job_folder import proposed_folder  # its formats load with the first job

        return proposed_folder(document.job, Path(self._prefs().out_folder) if self._prefs().out_folder else self.art)

    @property
    def art(self) -> Path:
        """Where the job's art lies, as far as that is known."""
        document, prefs = self._document, self._prefs()
        beside = None if document.path is None else document.path.parent
        return document.art_folder or beside or Path(prefs.art_folder or prefs.folder or Path.home())

    def is_own(self, folder: Path) -> bool | None:
        """Whether what lies in a folder was written for this job; None where nothing was written there."""
        from honest_edge.files.job_folder import belongs_to

        return belongs_to(folder, self._document.job)

    def new_folder(self) -> Path:
        """Forget the folder that was chosen, and return the one that is proposed."""
        self._document.out_folder = None
        return self.folder


def show_folder(folder: Path) -> None:
    """Show a folder in the system's file manager."""
    QDesktopServices.openUrl(QUrl.fromLocalFile(str(folder)))


def copy_path(folder: Path) -> None:
    """Put a folder's path on the clipboard."""
    clipboard = QGuiApplication.clipboard()
    if clipboard is not None:
        clipboard.setText(str(folder))
