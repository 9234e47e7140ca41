"""The rooms beside the path, and the Book that they and the stations share."""

from __future__ import annotations

import threading
import time
from collections.abc import Callable, Sequence
from functools import partial
from pathlib import Path
from typing import TYPE_CHECKING

from PyQt6.QtCore import QTimer
from PyQt6.QtWidgets import QBoxLayout, QStackedWidget, QWidget

from honest_edge.ui.shared.host import Host
from honest_edge.ui.shared.room import Room, RoomEntry
from honest_edge.ui.shell.bench_keeper import BenchKeeper
from honest_edge.ui.widgets.layouts import show_in

if TYPE_CHECKING:
    from honest_edge.app.book.desk import BookDesk
    from honest_edge.app.results.progress import IsCancelled, ReportProgress


_HOUR_MS = 3_600_000


class Workshop:
    """Shows a room in the place of the path's table and cards; each is made at its first visit."""

    def __init__(self, entries: Sequence[RoomEntry], host: Host) -> None:
        self.entries, self._host = tuple(entries), host
        self.stack = QStackedWidget()
        self.banners: QBoxLayout | None = None
        """Takes what rooms say above whatever is visited."""
        self._made: dict[str, Room] = {}
        self._lock = threading.Lock()
        self._here: str | None = None
        self.bench = BenchKeeper(host)
        self._desks: dict[bool, BookDesk] = {}
        """The user's own Book and the demo's, by whether it is made up."""
        self._again = QTimer(self.stack)
        self._again.setSingleShot(True)
        self._again.setInterval(_HOUR_MS)
        self._again.timeout.connect(self.keep_in_order)
        self._keeping = host.new_task()
        self._keeping.done.connect(self._on_kept_in_order)
        self._keeping.failed.connect(lambda words: host.say(words, tone="danger"))

    def __getitem__(self, key: str) -> Room:
        if key not in self._made:
            room = self._made[key] = next(entry for entry in self.entries if entry.key == key).create(self._host)
            if room.banner is not None and self.banners is not None:
                self.banners.addWidget(room.banner)
        return self._made[key]

    def set_path(self, path: QWidget) -> None:
        """Take what is shown while no room is visited."""
        show_in(self.stack, path)

    def visit(self, key: str) -> bool:
        """Visit a room, or a part of it as in "book:stock", or the path for what is none; return whether it is one."""
        key, _, part = key.partition(":")
        if self._here is not None and self._here != key:
            self[self._here].left()
        if all(entry.key != key for entry in self.entries):
            self.stack.setCurrentIndex(0)
            self._here = None
            return False
        room, self._here = self[key], key
        show_in(self.stack, room.widget)
        if part:
            room.turn_to(part)
        else:
            room.visit()
        return True

    @property
    def here(self) -> str:
        """Key of the room that is visited; empty for none."""
        return self._here or ""

    @property
    def is_on_path(self) -> bool:
        """Whether the path's own table and cards are shown."""
        return self.stack.currentIndex() == 0

    def take_files(self, paths: Sequence[Path]) -> bool:
        """Give files that were dropped to the room that is visited; return whether it took them."""
        return self._here is not None and self[self._here].take_files(paths)

    def look_changed(self) -> None:
        """Tell the rooms of another theme or unit."""
        for room in self._made.values():
            room.look_changed()

    def desk(self) -> Callable[[], BookDesk]:
        """Bind the user's own Book, or the demo's while that is open; what is returned opens it, from a task.

        Raises:
            RuntimeError: it is not the window's thread: what is in hand may be another job by now.
        """
        if threading.current_thread() is not threading.main_thread():
            raise RuntimeError("The Book is bound when work is handed over")
        return partial(self._opened, self._host.workspace.document.is_demo)

    def _opened(self, made_up: bool) -> BookDesk:
        with self._lock:
            if made_up not in self._desks:
                from honest_edge.app.book.desk import BookDesk

                self._desks[made_up] = BookDesk(made_up=made_up)
            return self._desks[made_up]

    def job_changed(self) -> None:
        """Tell the rooms that the job is another one, or what is known of it."""
        for room in self._made.values():
            room.job_changed()

    def other_job(self) -> None:
        """Tell the rooms that another job was opened or begun."""
        for room in self._made.values():
            room.other_job()

    def close(self) -> None:
        """Close the rooms and the Book; nothing may be under way any more."""
        for room in self._made.values():
            room.close()
        for desk in self._desks.values():
            desk.close()

    def keep_in_order(self) -> None:
        """Check and back up the Book where that is due, beside the window's thread, and every hour from now on."""

        def work(*, report: ReportProgress, cancelled: IsCancelled) -> tuple[str, ...]:
            return self._opened(made_up=False).look_after(time.time_ns() // 1_000_000)

        self._keeping.submit(work)
        self._again.start()

    def _on_kept_in_order(self, notes: object) -> None:
        for note in notes if isinstance(notes, tuple) else ():
            self._host.say(str(note), tone="danger")
