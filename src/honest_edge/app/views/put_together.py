"""A design as it is put together: a card folded, a sleeve round its box, glued pieces in their order."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
import shapely

from honest_edge.app.results.design_result import DesignResult
from honest_edge.app.results.sticker_content import layers_corner_mm
from honest_edge.app.results.stock_pieces import PRINTED_PART, assembly_order
from honest_edge.core.geometry.paths import Floats
from honest_edge.core.layers.forms import flat_size_mm, folded_part
from honest_edge.core.values.forms import Form

_OPENING_DEG = 100.0
_AWAY = np.array([0.42, -0.32])  # what a millimetre away from the eye is in the drawing
_APART_MM = np.array([5.0, -4.0])  # between glued parts, so that each is seen


@dataclass(frozen=True, slots=True, kw_only=True, eq=False)
class Face:
    """One flat part of a folded design.

    Attributes:
        region: of the print, in the art's frame.
        matrix: (2, 3) from the art's frame to the drawing, millimetres.
    """

    region: shapely.Geometry
    matrix: Floats


@dataclass(frozen=True, slots=True, kw_only=True, eq=False)
class GluedPart:
    """One part of a glued design: its result, and the (2, 3) matrix from the art's frame to the drawing."""

    name: str
    result: DesignResult
    matrix: Floats


def folded_faces(result: DesignResult) -> tuple[Face, ...]:
    """Return the faces of a folded design, those behind first; none for what is not folded."""
    form = result.design.form
    if form is None or form.kind not in ("folded card", "pop-up card", "sleeve"):
        return ()
    left, top, right, bottom = result.cut.area.bounds
    middle = np.array([(left + right) / 2, (top + bottom) / 2])
    return tuple(_sleeve(form, middle) if form.kind == "sleeve" else _card(form, middle))


def _sleeve(form: Form, middle: Floats) -> list[Face]:
    """Show the front, and the side beside it going away from the eye."""
    wide = 2 * (form.width_mm + form.depth_mm) + form.flap_mm
    start, high = middle[0] - wide / 2, form.height_mm
    top, bottom = middle[1] - high / 2, middle[1] + high / 2
    edge = start + form.width_mm
    away = np.array([[_AWAY[0], 0.0], [_AWAY[1], 1.0]])
    side = np.column_stack([away, np.array([edge, middle[1]]) - away @ np.array([edge, middle[1]])])
    return [
        Face(region=shapely.box(edge, top, edge + form.depth_mm, bottom), matrix=side),
        Face(region=shapely.box(start, top, edge, bottom), matrix=np.array([[1.0, 0.0, 0.0], [0.0, 1.0, 0.0]])),
    ]


def _card(form: Form, middle: Floats) -> list[Face]:
    """Show a card opened a little wider than upright: the panel behind stands, the panel in front lies."""
    outline, is_pop_up = folded_part(form, _OPENING_DEG), form.kind == "pop-up card"
    fold = np.zeros(2)
    behind, before = outline[0] / np.linalg.norm(outline[0]), np.array([1.0, 0.0])
    along = flat_size_mm(form)[1 if form.fold == "left" else 0]
    panel = float(np.linalg.norm(outline[0]))
    half, back, front = form.part_width_mm / 2, form.part_height_mm, form.depth_mm
    strip = shapely.box(-half, -back, half, front) if is_pop_up else shapely.Polygon()
    standing = shapely.difference(shapely.box(-along / 2, -panel, along / 2, 0), strip)
    lying = shapely.difference(shapely.box(-along / 2, 0, along / 2, panel), strip)
    faces = [
        _face(form, middle, standing, fold, 0.0, -behind),
        _face(form, middle, lying, fold, 0.0, before),
    ]
    if is_pop_up:
        faces += [
            _face(form, middle, shapely.box(-half, -back, half, front - back), outline[1], -back, before),
            _face(form, middle, shapely.box(-half, front - back, half, front), outline[2], front - back, -behind),
        ]
    return faces


def _face(form: Form, middle: Floats, region: shapely.Geometry, origin: Floats, from_mm: float, way: Floats) -> Face:
    """Return a face: across the fold it runs from a place of the side view along a way there.

    Args:
        form: the card.
        middle: of the card in the art's frame.
        region: along the fold and across it, from the fold's middle.
        origin: where the face begins in the side view, which runs toward the eye and up.
        from_mm: where it begins across the fold.
        way: where across goes in the side view.
    """
    swap = np.array([[0.0, 1.0], [1.0, 0.0]]) if form.fold == "left" else np.eye(2)

    def seen(toward: float, up: float) -> Floats:
        return np.array([0.0, -up]) - _AWAY * toward

    across, start = seen(*way.tolist()), seen(*origin.tolist())
    to_picture = np.column_stack([np.array([1.0, 0.0]), across]) @ swap
    offset = start - across * from_mm
    return Face(
        region=shapely.transform(region, lambda points: points @ swap + middle),
        matrix=np.column_stack([to_picture, offset - to_picture @ middle]),
    )


def glued_parts(key: str, laid: Sequence[DesignResult]) -> tuple[GluedPart, ...]:
    """Return the parts of a glued design, back to front, each a little away from the one before; none where none is."""
    of_design = {result.design.key: result for result in laid}
    whole = of_design.get(key)
    if whole is None or not any(layer.is_piece for layer in whole.design.layers):
        return ()
    parts = []
    for number, (layer, name) in enumerate(assembly_order(whole.design)):
        result = whole if layer == PRINTED_PART[0] else of_design.get(f"{key}/{layer}")
        if result is not None:
            at = layers_corner_mm(result) + number * _APART_MM
            parts.append(GluedPart(name=name, result=result, matrix=np.column_stack([np.eye(2), at])))
    return tuple(parts)
