"""From coverage to the sub-pixel outline of the art."""

from __future__ import annotations

import itertools
from dataclasses import dataclass

import contourpy
import cv2
import numpy as np
import shapely

from honest_edge.core.geometry.corners import sharpen
from honest_edge.core.geometry.fitting import deviation_mm, fit_ring
from honest_edge.core.geometry.paths import CurveRing, as_multipolygon, rings_of
from honest_edge.core.imaging.background import Coverage
from honest_edge.core.values.errors import BlockedError
from honest_edge.core.values.specs import OutlineRecipe

BLUR_PX = 0.5
"""Standard deviation of the smoothing before tracing: less leaves stairs, more erodes tips."""

_TOTAL_BLUR_PX = float(np.hypot(BLUR_PX, np.sqrt(1 / 12)))  # with the pixel's own area
FIT_TOLERANCE_PX = 0.3
FIT_TOLERANCE_MM = (0.012, 0.025)
"""The fit follows the picture to a share of its pixel, within what a blade can follow and a crafter can see."""


@dataclass(frozen=True, slots=True, kw_only=True, eq=False)
class Outline:
    """Where the art ends.

    Attributes:
        area: the art's area in millimetres, origin at the picture's top left; raw, for offsetting.
        pixel_mm: size of a picture's pixel.
        dropped_specks: parts left out as too small.
        filled_holes: holes closed.
    """

    area: shapely.MultiPolygon
    pixel_mm: float
    dropped_specks: int
    filled_holes: int

    @property
    def part_count(self) -> int:
        """Separate pieces."""
        return len(self.area.geoms)

    @property
    def hole_count(self) -> int:
        """Holes that are kept."""
        return sum(len(part.interiors) for part in self.area.geoms)


def trace_pixels(coverage: Coverage) -> shapely.MultiPolygon:
    """Return the area where coverage is at least one half, in pixels, corners drawn out again.

    Marching squares on the lightly blurred coverage place the boundary within a fraction of a pixel
    (Lorensen and Cline, SIGGRAPH 1987, in two dimensions).

    Args:
        coverage: (h, w) float32 between 0 and 1; pixel (row, column) covers the square from
            (column, row) to (column + 1, row + 1).
    """
    rows, columns = np.flatnonzero(coverage.any(axis=1)), np.flatnonzero(coverage.any(axis=0))
    if len(rows) == 0:
        return shapely.MultiPolygon()
    top, bottom, left, right = rows[0], rows[-1] + 1, columns[0], columns[-1] + 1
    margin = 3
    field = np.pad(coverage[top:bottom, left:right], margin)
    blurred = cv2.GaussianBlur(field, (0, 0), BLUR_PX, borderType=cv2.BORDER_CONSTANT)
    x = np.arange(field.shape[1]) + (left - margin + 0.5)
    y = np.arange(field.shape[0]) + (top - margin + 0.5)
    generator = contourpy.contour_generator(x, y, blurred, name="serial", fill_type=contourpy.FillType.OuterOffset)
    filled = generator.filled(0.5, np.inf)
    parts = [_part(np.asarray(p), np.asarray(o)) for p, o in zip(filled[0], filled[1], strict=True)]
    return as_multipolygon(shapely.MultiPolygon([part for part in parts if part is not None]))


def _part(points: np.ndarray, offsets: np.ndarray) -> shapely.Polygon | None:
    rings = [points[a : b - 1] for a, b in itertools.pairwise(offsets.tolist())]
    rings = [sharpen(ring, blur=_TOTAL_BLUR_PX) if len(ring) >= 8 else ring for ring in rings if len(ring) >= 3]
    if not rings:
        return None
    part = shapely.Polygon(rings[0], rings[1:])
    return part if part.is_valid else max(_polygons(shapely.make_valid(part)), key=lambda p: p.area, default=None)


def _polygons(shape: shapely.Geometry) -> list[shapely.Polygon]:
    return list(as_multipolygon(shape).geoms)


def outline_of(pixel_area: shapely.MultiPolygon, *, pixel_mm: float, recipe: OutlineRecipe) -> Outline:
    """Return the outline in millimetres, without specks and with the holes the recipe keeps.

    Raises:
        BlockedError: every part is smaller than the smallest part allowed.
    """
    scaled = shapely.transform(pixel_area, lambda points: points * pixel_mm)
    kept = [part for part in scaled.geoms if part.area >= recipe.speck_mm2]
    if not kept:
        largest = max((part.area for part in scaled.geoms), default=0.0)
        raise BlockedError(
            f"The largest part of the art is {largest:.3g} mm², below the smallest part of "
            f"{recipe.speck_mm2:g} mm²: print it larger, or lower the smallest part"
        )
    least = np.inf if recipe.hole_mm2 is None else recipe.hole_mm2
    solid = [_with_large_holes(part, least) for part in kept]
    holes = sum(len(part.interiors) for part in kept) - sum(len(part.interiors) for part in solid)
    area = as_multipolygon(shapely.union_all(solid))
    return Outline(area=area, pixel_mm=pixel_mm, dropped_specks=len(scaled.geoms) - len(kept), filled_holes=holes)


def _with_large_holes(part: shapely.Polygon, least_mm2: float) -> shapely.Polygon:
    holes = [hole for hole in part.interiors if shapely.Polygon(hole).area >= least_mm2]
    return shapely.Polygon(part.exterior, holes)


def fit_area(area: shapely.MultiPolygon, *, pixel_mm: float) -> tuple[CurveRing, ...]:
    """Return the few-noded curves round an area; the one and only fit, made last."""
    least, most = FIT_TOLERANCE_MM
    tolerance_mm = min(max(FIT_TOLERANCE_PX * pixel_mm, least), most)
    return tuple(fit_ring(ring, tolerance_mm=tolerance_mm, pixel_mm=pixel_mm) for ring in rings_of(area))


def greatest_deviation_mm(curves: tuple[CurveRing, ...], area: shapely.MultiPolygon) -> float:
    """Return how far the fitted curves stray from the raw boundary at most."""
    return max(deviation_mm(curve, ring) for curve, ring in zip(curves, rings_of(area), strict=True))
