"""The cut line: the outline moved as the school of edge asks."""

from __future__ import annotations

import math
from dataclasses import dataclass, replace

import numpy as np
import shapely

from honest_edge.core.geometry.lines import CutPath
from honest_edge.core.geometry.offset import offset_area, without_grain
from honest_edge.core.geometry.paths import CurveRing, as_multipolygon
from honest_edge.core.geometry.thin import fattened
from honest_edge.core.outline.joining import joining_offset_mm
from honest_edge.core.outline.outline import Outline, fit_area
from honest_edge.core.values.errors import BlockedError
from honest_edge.core.values.specs import EdgeRecipe, LineKind

_STEP_MM = 0.01
_FLAT_MM = 0.005  # as true as a curve is fitted


@dataclass(frozen=True, slots=True, kw_only=True, eq=False)
class CutLines:
    """Where the blade goes, in the art's frame (mm, origin at the picture's top left).

    Attributes:
        area: what the cut encloses, unfitted.
        curves: the fitted rings that are shown and written, one per ring of ``area``.
        line_kind: kiss or through.
        lines: whatever else is cut, creased or perforated, as it stands.
    """

    area: shapely.MultiPolygon
    curves: tuple[CurveRing, ...]
    line_kind: LineKind
    lines: tuple[CutPath, ...] = ()

    @property
    def all_paths(self) -> tuple[CutPath, ...]:
        """Every line with its kind."""
        return (*(CutPath(kind=self.line_kind, curve=curve) for curve in self.curves), *self.lines)

    @property
    def length_mm(self) -> float:
        """Length of all rings together."""
        return float(self.area.length)

    @property
    def enclosed(self) -> shapely.MultiPolygon:
        """What the fitted curves enclose."""
        rings, polygons = iter(self.curves), []
        for part in self.area.geoms:
            shell = next(rings).flattened(_FLAT_MM)
            polygons.append(shapely.Polygon(shell, [next(rings).flattened(_FLAT_MM) for _ in part.interiors]))
        if all(polygon.is_valid for polygon in polygons):
            return shapely.MultiPolygon(polygons)
        return as_multipolygon(shapely.union_all(shapely.make_valid(polygons)))

    @property
    def node_count(self) -> int:
        """Nodes of all rings together."""
        return sum(curve.node_count for curve in self.curves)


@dataclass(frozen=True, slots=True, kw_only=True)
class InsetLoss:
    """What an inward offset did to one part of the art.

    Attributes:
        pieces: into how many it fell; 0 where nothing of it is left.
        x_mm, y_mm: a place in the part.
    """

    pieces: int
    x_mm: float
    y_mm: float


def contour(outline: Outline, recipe: EdgeRecipe) -> CutLines:
    """Return the cut lines of an outline.

    Contours of neighbours that touch after the offset are welded into one.

    Raises:
        BlockedError: an inward offset leaves nothing.
    """
    area = _cut_area(outline.area, recipe)
    if area.is_empty:
        raise BlockedError(f"Cutting {recipe.offset_mm:g} mm inside the art leaves nothing to cut: lower the offset")
    is_outline = recipe.offset_mm == recipe.ease_mm == recipe.fatten_mm == 0
    style = outline.style if is_outline else outline.style.of_offset
    return CutLines(area=area, curves=fit_area(area, style), line_kind=recipe.line_kind)


def _cut_area(art: shapely.MultiPolygon, recipe: EdgeRecipe) -> shapely.MultiPolygon:
    if recipe.offset_mm or recipe.ease_mm or recipe.fatten_mm:
        art = without_grain(art)
    moved = _moved(fattened(art, recipe.fatten_mm), recipe)
    return _without_leftovers(moved, art, recipe.hole_mm2)


def joining_border_mm(art: shapely.MultiPolygon, recipe: EdgeRecipe) -> float | None:
    """Return the smallest border at which the cut is one piece, with the recipe's easing, thickening and corners.

    Grown parts touch at half the bottleneck of their distances; easing and thickening bridge some sooner. Within
    these bounds the cut itself is asked, so that what is said holds for what is cut.

    Returns:
        A hundredth of a millimetre to the safe side; 0 where it is one piece without a border; None for too many parts.
    """
    most_mm = joining_offset_mm(art)
    if most_mm is None or most_mm == 0:
        return most_mm

    def is_joined(steps: int) -> bool:
        border = replace(recipe, school="border", offset_mm=steps * _STEP_MM)
        return len(_cut_area(art, border).geoms) == 1

    high = math.ceil(most_mm / _STEP_MM) + 1
    low = max(-1, math.floor((most_mm - recipe.ease_mm - recipe.fatten_mm) / _STEP_MM) - 2)
    while high - low > 1:
        middle = (low + high) // 2
        low, high = (low, middle) if is_joined(middle) else (middle, high)
    return high * _STEP_MM


def inset_losses(outline: Outline, cut: CutLines, recipe: EdgeRecipe) -> tuple[InsetLoss, ...]:
    """Return the parts of the art that an inward offset split or swallowed."""
    if recipe.signed_offset_mm >= 0:
        return ()
    pieces = np.array(cut.area.geoms)
    lost = []
    for part in outline.area.geoms:
        count = int(shapely.intersects(pieces, part).sum())
        if count != 1:
            place = shapely.point_on_surface(part)
            lost.append(InsetLoss(pieces=count, x_mm=float(place.x), y_mm=float(place.y)))
    return tuple(lost)


def _moved(art: shapely.MultiPolygon, recipe: EdgeRecipe) -> shapely.MultiPolygon:
    """Offset and ease: concave notches are rounded by a closing with a disc, convex corners stay as they are."""
    distance_mm, ease_mm = recipe.signed_offset_mm, recipe.ease_mm
    if distance_mm < 0:
        art, distance_mm = offset_area(art, distance_mm), 0.0
    grown = offset_area(art, distance_mm + ease_mm, corners=recipe.corners if distance_mm else "round")
    return offset_area(grown, -ease_mm)


def _without_leftovers(area: shapely.MultiPolygon, art: shapely.MultiPolygon, least_mm2: float) -> shapely.MultiPolygon:
    """Close small holes that lie between parts of the art; those of the art itself are meant."""
    solid = shapely.union_all([shapely.Polygon(part.exterior) for part in art.geoms])
    shapely.prepare(solid)

    def is_kept(ring: shapely.LinearRing) -> bool:
        hole = shapely.Polygon(ring)
        return hole.area >= least_mm2 or bool(shapely.contains_properly(solid, shapely.point_on_surface(hole)))

    filled = [shapely.Polygon(part.exterior, [r for r in part.interiors if is_kept(r)]) for part in area.geoms]
    return as_multipolygon(shapely.union_all(filled))  # a piece inside a closed hole goes up in it
