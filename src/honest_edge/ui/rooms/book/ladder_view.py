"""Eight test squares as they lie on the sheet: the first that lifts clean is clicked, then the first marked one."""

from __future__ import annotations

from collections.abc import Callable, Sequence

from PyQt6.QtCore import QPointF, QRectF, Qt, pyqtSignal
from PyQt6.QtGui import QColor, QPaintEvent, QPen
from PyQt6.QtWidgets import QAbstractButton, QGridLayout, QWidget

from honest_edge.core.values.book_records import value_name
from honest_edge.ui.rooms.book.curve_view import CLEAN, MARKED, TORN, paint_mark
from honest_edge.ui.widgets.local import local
from honest_edge.ui.widgets.painting import painter_on
from honest_edge.ui.widgets.theme import figures, px
from honest_edge.ui.widgets.tokens import Tokens

_COLUMNS = 4


class _Square(QAbstractButton):
    """One square with its setting above it."""

    def __init__(self, tokens: Callable[[], Tokens]) -> None:
        super().__init__()
        self._tokens = tokens
        self.setting, self.state, self.called = 0.0, "", ""
        self.setFixedSize(px(104), px(64))
        self.setCursor(Qt.CursorShape.PointingHandCursor)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)

    def show_square(self, number: int, setting: float, name: str, state: str, called: str = "") -> None:
        """Show what a square was cut with, and what it showed."""
        self.setting, self.state, self.called = setting, state, called or f"{setting:g}"
        self.setToolTip(called)
        self.setAccessibleName(f"Square {number}, {name} {self.called}{f': {state}' if state else ''}")
        self.setToolTip(state)
        self.update()

    def paintEvent(self, event: QPaintEvent | None) -> None:
        tokens, painter = self._tokens(), painter_on(self)
        has_focus = self.hasFocus()
        painter.setPen(QPen(QColor(tokens.accent if has_focus else tokens.soft), 2 if has_focus else 1))
        painter.setBrush(QColor(tokens.field))
        box = QRectF(self.rect()).adjusted(1.5, 1.5, -1.5, -1.5)
        painter.drawRoundedRect(box, 5, 5)
        painter.setPen(QColor(tokens.ink))
        painter.setFont(figures(17 if self.called == f"{self.setting:g}" else 12))
        room = int(box.width()) - 48
        shown = painter.fontMetrics().elidedText(local(self.called), Qt.TextElideMode.ElideRight, room)
        painter.drawText(box.adjusted(12, 0, -36, 0), Qt.AlignmentFlag.AlignVCenter, shown)
        if self.state:
            paint_mark(painter, QPointF(box.right() - 22, box.center().y()), self.state, tokens, 7.0)


class LadderView(QWidget):
    """Takes the two clicks of a reading."""

    changed = pyqtSignal()

    def __init__(self, tokens: Callable[[], Tokens]) -> None:
        super().__init__()
        self._settings: tuple[float, ...] = ()
        self._name = self._names = ""
        self._contradicted = False
        self.first_clean: int | None = None
        self.first_marked: int | None = None
        grid = QGridLayout(self)
        grid.setContentsMargins(0, 0, 0, 0)
        grid.setSpacing(px(8))
        self.squares = [_Square(tokens) for _ in range(8)]
        for number, square in enumerate(self.squares):
            square.clicked.connect(lambda _checked, number=number: self.click(number))
            grid.addWidget(square, number // _COLUMNS, number % _COLUMNS)

    def show_ladder(self, settings: Sequence[float], name: str, names: str = "") -> None:
        """Show another ladder: what is set, and what single settings are called that have names."""
        self._settings, self._name, self._names = tuple(settings), name, names
        for number, square in enumerate(self.squares):
            square.setVisible(number < len(self._settings))
        self.start_over()

    def start_over(self) -> None:
        """Forget the clicks."""
        self.first_clean = self.first_marked = None
        self._contradicted = False
        self._show()

    def click(self, number: int) -> None:
        """Take a square, or the number of squares for none, as the first of what is asked for."""
        self._contradicted = False
        if self.first_clean is not None and self.first_marked is None and number < self.first_clean:
            self.first_clean, self._contradicted = None, True
        elif self.first_clean is None:
            self.first_clean = number
            if number == len(self._settings):
                self.first_marked = number  # what does not lift is not cut through either
        elif self.first_marked is None:
            self.first_marked = number
        else:
            self.first_clean, self.first_marked = number, None
        self._show()

    @property
    def asked(self) -> str:
        """What is to be clicked next; "" where the reading is whole."""
        if self._contradicted:
            return (
                "A marked liner was cut through, so that square lifts. Anew: click the first square that lifts clean."
            )
        if self.first_clean is None:
            return "Weed them. Click the first square that lifts clean."
        return "" if self.first_marked is not None else "Now click the first square whose liner is marked."

    def _show(self) -> None:
        for number, (square, setting) in enumerate(zip(self.squares, self._settings, strict=False)):
            called = value_name(setting, self._names) if self._names else ""
            square.show_square(number + 1, setting, self._name, self._state_of(number), called)
        self.changed.emit()

    def _state_of(self, number: int) -> str:
        clean, marked = self.first_clean, self.first_marked
        if clean is None:
            return ""
        if number < clean:
            return TORN
        if marked is None:
            return CLEAN if number == clean else ""
        if number == marked:
            return MARKED
        return CLEAN if number < marked else ""
