"""Sheets that turn up: which run they are of, by their sign."""

from __future__ import annotations

from pathlib import Path
from typing import TYPE_CHECKING, cast

from PyQt6.QtCore import QObject, pyqtSignal

from honest_edge.ui.shared.host import Host

if TYPE_CHECKING:
    from honest_edge.app.results.progress import IsCancelled, ReportProgress

_PICTURES = (".png", ".jpg", ".jpeg", ".webp", ".tif", ".tiff", ".bmp")


class SheetFinder(QObject):
    """Looks a sign up, or reads it off a photograph, and says what became of the sheet."""

    found = pyqtSignal(str)

    def __init__(self, host: Host) -> None:
        super().__init__()
        self._task = host.new_task()
        self._task.done.connect(lambda words: self.found.emit(cast(str, words)))
        self._task.failed.connect(self.found)

    def look_up(self, text: str) -> None:
        """Look up a sign that was typed."""

        def work(*, report: ReportProgress, cancelled: IsCancelled) -> str:
            from honest_edge.app.run.found_sheet import sheet_found
            from honest_edge.core.values.run_seal import parse_sign
            from honest_edge.files.runs.journal import runs_folder

            return sheet_found(runs_folder(), *parse_sign(text))

        self._task.submit(work)

    def take(self, path: Path) -> bool:
        """Read a photograph; return whether it can be one."""
        if path.suffix.lower() not in _PICTURES:
            return False

        def work(*, report: ReportProgress, cancelled: IsCancelled) -> str:
            from honest_edge.app.run.found_sheet import sheet_found
            from honest_edge.files.read_sign import sign_in
            from honest_edge.files.runs.journal import runs_folder

            return sheet_found(runs_folder(), *sign_in(path))

        self._task.submit(work)
        return True
