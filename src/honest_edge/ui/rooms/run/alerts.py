"""Tells that a wait is over though nobody looks, and keeps the screen awake while a run is shown."""

from __future__ import annotations

from functools import cached_property

from PyQt6.QtCore import QObject
from PyQt6.QtDBus import QDBusConnection, QDBusInterface, QDBusMessage
from PyQt6.QtWidgets import QApplication

_SAVER = ("org.freedesktop.ScreenSaver", "/org/freedesktop/ScreenSaver", "org.freedesktop.ScreenSaver")
_NOTES = ("org.freedesktop.Notifications", "/org/freedesktop/Notifications", "org.freedesktop.Notifications")
_SHOWN_MS = 20_000


class Alerts(QObject):
    """Asks the desktop, where there is one that answers (freedesktop.org: Idle Inhibition, Desktop Notifications)."""

    def __init__(self) -> None:
        super().__init__()
        self._cookie: int | None = None
        self.said: list[str] = []
        """What was told, the newest last."""

    @cached_property
    def lacking(self) -> str:
        """What this desktop cannot do for a run, as a sentence; empty where it can all."""
        parts = [] if _answers(_NOTES) else ["shows no notifications"]
        parts += [] if _answers(_SAVER) else ["may put the screen to sleep"]
        return f"This desktop {' and '.join(parts)}: look here now and then." if parts else ""

    def keep_awake(self, wanted: bool) -> None:
        """Keep the screen awake, or let it sleep again."""
        if wanted and self._cookie is None:
            answer = _call(_SAVER, "Inhibit", "Honest Edge", "A run is under way")
            self._cookie = answer if isinstance(answer, int) else None
        elif not wanted and self._cookie is not None:
            _call(_SAVER, "UnInhibit", self._cookie)
            self._cookie = None

    def tell(self, words: str, *, with_sound: bool) -> None:
        """Show a notification, and sound the system's bell where that is wanted."""
        self.said.append(words)
        _call(_NOTES, "Notify", "Honest Edge", 0, "", "Honest Edge", words, [], {}, _SHOWN_MS)
        if with_sound:
            QApplication.beep()


def _answers(where: tuple[str, str, str]) -> bool:
    bus = QDBusConnection.sessionBus()
    return bus.isConnected() and QDBusInterface(*where, bus).isValid()


def _call(where: tuple[str, str, str], name: str, *values: object) -> object:
    """Call the desktop and return its answer; None where nothing answers."""
    if not _answers(where):
        return None
    asked = QDBusInterface(*where, QDBusConnection.sessionBus())
    asked.setTimeout(500)
    answer = asked.call(name, *values)
    answers = answer.arguments()
    return answers[0] if answer.type() == QDBusMessage.MessageType.ReplyMessage and answers else None
