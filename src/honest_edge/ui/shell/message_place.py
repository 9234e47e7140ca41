"""Where messages stand: over the foot of the table or of a room, so that nothing moves when one comes or goes."""

from __future__ import annotations

from PyQt6.QtCore import QEvent, QObject, QPoint, QRect, QTimer
from PyQt6.QtWidgets import QPushButton, QStackedWidget, QWidget

from honest_edge.ui.shell.message_bar import MessageBar
from honest_edge.ui.widgets.theme import px

_WIDEST_PX, _SIDE_PX = 880, 14
_BELOW_TABLE_PX, _BELOW_ROOM_PX = 36, 62
"""Below a message the line of hints stays to be read, and a room's last buttons to be pressed."""


class MessagePlace(QObject):
    """Keeps the bar in its place, whatever is resized or shown."""

    def __init__(self, bar: MessageBar, body: QWidget, table: QWidget, room: QStackedWidget) -> None:
        """Take the bar, what holds it, and what it stands over: the table, or else the room that is shown."""
        super().__init__(body)
        self._bar, self._body, self._table, self._room = bar, body, table, room
        bar.setParent(body)
        bar.said.connect(self._lay)
        for watched in (body, table):
            watched.installEventFilter(self)
        room.currentChanged.connect(lambda _number: QTimer.singleShot(0, self._follow))  # once it is laid out

    def eventFilter(self, _watched: QObject | None, event: QEvent | None) -> bool:
        """Follow what the bar stands over."""
        kinds = (QEvent.Type.Resize, QEvent.Type.Move, QEvent.Type.Show, QEvent.Type.Hide)
        if event is not None and event.type() in kinds:
            self._follow()
        return False

    def _follow(self) -> None:
        if not self._bar.isHidden():
            self._lay()

    def _lay(self) -> None:
        is_table = self._table.isVisible()
        over, below = (self._table, px(_BELOW_TABLE_PX)) if is_table else (self._room, px(_BELOW_ROOM_PX))
        box = QRect(over.mapTo(self._body, QPoint(0, 0)), over.size())
        width = min(px(_WIDEST_PX), box.width() - 2 * px(_SIDE_PX))
        height = max(self._bar.heightForWidth(width), self._bar.minimumSizeHint().height())
        left = box.left() + (box.width() - width) // 2
        self._bar.setGeometry(self._above_what_is_next(QRect(left, box.bottom() - below - height, width, height), over))
        self._bar.raise_()

    def _above_what_is_next(self, place: QRect, over: QWidget) -> QRect:
        """Return a place as far up as leaves every filled button of what lies below to be seen and pressed."""
        for button in over.findChildren(QPushButton):
            lies = QRect(button.mapTo(self._body, QPoint(0, 0)), button.size())
            if button.property("filled") and button.isVisible() and lies.intersects(place):
                place.moveBottom(lies.top() - px(_SIDE_PX))
        return place


def with_messages(body: QWidget, bar: MessageBar, table: QWidget, room: QStackedWidget) -> QWidget:
    """Return the window's content with its messages in their place."""
    MessagePlace(bar, body, table, room)
    return body
