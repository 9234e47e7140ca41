"""Likely causes as bars."""

from __future__ import annotations

from collections.abc import Callable
from typing import TYPE_CHECKING

from PyQt6.QtCore import QRectF, Qt
from PyQt6.QtGui import QColor, QPaintEvent

from honest_edge.ui.widgets.painting import Painted, painter_on
from honest_edge.ui.widgets.theme import px
from honest_edge.ui.widgets.tokens import Tokens

if TYPE_CHECKING:
    from honest_edge.core.measure.diagnosis import Likely

_BAR_PX = 90


class CauseBars(Painted):
    """The likeliest causes, each with a bar and its probability."""

    def __init__(self, tokens: Callable[[], Tokens]) -> None:
        super().__init__()
        self._tokens = tokens
        self._causes: tuple[Likely, ...] = ()
        self.setAccessibleName("Likely causes")

    def show_causes(self, causes: tuple[Likely, ...]) -> None:
        """Show other causes."""
        self._causes = causes
        self.setFixedHeight(px(24) * len(causes))
        self.setAccessibleDescription("; ".join(self.as_table()))
        self.update()

    def as_table(self) -> list[str]:
        """Return all that is drawn as lines of words."""
        from honest_edge.core.measure.remedies import TITLES

        return [f"{TITLES[one.cause]}: {100 * one.probability:.0f} %" for one in self._causes]

    def paintEvent(self, event: QPaintEvent | None) -> None:
        from honest_edge.core.measure.remedies import TITLES

        tokens, painter = self._tokens(), painter_on(self)
        for number, one in enumerate(self._causes):
            top, wide, bar = number * px(24), self.width(), px(_BAR_PX)
            painter.setPen(QColor(tokens.ink))
            text = QRectF(0, top, wide - bar - px(52), px(24))
            painter.drawText(text, Qt.AlignmentFlag.AlignVCenter, TITLES[one.cause])
            painter.drawText(
                QRectF(wide - px(48), top, px(48), px(24)),
                Qt.AlignmentFlag.AlignVCenter | Qt.AlignmentFlag.AlignRight,
                f"{100 * one.probability:.0f} %",
            )
            painter.setPen(Qt.PenStyle.NoPen)
            painter.setBrush(QColor(tokens.accent))
            painter.drawRoundedRect(
                QRectF(wide - bar - px(48), top + px(8), max(3.0, bar * one.probability), px(8)), 3, 3
            )
