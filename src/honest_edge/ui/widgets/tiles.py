"""Tiles of the start page: a picture, a name, and under it one line."""

from __future__ import annotations

from collections.abc import Callable, Sequence

from PyQt6.QtCore import QSize, Qt
from PyQt6.QtGui import QPainter, QPixmap, QResizeEvent
from PyQt6.QtWidgets import QGridLayout, QLabel, QPushButton, QVBoxLayout, QWidget

from honest_edge.ui.widgets.fields import ElidedLabel, label, set_tone
from honest_edge.ui.widgets.local import local
from honest_edge.ui.widgets.theme import px
from honest_edge.ui.widgets.tokens import Tokens

Draw = Callable[[QPainter, Tokens], None]
"""Draws into 100 x 60 units."""

_DRAWN = QSize(100, 60)
_GAP_PX = 14
_WORDS_PX = 92
"""Five lines."""


class Tile(QPushButton):
    """One way on. Its picture comes first; the keyboard reaches it like any button."""

    def __init__(
        self, name: str, detail: str, act: Callable[[], object], *, high_px: int = 76, words: str = ""
    ) -> None:
        """Take its name, the line under it, what it does, how high its picture is, and words that stand between."""
        super().__init__()
        self.setProperty("tile", True)
        self.setAccessibleName(name)
        self.setAccessibleDescription(detail)
        column = QVBoxLayout(self)
        column.setContentsMargins(10, 10, 10, 8)
        column.setSpacing(3)
        self._high_px = px(high_px)
        self.picture = QLabel()
        self.picture.setFixedHeight(self._high_px)
        if not high_px:
            self.picture.hide()
        self.picture.setAlignment(Qt.AlignmentFlag.AlignCenter)
        self.name = ElidedLabel()
        self.name.setProperty("tone", "heading")
        self.name.set_full_text(name)
        self.detail = ElidedLabel()
        self.detail.setProperty("tone", "soft")
        self.detail.set_full_text(local(detail))
        self.words = label(words, "soft")
        self.words.setFixedHeight(px(_WORDS_PX) if words else 0)
        self.words.setAlignment(Qt.AlignmentFlag.AlignTop)
        for part in (self.picture, self.name, self.words, self.detail):
            part.setAttribute(Qt.WidgetAttribute.WA_TransparentForMouseEvents)
            column.addWidget(part)
        self.setToolTip(f"{name}\n{detail}" if detail else name)
        self.clicked.connect(lambda _checked: act())

    def show_detail(self, detail: str, *, is_done: bool = False) -> None:
        """Show another line under the name; what is done is told by its colour, too."""
        self.detail.set_full_text(local(detail))
        set_tone(self.detail, "fine" if is_done else "soft")
        self.setAccessibleDescription(detail)

    def sizeHint(self) -> QSize:
        return QSize(px(120), self._high_px + self.words.height() + px(66))

    def minimumSizeHint(self) -> QSize:
        return self.sizeHint()

    def show_picture(self, data: bytes) -> None:
        """Show a picture that was kept; what is none leaves the place empty."""
        pixmap = QPixmap()
        if pixmap.loadFromData(data):
            mode = Qt.TransformationMode.SmoothTransformation
            size = QSize(px(190), self._high_px)
            self.picture.setPixmap(pixmap.scaled(size, Qt.AspectRatioMode.KeepAspectRatio, mode))

    def show_drawing(self, draw: Draw, tokens: Tokens) -> None:
        """Show a drawing in the colours of a theme."""
        ratio = self.devicePixelRatioF()
        scale = self._high_px / _DRAWN.height()
        pixmap = QPixmap((_DRAWN.toSizeF() * scale * ratio).toSize())
        pixmap.setDevicePixelRatio(ratio)
        pixmap.fill(Qt.GlobalColor.transparent)
        painter = QPainter(pixmap)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.scale(scale, scale)
        draw(painter, tokens)
        painter.end()
        self.picture.setPixmap(pixmap)


class TileGrid(QWidget):
    """As many tiles in a row as have room; with ``rows`` no more than those rows are shown."""

    def __init__(self, least_px: int, *, rows: int = 0) -> None:
        super().__init__()
        self._least_px, self._rows = px(least_px), rows
        self._tiles: list[QWidget] = []
        self._columns = 0
        self._grid = QGridLayout(self)
        self._grid.setContentsMargins(0, 0, 0, 0)
        self._grid.setSpacing(_GAP_PX)

    def show_tiles(self, tiles: Sequence[QWidget]) -> None:
        """Show these; older ones go."""
        for old in self._tiles:
            self._grid.removeWidget(old)
            old.deleteLater()
        self._tiles, self._columns = list(tiles), 0
        self._arrange()

    def resizeEvent(self, event: QResizeEvent | None) -> None:
        super().resizeEvent(event)
        self._arrange()

    def _arrange(self) -> None:
        columns = max(1, (self.width() + _GAP_PX) // (self._least_px + _GAP_PX))
        columns = min(columns, max(1, len(self._tiles))) if not self._rows else columns
        if columns == self._columns:
            return
        for column in range(max(columns, self._columns)):
            self._grid.setColumnStretch(column, int(column < columns))
        self._columns = columns
        for number, tile in enumerate(self._tiles):
            self._grid.addWidget(tile, number // columns, number % columns)
            tile.setVisible(not self._rows or number < self._rows * columns)


def heading(text: str) -> QLabel:
    """Return what stands over a group of tiles."""
    title = label(text)
    title.setObjectName("question")
    return title
