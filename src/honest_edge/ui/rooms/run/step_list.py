"""The thirteen steps as a quiet list: what is done, where one is, what was found."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass

from PyQt6.QtCore import QPointF, QRectF, QSize, Qt
from PyQt6.QtGui import QColor, QFont, QPaintEvent, QResizeEvent
from PyQt6.QtWidgets import QScrollArea, QSizePolicy, QWidget

from honest_edge.ui.drawings.state_sign import paint_state, paint_taken
from honest_edge.ui.widgets.layouts import column_of, scroll_downward
from honest_edge.ui.widgets.local import local
from honest_edge.ui.widgets.painting import Painted, painter_on
from honest_edge.ui.widgets.theme import px, words
from honest_edge.ui.widgets.tokens import Tokens

STEPS: tuple[tuple[str, str], ...] = (
    ("before", "Before"),
    ("print first", "Print sheet 1"),
    ("measure", "Measure"),
    ("print rest", "Print the rest"),
    ("dry", "Dry"),
    ("laminate", "Laminate"),
    ("load", "Load"),
    ("set", "Set the cut"),
    ("read", "Read the marks"),
    ("proof", "Proof sticker"),
    ("pass", "Cut"),
    ("inspect", "Inspect and peel"),
    ("tally", "Tally"),
)
_ALSO = {"look": "proof", "cutting": "pass", "take out": "pass", "ended": "tally"}
_ROW, _PLAIN_ROW = 36, 28


@dataclass(frozen=True, slots=True, kw_only=True)
class ListedStep:
    """One row: its name, what was found, and whether it is done or in hand."""

    key: str
    name: str
    detail: str = ""
    is_done: bool = False
    is_here: bool = False


def listed_steps(
    key: str, details: dict[str, str], *, without: tuple[str, ...] = (), done: tuple[str, ...] = ()
) -> tuple[ListedStep, ...]:
    """Return the rows.

    Args:
        key: the step in hand.
        details: what was found at steps.
        without: steps that this run does not have.
        done: steps that are done though they come later.
    """
    here = _ALSO.get(key, key)
    order = [name for name, _ in STEPS]
    at = order.index(here)
    return tuple(
        ListedStep(
            key=step,
            name=name,
            detail=details.get(step, ""),
            is_done=key == "ended" or ((number < at or step in done) and step != here),
            is_here=step == here and key != "ended",
        )
        for number, (step, name) in enumerate(STEPS)
        if step not in without
    )


class StepList(Painted):
    """Paints the rows; all of it is read out as words."""

    def __init__(self, tokens: Callable[[], Tokens]) -> None:
        super().__init__()
        self._tokens = tokens
        self.rows: tuple[ListedStep, ...] = ()
        self.setSizePolicy(QSizePolicy.Policy.Preferred, QSizePolicy.Policy.Fixed)
        self.setAccessibleName("Steps")

    def show_rows(self, rows: tuple[ListedStep, ...]) -> None:
        """Show other rows."""
        self.rows = rows
        self.setAccessibleDescription(
            "; ".join(
                f"{row.name}: {'done' if row.is_done else 'now' if row.is_here else 'not yet'}"
                + (f", {row.detail}" if row.detail else "")
                for row in rows
            )
        )
        self.setFixedHeight(self.sizeHint().height())
        self.update()

    @property
    def here_px(self) -> int:
        """How far down the middle of the step in hand lies."""
        at = next((number for number, row in enumerate(self.rows) if row.is_here), len(self.rows))
        return sum(_high(row) for row in self.rows[:at]) + px(_ROW) // 2

    def sizeHint(self) -> QSize:
        return QSize(px(200), sum(map(_high, self.rows)))

    def paintEvent(self, event: QPaintEvent | None) -> None:
        tokens, painter = self._tokens(), painter_on(self)
        top = 0
        for row in self.rows:
            height = _high(row)
            if row.is_here:
                paint_taken(painter, QRectF(0, top, self.width(), height), tokens)
            sign = QPointF(px(18), top + px(14))
            paint_state(painter, sign, "done" if row.is_done else "empty", row.is_here, tokens)
            painter.setPen(QColor(tokens.accent if row.is_here else tokens.ink))
            painter.setFont(words(14, QFont.Weight.DemiBold if row.is_here else QFont.Weight.Normal))
            painter.drawText(QPointF(px(34), top + px(19)), row.name)
            if row.detail:
                painter.setPen(QColor(tokens.soft))
                painter.setFont(words(12))
                box = QRectF(px(34), top + px(20), self.width() - px(38), px(16))
                painter.drawText(box, Qt.AlignmentFlag.AlignVCenter, local(row.detail))
            top += height


class StepColumn(QScrollArea):
    """The list, scrolled so far that the step in hand is in sight."""

    def __init__(self, tokens: Callable[[], Tokens]) -> None:
        super().__init__()
        scroll_downward(self)
        self.list = StepList(tokens)
        holder = QWidget()
        holder.setLayout(column := column_of(self.list))
        column.addStretch(1)
        self.setWidget(holder)

    def show_rows(self, rows: tuple[ListedStep, ...]) -> None:
        """Show other rows."""
        before = self.list.here_px
        self.list.show_rows(rows)
        if self.list.here_px != before:
            self._show_here()

    def resizeEvent(self, event: QResizeEvent | None) -> None:
        super().resizeEvent(event)
        self._show_here()

    def _show_here(self) -> None:
        self.ensureVisible(0, self.list.here_px, 0, px(_ROW))


def _high(row: ListedStep) -> int:
    return px(_ROW if row.detail else _PLAIN_ROW)
