"""Waiting for something while the window lives on, and being told whatever goes wrong."""

from __future__ import annotations

import threading
from collections.abc import Callable
from typing import TYPE_CHECKING, Any, TypeVar

from PyQt6.QtCore import QEventLoop, QObject, QTimer, pyqtSignal

from honest_edge.core.values.errors import HonestEdgeError
from honest_edge.files.log import LOGGER

if TYPE_CHECKING:
    from honest_edge.ui.shared.host import Host
    from honest_edge.ui.shell.message_bar import MessageBar

T = TypeVar("T")

_PATIENCE_MS = 400


class _Ended(QObject):
    ended = pyqtSignal()


class Waiting:
    """Runs what cannot be called off away from the window's thread; the window shows that it is being finished."""

    def __init__(self, host: Host, bar: MessageBar) -> None:
        self._host, self._bar = host, bar
        self.is_waiting = False

    def for_result(self, work: Callable[[], T], words: str) -> T:
        """Return what ``work`` returns; nothing typed or clicked comes in meanwhile.

        Raises:
            BaseException: whatever ``work`` raises.
        """
        results: list[Any] = []
        loop, told = QEventLoop(), _Ended()
        told.ended.connect(loop.quit)

        def run() -> None:
            try:
                results.append((work(), None))
            except BaseException as error:  # raised again where it is waited for
                results.append((None, error))
            told.ended.emit()

        thread = threading.Thread(target=run, name="waited for")
        says = QTimer()
        says.setSingleShot(True)
        says.timeout.connect(lambda: self._host.say(f"{words} …"))
        says.start(_PATIENCE_MS)
        self.is_waiting = True
        try:
            thread.start()
            loop.exec(QEventLoop.ProcessEventsFlag.ExcludeUserInputEvents)
            thread.join()
        finally:
            self.is_waiting = False
            if not says.isActive():
                self._bar.hide()
            says.stop()
        result, error = results[0]
        if error is not None:
            raise error
        return result  # type: ignore[no-any-return]

    def told(self, act: Callable[[], T], what: str) -> T | None:
        """Return ``act()``; None where it failed, which is said whatever it was."""
        try:
            return act()
        except HonestEdgeError as error:
            self._host.say(str(error), tone="danger")
        except Exception as error:  # a fault of ours must not pass for success
            LOGGER.exception("a fault: %s", what)
            self._host.say(
                f"{what} failed for a reason that should not be ({error!r}). Your work is still here.", tone="danger"
            )
        return None
