"""Controls that stand in a line like words, and go on in the next where there is no room left."""

from __future__ import annotations

from PyQt6.QtCore import QRect, QSize, Qt
from PyQt6.QtGui import QGuiApplication
from PyQt6.QtWidgets import QLayout, QLayoutItem

from honest_edge.ui.widgets.theme import px


class Flow(QLayout):
    """Lays out from where the language begins, each line as high as the highest in it, all on one middle."""

    def __init__(self, gap_px: int = 6, line_gap_px: int = 6) -> None:
        super().__init__()
        self._items: list[QLayoutItem] = []
        self._gap_px, self._line_gap_px = px(gap_px), px(line_gap_px)
        self.setContentsMargins(0, 0, 0, 0)

    def addItem(self, item: QLayoutItem | None) -> None:
        if item is not None:
            self._items.append(item)

    def count(self) -> int:
        """How many there are."""
        return len(self._items)

    def itemAt(self, index: int) -> QLayoutItem | None:
        return self._items[index] if 0 <= index < len(self._items) else None

    def takeAt(self, index: int) -> QLayoutItem | None:
        return self._items.pop(index) if 0 <= index < len(self._items) else None

    def expandingDirections(self) -> Qt.Orientation:
        return Qt.Orientation(0)

    def hasHeightForWidth(self) -> bool:
        return True

    def heightForWidth(self, width: int) -> int:
        return self._laid(QRect(0, 0, width, 0), is_tried=True)

    def setGeometry(self, rect: QRect) -> None:
        super().setGeometry(rect)
        self._laid(rect, is_tried=False)

    def sizeHint(self) -> QSize:
        hints = [item.sizeHint() for item in self._shown()]
        width = sum(hint.width() + self._gap_px for hint in hints)
        return QSize(width, max((hint.height() for hint in hints), default=0))

    def minimumSize(self) -> QSize:
        size = QSize()
        for item in self._shown():
            size = size.expandedTo(item.minimumSize())
        return size

    def _shown(self) -> list[QLayoutItem]:
        return [item for item in self._items if not item.isEmpty()]

    def _laid(self, rect: QRect, *, is_tried: bool) -> int:
        """Lay the items out within a width, or only try; return how high they are."""
        lines: list[list[QLayoutItem]] = [[]]
        used = 0
        for item in self._shown():
            width = item.sizeHint().width()
            if lines[-1] and used + width > rect.width():
                lines.append([])
                used = 0
            lines[-1].append(item)
            used += width + self._gap_px
        top = rect.top()
        for line in lines:
            high = max((item.sizeHint().height() for item in line), default=0)
            if not is_tried:
                self._place(line, QRect(rect.left(), top, rect.width(), high))
            top += high + self._line_gap_px
        return top - rect.top() - self._line_gap_px

    def _place(self, line: list[QLayoutItem], room: QRect) -> None:
        at = room.left()
        for item in line:
            hint = item.sizeHint()
            box = QRect(at, room.top() + (room.height() - hint.height()) // 2, hint.width(), hint.height())
            if QGuiApplication.layoutDirection() == Qt.LayoutDirection.RightToLeft:
                box.moveLeft(room.left() + room.right() - box.right())
            item.setGeometry(box)
            at += hint.width() + self._gap_px
