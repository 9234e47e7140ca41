"""While a practice job is open it says so, at every station."""

from __future__ import annotations

from collections.abc import Callable
from typing import TYPE_CHECKING

from PyQt6.QtWidgets import QFrame, QHBoxLayout

from honest_edge.ui.widgets.fields import button, counted, label

if TYPE_CHECKING:
    from honest_edge.app.practice.day import PracticeDay


class PracticeBanner(QFrame):
    """One line: which story, how it stands, and the way to the bench."""

    def __init__(self, to_bench: Callable[[], object], stop: Callable[[], object]) -> None:
        super().__init__()
        self.setProperty("card", "guide")
        self.setAccessibleName("Practice")
        line = QHBoxLayout(self)
        line.setContentsMargins(14, 6, 8, 6)
        self.words = label()
        line.addWidget(self.words, 1)
        self.bench = button("To the practice bench", to_bench)
        self.stop = button("Stop practising", stop)
        for one in (self.bench, self.stop):
            line.addWidget(one)
        self.hide()

    def show_day(self, day: PracticeDay | None, *, is_at_bench: bool) -> None:
        """Show how a day stands; none hides it, and so does the bench, which says it itself."""
        self.setVisible(day is not None and not is_at_bench)
        if day is not None:
            stands = f"{counted(day.lost, 'sheet')} lost, {day.minutes:.0f} min"
            self.words.setText(f"Practice: “{day.story.title}”, {stands}. Change the job as you like, then cut it.")
