"""Sheets of a run go straight to a printer, or into a file: always from the seal, each with its own sign."""

from __future__ import annotations

from collections.abc import Callable
from functools import cached_property
from pathlib import Path
from typing import TYPE_CHECKING

from PyQt6.QtCore import QObject
from PyQt6.QtPrintSupport import QAbstractPrintDialog, QPrintDialog, QPrinter, QPrinterInfo
from PyQt6.QtWidgets import QFileDialog, QWidget

from honest_edge.core.values.errors import DeviceError
from honest_edge.ui.rooms.run.keeper import RunKeeper
from honest_edge.ui.shared.system_printer import is_device, obstacle, printer_for, send
from honest_edge.ui.widgets.fields import counted

if TYPE_CHECKING:
    from honest_edge.app.results.progress import IsCancelled, ReportProgress


class RunPrinting(QObject):
    """Asks where to, and sends."""

    def __init__(self, keeper: RunKeeper, parent: Callable[[], QWidget]) -> None:
        super().__init__()
        self._keeper, self._parent = keeper, parent
        self._sending = keeper.host.new_task()
        self._sending.done.connect(self._on_sent)
        self._sending.failed.connect(self._on_failed)
        self._sending.progress.connect(keeper.progress)
        self._sending.ended.connect(keeper.changed)
        self._sheets: tuple[int, ...] = ()
        self._sent = 0
        self._went: tuple[int, ...] = ()
        self.dialog: QPrintDialog | None = None

    @cached_property
    def has_printer(self) -> bool:
        """Whether the system has a printer at all."""
        return bool(QPrinterInfo.availablePrinterNames())

    def went(self, sheets: tuple[int, ...]) -> bool:
        """Whether these sheets were sent to a printer, or written to be printed."""
        return bool(sheets) and set(sheets) <= set(self._went)

    @property
    def is_sending(self) -> bool:
        """Whether sheets are on their way."""
        return self._sending.busy

    def call_off(self) -> None:
        """Call off what is being sent or written."""
        self._sending.cancel()
        went = f" {counted(self._sent, 'sheet')} went out before and may still come." if self._sent else ""
        self._keeper.host.say(f"Printing was called off.{went}")
        self._keeper.changed.emit()

    def print(self, sheets: tuple[int, ...]) -> None:
        """Show the system's dialog for some sheets."""
        conductor = self._keeper.conductor
        if conductor is None:
            return
        folder = self._keeper.host.workspace.place.folder
        printer = printer_for(conductor.seal.sheet, f"{conductor.seal.title} {conductor.seal.code}", folder)
        self.dialog = QPrintDialog(printer, self._parent())
        self.dialog.setOption(QAbstractPrintDialog.PrintDialogOption.PrintPageRange, False)
        self.dialog.accepted.connect(lambda: self._send(printer, sheets))
        self.dialog.open()

    def _send(self, printer: QPrinter, sheets: tuple[int, ...]) -> None:
        keeper, conductor = self._keeper, self._keeper.conductor
        if conductor is None:
            return
        refusal = obstacle(printer, conductor.seal.sheet, keeper.host.workspace.unit)
        if refusal is not None:
            keeper.host.say(refusal, tone="danger")
            return
        self._sheets, self._sent = sheets, 0
        fonts_of = keeper.host.pipeline
        target = None if is_device(printer) else Path(printer.outputFileName())

        def work(*, report: ReportProgress, cancelled: IsCancelled) -> str:
            report(0.0, "Making the sheets")
            data = conductor.print_bytes(sheets, fonts_of().fonts)
            if target is not None:
                _write(target, data)
                return str(target)

            def told(share: float, words: str) -> None:
                self._sent = round(share * len(sheets))
                report(share, words)

            send(printer, data, len(sheets), report=told, cancelled=cancelled)
            return printer.printerName()

        self._sending.submit(work)
        keeper.changed.emit()

    def save(self, sheets: tuple[int, ...]) -> None:
        """Ask for a file and write some sheets into it."""
        keeper, conductor = self._keeper, self._keeper.conductor
        if conductor is None:
            return
        first, last = sheets[0], sheets[-1]
        name = f"print-{first}.pdf" if first == last else f"print-{first}-to-{last}.pdf"
        folder = keeper.run_folder()
        chosen, _ = QFileDialog.getSaveFileName(
            self._parent(), "Save the print file", str(folder / name), "PDF (*.pdf)"
        )
        if not chosen:
            return
        self._sheets, fonts_of = sheets, keeper.host.pipeline

        def work(*, report: ReportProgress, cancelled: IsCancelled) -> str:
            report(0.0, "Making the sheets")
            _write(Path(chosen), conductor.print_bytes(sheets, fonts_of().fonts))
            return chosen

        self._sending.submit(work)
        keeper.changed.emit()

    def _on_sent(self, where: object) -> None:
        count, self._went = len(self._sheets), (*self._went, *self._sheets)
        self._keeper.host.say(
            f"{counted(count, 'sheet')} went to {where}. Look at what comes out, then say that "
            f"{'it is' if count == 1 else 'they are'} printed.",
            tone="fine",
        )
        self._keeper.changed.emit()

    def _on_failed(self, words: str) -> None:
        went = f" {counted(self._sent, 'sheet')} went out before: type how many came out." if self._sent else ""
        self._keeper.host.say(words + went, tone="danger")
        self._keeper.changed.emit()


def _write(path: Path, data: bytes) -> None:
    from honest_edge.files.atomic_write import write_set

    if path.is_dir():
        raise DeviceError("No file was named: name one, or choose a printer")
    write_set(path.parent, {path.name: data}, replace=True)
