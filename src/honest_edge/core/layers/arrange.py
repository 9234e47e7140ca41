"""Moving, ordering, aligning and grouping the layers of a design; each returns the changed layers."""

from __future__ import annotations

import math
from collections.abc import Callable, Collection, Mapping, Sequence
from dataclasses import dataclass, replace
from itertools import pairwise
from typing import Literal

from honest_edge.core.values.errors import UsageError
from honest_edge.core.values.layers import Grown, Layer, Paint
from honest_edge.core.values.specs import Colour

Layers = tuple[Layer, ...]
Bounds = tuple[float, float, float, float]
"""Left, top, right, bottom in millimetres."""

Side = Literal["left", "middle", "right", "top", "centre", "bottom"]
_NEIGHBOURS = 8  # whose gaps a dragged layer may repeat
_SHIFT_MM = 4.0  # of a duplicate from what it was made of


def free_key(layers: Sequence[Layer]) -> str:
    """Return a key that no layer has."""
    taken = {layer.key for layer in layers}
    number = len(taken) + 1
    while f"l{number}" in taken:
        number += 1
    return f"l{number}"


def with_groups(layers: Layers, keys: Collection[str]) -> tuple[str, ...]:
    """Return the keys with those of everything in the same groups, in the order of the stack."""
    groups = {layer.group for layer in layers if layer.key in keys and layer.group}
    return tuple(layer.key for layer in layers if layer.key in keys or layer.group in groups)


def changed(layers: Layers, keys: Collection[str], change: Callable[[Layer], Layer]) -> Layers:
    """Return the layers with ``change`` made to some."""
    return tuple(change(layer) if layer.key in keys else layer for layer in layers)


def moved(layers: Layers, keys: Collection[str], across_mm: float, down_mm: float) -> Layers:
    """Move layers that are not locked."""

    def move(layer: Layer) -> Layer:
        if layer.is_locked:
            return layer
        return replace(layer, x_mm=round(layer.x_mm + across_mm, 4), y_mm=round(layer.y_mm + down_mm, 4))

    return changed(layers, keys, move)


def without(layers: Layers, keys: Collection[str], *, all_may_go: bool = False) -> Layers:
    """Remove layers that are not locked.

    Raises:
        UsageError: nothing would be left, and that may not be.
    """
    gone = {layer.key for layer in layers if layer.key in keys and not layer.is_locked}
    while grown := {a.key for a in layers if a.grown is not None and a.grown.of in gone and a.key not in gone}:
        gone |= grown  # a grown copy goes with what it grows from
    left = tuple(layer for layer in layers if layer.key not in gone)
    if not left and not all_may_go:
        raise UsageError("A design needs at least one layer: remove the whole design instead")
    return left


def duplicated(layers: Layers, keys: Collection[str]) -> tuple[Layers, tuple[str, ...]]:
    """Return the layers with copies on top, a little aside, and the copies' keys."""
    grown, copied = layers, list[str]()
    groups: dict[str, str] = {}
    copies: dict[str, str] = {}
    for layer in layers:
        if layer.key in keys:
            group = layer.group and groups.setdefault(layer.group, free_group(grown, groups.values()))
            key = free_key(grown)
            copy = replace(layer, key=key, group=group, x_mm=layer.x_mm + _SHIFT_MM, y_mm=layer.y_mm + _SHIFT_MM)
            if layer.grown is not None and layer.grown.of in copies:  # it follows the copy, not what that was made of
                copy = replace(layer, key=key, group=group, grown=replace(layer.grown, of=copies[layer.grown.of]))
            copies[layer.key] = key
            grown, copied = (*grown, copy), [*copied, key]
    return grown, tuple(copied)


def with_grown_copy(layers: Layers, key: str, grow_mm: float, rgb: Colour) -> tuple[Layers, str]:
    """Return the layers with a grown copy right below one of them, and the copy's key."""
    at = next(place for place, layer in enumerate(layers) if layer.key == key)
    source, grown = layers[at], free_key(layers)
    copy = Layer(
        key=grown,
        name=f"{source.title[:40]}, grown",
        grown=Grown(of=key, grow_mm=grow_mm),
        role=source.role if source.role == "stock" else "printed",
        stock=source.stock,
        paint=Paint(rgb=rgb),
    )
    return (*layers[:at], copy, *layers[at:]), grown


def restacked(layers: Layers, keys: Collection[str], by: int) -> Layers:
    """Move layers up (positive) or down in the stack, past one neighbour each."""
    order = list(layers)
    walk = range(len(order) - 2, -1, -1) if by > 0 else range(1, len(order))
    for at in walk:
        other = at + (1 if by > 0 else -1)
        if order[at].key in keys and order[other].key not in keys:
            order[at], order[other] = order[other], order[at]
    return tuple(order)


