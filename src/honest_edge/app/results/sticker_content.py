"""A design's result as it lies among others: as a sticker on a sheet, as a part that is glued."""

from __future__ import annotations

from typing import TYPE_CHECKING

import numpy as np
import shapely

from honest_edge.core.edge.bleed import PrintArt
from honest_edge.core.edge.contour import CutLines
from honest_edge.core.geometry.lines import CutPath
from honest_edge.core.geometry.paths import Floats, as_multipolygon
from honest_edge.core.layers.paint import coverage
from honest_edge.core.layers.stack import Content

if TYPE_CHECKING:
    from honest_edge.app.results.design_result import DesignResult


def sticker_content(
    art: PrintArt, cut: CutLines, detail: shapely.MultiPolygon, own_ink: shapely.MultiPolygon | None
) -> Content:
    """Return a design as it lies on a sheet: what is printed of it, and its kiss cut, round the print's middle.

    Args:
        art: what is printed.
        cut: its own cut.
        detail: what of it must not be cut.
        own_ink: where its ink lies, where that reaches its cut; None for a border of bare stock.
    """
    pixels = art.pixels
    height, width = pixels.shape[:2]
    if art.ink_area is not None:
        share = coverage(art.ink_area, (height, width), (art.left_mm, art.top_mm), art.pixel_mm)
        pixels = pixels.copy()
        pixels[..., 3] = np.rint(pixels[..., 3] * (share / 255)).astype(np.uint8)
    middle = np.array([art.left_mm + width * art.pixel_mm / 2, art.top_mm + height * art.pixel_mm / 2])
    back = np.array([[1, 0, -middle[0]], [0, 1, -middle[1]]])
    lines = tuple(CutPath(kind="kiss", curve=curve.placed(back)) for curve in cut.curves)

    def here(area: shapely.MultiPolygon) -> shapely.MultiPolygon:
        return as_multipolygon(shapely.transform(area, lambda points: points - middle))

    return Content(
        area=here(cut.enclosed),
        pixels=pixels,
        pixel_mm=art.pixel_mm,
        lines=(*lines, *_placed_lines(cut, back)),
        detail=here(detail),
        own_ink=None if own_ink is None else here(own_ink),
    )


def in_layers_frame(result: DesignResult) -> shapely.MultiPolygon:
    """Return the cut of a design of layers in the frame in which they are placed."""
    corner = layers_corner_mm(result)
    return as_multipolygon(shapely.transform(result.cut.area, lambda points: points + corner))


def layers_corner_mm(result: DesignResult) -> Floats:
    """Return (2,) where a design's picture begins in the frame in which its layers are placed."""
    assert result.composed is not None
    return np.array([result.composed.flat.left_mm, result.composed.flat.top_mm])


def _placed_lines(cut: CutLines, matrix: Floats) -> tuple[CutPath, ...]:
    return tuple(line.placed(matrix) for line in cut.lines)
