"""The cut line: the outline moved as the school of edge asks."""

from __future__ import annotations

from dataclasses import dataclass

import shapely

from honest_edge.core.geometry.offset import offset_area
from honest_edge.core.geometry.paths import CurveRing
from honest_edge.core.outline.outline import Outline, fit_area
from honest_edge.core.values.errors import BlockedError
from honest_edge.core.values.specs import EdgeRecipe, LineKind


@dataclass(frozen=True, slots=True, kw_only=True, eq=False)
class CutLines:
    """Where the blade goes, in the art's frame (mm, origin at the picture's top left).

    Attributes:
        area: what the cut encloses, unfitted.
        curves: the fitted rings that are shown and written, one per ring of ``area``.
        line_kind: kiss or through.
    """

    area: shapely.MultiPolygon
    curves: tuple[CurveRing, ...]
    line_kind: LineKind

    @property
    def length_mm(self) -> float:
        """Length of all rings together."""
        return float(self.area.length)

    @property
    def node_count(self) -> int:
        """Nodes of all rings together."""
        return sum(curve.node_count for curve in self.curves)


def contour(outline: Outline, recipe: EdgeRecipe) -> CutLines:
    """Return the cut lines of an outline.

    Raises:
        BlockedError: an inward offset leaves nothing.
    """
    area = offset_area(outline.area, recipe.signed_offset_mm, corners=recipe.corners)
    if area.is_empty:
        raise BlockedError(f"Cutting {recipe.offset_mm:g} mm inside the art leaves nothing to cut: lower the offset")
    style = outline.style if recipe.offset_mm == 0 else outline.style.of_offset
    curves = fit_area(area, style)
    return CutLines(area=area, curves=curves, line_kind=recipe.line_kind)
