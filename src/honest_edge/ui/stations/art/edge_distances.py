"""How far a layer lies from each edge of its form, or of all layers; each can be typed."""

from __future__ import annotations

from functools import partial

from PyQt6.QtWidgets import QHBoxLayout, QWidget

from honest_edge.core.values.layers import Layer
from honest_edge.ui.shared.host import Host
from honest_edge.ui.stations.art.arranging import Arranging
from honest_edge.ui.stations.art.state import LayersState
from honest_edge.ui.widgets.fields import Form, label
from honest_edge.ui.widgets.theme import px
from honest_edge.ui.widgets.typed import LengthField

_SIDES = ("left", "top", "right", "bottom")


class EdgeDistances:
    """Two rows of a form: left and right, top and bottom."""

    def __init__(self, host: Host, state: LayersState, form: Form, arranging: Arranging) -> None:
        self._host, self._state, self._arranging = host, state, arranging
        self._key = ""
        self.fields: dict[str, LengthField] = {}
        for side in _SIDES:
            field = LengthField(f"Distance from the {side} edge")
            field.committed.connect(partial(self._move, side))
            field.refused.connect(lambda text: host.say(text, tone="danger"))
            self.fields[side] = field
        self._rows = [self._pair("left", "right"), self._pair("top", "bottom")]
        for row in self._rows:
            form.add_wide(row)

    def _pair(self, one: str, other: str) -> QWidget:
        holder = QWidget()
        holder.setToolTip("From the edges of the form, or of all layers, to the box round this one")
        line = QHBoxLayout(holder)
        line.setContentsMargins(0, 0, 0, 0)
        line.setSpacing(6)
        for side in (one, other):
            name = label(side[:1].upper() + side[1:])
            name.setWordWrap(False)
            line.addWidget(name)
            self.fields[side].setMinimumWidth(px(40))
            line.addWidget(self.fields[side], 1)
        return holder

    def show_layer(self, layer: Layer) -> None:
        """Show where a layer lies."""
        self._key = layer.key
        distances = self._distances()
        for row in self._rows:
            row.setVisible(distances is not None)
        for side, distance_mm in (distances or {}).items():
            self.fields[side].show_length(distance_mm, self._host.workspace.unit)

    def _distances(self) -> dict[str, float] | None:
        view = self._state.layer_view
        if view is None or view.stack is None or self._key not in view.boxes:
            return None
        area = view.stack.area if view.stack.form is None else view.stack.form
        whole, box = tuple(float(edge) for edge in area.bounds), view.boxes[self._key]
        return {side: (box[n] - whole[n]) * (1 if n < 2 else -1) for n, side in enumerate(_SIDES)}

    def _move(self, side: str, typed_mm: float) -> None:
        distances = self._distances()
        if distances is None:
            return
        way = (typed_mm - distances[side]) * (1 if side in ("left", "top") else -1)
        across = side in ("left", "right")
        self._arranging.move((self._key,), way if across else 0.0, 0.0 if across else way)
