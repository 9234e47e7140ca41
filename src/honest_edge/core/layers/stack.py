"""A stack of layers put together: what is printed where, what would be cut apart, what shows through."""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace

import numpy as np
import shapely

from honest_edge.core.geometry.lines import CutPath, paths_along, polyline
from honest_edge.core.geometry.offset import offset_area
from honest_edge.core.geometry.paths import CurveRing, Floats, as_multipolygon
from honest_edge.core.imaging.flood import Bytes
from honest_edge.core.imaging.recognise import Likeness
from honest_edge.core.layers.forms import FormShape
from honest_edge.core.layers.shapes import oval_points, rounded_box
from honest_edge.core.outline.outline import EXACT_STYLE, fit_area
from honest_edge.core.values.errors import BlockedError
from honest_edge.core.values.layers import AS_IT_COVERS, SMALLEST_PIECE_MM2, Backing, FillPlace, Layer
from honest_edge.core.values.lazy import lazy_property
from honest_edge.core.values.specs import Colour

_SAME_HOLE = 0.02  # of a hole that others may cover for it to be that of one layer alone
_BACKING_CORNER = 0.12  # of the shorter side of a rounded backing


@dataclass(frozen=True, slots=True, kw_only=True, eq=False)
class Content:
    """What one layer holds, in its own frame: millimetres, its middle at the origin.

    Attributes:
        area: what it covers; that of a picture traced, all else exact.
        pixels: (h, w, 4) uint8 straight sRGB and alpha of a picture; None for plain forms.
        pixel_mm: size of a picture's pixel.
        ground: for a code, the light ground under ``area``.
        fill: (h, w, 4) pixels of a picture that fills the form.
        is_fill_drawn: the fill is a gradient, as sharp at any size.
        lines: what a sticker is cut along.
        unfattened: letters as the font has them, where thin strokes were thickened.
        looks_like: what a picture's whole rectangle was kept for, unasked.
        detail: what of a sticker must not be cut; None for anything else.
        own_ink: a sticker's print, where it reaches its cut; None where bare stock runs round its art.
    """

    area: shapely.MultiPolygon
    pixels: Bytes | None = None
    pixel_mm: float = 0.0
    ground: shapely.MultiPolygon | None = None
    fill: Bytes | None = None
    is_fill_drawn: bool = False
    lines: tuple[CutPath, ...] = ()
    unfattened: shapely.MultiPolygon | None = None
    looks_like: Likeness | None = None
    detail: shapely.MultiPolygon | None = None
    own_ink: shapely.MultiPolygon | None = None

    @property
    def whole(self) -> shapely.MultiPolygon:
        """What it covers with its ground."""
        return self.area if self.ground is None else self.ground


@dataclass(frozen=True, slots=True, kw_only=True, eq=False)
class Entry:
    """One printed thing of a stack, in the design's frame.

    Attributes:
        layer: where it comes from; None for a backing or a form's ground.
        area: what is printed of it.
        lost: what other layers took out of a picture, which is printed by its own alpha less this.
        content: the picture or fill.
        matrix: (2, 3), from the content's frame.
        rgb: the plain colour.
        repeat_mm: width at which a fill repeats; 0 lets it cover the form once.
        place: how a fill lies in the form.
    """

    layer: Layer | None
    area: shapely.MultiPolygon
    lost: shapely.MultiPolygon
    content: Content
    matrix: Floats
    rgb: Colour
    repeat_mm: float = 0.0
    place: FillPlace = AS_IT_COVERS


def clears_a_ring(layer: Layer) -> bool:
    """Whether it is a sticker off which a sheet's colour keeps."""
    return layer.sticker is not None and layer.joining == "knock out"


