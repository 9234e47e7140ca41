"""What the Art station knows of layers beyond the job."""

from __future__ import annotations

from typing import TYPE_CHECKING

from PyQt6.QtCore import QObject, pyqtSignal

from honest_edge.ui.shared.workspace import Workspace

if TYPE_CHECKING:
    from honest_edge.app.views.layer_view import LayerView


class LayersState(QObject):
    """Which layers are in hand, what can be shown of them, and the fonts of this machine.

    Attributes:
        view: the newest view of a layered design.
        fonts: styles of every family; empty until they are found.
        is_placing: a drag moves the picture inside the form in hand, not the form.
    """

    taken_changed = pyqtSignal(tuple)
    """Keys of the layers in hand."""

    def __init__(self, workspace: Workspace) -> None:
        super().__init__()
        self._workspace = workspace
        self._taken: tuple[str, ...] = ()
        self.view: LayerView | None = None
        self.fonts: dict[str, tuple[str, ...]] = {}
        self.is_placing = False

    @property
    def taken(self) -> tuple[str, ...]:
        """Keys of the layers in hand that the design in hand has."""
        design = self._workspace.design
        keys = () if design is None else tuple(layer.key for layer in design.layers)
        return tuple(key for key in self._taken if key in keys)

    def take(self, keys: tuple[str, ...]) -> None:
        """Take layers of the design in hand."""
        if keys != self._taken:
            self._taken = keys
            self.is_placing = False
            self.taken_changed.emit(keys)

    @property
    def layer_view(self) -> LayerView | None:
        """The newest view of the layers in hand; it may be a moment behind the job."""
        view, design = self.view, self._workspace.design
        return view if view is not None and design is not None and view.design.key == design.key else None
