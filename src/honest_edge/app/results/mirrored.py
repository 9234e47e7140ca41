"""A design as it is laid on stock that is seen from behind: print and cut mirrored left to right."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
import shapely

from honest_edge.app.results.design_result import DesignResult
from honest_edge.core.edge.bleed import PrintArt
from honest_edge.core.edge.contour import CutLines
from honest_edge.core.geometry.paths import Floats, as_multipolygon


def mirrored(result: DesignResult) -> DesignResult:
    """Return a result with its print and its cut mirrored about the middle of the picture; the rest as designed."""
    width_mm = result.width_mm
    matrix = np.array([[-1.0, 0.0, width_mm], [0.0, 1.0, 0.0]])
    return replace(result, art=_art(result.art, width_mm, matrix), cut=_cut(result.cut, matrix))


def _art(art: PrintArt, width_mm: float, matrix: Floats) -> PrintArt:
    return PrintArt(
        pixels=np.ascontiguousarray(art.pixels[:, ::-1]),
        left_mm=width_mm - art.left_mm - art.pixels.shape[1] * art.pixel_mm,
        top_mm=art.top_mm,
        pixel_mm=art.pixel_mm,
        ink_area=None if art.ink_area is None else _area(art.ink_area, matrix),
    )


def _cut(cut: CutLines, matrix: Floats) -> CutLines:
    return replace(
        cut,
        area=_area(cut.area, matrix),
        curves=tuple(curve.placed(matrix) for curve in cut.curves),
        lines=tuple(line.placed(matrix) for line in cut.lines),
    )


def _area(area: shapely.MultiPolygon, matrix: Floats) -> shapely.MultiPolygon:
    return as_multipolygon(shapely.transform(area, lambda points: points @ matrix[:, :2].T + matrix[:, 2]))
