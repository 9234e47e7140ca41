"""The window's keys in fields: a field that knows a key of the window by another meaning gives it up."""

from __future__ import annotations

from PyQt6.QtCore import QEvent, QObject, Qt
from PyQt6.QtGui import QAction, QKeyEvent, QKeySequence
from PyQt6.QtWidgets import QAbstractSpinBox, QApplication, QLineEdit, QPlainTextEdit, QWidget

_OWN = {QKeySequence(name).toString() for name in (
    "Ctrl+A", "Ctrl+C", "Ctrl+V", "Ctrl+X", "Ctrl+Left", "Ctrl+Right",
)}  # fmt: skip
"""What a field does with these is what everybody expects of one."""

_UNDO = QKeySequence("Ctrl+Z").toString()
_REDO = {QKeySequence(name).toString() for name in ("Ctrl+Y", "Ctrl+Shift+Z")}


class FieldKeys(QObject):
    """Watches the field that has the keys, and no other: a Python filter of all events would cost too much."""

    def __init__(self, window: QWidget) -> None:
        super().__init__(window)
        self._window = window
        application = QApplication.instance()
        assert isinstance(application, QApplication)
        application.focusChanged.connect(self._watch)  # a bound method: it ends with this object

    def _watch(self, _before: QWidget | None, field: QWidget | None) -> None:
        is_field = isinstance(field, QLineEdit | QPlainTextEdit | QAbstractSpinBox)
        if is_field and field is not None and self._window.isAncestorOf(field):
            field.installEventFilter(self)  # of one filter Qt keeps one

    def eventFilter(self, field: QObject | None, event: QEvent | None) -> bool:
        """Keep a field from taking a key that is one of the window's."""
        if (
            isinstance(event, QKeyEvent)
            and event.type() == QEvent.Type.ShortcutOverride
            and self._is_ours(field, event)
        ):
            event.ignore()
            return True
        return False

    def _is_ours(self, field: QObject | None, event: QKeyEvent) -> bool:
        if not event.modifiers() & (Qt.KeyboardModifier.ControlModifier | Qt.KeyboardModifier.AltModifier):
            return False
        pressed = QKeySequence(event.keyCombination()).toString()
        if pressed in _OWN or (pressed in {_UNDO, *_REDO} and _takes_back_itself(field, pressed)):
            return False
        actions = self._window.findChildren(QAction)
        return any(pressed == key.toString() for action in actions for key in action.shortcuts())


def _takes_back_itself(field: QObject | None, pressed: str) -> bool:
    """Return whether a field has typing of its own to take back or bring back that the job does not know yet.

    What is typed into a text of several lines is the job's at once, so the job's steps are taken back there.
    """
    line = field.lineEdit() if isinstance(field, QAbstractSpinBox) else field
    if not isinstance(line, QLineEdit):
        return False
    return line.isUndoAvailable() if pressed == _UNDO else line.isRedoAvailable()
