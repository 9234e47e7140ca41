"""The stack as a list, top first: tick to show, choose to take in hand."""

from __future__ import annotations

from PyQt6.QtCore import QItemSelectionModel, QPoint, QSignalBlocker, Qt, pyqtSignal
from PyQt6.QtWidgets import QAbstractItemView, QListWidget, QListWidgetItem

from honest_edge.core.values.job import Design
from honest_edge.core.values.layers import Layer
from honest_edge.ui.widgets.theme import px

_ROW_PX = 25
_ROLES = {"guide": "guide", "stock": "cut of stock", "line": "line of cut"}


class LayerList(QListWidget):
    """Tells which layers are chosen, and which is hidden or shown."""

    chosen = pyqtSignal(tuple)
    hidden = pyqtSignal(str, bool)
    menu_wanted = pyqtSignal(QPoint)
    """The place of the screen where what can be done with the layers in hand is to be shown."""

    def __init__(self) -> None:
        super().__init__()
        self.setAccessibleName("Layers")
        self.setSelectionMode(QAbstractItemView.SelectionMode.ExtendedSelection)
        self.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self.setTextElideMode(Qt.TextElideMode.ElideMiddle)
        self._layers: tuple[Layer, ...] = ()
        self.setContextMenuPolicy(Qt.ContextMenuPolicy.CustomContextMenu)
        self.customContextMenuRequested.connect(self._on_menu)
        self.itemSelectionChanged.connect(self._on_selection)
        self.itemChanged.connect(self._on_ticked)

    def show_layers(self, design: Design, taken: tuple[str, ...]) -> None:
        """List a design's layers and mark those in hand."""
        with QSignalBlocker(self):
            if [_key(item) for item in self._items()] != [layer.key for layer in reversed(design.layers)]:
                self._fill(design)
            if design.layers != self._layers:
                self._layers = design.layers
                for item, layer in zip(self._items(), reversed(design.layers), strict=True):
                    _describe(item, layer)
            for item in self._items():
                item.setSelected(_key(item) in taken)

    def _fill(self, design: Design) -> None:
        self.clear()
        self._layers = ()
        for layer in reversed(design.layers):
            item = QListWidgetItem()
            item.setData(Qt.ItemDataRole.UserRole, layer.key)
            item.setFlags(item.flags() | Qt.ItemFlag.ItemIsUserCheckable)
            self.addItem(item)
        self.setFixedHeight(min(max(px(_ROW_PX) * len(design.layers) + 6, 2 * px(_ROW_PX)), 6 * px(_ROW_PX)))

    def _items(self) -> list[QListWidgetItem]:
        items = [self.item(at) for at in range(self.count())]
        return [item for item in items if item is not None]

    def _on_selection(self) -> None:
        self.chosen.emit(tuple(_key(item) for item in self.selectedItems()))

    def _on_menu(self, at: QPoint) -> None:
        """Take the layer under the pointer in hand, unless it is, and ask for its menu."""
        item, viewport = self.itemAt(at), self.viewport()
        if item is None or viewport is None:
            return
        if not item.isSelected():
            self.setCurrentItem(item, QItemSelectionModel.SelectionFlag.ClearAndSelect)
        self.menu_wanted.emit(viewport.mapToGlobal(at))

    def _on_ticked(self, item: QListWidgetItem) -> None:
        self.hidden.emit(_key(item), item.checkState() == Qt.CheckState.Unchecked)


def _key(item: QListWidgetItem) -> str:
    return str(item.data(Qt.ItemDataRole.UserRole))


def _describe(item: QListWidgetItem, layer: Layer) -> None:
    words = ("locked" if layer.is_locked else "", _ROLES.get(layer.role, ""), layer.group)
    marks = ", ".join(filter(None, words))
    item.setText(f"{layer.title}  ({marks})" if marks else layer.title)
    item.setToolTip(layer.title)
    item.setCheckState(Qt.CheckState.Unchecked if layer.is_hidden else Qt.CheckState.Checked)
