"""The small "?" at the corner of a card, and how the page of what is in hand is found."""

from __future__ import annotations

from PyQt6.QtCore import QEvent, QObject, Qt
from PyQt6.QtWidgets import QToolButton, QWidget

from honest_edge.ui.widgets.theme import px

_TOPIC = "help"
_SIDE_PX, _INSET_PX = 20, 5


class HelpMark(QToolButton):
    """Opens the page of a card; it lies over the card's corner and takes no room in it."""

    def __init__(self, card: QWidget, topic: str, *, down_px: int = 8) -> None:
        super().__init__(card)
        card.setProperty(_TOPIC, topic)
        self._topic, self._down_px = topic, px(down_px)
        self.setText("?")
        self.setProperty("helpMark", True)
        self.setFixedSize(px(_SIDE_PX), px(_SIDE_PX))
        self.setToolTip("What this is, in the handbook (F1)")
        self.setAccessibleName(f"Help with this card: {topic.replace('-', ' ')}")
        self.setCursor(Qt.CursorShape.PointingHandCursor)
        self.clicked.connect(lambda _checked: self._ask())
        card.installEventFilter(self)
        self._place()

    def eventFilter(self, watched: QObject | None, event: QEvent | None) -> bool:
        if event is not None and event.type() in (QEvent.Type.Resize, QEvent.Type.Show, QEvent.Type.LayoutRequest):
            self._place()
        return False

    def _place(self) -> None:
        card = self.parentWidget()
        if card is not None:
            x = px(_INSET_PX) if card.isRightToLeft() else card.width() - self.width() - px(_INSET_PX)
            self.move(x, self._down_px)
            self.raise_()

    def _ask(self) -> None:
        """Ask the window, wherever above it stands."""
        above = self.parentWidget()
        while above is not None and not hasattr(above, "show_help"):
            above = above.parentWidget()
        if above is not None:
            above.show_help(self._topic)


def topic_of(widget: QWidget | None) -> str:
    """Return the topic of the card that a widget stands in; empty for none."""
    while widget is not None:
        topic = widget.property(_TOPIC)
        if isinstance(topic, str):
            return topic
        widget = widget.parentWidget()
    return ""
