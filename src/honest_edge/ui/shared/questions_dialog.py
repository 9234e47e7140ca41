"""Eight yes/no questions about where white shows, each with a picture; after every answer the two likeliest causes."""

from __future__ import annotations

import math
from typing import TYPE_CHECKING

from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QColor, QKeyEvent, QPainter, QPaintEvent, QPen
from PyQt6.QtWidgets import QDialog, QSizePolicy, QVBoxLayout

from honest_edge.ui.shared.cause_bars import CauseBars
from honest_edge.ui.shared.host import Host
from honest_edge.ui.widgets.fields import button, label, row
from honest_edge.ui.widgets.painting import Painted, painter_on
from honest_edge.ui.widgets.theme import px

if TYPE_CHECKING:
    from honest_edge.core.measure.diagnosis import Question

_CHANCE = ((3, -2), (-3, 1), (1, 3), (-2, -3), (2, 2), (-1, -2), (3, 1), (-3, -1), (0, 3))


class QuestionsDialog(QDialog):
    """Asks what tells the most next."""

    def __init__(self, host: Host) -> None:
        super().__init__(host.table.window())
        self.setWindowTitle("White on one side")
        self.answers: dict[str, bool] = {}
        self._skipped: list[str] = []
        self._asked: Question | None = None
        column = QVBoxLayout(self)
        column.setContentsMargins(px(18), px(16), px(18), px(16))
        column.setSpacing(px(10))
        self.number = label("", "soft")
        self.words = label("", "heading")
        self.picture = PatternView()
        column.addWidget(self.number)
        column.addWidget(self.words)
        column.addWidget(self.picture)
        self.yes = button("Yes", lambda: self._answer(True))
        self.no = button("No", lambda: self._answer(False))
        self.skip = button("I cannot tell", self._skip, link=True)
        column.addLayout(row(self.yes, self.no, self.skip))
        self.bars = CauseBars(lambda: host.tokens)
        column.addWidget(self.bars)
        self.remedies = label("", "soft")
        column.addWidget(self.remedies)
        column.addStretch(1)
        self.again = button("Start again", self._restart)
        column.addLayout(row(self.again, button("Close", self.accept, filled=True)))
        self.resize(px(460), px(620))
        self._show()

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        if event is not None and event.key() in (Qt.Key.Key_Y, Qt.Key.Key_N) and self._asked is not None:
            self._answer(event.key() == Qt.Key.Key_Y)
            return
        super().keyPressEvent(event)

    def _answer(self, is_yes: bool) -> None:
        if self._asked is not None:
            self.answers[self._asked.key] = is_yes
            self._show()

    def _skip(self) -> None:
        if self._asked is not None:
            self._skipped.append(self._asked.key)
            self._show()

    def _restart(self) -> None:
        self.answers, self._skipped = {}, []
        self._show()

    def _show(self) -> None:
        from honest_edge.core.measure.diagnosis import QUESTIONS, causes_by_answers, next_question
        from honest_edge.core.measure.remedies import remedies_of, telling_apart

        self._asked = next_question(self.answers, self._skipped)
        done = len(self.answers) + len(self._skipped)
        is_asked = self._asked is not None
        for widget in (self.yes, self.no, self.skip, self.picture):
            widget.setVisible(is_asked)
        self.number.setText(f"Question {done + 1} of {len(QUESTIONS)}" if is_asked else "That was all")
        self.words.setText(self._asked.words if self._asked is not None else "The likeliest causes")
        self.picture.show_pattern(self._asked.key if self._asked is not None else "")
        causes = causes_by_answers(self.answers) if self.answers else ()
        self.bars.show_causes(causes[:2])
        said = [f"· {words}" for words in remedies_of(causes)] if causes else []
        if causes and (apart := telling_apart(causes)):
            said.append(f"To tell them apart: {apart}.")
        self.remedies.setText("\n".join(said))


class PatternView(Painted):
    """What "yes" looks like: inked stickers whose cut lies off, white where ink is lacking."""

    def __init__(self) -> None:
        super().__init__()
        self._key = ""
        self.setFixedHeight(px(190))
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Fixed)
        self.setAccessibleName("What yes looks like")

    def show_pattern(self, key: str) -> None:
        """Show the pattern of another question."""
        self._key = key
        self.update()

    def paintEvent(self, event: QPaintEvent | None) -> None:
        painter = painter_on(self)
        pair = self._key in ("one", "next")
        side = min(self.height() - px(8), (self.width() - px(12)) / (2.0 if pair else 1.0))
        for number in range(2 if pair else 1):
            left = self.width() / 2 + (number - (1.0 if pair else 0.5)) * (side + px(6))
            is_bad = not (self._key == "one" and number == 0)
            self._paint_sheet(painter, QRectF(left, px(4), side, side), is_bad=is_bad)

    def _paint_sheet(self, painter: QPainter, paper: QRectF, *, is_bad: bool) -> None:
        painter.setPen(QPen(QColor("#8B8573"), 1))
        painter.setBrush(QColor("#E7E0CF"))
        painter.drawRoundedRect(paper, 4, 4)
        cell, radius = paper.width() / 3, paper.width() / 8.6
        for number in range(9):
            column, line = number % 3 - 1, number // 3 - 1
            middle = paper.center() + QPointF(column * cell, line * cell)
            off = self._off(column, line, number) * radius * 0.24 if is_bad else QPointF(0, 0)
            painter.setPen(Qt.PenStyle.NoPen)
            painter.setBrush(QColor("#FFFFFF"))
            painter.drawEllipse(middle, radius, radius)
            painter.save()
            painter.setClipRect(QRectF(middle.x() - radius, middle.y() - radius, 2 * radius, 2 * radius))
            painter.setBrush(QColor("#2F6B3A"))
            painter.drawEllipse(middle - off, radius * 0.99, radius * 0.99)
            painter.restore()
            painter.setPen(QPen(QColor("#22305E"), 1.4))
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.drawEllipse(middle, radius, radius)

    def _off(self, column: int, line: int, number: int) -> QPointF:
        """Return where the cut of one sticker lies against its print, in quarters of what is drawn at most."""
        match self._key:
            case "turning":
                return QPointF(-line, column)
            case "outward":
                return QPointF(column, line)
            case "down":
                return QPointF(0, 0.1 + 0.6 * (line + 1))
            case "none":
                x, y = _CHANCE[number]
                return QPointF(x, y) / math.hypot(x, y)
            case "wide":
                return QPointF(1.7, 0)
        return QPointF(1, 0.3)
