"""Three lanes, you, cutter, drying, with the time now: what was done, what runs, what is to come."""

from __future__ import annotations

from collections.abc import Callable
from typing import TYPE_CHECKING

from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QColor, QFont, QPainter, QPaintEvent, QPen
from PyQt6.QtWidgets import QSizePolicy, QVBoxLayout, QWidget

from honest_edge.ui.rooms.run.words import ACTS, clock, minutes
from honest_edge.ui.widgets.fields import label
from honest_edge.ui.widgets.painting import Painted, painter_on
from honest_edge.ui.widgets.theme import eased_px, px, words
from honest_edge.ui.widgets.tokens import Tokens

if TYPE_CHECKING:
    from honest_edge.app.run.timeline import Timeline
    from honest_edge.core.run.foreseen import Act

_LANES = (("you", "you"), ("cutter", "cutter"), ("drying", "drying"))
_LEAST_SPAN_S, _PAST_SHARE = 600.0, 0.25
_DRYING_TRACKS = 5
_MARKS_S = (60, 300, 600, 1800, 3600, 7200, 4 * 3600, 12 * 3600)


class TimelineView(QWidget):
    """The line that says what comes next, and the lanes below it."""

    def __init__(self, tokens: Callable[[], Tokens]) -> None:
        super().__init__()
        column = QVBoxLayout(self)
        column.setContentsMargins(px(16), px(8), px(16), px(6))
        column.setSpacing(px(2))
        self.next = label("", "heading")
        self.next.setWordWrap(False)
        self.lanes = Lanes(tokens)
        column.addWidget(self.next)
        column.addWidget(self.lanes, 1)

    def show_timeline(self, timeline: Timeline | None) -> None:
        """Show another one; nothing where the run is over."""
        self.next.setText("" if timeline is None else next_words(timeline))
        self.lanes.show_timeline(timeline)


def next_words(timeline: Timeline) -> str:
    """Return what hands do next, when, and when all is done."""
    low, high = timeline.range_s
    done = f"All done in {minutes(low)} to {minutes(high)}." if high > 0 else ""
    coming = timeline.coming
    if coming is None:
        return done
    at = clock(timeline.now.after(max(0.0, coming.start_s)))
    return f"Next at {at}: {ACTS.get(coming.what, coming.what)} sheet {coming.sheet}. {done}"


class Lanes(Painted):
    """Paints the lanes."""

    def __init__(self, tokens: Callable[[], Tokens]) -> None:
        super().__init__()
        self._tokens = tokens
        self.timeline: Timeline | None = None
        self.setMinimumHeight(eased_px(96))
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Expanding)
        self.setAccessibleName("Timeline")

    def show_timeline(self, timeline: Timeline | None) -> None:
        """Show other acts."""
        self.timeline = timeline
        self.setAccessibleDescription("" if timeline is None else "; ".join(self.as_words(timeline)))
        self.update()

    @staticmethod
    def as_words(timeline: Timeline) -> list[str]:
        """Return what is to come as lines of words."""
        return [
            f"{clock(timeline.now.after(act.start_s))} to {clock(timeline.now.after(act.end_s))}, {act.lane}: "
            f"{act.what} sheet {act.sheet}"
            for act in timeline.outlook.acts
        ]

    def paintEvent(self, event: QPaintEvent | None) -> None:
        timeline, tokens = self.timeline, self._tokens()
        if timeline is None:
            return
        painter = painter_on(self)
        ahead = max(timeline.outlook.end_s, _LEAST_SPAN_S)
        behind = min(_PAST_SHARE / (1 - _PAST_SHARE) * ahead, -min((a.start_s for a in timeline.past), default=0.0))
        left, right = px(58), self.width() - px(8)
        bottom = self.height() - px(18)
        row = bottom / len(_LANES)

        def x_of(seconds: float) -> float:
            return left + (right - left) * (seconds + behind) / (ahead + behind)

        for number, (lane, name) in enumerate(_LANES):
            line = row * (number + 1) - px(2)
            painter.setFont(words(12))
            painter.setPen(QColor(tokens.soft))
            name_box = QRectF(0, row * number, left, row)
            painter.drawText(name_box, Qt.AlignmentFlag.AlignVCenter | Qt.AlignmentFlag.AlignLeft, name)
            painter.setPen(QPen(QColor(tokens.hairline), 1))
            painter.drawLine(QPointF(left, line), QPointF(right, line))
            for act, is_past in [(a, True) for a in timeline.past] + [(a, False) for a in timeline.outlook.acts]:
                if act.lane == lane:
                    self._paint_act(painter, act, x_of, self._track(act, row * number, row), is_past=is_past)
        self._paint_hours(painter, timeline, x_of, ahead, bottom)

    @staticmethod
    def _track(act: Act, top: float, row: float) -> QRectF:
        """Return the height of an act in its lane: several sheets dry at once, each on a thin track of its own."""
        whole = QRectF(0, top + px(5), 0, row - px(13))
        if act.lane != "drying":
            return whole
        thin = whole.height() / _DRYING_TRACKS
        return QRectF(0, whole.top() + thin * ((act.sheet - 1) % _DRYING_TRACKS), 0, max(1.5, thin - 1.5))

    def _paint_act(
        self, painter: QPainter, act: Act, x_of: Callable[[float], float], lane: QRectF, *, is_past: bool
    ) -> None:
        tokens = self._tokens()
        colour = QColor({"you": tokens.accent, "cutter": tokens.through, "drying": tokens.look}[act.lane])
        start, end = max(x_of(act.start_s), px(58)), x_of(act.end_s)
        box = QRectF(start, lane.top(), max(2.0, end - start - 1), lane.height())
        if not is_past and act.start_s > 0:
            colour.setAlphaF(0.45)
        painter.setPen(Qt.PenStyle.NoPen)
        painter.setBrush(colour)
        painter.drawRoundedRect(box, 2, 2)
        if act.lane == "cutter" and box.width() > px(14):
            painter.setFont(words(12, QFont.Weight.DemiBold))
            painter.setPen(QColor(tokens.panel if is_past or act.start_s <= 0 else tokens.ink))
            painter.drawText(box, Qt.AlignmentFlag.AlignCenter, str(act.sheet))

    def _paint_hours(
        self, painter: QPainter, timeline: Timeline, x_of: Callable[[float], float], ahead: float, bottom: float
    ) -> None:
        tokens = self._tokens()
        painter.setFont(words(12))
        step_s = next((s for s in _MARKS_S if ahead / s <= 8), _MARKS_S[-1])
        first = step_s - (timeline.now.wall_ms / 1000) % step_s
        seconds = first
        painter.setPen(QColor(tokens.soft))
        while seconds <= ahead:
            x = x_of(seconds)
            if x - x_of(0) > px(48) and x + px(20) < self.width():
                box = QRectF(x - px(30), bottom, px(60), px(17))
                painter.drawText(box, Qt.AlignmentFlag.AlignCenter, clock(timeline.now.after(seconds)))
            seconds += step_s
        painter.setPen(QPen(QColor(tokens.danger), 2))
        now = x_of(0)
        painter.drawLine(QPointF(now, 0), QPointF(now, bottom))
        painter.drawText(
            QRectF(now - px(30), bottom, px(60), px(17)), Qt.AlignmentFlag.AlignCenter, clock(timeline.now)
        )
