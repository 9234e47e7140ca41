"""The jobs that were in hand last, by the pictures of their sheets."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path
from typing import TYPE_CHECKING

from PyQt6.QtCore import QDateTime, QLocale, QObject

from honest_edge.ui.shared.host import Host
from honest_edge.ui.shell.start_page.drawings import draw_sheet
from honest_edge.ui.widgets.tiles import Tile

if TYPE_CHECKING:
    from honest_edge.app.results.overview import Overview
    from honest_edge.files.recent_jobs import RecentJobs

_HIGH_PX = 120


class RecentList(QObject):
    """Keeps the list up to date and makes its tiles; pictures are made away from the window's thread."""

    def __init__(self, host: Host, folder: Path) -> None:
        """Take the folder of the list."""
        super().__init__()
        self._host, self._folder = host, folder
        self._noted: tuple[Path, int] | None = None

    def _list(self) -> RecentJobs:
        from honest_edge.files.recent_jobs import RecentJobs

        return RecentJobs(self._folder)

    def note(self) -> None:
        """Put the job in hand at the head, where it has a file."""
        document = self._host.workspace.document
        path, title = document.path, document.job.title
        self._noted = None
        if path is not None:
            self._list().note(path.absolute(), title, QDateTime.currentMSecsSinceEpoch())

    def picture(self, overview: Overview) -> None:
        """Keep what the sheets of a saved job look like."""
        document = self._host.workspace.document
        path = document.path
        if path is None or not document.is_saved or overview.plan is None or overview.job is not document.job:
            return
        if self._noted == (path, id(overview.plan)):
            return
        self._noted = (path, id(overview.plan))

        def keep() -> None:
            from honest_edge.app.book.sheet_picture import sheets_picture

            self._list().keep_picture(path.absolute(), sheets_picture(overview))

        self._host.writes.submit(keep)

    def tiles(self, open_path: Callable[[Path], object], changed: Callable[[], object]) -> tuple[list[Tile], str]:
        """Return a tile for each job, and what to say of a list that cannot be read."""
        recent = self._list()
        jobs, said = recent.read()
        job_tiles = []
        for job in jobs:
            when = QLocale().toString(QDateTime.fromMSecsSinceEpoch(job.at_ms), "d MMM, HH:mm")
            if job.is_there:
                tile = Tile(job.title, when, lambda job=job: open_path(Path(job.path)), high_px=_HIGH_PX)  # type: ignore[misc]
                tile.setToolTip(f"{job.title}\n{job.path}\n{when}")
            else:

                def drop(path: str = job.path) -> None:
                    recent.forget(path)
                    changed()

                tile = Tile(job.title, "gone: press to take it off", drop, high_px=_HIGH_PX)
                tile.setToolTip(
                    f"There is no {job.path} any more: moved, renamed, or on a disk that is not there.\n"
                    "Pressing takes it off this list; a file that comes back can be opened with Ctrl+O."
                )
            if picture := recent.picture_of(job):
                tile.show_picture(picture)
            else:
                tile.show_drawing(draw_sheet, self._host.tokens)
            job_tiles.append(tile)
        return job_tiles, said
