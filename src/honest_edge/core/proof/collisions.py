"""Layers that come in each other's way, or in the way of a cut: words and codes that would not be read."""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from dataclasses import dataclass, replace

import numpy as np
import shapely
import shapely.affinity

from honest_edge.core.geometry.paths import as_multipolygon
from honest_edge.core.layers.stack import Content, layer_matrix, placed
from honest_edge.core.proof import register
from honest_edge.core.proof.words import counted
from honest_edge.core.values.findings import Finding, Fix, Place, Quantity, Subject
from honest_edge.core.values.job import Design
from honest_edge.core.values.layers import Layer

_LEAST_MM2 = 0.05  # smaller overlaps are not seen
_LEAST_SHARE, _DRAWING_SHARE = 0.02, 0.2  # of words that may be covered; by a drawing, which may be meant
_TIGHT_MM = 0.05  # closer to what is kept clear is not said


@dataclass(frozen=True, slots=True, kw_only=True, eq=False)
class _Laid:
    """A layer with what it covers, in the frame of the layers."""

    layer: Layer
    area: shapely.MultiPolygon

    @property
    def name(self) -> str:
        return f"“{self.layer.title[:30]}”"


def collisions(
    design: Design,
    contents: Mapping[str, Content],
    form: shapely.MultiPolygon | None,
    clear_mm: float,
    corner_mm: np.ndarray,
) -> Iterator[Finding]:
    """Yield where words and codes lie across a cut or a hole, under something else, or too close to a cut.

    Args:
        design: whose layers they are.
        contents: what each layer holds, by key.
        form: what the layers are cut to, in their frame; None where they are cut round themselves.
        clear_mm: how far words stay from cuts and holes.
        corner_mm: the picture's top left in the frame of the layers.
    """
    shown = [
        _Laid(layer=layer, area=placed(contents[layer.key].whole, layer_matrix(layer)))
        for layer in design.layers
        if not layer.is_hidden and layer.key in contents
    ]
    stickers = [laid for laid in shown if laid.layer.sticker is not None]
    for index, laid in enumerate(shown):
        layer = laid.layer
        if layer.is_printed and (layer.lettering is not None or layer.code is not None):
            yield from _across(design, laid, form, stickers, shown, corner_mm)
            yield from _covered(design, laid, shown[index + 1 :], corner_mm)
            if layer.lettering is not None:
                yield from _close(design, laid, form, stickers, clear_mm, corner_mm)
    yield from _stickers(design, stickers, form, corner_mm)


def _found(
    design: Design, laid: _Laid, message: str, remedy: str, where: shapely.Geometry, corner_mm: np.ndarray
) -> Finding:
    return register.CLASH.found(
        Subject(kind="layer", design=design.key, layer=laid.layer.key),
        message,
        remedy,
        places=[Place(frame="art", geometry=shapely.transform(where, lambda points: points - corner_mm))],
    )


def _across(
    design: Design,
    laid: _Laid,
    form: shapely.MultiPolygon | None,
    stickers: list[_Laid],
    shown: list[_Laid],
    corner_mm: np.ndarray,
) -> Iterator[Finding]:
    """Find words and codes that a cut goes through."""
    if form is not None:
        filled = shapely.union_all([shapely.Polygon(part.exterior) for part in form.geoms])
        off, hole = shapely.difference(laid.area, filled), shapely.intersection(laid.area, filled.difference(form))
        if off.area > _LEAST_MM2:
            yield _found(
                design, laid, f"{laid.name} runs off the edge", "move it in, or make it smaller", off, corner_mm
            )
        if hole.area > _LEAST_MM2:
            yield _found(design, laid, f"{laid.name} lies over a hole", "move it away from the hole", hole, corner_mm)
    for sticker in stickers:
        common = shapely.intersection(laid.area, sticker.area)
        if common.area > _LEAST_MM2:
            message = f"{laid.name} lies across the cut of the sticker {sticker.name}"
            yield _found(design, laid, message, "move one of the two", common, corner_mm)
    for line in shown:
        is_cut = line.layer.role == "line" and line.layer.line in ("kiss", "through", "perforate")
        if is_cut and shapely.intersects(shapely.boundary(line.area), laid.area):
            common = shapely.intersection(shapely.boundary(line.area), laid.area)
            yield _found(design, laid, f"the cut {line.name} goes through {laid.name}", "move one", common, corner_mm)


