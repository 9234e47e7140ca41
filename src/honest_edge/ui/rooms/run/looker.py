"""A picture of the sheet on its carrier, looked at before it goes in."""

from __future__ import annotations

from pathlib import Path
from typing import TYPE_CHECKING, cast

from PyQt6.QtCore import QObject, pyqtSignal

from honest_edge.ui.shared.host import Host
from honest_edge.ui.widgets import dialogs

if TYPE_CHECKING:
    from honest_edge.app.results.progress import IsCancelled, ReportProgress
    from honest_edge.app.run.conductor import Conductor
    from honest_edge.app.run.loaded_look import LoadedLook


class SheetLooker(QObject):
    """Looks away from the window's thread, and tells what a picture shows."""

    looked = pyqtSignal(object)

    def __init__(self, host: Host) -> None:
        super().__init__()
        self._host = host
        self._folder = Path.home()
        self._task = host.new_task()
        self._task.done.connect(lambda look: self.looked.emit(cast("LoadedLook", look)))
        self._task.failed.connect(lambda words: host.say(words, tone="danger"))

    def ask(self, conductor: Conductor, sheet: int) -> None:
        """Ask for a picture of a sheet of a run."""
        path = dialogs.ask_picture(self._host.table, self._folder)
        if path is not None:
            self.take(conductor, sheet, path)

    def take(self, conductor: Conductor, sheet: int, path: Path) -> None:
        """Look at a picture of a sheet of a run."""
        self._folder = path.parent

        def work(*, report: ReportProgress, cancelled: IsCancelled) -> LoadedLook:
            from honest_edge.app.run.loaded_look import look_at_loaded
            from honest_edge.files.read_scan import read_scan
            from honest_edge.files.typefaces import font_library

            report(0.1, f"Looking at {path.name}")
            return look_at_loaded(conductor, sheet, read_scan(path), font_library())

        self._task.submit(work)

    def takes(self, conductor: Conductor, path: Path) -> bool:
        """Look at a picture that was dropped, where a sheet is to be laid; return whether it is looked at."""
        step = conductor.step()
        if step.key == "load":
            self.take(conductor, step.sheet, path)
        return step.key == "load"

    def take_practice(self, conductor: Conductor, sheet: int) -> None:
        """Look at a picture that the practice phone takes."""

        def work(*, report: ReportProgress, cancelled: IsCancelled) -> LoadedLook:
            from honest_edge.app.run.loaded_look import look_at_loaded
            from honest_edge.app.run.practice_phone import practice_picture
            from honest_edge.files.typefaces import font_library

            report(0.1, "The practice phone takes a picture")
            fonts = font_library()
            return look_at_loaded(conductor, sheet, practice_picture(conductor, sheet, fonts), fonts)

        self._task.submit(work)
