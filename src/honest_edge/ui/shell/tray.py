"""The tray: every design of the job as the sticker it will be."""

from __future__ import annotations

from collections.abc import Mapping
from typing import TYPE_CHECKING, cast

from PyQt6.QtCore import QItemSelectionModel, QPoint, QSignalBlocker, QSize, Qt, pyqtSignal
from PyQt6.QtGui import QIcon, QKeyEvent, QPixmap
from PyQt6.QtWidgets import QListWidget, QListWidgetItem, QSizePolicy, QToolButton, QVBoxLayout, QWidget

from honest_edge.app.results.overview import Overview
from honest_edge.core.values.job import Job
from honest_edge.ui.drawings.paths import png_of, small_picture, sticker_picture
from honest_edge.ui.widgets.fields import button
from honest_edge.ui.widgets.theme import px

if TYPE_CHECKING:
    from honest_edge.app.results.design_result import DesignResult
    from honest_edge.core.values.artwork import Artwork

_PICTURE_PX = 62
_WIDTH_PX = 118
_MOST_PICTURES = 4


class _Shelf(QListWidget):
    removal_wanted = pyqtSignal()

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        if event is not None and event.key() in (Qt.Key.Key_Delete, Qt.Key.Key_Backspace):
            self.removal_wanted.emit()
            return
        super().keyPressEvent(event)


