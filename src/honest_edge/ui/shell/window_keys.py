"""The keys that hold at every station, and what is dropped on the window."""

from __future__ import annotations

from pathlib import Path
from typing import Any

from PyQt6.QtCore import QEvent, Qt
from PyQt6.QtGui import QDragEnterEvent, QDropEvent, QKeyEvent
from PyQt6.QtWidgets import QAbstractButton, QMainWindow

from honest_edge.files.file_kinds import PICTURE_SUFFIXES
from honest_edge.ui.shell import focus_order
from honest_edge.ui.shell.design_acts import DesignActs
from honest_edge.ui.shell.field_keys import FieldKeys
from honest_edge.ui.shell.tray import Tray
from honest_edge.ui.shell.user_choices import UserChoices
from honest_edge.ui.table.light_table import LightTable


class KeyedWindow(QMainWindow):
    """A window with a table, whose station in hand is told of keys too."""

    table: LightTable
    here: Any  # the station in hand
    workshop: Any  # the rooms, of which one may be visited
    choices: UserChoices
    tray: Tray
    acts: DesignActs

    def __init__(self) -> None:
        super().__init__()
        FieldKeys(self)

    def focusNextPrevChild(self, next: bool) -> bool:
        return focus_order.step(self, forward=next)

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        if event is not None:
            focused = self.focusWidget()
            if event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter) and isinstance(focused, QAbstractButton):
                focused.click()
                return
            if not event.isAutoRepeat():
                self._take_key(event.key())
            self.here.key_pressed(event)
        super().keyPressEvent(event)

    def _take_key(self, key: int) -> None:
        if key == Qt.Key.Key_B:
            self.table.show_before(True)
        elif key == Qt.Key.Key_Escape and self.table.tool is not None:
            self.here.lay_tool_down()
        elif key == Qt.Key.Key_0:
            self.table.show_all()

    def keyReleaseEvent(self, event: QKeyEvent | None) -> None:
        if event is not None and event.key() == Qt.Key.Key_B and not event.isAutoRepeat():
            self.table.show_before(False)
        super().keyReleaseEvent(event)

    def close_whole(self) -> None:
        """Close the window that this one stands in."""
        if (top := self.window()) is not None:
            top.close()

    def take_files(self, paths: list[Path]) -> None:
        """Take in files that were dropped."""
        raise NotImplementedError

    def dragEnterEvent(self, event: QDragEnterEvent | None) -> None:
        if event is not None and (mime := event.mimeData()) is not None and mime.hasUrls():
            event.acceptProposedAction()

    def dropEvent(self, event: QDropEvent | None) -> None:
        mime = event.mimeData() if event else None
        if mime is not None:
            paths = [Path(url.toLocalFile()) for url in mime.urls() if url.isLocalFile()]
            if not self.workshop.take_files(paths) and not self._replaced(event, paths):
                self.take_files(paths)

    def _replaced(self, event: QDropEvent | None, paths: list[Path]) -> bool:
        """Let one picture take the place of that on whose tile, or layer, it is dropped; return whether."""
        if event is None or len(paths) != 1 or paths[0].suffix.lower() not in PICTURE_SUFFIXES:
            return False
        place = event.position().toPoint()
        key = self.tray.key_at(self, place)
        if key is not None:
            self.acts.replace_picture(key, paths[0])
            return True
        at = self.table.mapToScene(self.table.mapFrom(self, place))
        part = self.here.part_for_picture(at.x(), at.y()) if self.table.isVisible() else None
        if part is not None:
            self.acts.replace_picture_in_hand(paths[0], *part)
        return part is not None

    def changeEvent(self, event: QEvent | None) -> None:
        if event is not None and event.type() == QEvent.Type.ActivationChange:
            self._on_activation()
        super().changeEvent(event)

    def _on_activation(self) -> None:
        if self.isActiveWindow():
            self.choices.follow_system()  # PyQt has no signal for contrast; who changed it comes back from there
        else:
            self.table.show_before(False)  # the key may be let go elsewhere
