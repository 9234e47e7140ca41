"""Shows the start page while no job is in hand, and keeps the list of recent jobs."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path
from typing import TYPE_CHECKING

from PyQt6.QtCore import QObject

from honest_edge.ui.shell.start_page.page import StartPage
from honest_edge.ui.shell.start_page.recent_list import RecentList
from honest_edge.ui.widgets.layouts import show_in

if TYPE_CHECKING:
    from honest_edge.app.results.overview import Overview
    from honest_edge.ui.shared.host import Host
    from honest_edge.ui.shell.art_intake import ArtIntake
    from honest_edge.ui.shell.job_files import JobFiles
    from honest_edge.ui.shell.path_bar import PathBar
    from honest_edge.ui.shell.workshop import Workshop


class StartKeeper(QObject):
    """The page is made with the window: an empty one shows nothing else."""

    def __init__(
        self,
        host: Host,
        parts: tuple[JobFiles, ArtIntake, Workshop, PathBar],
        folder: Path,
        back: Callable[[], object],
    ) -> None:
        """Take the window's parts, the folder of the list, and what goes back to the station in hand."""
        super().__init__()
        jobs, intake, self._workshop, self._path_bar = parts
        self._workspace, self._document, self._back, self._table = (
            host.workspace, host.workspace.document, back, host.table,
        )  # fmt: skip
        self.recent = RecentList(host, folder)
        self.page = StartPage(host, jobs, intake, self.recent)
        self._document.file_changed.connect(self._on_file)
        self._document.changed.connect(self._on_job)

    @property
    def is_shown(self) -> bool:
        """Whether it is what the window shows."""
        return self._workshop.stack.currentWidget() is self.page

    def show(self) -> None:
        """Show the start page; a job in hand stays as it is."""
        self._workshop.visit("")
        self._path_bar.show_here("")
        show_in(self._workshop.stack, self.page)
        self.page.refresh()
        self.take_focus()

    def take_focus(self) -> None:
        """Give the keys to what is shown: the page, or the table of the path."""
        (self.page.choose if self.is_shown else self._table).setFocus()

    def on_overview(self, overview: Overview) -> None:
        """Keep what the sheets of the job look like, for the list."""
        self.recent.picture(overview)

    def _on_file(self) -> None:
        if self._document.is_saved:
            self.recent.note()
            self.recent.picture(self._workspace.overview)

    def _on_job(self) -> None:
        if self._document.job.designs:
            if self.is_shown:
                self._back()
        elif self._workshop.is_on_path:
            self.show()
