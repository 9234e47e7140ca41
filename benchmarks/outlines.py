"""The reference tracers, and outlines as polygons in millimetres."""

from __future__ import annotations

import cv2
import numpy as np
import potrace
import shapely
from corpus import PIXEL_MM

from honest_edge.core.geometry.paths import evaluate


def inches(area: shapely.Geometry) -> float:
    return area.length / 25.4


def nodes_of(curves) -> int:
    return sum(curve.node_count for curve in curves)


def polygons_of(rings: list[np.ndarray]) -> shapely.Geometry:
    """Return what rings enclose by the even-odd rule, from pixels to millimetres."""
    area = shapely.MultiPolygon()
    for ring in sorted((shapely.make_valid(shapely.Polygon(r * PIXEL_MM)) for r in rings), key=lambda p: -p.area):
        area = shapely.symmetric_difference(area, ring)
    return area


def chains(solid: np.ndarray) -> shapely.Geometry:
    found, _ = cv2.findContours(solid.astype(np.uint8), cv2.RETR_CCOMP, cv2.CHAIN_APPROX_NONE)
    return polygons_of([ring[:, 0].astype(float) + 0.5 for ring in found if len(ring) > 3])


def potracer(solid: np.ndarray) -> tuple[shapely.Geometry, int]:
    found = potrace.Bitmap(~solid).trace(turdsize=4)  # it traces what is False
    rings, nodes, t = [], 0, np.linspace(0, 1, 24)[1:]
    for curve in found:
        at, points = curve.start_point, []
        for segment in curve.segments:
            nodes += 1
            if segment.is_corner:
                points += [[segment.c.x, segment.c.y], [segment.end_point.x, segment.end_point.y]]
            else:
                chain = [at, segment.c1, segment.c2, segment.end_point]
                cubic = np.array([[(p.x, p.y) for p in chain]])
                points += evaluate(np.repeat(cubic, len(t), axis=0), t).tolist()
            at = segment.end_point
        rings.append(np.array(points))
    return polygons_of(rings), nodes
