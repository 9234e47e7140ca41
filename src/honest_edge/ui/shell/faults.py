"""What becomes of a fault of ours: its traceback goes into the log, and one calm line to the user."""

from __future__ import annotations

import logging
import sys
import threading
import traceback
from types import TracebackType

from PyQt6.QtCore import QObject, pyqtSignal

from honest_edge.files.log import LOGGER, without_folders


class FaultReporter(QObject):
    """Catches what nothing else caught. PyQt6 would abort on an exception in a slot, and the work with it."""

    happened = pyqtSignal(str)
    """The details, fit to be passed on: no folder of the user stands in them."""

    def install(self) -> None:
        """Catch faults of slots, of threads, and of objects that are taken apart."""
        sys.excepthook = self._on_fault
        threading.excepthook = lambda args: self._on_fault(
            args.exc_type, args.exc_value or args.exc_type(), args.exc_traceback
        )
        sys.unraisablehook = lambda args: self._on_fault(
            args.exc_type, args.exc_value or args.exc_type(), args.exc_traceback
        )

    def _on_fault(self, kind: type[BaseException], error: BaseException, trace: TracebackType | None) -> None:
        if issubclass(kind, KeyboardInterrupt):
            sys.__excepthook__(kind, error, trace)
            return
        details = "".join(traceback.format_exception(kind, error, trace))
        LOGGER.error("a fault that nothing caught\n%s", details)
        if not LOGGER.isEnabledFor(logging.DEBUG):  # where it is, the log stands on standard error too
            print(without_folders(details), file=sys.stderr)
        self.happened.emit(without_folders(details))
