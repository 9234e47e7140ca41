"""Print…: the system's dialog asks where to; to a file goes the print file itself, to a printer its pages."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from pathlib import Path
from typing import TYPE_CHECKING

from PyQt6.QtCore import QObject
from PyQt6.QtPrintSupport import QAbstractPrintDialog, QPrintDialog, QPrinter

from honest_edge.core.values.errors import DeviceError
from honest_edge.files.atomic_write import write_set
from honest_edge.ui.shared.host import Host
from honest_edge.ui.shared.system_printer import is_device, obstacle, printer_for, send, wanted_pages
from honest_edge.ui.stations.files.write_files import ask_to_replace

if TYPE_CHECKING:
    from honest_edge.app.results.progress import IsCancelled, ReportProgress
    from honest_edge.core.values.job import Job
    from honest_edge.core.values.stock import Stock
    from honest_edge.ui.shared.tasks import LatestOnly


def repeated(pages: Sequence[int], job: Job, stocks: Sequence[Stock | None]) -> list[int]:
    """Return printed sheets, counted from 0, each as often as the job prints it."""
    printed = [page for page, stock in enumerate(stocks) if stock is None]
    return [number for number in pages for _ in range(job.prints_of(printed[number]))]


class SheetPrinting(QObject):
    """Asks for a printer and sends it the sheets of the job."""

    def __init__(self, host: Host, task: LatestOnly, started: Callable[[], object], parent: QObject) -> None:
        """Take the task that sends, which is done with where to and how many, and what is told that it began."""
        super().__init__(parent)
        self._host, self._task, self._started = host, task, started
        self.dialog: QPrintDialog | None = None

    def start(self) -> None:
        """Show the system's dialog, unless there is nothing to print."""
        overview = self._host.workspace.overview
        if overview.plan is None or overview.why_unwritten is not None:
            self._host.say(f"Nothing can be printed yet: {overview.why_unwritten}", tone="danger")
        elif overview.job.sheet.machine.prints_own_marks:
            self._host.say("This machine’s own program prints the sheets: write the files and open them there")
        elif None not in overview.plan.stocks:
            self._host.say("Nothing is printed in this job: every piece is cut from stock of its own")
        else:
            self._ask(overview.plan.stocks.count(None))

    def _ask(self, count: int) -> None:
        job = self._host.workspace.job
        printer = printer_for(job.sheet, job.title, self._host.workspace.place.folder)
        self.dialog = QPrintDialog(printer, self._host.table)
        self.dialog.setOption(QAbstractPrintDialog.PrintDialogOption.PrintPageRange)
        self.dialog.setMinMax(1, count)
        self.dialog.accepted.connect(lambda: self._send(printer))  # which keeps the printer: a dialog does not
        self.dialog.finished.connect(self.dialog.deleteLater)
        self.dialog.open()

    def _send(self, printer: QPrinter) -> None:
        job, host = self._host.workspace.job, self._host
        problem = obstacle(printer, job.sheet, host.workspace.unit)
        if problem is not None:
            host.say(problem, tone="danger")
            return
        file = None if is_device(printer) else Path(printer.outputFileName())
        if file is not None and file.exists() and not ask_to_replace(host.table, file.parent, [file.name]):
            return

        def work(*, report: ReportProgress, cancelled: IsCancelled) -> tuple[str, int]:
            from honest_edge.app.output.composed_sheets import composed_sheets

            def first(share: float, what: str) -> None:
                report(0.5 * share, what)

            def then(share: float, what: str) -> None:
                report(0.5 + 0.5 * share, what)

            sheets = composed_sheets(job, host.pipeline(), report=first, cancelled=cancelled)
            pages = repeated(wanted_pages(printer, len(sheets.printed)), job, sheets.plan.stocks)
            print_file = sheets.print_file(pages)
            if print_file is None:
                raise DeviceError(f"There is no such sheet: the job has {len(sheets.printed)}; nothing was printed")
            if file is not None:
                write_set(file.parent, {file.name: print_file}, replace=True)
                return str(file), len(pages)
            send(printer, print_file, len(pages), report=then, cancelled=cancelled)
            return f"the printer “{printer.printerName()}”", len(pages)

        self._started()
        self._task.submit(work)