def _covered(design: Design, laid: _Laid, above: list[_Laid], corner_mm: np.ndarray) -> Iterator[Finding]:
    """Find what lies over words; what takes its own shape out of them is meant."""
    for other in above:
        layer = other.layer
        if not layer.is_printed or layer.sticker is not None or (layer.group and layer.group == laid.layer.group):
            continue
        common = shapely.intersection(laid.area, other.area)
        least = _DRAWING_SHARE if layer.picture is not None or layer.shape is not None else _LEAST_SHARE
        if common.area > max(_LEAST_MM2, least * laid.area.area):
            yield _found(
                design, laid, f"{laid.name} is covered by {other.name}", "move one of the two", common, corner_mm
            )


def _close(
    design: Design,
    laid: _Laid,
    form: shapely.MultiPolygon | None,
    stickers: list[_Laid],
    clear_mm: float,
    corner_mm: np.ndarray,
) -> Iterator[Finding]:
    """Find words that come closer to a cut or a hole than they may, but do not lie across it."""
    cuts = [] if form is None else [("the edge", shapely.boundary(form))]
    cuts += [(f"the cut of {sticker.name}", shapely.boundary(sticker.area)) for sticker in stickers]
    near = [(float(shapely.distance(cut, laid.area)), name, cut) for name, cut in cuts]
    close = sorted((one for one in near if 0 < one[0] < clear_mm - _TIGHT_MM), key=lambda one: one[0])
    if not close or any(distance == 0 for distance, _, _ in near):
        return
    distance_mm, name, cut = close[0]
    more = f", and to {counted(len(close) - 1, 'other cut')}" if len(close) > 1 else ""
    yield register.CLEAR.found(
        Subject(kind="layer", design=design.key, layer=laid.layer.key),
        f"{laid.name} comes within {distance_mm:.1f} mm of {name}{more}",
        f"keep {clear_mm:g} mm clear, or say that less is enough",
        places=[
            Place(
                frame="art",
                geometry=shapely.transform(shapely.shortest_line(cut, laid.area), lambda points: points - corner_mm),
            )
        ],
        measured=Quantity(value=distance_mm, unit="mm"),
        needed=Quantity(value=clear_mm, unit="mm"),
        fix=_moved_in(design, laid, form, stickers, clear_mm),
    )


def _moved_in(
    design: Design, laid: _Laid, form: shapely.MultiPolygon | None, stickers: list[_Laid], clear_mm: float
) -> Fix | None:
    """Return the shortest move straight across or down that keeps words clear of everything; None without one."""
    if form is None or laid.layer.is_locked:
        return None
    free = as_multipolygon(
        shapely.difference(
            shapely.buffer(form, -clear_mm), shapely.union_all([shapely.buffer(s.area, clear_mm) for s in stickers])
        )
    )
    for step_mm in np.arange(0.25, 2 * clear_mm + 0.01, 0.25).tolist():
        for across_mm, down_mm in ((0.0, step_mm), (0.0, -step_mm), (step_mm, 0.0), (-step_mm, 0.0)):
            if shapely.covers(free, shapely.affinity.translate(laid.area, across_mm, down_mm)):
                x_mm, y_mm = laid.layer.x_mm + across_mm, laid.layer.y_mm + down_mm
                moved = replace(laid.layer, x_mm=round(x_mm, 2), y_mm=round(y_mm, 2))
                layers = tuple(moved if other is laid.layer else other for other in design.layers)
                return Fix(words=f"Move it {step_mm:g} mm", design=design.key, layers=layers)
    return None


def _stickers(
    design: Design, stickers: list[_Laid], form: shapely.MultiPolygon | None, corner_mm: np.ndarray
) -> Iterator[Finding]:
    """Find stickers whose cuts cross each other or the edge of their sheet."""
    for index, one in enumerate(stickers):
        for other in stickers[index + 1 :]:
            common = shapely.intersection(one.area, other.area)
            if common.area > _LEAST_MM2:
                message = f"the stickers {one.name} and {other.name} lie over each other"
                yield _found(design, one, message, "move one of the two", common, corner_mm)
        off = shapely.Polygon() if form is None else shapely.difference(one.area, form)
        if off.area > _LEAST_MM2:
            message = f"the sticker {one.name} runs off its sheet"
            yield _found(design, one, message, "move it in, or make it smaller", off, corner_mm)
