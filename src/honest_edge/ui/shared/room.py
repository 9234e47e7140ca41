"""What a room of the workshop is: a place beside the path that needs no job."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass
from pathlib import Path

from PyQt6.QtCore import QObject
from PyQt6.QtWidgets import QWidget

from honest_edge.ui.shared.host import Host


@dataclass(frozen=True, slots=True, kw_only=True)
class RoomEntry:
    """One line of the registry of rooms.

    Attributes:
        key: names it; no station has the same.
        title: its name.
        question: what it asks.
        brief: the question in two or three words, for its button.
        sign: what stands before its name: closed lines round its middle, in pixels.
        create: makes it when it is first visited; imports it there.
        load: loads what it is made of, from a thread, so that it is not waited for later.
        parts: of it that can be visited by "key:part", beside the first one.
        is_on_path: it is the last station of the path: its state is shown, and no sign.
        has_button: whether it stands in the bar; what does not is reached from the start page and the menu.
    """

    key: str
    title: str
    question: str
    brief: str
    sign: tuple[tuple[tuple[float, float], ...], ...]
    create: Callable[[Host], Room]
    load: Callable[[], object]
    parts: tuple[str, ...] = ()
    is_on_path: bool = False
    has_button: bool = True


class Room(QObject):
    """One room, as large as the window below its bar."""

    def __init__(self, host: Host) -> None:
        super().__init__()
        self.host = host

    banner: QWidget | None = None
    """What stands above whatever is visited, where the room has something to say there."""

    def left(self) -> None:
        """Another place is visited."""

    @property
    def widget(self) -> QWidget:
        """What is shown."""
        raise NotImplementedError

    def visit(self) -> None:
        """It is visited: show what is so now."""

    def turn_to(self, part: str) -> None:
        """One part of it is visited."""
        self.visit()

    def take_files(self, paths: Sequence[Path]) -> bool:
        """Take files that were dropped on it; return whether any was for it."""
        return False

    def look_changed(self) -> None:
        """The theme or the unit is another one."""

    def job_changed(self) -> None:
        """The job is another one, or what is known of it."""

    def other_job(self) -> None:
        """Another job was opened or begun."""

    def close(self) -> None:
        """The window closes: let go of what is held."""
