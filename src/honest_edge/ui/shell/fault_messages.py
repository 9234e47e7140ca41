"""What is said of faults and crashes: one calm line, with the details to be passed on."""

from __future__ import annotations

from PyQt6.QtWidgets import QApplication

from honest_edge.ui.shared.host import Host

_FAULT = "Something went wrong that should not. Your work is still here: save it, then go on."
_CRASHED = "The last session ended in a crash."


def say_fault(host: Host, details: str) -> None:
    """Say that a fault of ours happened; the work goes on."""
    host.say(_FAULT, tone="danger", actions=[("Copy details", lambda: _copy(details))])


def say_crash(host: Host, details: str) -> None:
    """Say that the session before ended in a crash."""
    host.say(_CRASHED, actions=[("Copy details", lambda: _copy(details))])


def _copy(text: str) -> None:
    clipboard = QApplication.clipboard()
    if clipboard is not None:
        clipboard.setText(text)
