"""Print…: the system's dialog asks where to; to a file goes the print file itself, to a printer its pages."""

from __future__ import annotations

from pathlib import Path
from typing import TYPE_CHECKING, cast

from PyQt6.QtCore import QObject
from PyQt6.QtPrintSupport import QAbstractPrintDialog, QPrintDialog, QPrinter

from honest_edge.core.values.errors import DeviceError
from honest_edge.files.whole import write_set
from honest_edge.ui.fields import counted
from honest_edge.ui.printer import is_device, obstacle, printer_for, send, wanted_pages
from honest_edge.ui.tasks import LatestOnly

if TYPE_CHECKING:
    from honest_edge.app.pipeline import IsCancelled, Report
    from honest_edge.ui.output import Output
    from honest_edge.ui.window import MainWindow


class Printing(QObject):
    """Asks for a printer and sends it the sheets of the job."""

    def __init__(self, window: MainWindow, output: Output) -> None:
        super().__init__(window)
        self._window, self._output = window, output
        self.dialog: QPrintDialog | None = None
        self.sending = LatestOnly(window.pool, self)
        self.sending.progress.connect(window.panels.files.set_progress)
        self.sending.done.connect(lambda found: self._on_sent(*cast("tuple[str, int]", found)))
        self.sending.failed.connect(output.on_failed)

    def start(self) -> None:
        """Show the system's dialog, unless there is nothing to print."""
        window, seen = self._window, self._window.desk.seen
        if seen.plan is None:
            window.say(f"Nothing can be printed yet: {seen.state('files')[1]}", tone="danger")
        elif seen.job.sheet.machine.prints_own_marks:
            window.say("This machine's own program prints the sheets: write the files and open them there")
        elif None not in seen.plan.stocks:
            window.say("Nothing is printed in this job: every piece is cut from stock of its own")
        else:
            self._ask(seen.plan.stocks.count(None))

    def _ask(self, count: int) -> None:
        job = self._window.document.job
        printer = printer_for(job.sheet, job.title, Path(self._window.prefs.out_folder or Path.home()))
        self.dialog = QPrintDialog(printer, self._window)
        self.dialog.setOption(QAbstractPrintDialog.PrintDialogOption.PrintPageRange)
        self.dialog.setMinMax(1, count)
        self.dialog.accepted.connect(lambda: self._send(printer))  # which keeps the printer: a dialog does not
        self.dialog.finished.connect(self.dialog.deleteLater)
        self.dialog.open()

    def _send(self, printer: QPrinter) -> None:
        window, job = self._window, self._window.document.job
        problem = obstacle(printer, job.sheet, window.prefs.unit)
        if problem is not None:
            window.say(problem, tone="danger")
            return
        file = None if is_device(printer) else Path(printer.outputFileName())
        if file is not None and file.exists() and not self._output.ask_to_replace(file.parent, [file.name]):
            return
        pipeline = window.background.pipeline()

        def work(*, report: Report, cancelled: IsCancelled) -> tuple[str, int]:
            from honest_edge.app.composing import composed_sheets

            def first(share: float, what: str) -> None:
                report(0.5 * share, what)

            def then(share: float, what: str) -> None:
                report(0.5 + 0.5 * share, what)

            sheets = composed_sheets(job, pipeline, report=first, cancelled=cancelled)
            pages = wanted_pages(printer, len(sheets.printed))
            print_file = sheets.print_file(pages)
            if print_file is None:
                raise DeviceError(f"There is no such sheet: the job has {len(sheets.printed)}; nothing was printed")
            if file is not None:
                write_set(file.parent, {file.name: print_file}, replace=True)
                return str(file), len(pages)
            send(printer, print_file, len(pages), report=then, cancelled=cancelled)
            return f"the printer “{printer.printerName()}”", len(pages)

        window.panels.files.set_progress(0.0, "Preparing")
        self.sending.submit(work)

    def _on_sent(self, where: str, count: int) -> None:
        self._window.panels.files.set_progress(None, "")
        self._window.say(
            f"{counted(count, 'sheet')} went to {where}. Measure the printed ruler, and write the cut files before "
            "anything is changed.",
            tone="fine",
            actions=[("Write files", self._output.write)],
        )
