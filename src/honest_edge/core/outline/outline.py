"""The outline: which of the traced parts and holes stay, in millimetres, and the few-noded curves round them."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace
from typing import Literal

import numpy as np
import shapely

from honest_edge.core.geometry.fitting import deviation_mm, fit_rings
from honest_edge.core.geometry.paths import CurveRing, Floats, as_multipolygon, rings_of
from honest_edge.core.outline.true_form import OfferedForms, made_true, offered_forms
from honest_edge.core.values.errors import BlockedError
from honest_edge.core.values.lazy import lazy_property
from honest_edge.core.values.specs import CorrectionKind, OutlineRecipe

FIT_TOLERANCE_PX = 0.28
FIT_TOLERANCE_MM = (0.012, 0.024)
"""The fit follows the picture to a share of its pixel, within what a blade can follow and a crafter can see."""

_OFFSET_EASE = 1.25
_REACH = 0.01  # widths of the picture within which a click means the nearest part or hole

Fate = Literal["kept", "too small", "by hand"]


@dataclass(frozen=True, slots=True, kw_only=True, eq=False)
class Component:
    """A part of the art, or a hole in it, kept or not.

    Attributes:
        polygon: its area in millimetres, holes of a part included.
        kept: whether it is part of the outline; for a hole, whether it is cut out.
        fate: why.
    """

    polygon: shapely.Polygon
    kept: bool
    fate: Fate

    @property
    def size_mm(self) -> tuple[float, float]:
        """Width and height."""
        left, top, right, bottom = self.polygon.bounds
        return float(right - left), float(bottom - top)


@dataclass(frozen=True, slots=True, kw_only=True)
class CurveStyle:
    """How the one and only fit, made last, follows a boundary.

    Attributes:
        tolerance_mm: how far it may stray.
        corner_deg: smallest turn that stays a corner.
        pixel_mm: size of a picture's pixel, the scale at which corners are judged.
    """

    tolerance_mm: float
    corner_deg: float
    pixel_mm: float

    @property
    def of_offset(self) -> CurveStyle:
        """The style for a line offset from the outline: free of the pixels' grain, it may do with fewer nodes."""
        return replace(self, tolerance_mm=_OFFSET_EASE * self.tolerance_mm)


EXACT_STYLE = CurveStyle(tolerance_mm=0.01, corner_deg=20.0, pixel_mm=0.04)
"""For boundaries that are known and not traced."""


@dataclass(frozen=True, kw_only=True, eq=False)
class Outline:
    """Where the art ends.

    Attributes:
        area: the art's area in millimetres, origin at the picture's top left; raw, for offsetting.
        pixel_mm: size of a picture's pixel.
        parts: every separate piece that was traced, the largest first.
        holes: every hole in the parts that are kept, the largest first.
        style: how curves are fitted to it and to what is offset from it.
    """

    area: shapely.MultiPolygon
    pixel_mm: float
    parts: tuple[Component, ...]
    holes: tuple[Component, ...]
    style: CurveStyle

    @property
    def part_count(self) -> int:
        """Pieces that are kept."""
        return len(self.area.geoms)

    @property
    def hole_count(self) -> int:
        """Holes that are cut out."""
        return sum(len(part.interiors) for part in self.area.geoms)

    @property
    def dropped_specks(self) -> int:
        """Parts left out, as too small or by hand."""
        return sum(not part.kept for part in self.parts)

    @lazy_property
    def true_forms(self) -> OfferedForms:
        """The plain forms that its parts are almost; found when it is first asked for."""
        return offered_forms([part.polygon for part in self.parts if part.kept])

    @property
    def filled_holes(self) -> int:
        """Holes closed."""
        return sum(not hole.kept for hole in self.holes)


def outline_of(
    pixel_area: shapely.MultiPolygon,
    *,
    width_px: int,
    width_mm: float,
    recipe: OutlineRecipe,
) -> Outline:
    """Return the outline in millimetres, with the parts and holes that the recipe keeps.

    Raises:
        BlockedError: no part is left.
    """
    pixel_mm = width_mm / width_px
    scaled = shapely.transform(pixel_area, lambda points: points * pixel_mm)
    if recipe.background == "subject":
        scaled = silhouette(scaled, recipe.closely_mm, pixel_mm)
    parts = _pieces(list(scaled.geoms), recipe.speck_mm2, recipe, width_mm, retain="retain", drop="drop")
    kept = [part.polygon for part in parts if part.kept]
    if not kept:
        raise BlockedError(_none_left(parts, recipe))
    bored = [[shapely.Polygon(ring) for ring in part.interiors] for part in kept]
    least = np.inf if recipe.hole_mm2 is None else recipe.hole_mm2
    holes = _pieces([hole for part in bored for hole in part], least, recipe, width_mm, retain="cut", drop="fill")
    cut_out = {id(hole.polygon) for hole in holes if hole.kept}
    solid = [
        shapely.Polygon(part.exterior, [hole.exterior for hole in inside if id(hole) in cut_out])
        for part, inside in zip(kept, bored, strict=True)
    ]
    if recipe.true_mm:
        solid = made_true(solid, recipe.true_mm)
    area = shapely.union_all(solid)  # a part inside a filled hole goes up in it
    style = CurveStyle(tolerance_mm=_tolerance_mm(recipe, pixel_mm), corner_deg=recipe.corner_deg, pixel_mm=pixel_mm)
    return Outline(area=as_multipolygon(area), pixel_mm=pixel_mm, parts=parts, holes=holes, style=style)


