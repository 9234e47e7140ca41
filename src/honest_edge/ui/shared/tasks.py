"""Work off the interface's thread: the newest request wins, older ones give way."""

from __future__ import annotations

import threading
import traceback
from collections.abc import Callable
from concurrent.futures import Future, ThreadPoolExecutor, wait
from typing import Any

from PyQt6.QtCore import QObject, pyqtSignal

from honest_edge.core.values.errors import Cancelled, HonestEdgeError
from honest_edge.files.log import LOGGER, without_folders

Work = Callable[..., Any]
"""Called with ``report(share, words)`` and ``cancelled()``; may raise Cancelled."""


class _Signals(QObject):
    progress = pyqtSignal(int, float, str)
    done = pyqtSignal(int, object)
    failed = pyqtSignal(int, str)
    faulted = pyqtSignal(int, str)
    ended = pyqtSignal(int)


class WorkerPool:
    """A few threads made by Python.

    Qt's own pool makes threads that Python only learns of when they first call it; libraries built with
    pybind11 free such a thread's state when they are first used there, and the process dies.
    """

    def __init__(self, most: int) -> None:
        self._threads = ThreadPoolExecutor(most, thread_name_prefix="work")
        self._pending: set[Future[None]] = set()

    def start(self, work: Callable[[], None]) -> None:
        """Run ``work`` as soon as a thread is free."""
        self._pending = {future for future in self._pending if not future.done()}
        self._pending.add(self._threads.submit(work))

    def wait(self, seconds: float | None = None) -> bool:
        """Wait until all is done; return whether it was in time."""
        return not wait(self._pending, seconds).not_done


class _Task:
    def __init__(self, ticket: int, work: Work, signals: _Signals, stop: threading.Event) -> None:
        self._ticket, self._work, self._signals, self._stop = ticket, work, signals, stop

    def run(self) -> None:
        """Do the work and tell what came of it; that it ended is told whatever happens."""
        try:
            if self._stop.is_set():
                raise Cancelled
            result = self._work(report=self._report, cancelled=self._stop.is_set)
        except Cancelled:
            pass
        except HonestEdgeError as error:
            self._signals.failed.emit(self._ticket, str(error))
        except MemoryError:
            self._signals.failed.emit(self._ticket, "There is not enough memory for this: use smaller pictures")
        except Exception as error:  # a fault of ours must not pass for success
            LOGGER.exception("a fault of background work")
            self._signals.failed.emit(self._ticket, f"Something went wrong that should not ({error!r})")
            self._signals.faulted.emit(self._ticket, without_folders(traceback.format_exc()))
        else:
            self._signals.done.emit(self._ticket, result)
        finally:
            self._signals.ended.emit(self._ticket)

    def _report(self, share: float, words: str) -> None:
        if not self._stop.is_set():
            self._signals.progress.emit(self._ticket, share, words)


class WriteQueue(QObject):
    """Does what writes, one after the other in the order in which it was handed over; nothing of it is dropped."""

    def __init__(
        self, parent: QObject | None, *, ended: Callable[[], object], faulted: Callable[[str], object]
    ) -> None:
        """Take what is told once all is written, and of a fault of ours."""
        super().__init__(parent)
        self._ended = ended
        self._thread = WorkerPool(1)
        self._ticket = 0
        self._waiting: dict[int, tuple[Callable[[Any], object], Callable[[str], object]]] = {}
        self._signals = _Signals(self)
        self._signals.done.connect(lambda ticket, result: self._waiting[ticket][0](result))
        self._signals.failed.connect(lambda ticket, words: self._waiting[ticket][1](words))
        self._signals.faulted.connect(lambda _ticket, details: faulted(details))
        self._signals.ended.connect(self._on_ended)

    @property
    def busy(self) -> bool:
        """Whether anything is still to be written."""
        return bool(self._waiting)

    def submit(
        self,
        write: Callable[[], Any],
        done: Callable[[Any], object] = lambda _result: None,
        failed: Callable[[str], object] = lambda _words: None,
    ) -> None:
        """Do ``write`` after all that was handed over before, then tell what came of it."""
        self._ticket += 1
        self._waiting[self._ticket] = done, failed
        task = _Task(self._ticket, lambda **_how: write(), self._signals, threading.Event())
        self._thread.start(task.run)

    def tell_nobody(self) -> None:
        """Go on, and tell nobody any more: those who asked are going."""
        for ticket in self._waiting:
            self._waiting[ticket] = (lambda _result: None, LOGGER.warning)

    def wait(self, seconds: float | None = None) -> bool:
        """Wait until all is written; return whether it was in time."""
        return self._thread.wait(seconds)

    def _on_ended(self, ticket: int) -> None:
        del self._waiting[ticket]
        if not self._waiting:
            self._ended()


class LatestOnly(QObject):
    """Runs one kind of work; what an older request still reports is dropped."""

    progress = pyqtSignal(float, str)
    done = pyqtSignal(object)
    failed = pyqtSignal(str)
    faulted = pyqtSignal(str)
    """After ``failed``, where it was a fault of ours: the details, fit to be passed on."""
    ended = pyqtSignal()

    def __init__(self, pool: WorkerPool, parent: QObject | None = None) -> None:
        super().__init__(parent)
        self._pool = pool
        self._ticket = 0
        self._stop = threading.Event()
        self._running = 0
        self._signals = _Signals(self)
        self._signals.progress.connect(self._on_progress)
        self._signals.done.connect(self._on_done)
        self._signals.failed.connect(self._on_failed)
        self._signals.faulted.connect(self._on_faulted)
        self._signals.ended.connect(self._on_ended)

    @property
    def busy(self) -> bool:
        """Whether any request, old or new, is still at work."""
        return self._running > 0

    def submit(self, work: Work) -> None:
        """Start ``work``; an earlier request is asked to stop."""
        self.cancel()
        self._stop = threading.Event()
        self._running += 1
        self._pool.start(_Task(self._ticket, work, self._signals, self._stop).run)

    def cancel(self) -> None:
        """Ask the present request to stop; nothing of it is reported any more."""
        self._stop.set()
        self._ticket += 1

    def _on_progress(self, ticket: int, share: float, words: str) -> None:
        if ticket == self._ticket:
            self.progress.emit(share, words)

    def _on_done(self, ticket: int, result: object) -> None:
        if ticket == self._ticket:
            self.done.emit(result)

    def _on_failed(self, ticket: int, message: str) -> None:
        if ticket == self._ticket:
            self.failed.emit(message)

    def _on_faulted(self, ticket: int, details: str) -> None:
        if ticket == self._ticket:
            self.faulted.emit(details)

    def _on_ended(self, _ticket: int) -> None:
        self._running -= 1
        if self._running == 0:
            self.ended.emit()
