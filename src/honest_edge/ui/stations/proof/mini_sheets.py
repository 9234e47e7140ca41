"""A row of small cut sheets to run through: each sticker a dot, clean or spoiled."""

from __future__ import annotations

from typing import TYPE_CHECKING

from PyQt6.QtCore import QPointF, QRectF, QSize, Qt, pyqtSignal
from PyQt6.QtGui import QColor, QKeyEvent, QMouseEvent, QPainter, QPaintEvent, QPen

from honest_edge.ui.widgets.painting import Painted, painter_on
from honest_edge.ui.widgets.theme import px, words
from honest_edge.ui.widgets.tokens import PAPER_TOKENS, Tokens

if TYPE_CHECKING:
    from honest_edge.ui.stations.proof.state import Rehearsed

_HIGH_PX, _GAP_PX, _BELOW_PX = 56, 8, 16


class MiniSheets(Painted):
    """Shows as many as there is room for, those round the one in hand."""

    chosen = pyqtSignal(int)

    def __init__(self, tokens: Tokens) -> None:
        super().__init__()
        self.tokens = tokens
        self._rehearsed: Rehearsed | None = None
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setMinimumHeight(px(_HIGH_PX + _BELOW_PX + 4))
        self.setAccessibleName("Rehearsed sheets")

    def sizeHint(self) -> QSize:
        return QSize(px(400), self.minimumHeight())

    def show_rehearsed(self, rehearsed: Rehearsed | None) -> None:
        """Show another rehearsal, or more of one."""
        self._rehearsed = rehearsed
        if rehearsed is not None and rehearsed.sheets:
            sheet = rehearsed.sheets[min(rehearsed.shown, len(rehearsed.sheets) - 1)]
            self.setAccessibleDescription(
                f"Sheet {sheet.number + 1} of {len(rehearsed.sheets)}: {sheet.good} good, {sheet.spoiled} spoiled"
            )
        self.update()

    @property
    def _each_px(self) -> float:
        stage = self._rehearsed.staged.stage if self._rehearsed is not None else None
        ratio = 1.0 if stage is None else stage.size_mm[0] / stage.size_mm[1]
        return px(_HIGH_PX) * ratio + px(_GAP_PX)

    def _first(self) -> int:
        if self._rehearsed is None:
            return 0
        fits = max(1, int(self.width() // self._each_px))
        latest = max(0, len(self._rehearsed.sheets) - fits)
        return max(0, min(self._rehearsed.shown - fits // 2, latest))

    def paintEvent(self, _event: QPaintEvent | None) -> None:
        if self._rehearsed is None:
            return
        painter = painter_on(self)
        first, each = self._first(), self._each_px
        for place, number in enumerate(range(first, len(self._rehearsed.sheets))):
            box = QRectF(place * each + 2, 2, each - px(_GAP_PX), px(_HIGH_PX))
            if box.right() > self.width():
                break
            self._paint_sheet(painter, number, box)

    def _paint_sheet(self, painter: QPainter, number: int, box: QRectF) -> None:
        assert self._rehearsed is not None
        sheet, stage = self._rehearsed.sheets[number], self._rehearsed.staged.stage
        is_shown = number == self._rehearsed.shown
        stock = self._rehearsed.overview.job.sheet.stock
        painter.setPen(QPen(QColor(self.tokens.accent if is_shown else self.tokens.hairline), 2 if is_shown else 1))
        painter.setBrush(QColor(*stock.rgb))
        painter.drawRect(box)
        scale = box.height() / stage.size_mm[1]
        painter.setPen(Qt.PenStyle.NoPen)
        for copy, fate in zip(stage.pages[sheet.page], sheet.fates.tolist(), strict=True):
            painter.setBrush(QColor(PAPER_TOKENS.danger if fate else PAPER_TOKENS.fine))
            x, y = (copy.middle_mm * scale).tolist()
            radius = max(1.6, min(copy.half_mm * scale * 0.6, 5.0))
            at = box.center() + QPointF(x, y)
            if fate:  # the shape says it too
                painter.drawRect(QRectF(at.x() - radius, at.y() - radius, 2 * radius, 2 * radius))
            else:
                painter.drawEllipse(at, radius, radius)
        painter.setPen(QColor(self.tokens.ink if is_shown else self.tokens.soft))
        painter.setFont(words(11))
        below = QRectF(box.left() - 6, box.bottom() + 1, box.width() + 12, px(_BELOW_PX))
        painter.drawText(below, Qt.AlignmentFlag.AlignCenter, str(number + 1))

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        if event is None or self._rehearsed is None:
            return
        number = self._first() + int(event.position().x() // self._each_px)
        if number < len(self._rehearsed.sheets):
            self.chosen.emit(number)

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        if event is None:
            return
        step = {Qt.Key.Key_Left: -1, Qt.Key.Key_Right: 1}.get(Qt.Key(event.key()))
        if step is None or self._rehearsed is None:
            super().keyPressEvent(event)
            return
        self.chosen.emit(max(0, min(self._rehearsed.shown + step, len(self._rehearsed.sheets) - 1)))
