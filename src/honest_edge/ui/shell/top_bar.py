"""The bar at the top: the job's title, the path of stations, and a few tools."""

from __future__ import annotations

from pathlib import Path

from PyQt6.QtCore import Qt
from PyQt6.QtGui import QResizeEvent
from PyQt6.QtWidgets import QHBoxLayout, QVBoxLayout, QWidget

from honest_edge.ui.shell.path_bar import PathBar
from honest_edge.ui.widgets.fields import ElidedLabel, label
from honest_edge.ui.widgets.theme import px

_WIDE_PX, _NARROW_PX = 1150, 990
_TITLE_PX, _NARROW_TITLE_PX = 200, 120
"""Below such widths the title gives room to the names of the places, and then all of it."""


class TopBar(QWidget):
    """Shows which job this is and whether it is saved; ``tools`` takes buttons."""

    def __init__(self, path_bar: PathBar) -> None:
        super().__init__()
        self.setObjectName("topBar")
        self.setAttribute(Qt.WidgetAttribute.WA_StyledBackground)
        self.setFixedHeight(px(72))
        layout = QHBoxLayout(self)
        layout.setContentsMargins(18, 8, 14, 8)
        self.title = ElidedLabel()
        self.title.setObjectName("jobTitle")
        self.subtitle = label("", "soft")
        self.subtitle.setWordWrap(False)
        titles = QVBoxLayout()
        titles.setSpacing(2)
        titles.addStretch(1)
        titles.addWidget(self.title)
        titles.addWidget(self.subtitle)
        titles.addStretch(1)
        holder = QWidget()
        holder.setLayout(titles)
        self._titles = holder
        layout.addWidget(holder)
        layout.addWidget(path_bar, 1)
        self.tools = QHBoxLayout()
        self.tools.setSpacing(6)
        layout.addLayout(self.tools)

    def resizeEvent(self, event: QResizeEvent | None) -> None:
        super().resizeEvent(event)
        wide, narrow = self.width() >= px(_WIDE_PX), self.width() >= px(_NARROW_PX)
        self._titles.setFixedWidth(px(_TITLE_PX if wide else _NARROW_TITLE_PX))
        self._titles.setVisible(wide or narrow)  # the window's own title names the job too

    def show_job(self, title: str, path: Path | None, *, is_saved: bool) -> None:
        """Show a job's title, its file, and whether anything of it is not saved."""
        self.title.set_full_text(title if is_saved else f"{title}*")
        saved = "saved" if is_saved else "unsaved changes"
        self.subtitle.setText(saved if path else "not saved yet")
        self.subtitle.setToolTip(str(path or ""))
