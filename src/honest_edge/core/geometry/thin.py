"""Strokes too thin to cut and weed, made thicker."""

from __future__ import annotations

import shapely

from honest_edge.core.geometry.offset import offset_area
from honest_edge.core.geometry.paths import as_multipolygon
from honest_edge.core.values.specs import THIN_STROKE_MM


def fattened(area: shapely.MultiPolygon, by_mm: float) -> shapely.MultiPolygon:
    """Grow strokes thinner than ``THIN_STROKE_MM`` by half of ``by_mm`` to either side, and nothing else."""
    if by_mm == 0:
        return area
    half = THIN_STROKE_MM / 2
    thick = offset_area(offset_area(area, -half), 1.02 * half)
    thin = [part for part in as_multipolygon(shapely.difference(area, thick)).geoms if part.length > 2 * THIN_STROKE_MM]
    return as_multipolygon(shapely.union(area, offset_area(shapely.MultiPolygon(thin), by_mm / 2)))
