"""What windows left that ended badly: offered until it is brought back or thrown away."""

from __future__ import annotations

from collections.abc import Callable
from typing import TYPE_CHECKING

from PyQt6.QtCore import QDateTime, QLocale, Qt, pyqtSignal
from PyQt6.QtGui import QPixmap
from PyQt6.QtWidgets import QFrame, QHBoxLayout, QLabel, QPushButton, QVBoxLayout

from honest_edge.ui.widgets.fields import button, counted, label
from honest_edge.ui.widgets.theme import px

if TYPE_CHECKING:
    from honest_edge.files.recovery import LeftWork

_PICTURE_PX = 40
_MOST_SHOWN = 3
_REALLY = "Press again: it is gone then"


class RecoveryOffer(QFrame):
    """One row for each copy; it has a place of its own, so that no message takes it."""

    brought_back = pyqtSignal()

    def __init__(self, bring_back: Callable[[LeftWork], bool]) -> None:
        """Take what makes a copy the present job and returns whether it did."""
        super().__init__()
        self.setProperty("card", "sand")
        self.setAccessibleName("Unsaved work")
        self._bring_back = bring_back
        self._works: list[LeftWork] = []
        self._column = QVBoxLayout(self)
        self._column.setContentsMargins(14, 8, 8, 8)
        self._column.setSpacing(6)
        self._rows: list[QFrame] = []
        self._more = label("", "soft")
        self.hide()

    def show_works(self, works: list[LeftWork]) -> None:
        """Offer copies, the latest first."""
        self._works = works
        for old in self._rows:
            self._column.removeWidget(old)
            old.deleteLater()
        self._rows = [self._row(work) for work in works[:_MOST_SHOWN]]
        for row in self._rows:
            self._column.addWidget(row)
        more = len(works) - _MOST_SHOWN
        self._more.setText(f"and {more} more, once these are decided")
        self._more.setVisible(more > 0)
        self._column.addWidget(self._more)
        self.setVisible(bool(works))

    def let_go(self) -> None:
        """Leave what was not decided to the next window."""
        for work in self._works:
            work.slot.release()
        self.show_works([])

    def _row(self, work: LeftWork) -> QFrame:
        holder = QFrame()
        line = QHBoxLayout(holder)
        line.setContentsMargins(0, 0, 0, 0)
        for data in work.pictures:
            picture = QPixmap()
            if picture.loadFromData(data):
                shown = QLabel()
                mode = Qt.TransformationMode.SmoothTransformation
                side = px(_PICTURE_PX)
                shown.setPixmap(picture.scaled(side, side, Qt.AspectRatioMode.KeepAspectRatio, mode))
                line.addWidget(shown)
        when = QLocale().toString(QDateTime(work.kept_at), "ddd d MMM, HH:mm")
        designs = counted(len(work.job.designs), "design")
        line.addWidget(label(f"Unsaved work on “{work.job.title}” was kept: {designs}, {when}."), 1)
        bring = button("Bring it back", lambda: self._take(work))
        throw = button("Throw it away", lambda: self._throw(throw, work))
        for one in (bring, throw):
            one.setAccessibleDescription(f"{work.job.title}, {when}")
            line.addWidget(one)
        return holder

    def _take(self, work: LeftWork) -> None:
        if self._bring_back(work):
            self._without(work)
            self.brought_back.emit()

    def _throw(self, asked: QPushButton, work: LeftWork) -> None:
        """Throw a copy away at the second press: nothing brings it back."""
        if asked.text() != _REALLY:
            asked.setText(_REALLY)
            return
        work.slot.drop()
        self._without(work)

    def _without(self, work: LeftWork) -> None:
        self.show_works([other for other in self._works if other is not work])