def free_group(layers: Sequence[Layer], also: Collection[str] = ()) -> str:
    """Return a name that no group has."""
    taken = {layer.group for layer in layers} | set(also)
    return next(name for number in range(1, len(taken) + 2) if (name := f"g{number}") not in taken)


def grouped(layers: Layers, keys: Collection[str]) -> Layers:
    """Take layers together."""
    name = free_group(layers)
    return changed(layers, keys, lambda layer: replace(layer, group=name))


def ungrouped(layers: Layers, keys: Collection[str]) -> Layers:
    """Take layers apart again."""
    return changed(layers, keys, lambda layer: replace(layer, group=""))


def aligned(layers: Layers, keys: Collection[str], boxes: Mapping[str, Bounds], side: Side) -> Layers:
    """Align layers, groups as one, to the box round all of them."""
    units = _units(layers, keys, boxes)
    whole = box_round([box for _, box in units])
    axis = 0 if side in ("left", "middle", "right") else 1
    share = {"left": 0.0, "top": 0.0, "middle": 0.5, "centre": 0.5, "right": 1.0, "bottom": 1.0}[side]
    arranged = layers
    for names, box in units:
        gap = (1 - share) * (whole[axis] - box[axis]) + share * (whole[axis + 2] - box[axis + 2])
        arranged = moved(arranged, names, gap if axis == 0 else 0.0, gap if axis == 1 else 0.0)
    return arranged


def distributed(layers: Layers, keys: Collection[str], boxes: Mapping[str, Bounds], axis: Literal[0, 1]) -> Layers:
    """Give three or more layers, groups as one, equal gaps; the outermost stay."""
    units = sorted(_units(layers, keys, boxes), key=lambda unit: unit[1][axis] + unit[1][axis + 2])
    if len(units) < 3:
        raise UsageError("Even gaps need three layers or groups at least: take more in hand")
    room = max(box[axis + 2] for _, box in units) - min(box[axis] for _, box in units)
    gap = (room - sum(box[axis + 2] - box[axis] for _, box in units)) / (len(units) - 1)
    arranged, at = layers, units[0][1][axis]
    for names, box in units:
        shift = at - box[axis]
        arranged = moved(arranged, names, shift if axis == 0 else 0.0, shift if axis == 1 else 0.0)
        at += box[axis + 2] - box[axis] + gap
    return arranged


def scaled(layer: Layer, factor: float) -> Layer:
    """Return a layer larger or smaller, its middle where it was."""
    picture, lettering, shape, code = layer.picture, layer.lettering, layer.shape, layer.code
    if picture is not None:
        picture = replace(picture, width_mm=picture.width_mm * factor)
    if lettering is not None:
        room = None if lettering.room_mm is None else lettering.room_mm * factor
        lettering = replace(
            lettering, size_mm=lettering.size_mm * factor, arc_mm=lettering.arc_mm * factor, room_mm=room
        )
    if shape is not None:
        shape = replace(
            shape,
            width_mm=shape.width_mm * factor,
            height_mm=shape.height_mm * factor,
            radius_mm=shape.radius_mm * factor,
            stroke_mm=shape.stroke_mm * factor,
        )
    if code is not None:
        code = replace(code, width_mm=code.width_mm * factor, height_mm=code.height_mm * factor)
    grown = layer.grown
    if grown is not None:
        grown = replace(grown, grow_mm=grown.grow_mm * factor)
    place = layer.paint.place
    place = replace(place, x_mm=place.x_mm * factor, y_mm=place.y_mm * factor)
    paint = replace(layer.paint, place=place)
    return replace(layer, picture=picture, lettering=lettering, shape=shape, code=code, grown=grown, paint=paint)


def scaled_about(layers: Layers, taken: Sequence[str], factor: float, middle: tuple[float, float]) -> Layers:
    """Make layers larger or smaller as one, about a place of the design's frame."""
    x_mm, y_mm = middle

    def moved_too(layer: Layer) -> Layer:
        x0_mm, y0_mm = (x_mm, y_mm) if layer.grown is None else (0.0, 0.0)  # a grown copy says how far it is shifted
        x1_mm, y1_mm = x0_mm + (layer.x_mm - x0_mm) * factor, y0_mm + (layer.y_mm - y0_mm) * factor
        return replace(scaled(layer, factor), x_mm=round(x1_mm, 4), y_mm=round(y1_mm, 4))

    return tuple(moved_too(layer) if layer.key in taken and not layer.is_locked else layer for layer in layers)


