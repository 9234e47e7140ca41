"""What can be done with the layers in hand: each an edit of the design, one step of undo."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace
from typing import TYPE_CHECKING, Any, cast

from honest_edge.core.values.job import Design
from honest_edge.core.values.layers import Layer

if TYPE_CHECKING:
    from honest_edge.core.layers.arrange import Side
    from honest_edge.ui.shared.workspace import Workspace
    from honest_edge.ui.stations.art.state import LayersState

_GROWN_MM, _GROWN_RGB = 2.0, (247, 237, 214)

Change = Callable[[Layer], Layer]


class Arranging:
    """Edits layers; ``core.layers.arrange`` is loaded with the first edit."""

    def __init__(self, workspace: Workspace, state: LayersState) -> None:
        self._workspace, self._state = workspace, state

    def edit(self, words: str, make: Callable[[Design], tuple[Layer, ...]], *, merge: int = -1) -> bool:
        """Replace the layers; return whether that was possible."""
        design = self._workspace.design
        layers = None if design is None else self._workspace.build(lambda: make(design))
        return layers is not None and self._workspace.edit_design(words, merge=merge, layers=layers)

    def change(self, words: str, keys: tuple[str, ...], change: Change, *, merge: int = -1) -> bool:
        """Change some layers, each by itself; return whether that was possible."""
        from honest_edge.core.layers.arrange import changed

        return self.edit(words, lambda design: changed(design.layers, keys, change), merge=merge)

    def move(self, keys: tuple[str, ...], across_mm: float, down_mm: float, *, merge: int = -1) -> None:
        """Move layers."""
        from honest_edge.core.layers.arrange import moved

        self.edit("move", lambda design: moved(design.layers, keys, across_mm, down_mm), merge=merge)

    def scale(self, key: str, factor: float) -> bool:
        """Make one layer larger or smaller; return whether that was possible."""
        from honest_edge.core.layers.arrange import scaled

        return self.change("size", (key,), lambda layer: scaled(layer, factor))

    def scale_together(self, keys: tuple[str, ...], factor: float, middle: tuple[float, float]) -> bool:
        """Make several layers larger or smaller as one; return whether that was possible."""
        from honest_edge.core.layers.arrange import scaled_about

        return self.edit("size", lambda design: scaled_about(design.layers, keys, factor, middle))

    def move_fill(self, key: str, across_mm: float, down_mm: float, *, merge: int = -1) -> None:
        """Move the picture inside a form."""
        from honest_edge.core.layers.arrange import fill_moved

        self.change("place of the picture inside", (key,), lambda a: fill_moved(a, across_mm, down_mm), merge=merge)

    def scale_fill(self, key: str, factor: float) -> bool:
        """Make the picture inside a form larger or smaller; return whether that was possible."""
        from honest_edge.core.layers.arrange import fill_scaled

        return self.change("size of the picture inside", (key,), lambda layer: fill_scaled(layer, factor))

    def restack(self, by: int) -> None:
        """Move the layers in hand up or down in the stack."""
        from honest_edge.core.layers.arrange import restacked

        self.edit("order", lambda design: restacked(design.layers, self._state.taken, by))

    def duplicate(self) -> tuple[str, ...]:
        """Copy the layers in hand; return the keys of the copies, none where nothing was made."""
        from honest_edge.core.layers.arrange import duplicated

        design, taken = self._workspace.design, self._state.taken
        if design is None or not taken:
            return ()
        layers, copies = duplicated(design.layers, taken)
        return copies if self._workspace.edit_design("duplicate", layers=layers) else ()

    def grow(self) -> None:
        """Lay a grown copy of the layer in hand below it, and take it in hand."""
        from honest_edge.core.layers.arrange import with_grown_copy

        design, taken = self._workspace.design, self._state.taken
        if design is None or len(taken) != 1:
            return
        layers, grown = with_grown_copy(design.layers, taken[0], _GROWN_MM, _GROWN_RGB)
        if self._workspace.edit_design("grown copy", layers=layers):
            self._state.take((grown,))

    def remove(self) -> None:
        """Remove the layers in hand."""
        from honest_edge.core.layers.arrange import without

        taken = self._state.taken
        if taken:
            self.edit("remove layers", lambda design: without(design.layers, taken, all_may_go=design.form is not None))

    def align(self, side: str) -> None:
        """Align the layers in hand."""
        from honest_edge.core.layers.arrange import aligned

        view, taken = self._state.layer_view, self._state.taken
        if view is not None and taken:
            self.edit("align", lambda design: aligned(design.layers, taken, view.boxes, cast("Side", side)))

    def distribute(self, axis: int) -> None:
        """Give the layers in hand equal gaps, across (0) or down (1)."""
        from honest_edge.core.layers.arrange import distributed

        view, taken = self._state.layer_view, self._state.taken
        if view is not None:
            self.edit("even gaps", lambda design: distributed(design.layers, taken, view.boxes, 1 if axis else 0))

    def group(self, together: bool) -> None:
        """Take the layers in hand together, or apart."""
        from honest_edge.core.layers.arrange import grouped, ungrouped

        change = grouped if together else ungrouped
        self.edit("group" if together else "ungroup", lambda design: change(design.layers, self._state.taken))

    def flag(self, name: str, words: str) -> None:
        """Lock or hide the layers in hand, or the other way round."""
        design, taken = self._workspace.design, self._state.taken
        if design is None or not taken:
            return
        value = not all(getattr(design.layer(key), name) for key in taken)
        changes: dict[str, Any] = {name: value}
        self.change(words, taken, lambda layer: replace(layer, **changes))

    def in_letters(self) -> None:
        """Make a layer of each letter of the words in hand, to be moved by itself."""
        from honest_edge.app.edits.single_letters import in_letters

        taken = self._state.taken
        if taken:
            self.edit("letters as layers", lambda design: in_letters(design, taken[0]))

    def to_letters(self, *, one_size: bool = False) -> None:
        """Make a design for each letter of the words in hand, each as large as the sheet allows, or all one size."""
        from honest_edge.app.edits.letter_designs import letter_designs

        design, taken, workspace = self._workspace.design, self._state.taken, self._workspace
        view = self._state.layer_view
        if design is not None and taken:
            fill = None if view is None or taken[0] not in view.contents else view.contents[taken[0]].fill
            aspect = None if fill is None else fill.shape[1] / fill.shape[0]
            job = workspace.build(
                lambda: letter_designs(workspace.job, design, taken[0], one_size=one_size, aspect=aspect)
            )
            if job is not None:
                workspace.document.edit(job, "a design for each letter")
