"""The pages of a PDF as small pictures: one is chosen by a press, or each becomes a design."""

from __future__ import annotations

from collections.abc import Callable
from typing import TYPE_CHECKING

from PyQt6.QtCore import QSize, Qt, pyqtSignal
from PyQt6.QtGui import QIcon, QPixmap
from PyQt6.QtWidgets import QButtonGroup, QFrame, QGridLayout, QSizePolicy, QToolButton, QVBoxLayout

from honest_edge.core.values.job import Design
from honest_edge.ui.shared.host import Host
from honest_edge.ui.widgets.fields import button, label, restyle

if TYPE_CHECKING:
    from numpy import uint8
    from numpy.typing import NDArray

    from honest_edge.app.results.progress import IsCancelled, ReportProgress

MOST_SHOWN = 24
_ACROSS, _SIDE_PX = 3, 52
_FINER = 2
"""Pixels of a small picture for each of the screen's, which may be fine."""


class PagesCard(QFrame):
    """Shows the pages of the file in hand; hidden where it has but one."""

    looked = pyqtSignal(str, int, object)

    def __init__(self, host: Host, choose: Callable[[int], None], each: Callable[[int], None]) -> None:
        """Take the window, what chooses a page, and what makes a design of each of so many."""
        super().__init__()
        self._host, self._choose = host, choose
        self._task = host.new_task()
        self.looked.connect(self._on_look)
        restyle(self, "card", "plain")
        column = QVBoxLayout(self)
        column.setContentsMargins(12, 10, 12, 10)
        self.heading = label("", "heading")
        column.addWidget(self.heading)
        self._grid = QGridLayout()
        self._grid.setSpacing(6)
        column.addLayout(self._grid)
        self.more = label("", "soft")
        column.addWidget(self.more)
        self.each = button("Make each page a design", lambda: each(self._pages))
        column.addWidget(self.each)
        self._group = QButtonGroup(self)
        self._asset, self._pages = "", 0
        self.pages: list[QToolButton] = []
        self.setVisible(False)

    def show_pages(self, design: Design, pages: int) -> None:
        """Show the pages of a design's file, that of the design pressed."""
        self.setVisible(pages > 1)
        if pages < 2:
            return
        if (design.asset, pages) != (self._asset, self._pages):
            self._asset, self._pages = design.asset, pages
            self.heading.setText(f"{pages} pages")
            self.more.setText("" if pages <= MOST_SHOWN else f"and {pages - MOST_SHOWN} more, by their number above")
            self.more.setVisible(pages > MOST_SHOWN)
            self._lay(min(pages, MOST_SHOWN))
            self._look(design)
        for number, page in enumerate(self.pages, 1):
            page.setChecked(number == design.source.page)

    def _lay(self, count: int) -> None:
        for old in self.pages:
            self._group.removeButton(old)
            self._grid.removeWidget(old)
            old.setParent(None)
            old.deleteLater()
        self.pages = [self._page(number) for number in range(1, count + 1)]
        for at, page in enumerate(self.pages):
            self._grid.addWidget(page, *divmod(at, _ACROSS))

    def _page(self, number: int) -> QToolButton:
        page = QToolButton()
        page.setProperty("page", True)
        page.setSizePolicy(QSizePolicy.Policy.Ignored, QSizePolicy.Policy.Fixed)
        page.setText(str(number))
        page.setAccessibleName(f"Page {number}")
        page.setToolTip(f"Take page {number}")
        page.setCheckable(True)
        page.setAutoRaise(True)
        page.setIconSize(QSize(_SIDE_PX, _SIDE_PX))
        page.setToolButtonStyle(Qt.ToolButtonStyle.ToolButtonTextUnderIcon)
        page.clicked.connect(lambda _on: self._choose(number))
        self._group.addButton(page)
        return page

    def _look(self, design: Design) -> None:
        """Draw the pages one after another, away from the interface."""
        data, asset, name = self._host.workspace.document.holder.assets[design.asset], design.asset, design.file_name
        numbers, show = range(1, len(self.pages) + 1), self.looked.emit

        def work(*, report: ReportProgress, cancelled: IsCancelled) -> None:
            from honest_edge.files.page_looks import page_look

            for number in numbers:
                show(asset, number, page_look(data, name, number, _FINER * _SIDE_PX, cancelled))

        self._task.submit(work)

    def _on_look(self, asset: str, number: int, pixels: NDArray[uint8]) -> None:
        if asset == self._asset and number <= len(self.pages):
            from honest_edge.ui.drawings.paths import qimage  # loads NumPy, which a picture has loaded

            self.pages[number - 1].setIcon(QIcon(QPixmap.fromImage(qimage(pixels))))
