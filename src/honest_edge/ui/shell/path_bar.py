"""The path of stations along the top, a state by shape and colour and why on hover; beside it the workshop."""

from __future__ import annotations

from collections.abc import Sequence

from PyQt6.QtCore import QPointF, QRectF, QSize, Qt, pyqtSignal
from PyQt6.QtGui import QColor, QFont, QFontMetrics, QPainter, QPaintEvent, QPen, QPolygonF, QResizeEvent
from PyQt6.QtWidgets import QAbstractButton, QHBoxLayout, QSizePolicy, QWidget

from honest_edge.app.results.overview import Overview, State
from honest_edge.ui.drawings.state_sign import paint_state, paint_taken
from honest_edge.ui.shared.contract import StationEntry
from honest_edge.ui.shared.room import RoomEntry
from honest_edge.ui.widgets.fields import label
from honest_edge.ui.widgets.local import local
from honest_edge.ui.widgets.painting import painter_on
from honest_edge.ui.widgets.theme import px, words
from honest_edge.ui.widgets.tokens import Tokens

_BETWEEN = 6
_STATE_WORDS: dict[State, str] = {"done": "done", "look": "needs a look", "blocked": "blocked", "empty": "not yet"}


class StationButton(QAbstractButton):
    """One station: shape for its state, name, and what it asks."""

    def __init__(self, entry: StationEntry | RoomEntry, number: int, tokens: Tokens) -> None:
        super().__init__()
        self.entry, self.tokens = entry, tokens
        self.state: State = "empty"
        self.why = ""
        self.setCheckable(True)
        self.setAutoExclusive(True)
        self.setShortcut(f"Ctrl+{number}")
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.has_brief = True
        """Whether the question is written; the bar decides for all its buttons."""
        self.is_stacked = False
        """Whether the sign stands above the name, where not even names have room beside them."""
        self._number = number
        self.set_state("empty", "")

    def set_state(self, state: State, why: str) -> None:
        """Show a state and explain it on hover and to screen readers."""
        self.state, self.why = state, why
        text = f"{self.entry.title}: {_STATE_WORDS[state]}" + (f". {why}" if why else "")
        self.setToolTip(local(f"{text}\nCtrl+{self._number}"))
        self.setAccessibleName(self.entry.title)
        self.setAccessibleDescription(local(text))
        self.update()

    def width_with(self, *, brief: bool, stacked: bool = False) -> int:
        """Return how wide it wants to be, with its question or without, or with its sign above its name."""
        name = QFontMetrics(words(14, QFont.Weight.DemiBold)).horizontalAdvance(self.entry.title)
        if stacked:
            return name + px(12)
        question = QFontMetrics(words(12)).horizontalAdvance(self.entry.brief) if brief else 0
        return max(name, question) + px(42)

    def sizeHint(self) -> QSize:
        return QSize(self.width_with(brief=self.has_brief, stacked=self.is_stacked), px(52))

    def minimumSizeHint(self) -> QSize:
        return QSize(self.width_with(brief=False, stacked=True) - px(6), px(52))

    def paintEvent(self, _event: QPaintEvent | None) -> None:
        painter = painter_on(self)
        if self.isChecked() or self.underMouse():
            paint_taken(painter, QRectF(self.rect()), self.tokens)
        if self.hasFocus():
            painter.setPen(QPen(QColor(self.tokens.accent), 2))
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.drawRoundedRect(QRectF(self.rect()).adjusted(1, 1, -1, -1), 8, 8)
        if self.is_stacked:
            self.paint_sign(painter, QPointF(self.width() / 2, px(15)))
            painter.setPen(QColor(self.tokens.accent if self.isChecked() else self.tokens.ink))
            painter.setFont(words(14, QFont.Weight.DemiBold))
            below = QRectF(0, px(24), self.width(), px(24))
            painter.drawText(below, Qt.AlignmentFlag.AlignCenter, self.entry.title)
            return
        down = 0 if self.has_brief else px(8)
        self.paint_sign(painter, QPointF(px(18), px(18) + down))
        painter.setPen(QColor(self.tokens.accent if self.isChecked() else self.tokens.ink))
        painter.setFont(words(14, QFont.Weight.DemiBold))
        painter.drawText(QPointF(px(34), px(23) + down), self.entry.title)
        if self.has_brief:
            painter.setPen(QColor(self.tokens.soft))
            painter.setFont(words(12))
            painter.drawText(QPointF(px(34), px(41)), self.entry.brief)

    def paint_sign(self, painter: QPainter, at: QPointF) -> None:
        """Draw what stands before the name."""
        paint_state(painter, at, self.state, self.isChecked(), self.tokens)