def silhouette(area: shapely.MultiPolygon, closely_mm: float, pixel_mm: float) -> shapely.MultiPolygon:
    """Return an area without what is narrower than ``closely_mm``: hairs go, and bays close (opening, then closing).

    No blade follows a hair; Serra, "Image Analysis and Mathematical Morphology" (1982), has both operations.

    Raises:
        BlockedError: nothing is wider.
    """
    reach = closely_mm / 2
    plain = shapely.simplify(area, pixel_mm / 4)
    opened = shapely.buffer(shapely.buffer(plain, -reach), reach)
    smooth = shapely.buffer(shapely.buffer(opened, reach), -reach)
    if smooth.is_empty:
        raise BlockedError(
            f"Nothing of the subject is wider than {closely_mm:g} mm: follow it more closely, or print it larger"
        )
    return as_multipolygon(smooth)


def _tolerance_mm(recipe: OutlineRecipe, pixel_mm: float) -> float:
    least, most = FIT_TOLERANCE_MM
    return recipe.smoothness_mm or min(max(FIT_TOLERANCE_PX * pixel_mm, least), most)


def _pieces(
    polygons: list[shapely.Polygon],
    least_mm2: float,
    recipe: OutlineRecipe,
    width_mm: float,
    *,
    retain: CorrectionKind,
    drop: CorrectionKind,
) -> tuple[Component, ...]:
    """Judge pieces by their area and, where a correction lies on one, by hand."""
    by_hand: dict[int, bool] = {}
    for correction in recipe.corrections:
        if correction.kind in (retain, drop) and polygons:
            for x, y in correction.points:
                place = shapely.Point(x * width_mm, y * width_mm)
                away = shapely.distance(polygons, place)
                if away.min() <= _REACH * width_mm:
                    by_hand[int(away.argmin())] = correction.kind == retain
    judged = []
    for index, polygon in enumerate(polygons):
        kept = by_hand.get(index, bool(polygon.area >= least_mm2))
        fate: Fate = "by hand" if index in by_hand else "kept" if kept else "too small"
        judged.append(Component(polygon=polygon, kept=kept, fate=fate))
    return tuple(sorted(judged, key=lambda piece: -piece.polygon.area))


def _none_left(parts: Sequence[Component], recipe: OutlineRecipe) -> str:
    if any(part.fate == "by hand" for part in parts):
        return "Every part of the art is left out: keep at least one"
    largest = max((part.polygon.area for part in parts), default=0.0)
    return (
        f"The largest part of the art is {largest:.3g} mm², below the smallest part of "
        f"{recipe.speck_mm2:g} mm²: print it larger, or lower the smallest part"
    )


def fit_area(area: shapely.MultiPolygon, style: CurveStyle) -> tuple[CurveRing, ...]:
    """Return the few-noded curves round an area."""
    return fit_rings(
        rings_of(area), tolerance_mm=style.tolerance_mm, pixel_mm=style.pixel_mm, corner_deg=style.corner_deg
    )


def greatest_deviation_mm(curves: tuple[CurveRing, ...], area: shapely.MultiPolygon) -> float:
    """Return how far the fitted curves stray from the raw boundary at most."""
    return max(deviation_mm(curve, ring) for curve, ring in zip(curves, rings_of(area), strict=True))


def deviations(curves: tuple[CurveRing, ...], area: shapely.MultiPolygon) -> tuple[tuple[Floats, Floats], ...]:
    """Return for each raw ring its points and the (n, 2) vectors from the fitted curve to them, in millimetres."""
    vectors = []
    for curve, ring in zip(curves, rings_of(area), strict=True):
        line, points = shapely.linearrings(curve.flattened(0.001)), shapely.points(ring)
        nearest = shapely.line_interpolate_point(line, shapely.line_locate_point(line, points))
        vectors.append((ring, ring - shapely.get_coordinates(nearest)))
    return tuple(vectors)