class Tray(QWidget):
    """A list of designs and a way to add more."""

    selected = pyqtSignal(str)
    together = pyqtSignal(tuple)
    """Keys of the designs that are taken together."""
    add_wanted = pyqtSignal()
    removal_wanted = pyqtSignal(str)
    menu_wanted = pyqtSignal(str, QPoint)
    """A design, and the place of the screen, where what can be done with it is to be shown."""

    def __init__(self) -> None:
        super().__init__()
        self.setObjectName("tray")
        self.setFixedWidth(px(_WIDTH_PX))
        layout = QVBoxLayout(self)
        layout.setContentsMargins(4, 10, 4, 10)
        self.shelf = _Shelf()
        self.shelf.setAccessibleName("Designs")
        self.shelf.setIconSize(QSize(px(_PICTURE_PX), px(_PICTURE_PX)))
        self.shelf.setViewMode(QListWidget.ViewMode.IconMode)
        self.shelf.setMovement(QListWidget.Movement.Static)
        self.shelf.setResizeMode(QListWidget.ResizeMode.Adjust)
        self.shelf.setWordWrap(True)  # two lines: what tells names apart often stands at their end
        self.shelf.setTextElideMode(Qt.TextElideMode.ElideMiddle)
        self.shelf.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self.shelf.setSelectionMode(QListWidget.SelectionMode.ExtendedSelection)
        self.shelf.setToolTip("Ctrl or Shift and a click take several together")
        self.shelf.itemSelectionChanged.connect(self._on_selection)
        self.shelf.currentItemChanged.connect(self._on_current)
        self.shelf.removal_wanted.connect(self._on_removal)
        self.shelf.setContextMenuPolicy(Qt.ContextMenuPolicy.CustomContextMenu)
        self.shelf.customContextMenuRequested.connect(self._on_menu)
        layout.addWidget(self.shelf)
        add = button("Add art…", self.add_wanted.emit)
        add.setToolTip("Add pictures to the job (Ctrl+I), or drop them anywhere on the window")
        layout.addWidget(add)
        self.make = QToolButton()
        self.make.setText("Make one ▾")
        self.make.setAccessibleName("Make a design")
        self.make.setToolTip("Start with words, or with the form of a label, sheet, tag or card")
        self.make.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Fixed)
        self.make.setPopupMode(QToolButton.ToolButtonPopupMode.InstantPopup)
        layout.addWidget(self.make)
        self._drawn: dict[str, DesignResult] = {}

    def show_job(self, job: Job, current: str | None) -> None:
        """List the designs; pictures follow when they are computed."""
        with QSignalBlocker(self.shelf):
            if [self._key(row) for row in range(self.shelf.count())] != [d.key for d in job.designs]:
                self.shelf.clear()
                self._drawn.clear()
                for design in job.designs:
                    item = QListWidgetItem(QIcon(), "")
                    item.setData(Qt.ItemDataRole.UserRole, design.key)
                    item.setSizeHint(QSize(px(_WIDTH_PX) - 22, px(_PICTURE_PX + 50)))
                    item.setTextAlignment(Qt.AlignmentFlag.AlignHCenter)
                    self.shelf.addItem(item)
            for row, design in enumerate(job.designs):
                shown = self.shelf.item(row)
                if shown is None:
                    continue
                shown.setText(design.name)
                made_of = design.file_name or f"{len(design.layers)} layers"
                shown.setToolTip(f"{design.name}: {design.copies} copies\n{made_of}\nDel removes it")
                if design.key == current and not shown.isSelected():
                    self.shelf.setCurrentRow(row, QItemSelectionModel.SelectionFlag.ClearAndSelect)

    def clear(self) -> None:
        """Forget the designs of a job that is no longer open, their pictures and which of them were taken."""
        with QSignalBlocker(self.shelf):
            self.shelf.clear()
        self._drawn.clear()

    def show_decoded(self, pictures: Mapping[str, Artwork]) -> None:
        """Show pictures as they are, until they are drawn as stickers."""
        for row in range(self.shelf.count()) if pictures else ():
            item, key = self.shelf.item(row), self._key(row)
            if item is not None and key in pictures and key not in self._drawn and item.icon().isNull():
                ratio = self.devicePixelRatioF()
                small = QPixmap.fromImage(small_picture(pictures[key].pixels, round(px(_PICTURE_PX) * ratio)))
                small.setDevicePixelRatio(ratio)
                item.setIcon(QIcon(small))

    def show_overview(self, overview: Overview) -> None:
        """Draw the stickers that have changed."""
        for row in range(self.shelf.count()):
            item, key = self.shelf.item(row), self._key(row)
            if item is None:
                continue
            if key in overview.blocked:
                item.setIcon(QIcon())
                item.setToolTip(overview.blocked[key].message)
                self._drawn.pop(key, None)
            elif key in overview.results:
                self.show_result(key, overview.results[key])

    def show_result(self, key: str, result: DesignResult) -> None:
        """Draw one sticker."""
        before = self._drawn.get(key)
        if before is not None and before.cut is result.cut and before.art is result.art:
            return
        self._drawn[key] = result
        for row in range(self.shelf.count()):
            item = self.shelf.item(row)
            if item is not None and self._key(row) == key:
                ratio = self.devicePixelRatioF()
                picture = QPixmap.fromImage(sticker_picture(result, round(px(_PICTURE_PX) * ratio)))
                picture.setDevicePixelRatio(ratio)
                icon = QIcon(picture)
                icon.addPixmap(picture, QIcon.Mode.Selected)  # else Qt tints it
                item.setIcon(icon)

    def pictures(self) -> list[bytes]:
        """Return the first stickers' pictures as PNG, as far as they are drawn."""
        items = [self.shelf.item(row) for row in range(self.shelf.count())]
        drawn = [item.icon() for item in items if item is not None and self._drawn][:_MOST_PICTURES]
        return [png_of(icon.pixmap(self.shelf.iconSize()).toImage()) for icon in drawn if not icon.isNull()]

    def key_at(self, window: QWidget, place: QPoint) -> str | None:
        """Return the design whose picture lies at a place of the window, or None."""
        shelf = cast("QWidget", self.shelf.viewport())
        item = self.shelf.itemAt(shelf.mapFrom(window, place)) if self.isVisible() else None
        return None if item is None else self._key(self.shelf.row(item))

    def _key(self, row: int) -> str:
        item = self.shelf.item(row)
        return "" if item is None else str(item.data(Qt.ItemDataRole.UserRole))

    def _on_current(self, item: QListWidgetItem | None, _before: QListWidgetItem | None) -> None:
        if item is not None:
            self.selected.emit(str(item.data(Qt.ItemDataRole.UserRole)))

    def _on_selection(self) -> None:
        self.together.emit(tuple(self._key(self.shelf.row(item)) for item in self.shelf.selectedItems()))

    def _on_menu(self, place: QPoint) -> None:
        item, shelf = self.shelf.itemAt(place), cast("QWidget", self.shelf.viewport())
        if item is not None:
            self.menu_wanted.emit(self._key(self.shelf.row(item)), shelf.mapToGlobal(place))

    def _on_removal(self) -> None:
        item = self.shelf.currentItem()
        if item is not None:
            self.removal_wanted.emit(str(item.data(Qt.ItemDataRole.UserRole)))