def fill_moved(layer: Layer, across_mm: float, down_mm: float) -> Layer:
    """Move the picture inside a form by a way of the design's frame."""
    turn = math.radians(layer.turn_deg)
    cos, sin = math.cos(turn), math.sin(turn)
    place, side = layer.paint.place, -1 if layer.is_flipped else 1
    x_mm, y_mm = place.x_mm + side * (across_mm * cos + down_mm * sin), place.y_mm + down_mm * cos - across_mm * sin
    return replace(layer, paint=replace(layer.paint, place=replace(place, x_mm=round(x_mm, 4), y_mm=round(y_mm, 4))))


def fill_scaled(layer: Layer, factor: float) -> Layer:
    """Make the picture inside a form larger or smaller about its own middle."""
    paint = layer.paint
    if paint.repeat_mm:
        return replace(layer, paint=replace(paint, repeat_mm=paint.repeat_mm * factor))
    return replace(layer, paint=replace(paint, place=replace(paint.place, zoom=paint.place.zoom * factor)))


def all_scaled(layers: Layers, factor: float) -> Layers:
    """Return the whole stack larger or smaller about the frame's origin."""
    return tuple(
        replace(scaled(layer, factor), x_mm=layer.x_mm * factor, y_mm=layer.y_mm * factor, gap_mm=layer.gap_mm * factor)
        for layer in layers
    )


@dataclass(frozen=True, slots=True, kw_only=True)
class Snap:
    """Where a dragged box comes to rest.

    Attributes:
        across_mm, down_mm: the move, snapped.
        x_mm, y_mm: the line it snapped to; None where it did not.
    """

    across_mm: float
    down_mm: float
    x_mm: float | None = None
    y_mm: float | None = None


def snapped(box: Bounds, others: Sequence[Bounds], across_mm: float, down_mm: float, reach_mm: float) -> Snap:
    """Snap a moved box to edges and middles of others, and to gaps as wide as those between them.

    Args:
        box: before the move.
        others: what it may snap to.
        across_mm: the move by hand.
        down_mm: likewise.
        reach_mm: how near counts.
    """
    x_shift, x_line = _nearest(box, others, 0, across_mm, reach_mm)
    y_shift, y_line = _nearest(box, others, 1, down_mm, reach_mm)
    return Snap(across_mm=across_mm + x_shift, down_mm=down_mm + y_shift, x_mm=x_line, y_mm=y_line)


def _nearest(box: Bounds, others: Sequence[Bounds], axis: int, move: float, reach: float) -> tuple[float, float | None]:
    own = [box[axis] + move, (box[axis] + box[axis + 2]) / 2 + move, box[axis + 2] + move]
    lines = [value for other in others for value in (other[axis], (other[axis] + other[axis + 2]) / 2, other[axis + 2])]
    near = sorted(others, key=lambda other: abs(other[axis] + other[axis + 2] - 2 * own[1]))[:_NEIGHBOURS]
    for gap in _gaps(near, axis):  # the same gap again, beside any of the neighbours
        lines += [other[axis + 2] + gap for other in near] + [other[axis] - gap for other in near]
    nearest = min(((abs(line - at), line - at, line) for line in lines for at in own), default=(reach + 1, 0.0, 0.0))
    return (nearest[1], nearest[2]) if nearest[0] <= reach else (0.0, None)


def _gaps(others: Sequence[Bounds], axis: int) -> list[float]:
    """Return the gaps between neighbours that lie beside each other along ``axis``."""
    across, gaps = 1 - axis, []
    ordered = sorted(others, key=lambda other: other[axis])
    for first, second in pairwise(ordered):
        beside = first[across] < second[across + 2] and second[across] < first[across + 2]
        if beside and second[axis] > first[axis + 2]:
            gaps.append(second[axis] - first[axis + 2])
    return gaps


def _units(layers: Layers, keys: Collection[str], boxes: Mapping[str, Bounds]) -> list[tuple[tuple[str, ...], Bounds]]:
    """Return single layers and groups, each with the box round it."""
    units: dict[str, list[str]] = {}
    for layer in layers:
        if layer.key in keys and layer.key in boxes:
            units.setdefault(layer.group or f"layer {layer.key}", []).append(layer.key)
    return [(tuple(names), box_round([boxes[name] for name in names])) for names in units.values()]


def box_round(boxes: Sequence[Bounds]) -> Bounds:
    """Return the box round boxes."""
    lefts, tops, rights, bottoms = zip(*boxes, strict=True)
    return min(lefts), min(tops), max(rights), max(bottoms)
