"""A layered design as it is shown while it is worked on: fast, and with every layer that can be drawn."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

import shapely

from honest_edge.app.results.layer_reader import LayerReader, stacked
from honest_edge.app.results.stock_pieces import assembled
from honest_edge.core.geometry.offset import offset_area
from honest_edge.core.layers.arrange import Bounds
from honest_edge.core.layers.grown import in_order
from honest_edge.core.layers.stack import Content, Stack, layer_matrix, placed
from honest_edge.core.values.errors import HonestEdgeError
from honest_edge.core.values.job import Design
from honest_edge.core.values.layers import Layer


@dataclass(frozen=True, slots=True, kw_only=True, eq=False)
class LayerView:
    """What can be shown of a layered design.

    Attributes:
        design: what it is of.
        contents: what each layer holds, in its own frame, by key.
        errors: why a layer holds nothing, by key.
        boxes: where each layer lies, by key.
        stack: the printed layers together; None with ``error`` set.
        paper: what is left of the stock once it is cut: the form, or what is printed with its border round it.
        glued: all layers together, pieces of coloured stock in their places.
        error: why there is no stack.
        too_long: keys of the letterings that are wider than their room.
    """

    design: Design
    contents: Mapping[str, Content]
    errors: Mapping[str, str]
    boxes: Mapping[str, Bounds]
    stack: Stack | None
    paper: shapely.MultiPolygon | None
    glued: Stack | None
    error: str
    too_long: tuple[str, ...]

    @property
    def summary(self) -> str:
        """Into how many pieces it would be cut."""
        if self.stack is None:
            return self.error
        apart, joined = len(self.stack.apart), len(self.stack.area.geoms)
        pieces = "1 piece" if apart == 1 else f"{apart} pieces"
        return f"cut apart: {pieces}; flattened: {joined}"


def layer_view(design: Design, reader: LayerReader, stickers: Mapping[str, Content], clear_mm: float) -> LayerView:
    """Return what can be shown; a layer that cannot be drawn does not hide the others."""
    whole, design = design, reader.shown(design, clear_mm)
    contents: dict[str, Content] = {}
    errors: dict[str, str] = {}
    for layer in (*(layer for layer in design.layers if layer.grown is None), *in_order(design.layers)):
        try:
            contents[layer.key] = reader.of_design(layer, design, contents, stickers)
        except HonestEdgeError as error:
            errors[layer.key] = str(error)
    boxes = {layer.key: _box(layer, contents[layer.key]) for layer in design.layers if layer.key in contents}
    try:
        stack, error_words = stacked(design, contents), ""
    except HonestEdgeError as error:
        stack, error_words = None, str(error)
    has_pieces = any(layer.is_piece for layer in design.layers) and stack is not None
    glued = stacked(assembled(design), contents) if has_pieces else stack
    return LayerView(
        design=whole,
        contents=contents,
        errors=errors,
        boxes=boxes,
        stack=stack,
        paper=None if stack is None else _paper(design, stack),
        glued=glued,
        error=error_words,
        too_long=tuple(a.key for a in design.layers if a.key in contents and reader.overflow_mm(a) > 0.05),
    )


def _paper(design: Design, stack: Stack) -> shapely.MultiPolygon | None:
    if stack.form is not None:
        return stack.form
    grown = offset_area(stack.area, max(0.0, design.edge.signed_offset_mm)) if design.is_flattened else stack.area
    return None if grown.is_empty else grown


def _box(layer: Layer, content: Content) -> Bounds:
    left, top, right, bottom = shapely.bounds(placed(content.whole, layer_matrix(layer))).tolist()
    return left, top, right, bottom