@dataclass(frozen=True, eq=False)
class Stack:
    """A design's layers put together, in the frame in which the layers are placed.

    Attributes:
        entries: what is printed, bottom first.
        form: what it is cut to; None for what is printed itself.
        lines: what is cut or creased besides.
    """

    entries: tuple[Entry, ...]
    form: shapely.MultiPolygon | None = None
    lines: tuple[CutPath, ...] = ()

    @lazy_property
    def area(self) -> shapely.MultiPolygon:
        """What is cut out: the form, or everything printed as one."""
        if self.form is not None:
            return self.form
        return as_multipolygon(shapely.union_all([entry.area for entry in self.entries]))

    @lazy_property
    def apart(self) -> tuple[shapely.Polygon, ...]:
        """The pieces that fall apart when every layer is cut by itself."""
        pieces: list[shapely.Polygon] = []
        above = shapely.MultiPolygon()
        for entry in reversed(self.entries):
            if entry.content.ground is not None:
                continue  # a code's bars lie on its ground
            seen = as_multipolygon(shapely.difference(entry.area, above))
            pieces += [piece for piece in seen.geoms if piece.area >= SMALLEST_PIECE_MM2]
            above = as_multipolygon(shapely.union(above, entry.area))
        return tuple(pieces)

    @lazy_property
    def gaps(self) -> tuple[shapely.Polygon, ...]:
        """Holes between layers through which the table or the stock shows, the largest first."""
        return tuple(hole for hole in self._holes if not self._is_own(hole))

    @lazy_property
    def counters(self) -> tuple[shapely.Polygon, ...]:
        """Holes that one layer has by itself, such as that of an O, the largest first."""
        return tuple(hole for hole in self._holes if self._is_own(hole))

    @lazy_property
    def _holes(self) -> list[shapely.Polygon]:
        if self.form is not None:
            return []  # what a form leaves open is meant
        holes = [shapely.Polygon(ring) for part in self.area.geoms for ring in part.interiors]
        return sorted((h for h in holes if h.area >= SMALLEST_PIECE_MM2), key=lambda hole: -hole.area)

    def _is_own(self, hole: shapely.Polygon) -> bool:
        around = hole.area * (1 + _SAME_HOLE)
        for entry in self.entries:
            for part in entry.area.geoms:
                if any(_is_within(hole, shapely.Polygon(ring), around) for ring in part.interiors):
                    return True
        return False


def _is_within(hole: shapely.Polygon, other: shapely.Polygon, most_mm2: float) -> bool:
    """Return whether a hole is another one, but for what is too small to be seen."""
    return other.area <= most_mm2 and bool(shapely.intersects(hole, other)) and other.area >= hole.area * (1 - 1e-9)


def stack_of(
    layers: Sequence[Layer],
    contents: Mapping[str, Content],
    backing: Backing | None,
    form: FormShape | None = None,
    ground_rgb: Colour = (255, 255, 255),
) -> Stack:
    """Put the layers together, bottom first.

    Args:
        layers: all of the design's.
        contents: what each layer that is not hidden holds, by key.
        backing: a ground behind everything.
        form: what the layers lie on and are cut to.
        ground_rgb: the form's own colour.

    Raises:
        BlockedError: nothing is printed, or nothing is left of what would be.
    """
    entries = [] if form is None else [_plain(form.area, ground_rgb)]
    lines = [] if form is None else list(form.lines)
    for layer in layers:
        if layer.role == "line" and not layer.is_hidden:
            lines += lines_of(layer, contents[layer.key])
        if layer.is_hidden or layer.role != "printed":
            continue
        content, matrix = contents[layer.key], layer_matrix(layer)
        shape = placed(content.whole, matrix)
        if layer.joining != "over":
            entries = [_met(entry, layer, shape) for entry in entries]
        if layer.joining in ("over", "knock out"):
            entries += _printed(layer, content, matrix)
        lines += [line.placed(matrix) for line in content.lines]
    if form is not None:
        entries = [_within(entry, form.area) for entry in entries]
    entries = [entry for entry in entries if not entry.area.is_empty]
    if not entries:
        raise BlockedError("No layer of this design is printed: show one, or add a picture or a lettering")
    if backing is not None:
        entries.insert(0, _plain(_ground(Stack(tuple(entries)).area, backing), backing.rgb))
    return Stack(tuple(entries), None if form is None else form.area, tuple(lines))


def lines_of(layer: Layer, content: Content) -> list[CutPath]:
    """Return what is done along a layer's outline, or along the middle of a line."""
    shape, matrix = layer.shape, layer_matrix(layer)
    if shape is not None and shape.kind == "line":
        half = shape.width_mm / 2
        curves: tuple[CurveRing, ...] = (polyline(np.array([[-half, 0.0], [half, 0.0]]), closed=False),)
    else:
        curves = fit_area(content.whole, EXACT_STYLE)
    lengths = {"cut_mm": layer.cut_mm, "tie_mm": layer.tie_mm}
    return [path.placed(matrix) for curve in curves for path in paths_along(layer.line, curve, **lengths)]


