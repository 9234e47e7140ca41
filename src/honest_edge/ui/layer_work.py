"""Layers in the window: put together ahead of all else, drawn on the table, moved by keys."""

from __future__ import annotations

from collections.abc import Callable
from typing import TYPE_CHECKING, cast

from PyQt6.QtCore import QObject, Qt, pyqtSignal
from PyQt6.QtGui import QKeyEvent

from honest_edge.ui.background import Background
from honest_edge.ui.desk import Desk
from honest_edge.ui.table import LightTable
from honest_edge.ui.theme import Tokens

if TYPE_CHECKING:
    from honest_edge.app.layer_view import LayerView
    from honest_edge.ui.layer_scene import LayerHands, LayersOnTable
    from honest_edge.ui.stations.layers import LayersPanel

_HINT = "drag to move    Shift+click: more    arrows: 0.5 mm    B: before thickening    0: show all"


class LayerWork(QObject):
    """What the window does for a design of layers."""

    laid = pyqtSignal()
    fonts_found = pyqtSignal()

    def __init__(
        self, desk: Desk, background: Background, table: LightTable, panel: Callable[[], LayersPanel], parent: QObject
    ) -> None:
        """Take what it works with; ``panel`` makes the panel when it is first needed."""
        super().__init__(parent)
        self._desk, self._background, self._table, self._panel = desk, background, table, panel
        self._drawn: LayersOnTable | None = None
        self._hands: LayerHands | None = None
        self._gesture = -1
        background.laying.done.connect(lambda view: self._on_laid(cast("LayerView", view)))
        background.laying.failed.connect(desk.said)
        background.fonting.done.connect(lambda fonts: self._on_fonts(cast("dict[str, tuple[str, ...]]", fonts)))
        desk.layers_wanted.connect(self._on_taken)

    def put_together(self) -> None:
        """Ask for the layers in hand, where what is known of them is not of now."""
        design, view = self._desk.design, self._desk.layer_view
        if design is None or not design.is_layered:
            return
        if view is None or view.design != design or design.stickers:
            self._background.lay(design, self._desk.job)
        if not self._desk.fonts:
            self._background.list_fonts()

    def draw(self, tokens: Tokens, *, refit: bool) -> bool:
        """Draw the layers in hand; return whether there is anything to draw."""
        from honest_edge.ui.layer_scene import LayerHands, LayersOnTable

        design, view = self._desk.design, self._desk.layer_view
        if design is None or view is None:
            return False
        if self._hands is None:
            self._hands, panel = LayerHands(self), self._panel()
            self._hands.picked.connect(panel.take)
            self._hands.moved.connect(panel.move_taken)
            self._hands.scaled.connect(panel.scale)
            self._hands.menu_wanted.connect(panel.show_arranging)
        self._drawn = LayersOnTable(self._hands)
        stock, taken = self._desk.job.sheet.stock, self._panel().taken
        content = self._drawn.draw(self._table.drawing(), design.layers, view, taken, stock, tokens)
        hint = _HINT if design.form is not None else f"{view.summary}    {_HINT}"
        self._table.set_content(content, hint, refit=refit)
        return True

    def forget_drawing(self) -> None:
        """Let go of what was drawn: the scene is for something else now."""
        self._drawn = None

    def take_key(self, event: QKeyEvent) -> None:
        """Move the layers in hand by an arrow key, remove them by Delete; a key held down is one step of undo."""
        from honest_edge.ui.layer_scene import nudge_of

        panel = self._panel()
        if event.key() in (Qt.Key.Key_Delete, Qt.Key.Key_Backspace):
            panel.remove_taken()
            return
        way = nudge_of(event.key(), event.modifiers())
        if way is not None and panel.taken:
            if not event.isAutoRepeat():
                self._gesture = self._desk.new_gesture()
            panel.move_taken(panel.taken, *way, merge=self._gesture)

    def _on_laid(self, view: LayerView) -> None:
        self._desk.view = view
        self.laid.emit()

    def _on_fonts(self, fonts: dict[str, tuple[str, ...]]) -> None:
        self._desk.fonts = fonts
        self.fonts_found.emit()

    def _on_taken(self, keys: tuple[str, ...]) -> None:
        if self._drawn is not None:
            self._drawn.choose(keys)
