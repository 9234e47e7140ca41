"""What this user does again and again: read once, remembered at once."""

from __future__ import annotations

from functools import cached_property
from pathlib import Path
from typing import TYPE_CHECKING

from PyQt6.QtCore import QObject, pyqtSignal

from honest_edge.core.values.habits import Habits

if TYPE_CHECKING:
    from honest_edge.app.results.overview import Overview
    from honest_edge.files.habits import HabitsFile


class HabitKeeper(QObject):
    """Holds the habits; new art and new jobs begin with them."""

    changed = pyqtSignal()

    def __init__(self, folder: Path, parent: QObject) -> None:
        """Take the folder of the settings."""
        super().__init__(parent)
        self._folder = folder
        self._known: Habits | None = None

    @cached_property
    def _file(self) -> HabitsFile:
        from honest_edge.files.habits import HabitsFile  # its formats load with the first art

        return HabitsFile(self._folder / "habits.json")

    @property
    def known(self) -> Habits:
        """The habits as they are now."""
        if self._known is None:
            self._known = self._file.read()
        return self._known

    def take(self, habits: Habits) -> None:
        """Take and remember habits."""
        if habits == self.known:
            return
        self._known = habits
        self._file.write(habits)
        self.changed.emit()

    def learn(self, overview: Overview) -> None:
        """Remember how the designs of a job were made, which was just written."""
        from honest_edge.app.edits.habits import learnt

        self.take(learnt(self.known, overview.job, overview.results))
