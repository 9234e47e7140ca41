"""What leaves the window: files into a folder, sheets to a printer; one bar shows how far either is."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace
from pathlib import Path
from typing import TYPE_CHECKING, cast

from PyQt6.QtCore import QObject
from PyQt6.QtWidgets import QFileDialog, QMessageBox

from honest_edge.core.values.errors import BlockedError, Cancelled
from honest_edge.ui.tasks import LatestOnly

if TYPE_CHECKING:
    from honest_edge.app.pipeline import IsCancelled, Report
    from honest_edge.ui.printing import Printing
    from honest_edge.ui.window import MainWindow


class Output(QObject):
    """Writes and prints in the background."""

    def __init__(self, window: MainWindow) -> None:
        super().__init__(window)
        self._window = window
        self._printing: Printing | None = None
        self.writing = LatestOnly(window.pool, window)
        self.writing.progress.connect(window.panels.files.set_progress)
        self.writing.done.connect(lambda found: self._on_written(*cast("tuple[Path, int]", found)))
        self.writing.failed.connect(self.on_failed)
        window.desk.write_wanted.connect(self.write)
        window.desk.print_wanted.connect(self.print)
        window.desk.folder_wanted.connect(self.choose_folder)
        window.desk.cancel_wanted.connect(self._cancel)

    @property
    def printing(self) -> Printing:
        """What asks for a printer; Qt's printing is loaded when it is first needed."""
        if self._printing is None:
            from honest_edge.ui.printing import Printing

            self._printing = Printing(self._window, self)
        return self._printing

    @property
    def busy(self) -> bool:
        """Whether anything is still being written or printed."""
        return self.writing.busy or self._is_printing

    @property
    def _is_printing(self) -> bool:
        return self._printing is not None and self._printing.sending.busy

    def choose_folder(self) -> str:
        """Choose where files are written and remember it."""
        window = self._window
        folder = QFileDialog.getExistingDirectory(window, "Write files to", window.prefs.out_folder)
        if folder:
            window.set_prefs(replace(window.prefs, out_folder=folder))
        return folder

    def write(self) -> None:
        """Prepare all files in the background, then write them together."""
        window = self._window
        window.go_to("files")
        if window.desk.seen.plan is None:
            window.say(f"Nothing can be written yet: {window.desk.seen.state('files')[1]}", tone="danger")
            return
        chosen = window.prefs.out_folder or self.choose_folder()
        if not chosen:
            return
        from honest_edge.app.prepare import output_names, prepare  # loaded by now: there is a plan
        from honest_edge.files.report import leftovers, listed_before
        from honest_edge.files.whole import existing, write_set

        folder, job, pipeline = Path(chosen), window.document.job, window.background.pipeline()
        names = output_names(window.desk.seen.plan, job, window.desk.seen.laid)
        taken, stale = existing(folder, names), [file.name for file in listed_before(folder, names)]
        if taken and not self.ask_to_replace(folder, taken, stale):
            return

        def work(*, report: Report, cancelled: IsCancelled) -> tuple[Path, int]:
            contents = prepare(job, pipeline, report=report, cancelled=cancelled)
            if cancelled():
                raise Cancelled
            if set(contents) != set(names):  # what was asked about was the layout before the last change
                raise BlockedError(
                    "The job changed meanwhile and needs other files now: nothing was written, try again"
                )
            write_set(folder, contents, replace=True, stale=leftovers(folder, names))
            return folder, len(contents)

        window.panels.files.set_progress(0.0, "Preparing")
        self.writing.submit(work)

    def print(self) -> None:
        """Send the sheets to a printer."""
        self._window.go_to("files")
        self.printing.start()

    def ask_to_replace(self, folder: Path, taken: Sequence[str], stale: Sequence[str] = ()) -> bool:
        """Ask before files are replaced, and those of an earlier writing that are no part of this one go."""
        words = f"{folder} already holds {_listed(taken)}. Replace {'them' if len(taken) > 1 else 'it'}?"
        if stale:
            words += f"\n\nTaken away, as no part of it any more: {_listed(stale)}."
        answer = QMessageBox.question(self._window, "Replace files?", words)
        return answer == QMessageBox.StandardButton.Yes

    def call_off(self) -> None:
        """Call off what is under way, without a word."""
        self.writing.cancel()
        if self._printing is not None:
            self._printing.sending.cancel()

    def _cancel(self) -> None:
        was_printing = self._is_printing
        self.call_off()
        self._window.panels.files.set_progress(None, "")
        if was_printing:
            self._window.say("Printing was called off; sheets that were sent already may still come.")
        else:
            self._window.say("Writing was cancelled; no file was changed.")

    def _on_written(self, folder: Path, count: int) -> None:
        self._window.panels.files.set_progress(None, "")
        self._window.say(f"{count} files are in {folder}. Print at 100 %, never “fit to page”.", tone="fine")

    def on_failed(self, message: str) -> None:
        """Say why nothing was written or printed."""
        self._window.panels.files.set_progress(None, "")
        self._window.say(message, tone="danger")


def _listed(names: Sequence[str]) -> str:
    """Return up to four names, and how many more there are."""
    return ", ".join(names[:4]) + (f" and {len(names) - 4} more" if len(names) > 4 else "")
