"""A picture of the sheet on its carrier, looked at before it goes in."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path
from typing import TYPE_CHECKING, cast

from PyQt6.QtCore import QObject, pyqtSignal

from honest_edge.ui.shared.host import Host
from honest_edge.ui.widgets import dialogs

if TYPE_CHECKING:
    from honest_edge.app.results.progress import IsCancelled, ReportProgress
    from honest_edge.app.run.conductor import Conductor
    from honest_edge.app.run.loaded_look import LoadedLook
    from honest_edge.app.run.practice import CutSheet
    from honest_edge.app.run.print_looked import PrintLooked
    from honest_edge.app.run.trial import TrialTold
    from honest_edge.files.read_scan import Scan


class SheetLooker(QObject):
    """Looks away from the window's thread, and tells what a picture shows."""

    looked = pyqtSignal(object)
    measured = pyqtSignal(object)
    print_looked = pyqtSignal(object)

    def __init__(self, host: Host) -> None:
        super().__init__()
        self._host = host
        self._folder = Path.home()
        self._task = host.new_task()
        self._task.done.connect(lambda look: self.looked.emit(cast("LoadedLook", look)))
        self._measuring = host.new_task()
        self._measuring.done.connect(lambda told: self.measured.emit(cast("TrialTold", told)))
        self._printed = host.new_task()
        self._printed.done.connect(lambda look: self.print_looked.emit(cast("PrintLooked", look)))
        for task in (self._task, self._measuring, self._printed):
            task.failed.connect(lambda words: host.say(words, tone="danger"))

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
        """Look at a picture that was dropped, where one is asked for; return whether it is looked at."""
        step = conductor.step()
        if step.key == "load":
            self.take(conductor, step.sheet, path)
        elif step.key == "measure":
            self.look_at_print(conductor, step.sheet, path)
        elif step.key == "inspect" and conductor.seal.trial_for:
            self.measure(conductor, step.sheet, path)
        else:
            return False
        return True

    def ask_print(self, conductor: Conductor, sheet: int) -> None:
        """Ask for a picture of a sheet that was just printed."""
        path = dialogs.ask_picture(self._host.table, self._folder)
        if path is not None:
            self.look_at_print(conductor, sheet, path)

    def look_at_print(self, conductor: Conductor, sheet: int, path: Path) -> None:
        """Look at a picture of a sheet that was just printed."""
        self._folder = path.parent

        def work(*, report: ReportProgress, cancelled: IsCancelled) -> PrintLooked:
            from honest_edge.app.run.print_looked import look_at_print
            from honest_edge.files.read_scan import read_scan
            from honest_edge.files.typefaces import font_library

            report(0.1, f"Looking at {path.name}")
            return look_at_print(conductor, sheet, read_scan(path, in_colour=True), font_library())

        self._printed.submit(work)

    def ask_trial(self, conductor: Conductor, sheet: int) -> None:
        """Ask for a picture of a plain sheet that was cut."""
        path = dialogs.ask_picture(self._host.table, self._folder)
        if path is not None:
            self.measure(conductor, sheet, path)

    def measure(self, conductor: Conductor, sheet: int, path: Path) -> None:
        """Measure a picture of a plain sheet that was cut."""
        self._folder = path.parent

        def scan() -> Scan:
            from honest_edge.files.read_scan import read_scan

            return read_scan(path)

        self._measure(conductor, sheet, scan, simulated=False)

    def measure_practice(self, conductor: Conductor, sheet: int, cut: CutSheet) -> None:
        """Measure the picture that the practice phone takes of a plain sheet."""

        def scan() -> Scan:
            from honest_edge.app.run.practice_phone import practice_trial_picture
            from honest_edge.files.typefaces import font_library

            return practice_trial_picture(conductor, sheet, cut, font_library())

        self._measure(conductor, sheet, scan, simulated=True)

    def _measure(self, conductor: Conductor, sheet: int, scan: Callable[[], Scan], *, simulated: bool) -> None:
        host, overview, desk = self._host, self._host.workspace.overview, self._host.desk()
        if conductor.differing(overview.job):
            host.say("The job was changed since it was sealed: measure the sheet at the Bench instead", tone="danger")
            return
        page = conductor.seal.pages[conductor.state.sheet(sheet).page].print_page or 0

        def work(*, report: ReportProgress, cancelled: IsCancelled) -> TrialTold:
            from honest_edge.app.run.trial import trial_told

            report(0.1, "Measuring the plain sheet by its stickers")
            now_ms = conductor.clock().wall_ms
            return trial_told(
                overview, host.pipeline(), desk(), [scan()], page, now_ms, simulated=simulated, cancelled=cancelled
            )

        self._measuring.submit(work)

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