class RoomButton(StationButton):
    """A room of the workshop: it has no state, but a sign of its own."""

    entry: RoomEntry

    def set_state(self, state: State, why: str) -> None:
        """A room has none: its question is said instead."""
        self.setToolTip(f"{self.entry.title}: {self.entry.question}\nCtrl+{self._number}")
        self.setAccessibleName(self.entry.title)
        self.setAccessibleDescription(self.entry.question)

    def paint_sign(self, painter: QPainter, at: QPointF) -> None:
        """Draw the room's own sign."""
        painter.setPen(QPen(QColor(self.tokens.accent if self.isChecked() else self.tokens.soft), 1.6))
        painter.setBrush(Qt.BrushStyle.NoBrush)
        for ring in self.entry.sign:
            painter.drawPolygon(QPolygonF([at + QPointF(x, y) for x, y in ring]))


class PathBar(QWidget):
    """All stations in the order of work, and the rooms of the workshop."""

    chosen = pyqtSignal(str)

    def __init__(self, tokens: Tokens, entries: Sequence[StationEntry], rooms: Sequence[RoomEntry]) -> None:
        super().__init__()
        layout = QHBoxLayout(self)
        layout.setContentsMargins(0, 0, 0, 0)
        layout.setSpacing(_BETWEEN)
        self.buttons = {entry.key: StationButton(entry, n, tokens) for n, entry in enumerate(entries, 1)}
        self.rooms: dict[str, RoomButton] = {}
        self.beside = label("workshop", "soft")
        self.beside.setWordWrap(False)
        self.beside.setSizePolicy(QSizePolicy.Policy.Fixed, QSizePolicy.Policy.Preferred)
        ordered = sorted((entry for entry in rooms if entry.has_button), key=lambda entry: not entry.is_on_path)
        for number, entry in enumerate(ordered, len(entries) + 1):
            if entry.is_on_path:
                self.buttons[entry.key] = StationButton(entry, number, tokens)
            else:
                self.rooms[entry.key] = RoomButton(entry, number, tokens)
        for key, place in self._all.items():
            if key == next(iter(self.rooms), None):
                layout.addWidget(self.beside)
            layout.addWidget(place)
            place.clicked.connect(lambda _checked, key=key: self.chosen.emit(key))
        self.show_here(entries[0].key)

    @property
    def _all(self) -> dict[str, StationButton]:
        return {**self.buttons, **self.rooms}

    def resizeEvent(self, event: QResizeEvent | None) -> None:
        super().resizeEvent(event)
        self._arrange()

    def _arrange(self) -> None:
        """Write every question where there is room for all, else none: no place moves because another is visited.

        Where not even names have room beside their signs, those stand above them.
        """
        places = self._all.values()
        nothing: list[StationButton] = []
        for asked, is_labelled in ((list(places), True), (nothing, True), (nothing, False)):
            wanted = sum(place.width_with(brief=place in asked) for place in places)
            between = (len(places) - 1) * _BETWEEN + is_labelled * (self.beside.sizeHint().width() + 2 * _BETWEEN)
            if wanted + between <= self.width():
                stacked = False
                break
        else:
            stacked = True
        self.beside.setVisible(is_labelled)
        for place in places:
            if (place.has_brief, place.is_stacked) != (place in asked, stacked):
                place.has_brief, place.is_stacked = place in asked, stacked
                place.updateGeometry()
                place.update()

    def show_here(self, place: str) -> None:
        """Mark the station or the room that is visited; "" marks none."""
        for key, one in self._all.items():
            one.setAutoExclusive(place in self._all)
            one.setChecked(key == place)  # a room without a button marks none
        self._arrange()

    def show_overview(self, overview: Overview) -> None:
        """Show every station's state."""
        for station, place in self.buttons.items():
            place.set_state(*overview.state(station))

    def set_tokens(self, tokens: Tokens) -> None:
        """Change the theme, and write anew what may be told in another unit."""
        for place in self._all.values():
            place.tokens = tokens
            place.set_state(place.state, place.why)
            place.update()