def layer_matrix(layer: Layer) -> Floats:
    """Return the (2, 3) matrix that flips a layer, turns it clockwise and moves it to its place."""
    turn = math.radians(layer.turn_deg)
    cos, sin = math.cos(turn), math.sin(turn)
    side = -1.0 if layer.is_flipped else 1.0
    return np.array([[side * cos, -sin, layer.x_mm], [side * sin, cos, layer.y_mm]])


def placed(area: shapely.MultiPolygon, matrix: Floats) -> shapely.MultiPolygon:
    """Return an area under a (2, 3) matrix."""
    return shapely.transform(area, lambda points: points @ matrix[:, :2].T + matrix[:, 2])


def _printed(layer: Layer, content: Content, matrix: Floats) -> list[Entry]:
    nothing = shapely.MultiPolygon()
    entries = [
        Entry(
            layer=layer,
            area=placed(content.area, matrix),
            lost=nothing,
            content=content,
            matrix=matrix,
            rgb=layer.paint.rgb,
            repeat_mm=layer.paint.repeat_mm,
            place=layer.paint.place,
        )
    ]
    if content.ground is not None:
        ground = placed(content.ground, matrix)
        entries.insert(0, replace(entries[0], area=ground, content=Content(area=content.ground), rgb=(255, 255, 255)))
    return entries


def _met(entry: Entry, layer: Layer, shape: shapely.MultiPolygon) -> Entry:
    """Return what is left of a lower entry where another layer meets it."""
    group = "" if entry.layer is None else entry.layer.group
    if layer.group not in ("", group):
        return entry
    if layer.joining == "intersect":
        left = shapely.intersection(entry.area, shape)
    elif shapely.dwithin(entry.area, shape, max(layer.gap_mm, 0.0)):
        left = shapely.difference(entry.area, offset_area(shape, layer.gap_mm))
    else:
        return entry
    return _left_of(entry, as_multipolygon(left))


def _within(entry: Entry, form: shapely.MultiPolygon) -> Entry:
    """Return what of an entry lies on the form."""
    if shapely.covers(form, entry.area):
        return entry
    return _left_of(entry, as_multipolygon(shapely.intersection(entry.area, form)))


def _left_of(entry: Entry, area: shapely.MultiPolygon) -> Entry:
    if entry.content.pixels is None:
        return replace(entry, area=area)  # what has no picture of its own is printed by its area
    lost = as_multipolygon(shapely.union(entry.lost, shapely.difference(entry.area, area)))
    return replace(entry, area=area, lost=lost)


def _plain(ground: shapely.MultiPolygon, rgb: Colour) -> Entry:
    here = np.array([[1.0, 0.0, 0.0], [0.0, 1.0, 0.0]])
    return Entry(
        layer=None,
        area=ground,
        lost=shapely.MultiPolygon(),
        content=Content(area=ground),
        matrix=here,
        rgb=rgb,
    )


def _ground(area: shapely.MultiPolygon, backing: Backing) -> shapely.MultiPolygon:
    """Return the form behind an area; one without holes."""
    if backing.shape == "offset":
        grown = offset_area(area, backing.grow_mm)
        return as_multipolygon(shapely.union_all([shapely.Polygon(part.exterior) for part in grown.geoms]))
    if backing.shape == "disc":
        circle = shapely.minimum_bounding_circle(area)
        middle, radius = shapely.get_coordinates(shapely.centroid(circle))[0], shapely.minimum_bounding_radius(area)
        across = 2 * (float(radius) + backing.grow_mm)
        return as_multipolygon(shapely.Polygon(oval_points(across, across) + middle))
    left, top, right, bottom = area.bounds
    width, height = right - left + 2 * backing.grow_mm, bottom - top + 2 * backing.grow_mm
    corner = _BACKING_CORNER * min(width, height) if backing.shape == "rounded box" else 0.0
    middle = np.array([(left + right) / 2, (top + bottom) / 2])
    return as_multipolygon(shapely.transform(rounded_box(width, height, corner), lambda points: points + middle))
