"""Grown copies: layers that are another layer's outline, larger by a distance, and follow it."""

from __future__ import annotations

from collections.abc import Mapping, Sequence

from honest_edge.core.geometry.offset import offset_area
from honest_edge.core.layers.stack import Content, layer_matrix, placed
from honest_edge.core.values.errors import BlockedError
from honest_edge.core.values.layers import Layer


def grown_content(layer: Layer, layers: Sequence[Layer], contents: Mapping[str, Content]) -> Content:
    """Return what a grown copy holds, in the design's own frame: its place is only a shift.

    Args:
        layer: the copy.
        layers: all of the design's.
        contents: what the other layers hold, by key.

    Raises:
        BlockedError: the layer that it grows from is not there, or nothing is left of it.
    """
    assert layer.grown is not None
    source = next((other for other in layers if other.key == layer.grown.of), None)
    if source is None or source.key not in contents:
        raise BlockedError("The layer that it is grown from is not there any more: remove it, or undo")
    area = offset_area(placed(contents[source.key].whole, layer_matrix(source)), layer.grown.grow_mm)
    if area.is_empty:
        raise BlockedError(f"Nothing is left of “{source.title[:30]}” {-layer.grown.grow_mm:g} mm smaller")
    return Content(area=area)


def in_order(layers: Sequence[Layer]) -> list[Layer]:
    """Return the grown copies, each after what it grows from; those that grow from each other last."""
    waiting = [layer for layer in layers if layer.grown is not None]
    known = {layer.key for layer in layers if layer.grown is None}
    ordered: list[Layer] = []
    while ready := [layer for layer in waiting if layer.grown is not None and layer.grown.of in known]:
        ordered += ready
        known |= {layer.key for layer in ready}
        waiting = [layer for layer in waiting if layer not in ready]
    return ordered + waiting


def sources_of(layer: Layer, layers: Sequence[Layer]) -> tuple[Layer, ...]:
    """Return what a grown copy grows from, and what that grows from, the farthest first."""
    by_key = {other.key: other for other in layers}
    sources: list[Layer] = []
    while layer.grown is not None and (source := by_key.get(layer.grown.of)) is not None and source not in sources:
        sources.insert(0, source)
        layer = source
    return tuple(sources)
