"""The printed layers as one picture and one contour."""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np
import shapely

from honest_edge.core.geometry.lines import CutPath
from honest_edge.core.geometry.paths import as_multipolygon
from honest_edge.core.imaging.flood import Bytes
from honest_edge.core.layers.paint import inked, lay_over, reach_of
from honest_edge.core.layers.stack import Entry, Stack
from honest_edge.core.values.errors import BlockedError
from honest_edge.core.values.units import MM_PER_INCH

COARSE_PPI, FINE_PPI = 300, 600
_FINE_PIXELS = 6_000_000  # up to here lettering is printed at the finer of the two
_MOST_PIXELS = 120_000_000
_CUT_APART_MM = 0.005  # half the hair that parts pieces which are cut one by one


@dataclass(frozen=True, slots=True, kw_only=True, eq=False)
class Flattened:
    """A stack as one picture, in a frame of its own: millimetres from the picture's top left.

    Attributes:
        pixels: (h, w, 4) uint8 straight sRGB and alpha.
        pixel_mm: size of a pixel.
        left_mm, top_mm: where the picture's top left lies in the frame of the layers.
        area: what is cut, exact, in the picture's frame.
        pieces: into how many it is cut.
        lines: what is cut or creased besides.
    """

    pixels: Bytes
    pixel_mm: float
    left_mm: float
    top_mm: float
    area: shapely.MultiPolygon
    pieces: int
    lines: tuple[CutPath, ...]

    @property
    def width_mm(self) -> float:
        """Width of the picture."""
        return float(self.pixels.shape[1] * self.pixel_mm)


def flatten(stack: Stack, *, apart: bool = False, ppi: float | None = None) -> Flattened:
    """Return the printed layers as one picture with one contour.

    Args:
        stack: the layers put together.
        apart: every layer is cut by itself instead.
        ppi: pixels per inch; None takes 600 for small designs and 300 for large ones.

    Raises:
        BlockedError: the design is too large for a picture.
    """
    left, top, right, bottom = (float(edge) for edge in stack.area.bounds)
    pixel_mm = MM_PER_INCH / (ppi or _ppi(right - left, bottom - top))
    origin = (left - pixel_mm, top - pixel_mm)
    shape = (math.ceil((bottom - top) / pixel_mm) + 2, math.ceil((right - left) / pixel_mm) + 2)
    if shape[0] * shape[1] > _MOST_PIXELS:
        raise BlockedError(
            f"The layers reach over {right - left:.0f} × {bottom - top:.0f} mm: bring them closer together, or "
            "print the design smaller"
        )
    area = _parted(stack) if apart else stack.area
    return Flattened(
        pixels=_composited(stack.entries, shape, origin, pixel_mm),
        pixel_mm=pixel_mm,
        left_mm=origin[0],
        top_mm=origin[1],
        area=as_multipolygon(shapely.transform(area, lambda points: points - origin)),
        pieces=len(area.geoms),
        lines=tuple(line.placed(np.array([[1, 0, -origin[0]], [0, 1, -origin[1]]])) for line in stack.lines),
    )


def _ppi(width_mm: float, height_mm: float) -> int:
    fine = width_mm * height_mm * (FINE_PPI / MM_PER_INCH) ** 2
    return FINE_PPI if fine <= _FINE_PIXELS else COARSE_PPI


def _parted(stack: Stack) -> shapely.MultiPolygon:
    """Return the pieces a hair apart, for an area cannot touch itself."""
    thinner = shapely.buffer(list(stack.apart), -_CUT_APART_MM, join_style="mitre")
    return as_multipolygon(shapely.union_all(thinner))


def _composited(
    entries: tuple[Entry, ...], shape: tuple[int, int], origin: tuple[float, float], pixel_mm: float
) -> Bytes:
    canvas = np.zeros((*shape, 4), np.uint8)
    for entry in entries:
        box = _box(reach_of(entry), shape, origin, pixel_mm)
        if box is not None:
            rows, columns = box
            corner = (origin[0] + columns.start * pixel_mm, origin[1] + rows.start * pixel_mm)
            size = (rows.stop - rows.start, columns.stop - columns.start)
            lay_over(canvas[rows, columns], inked(entry, size, corner, pixel_mm))
    return canvas


def _box(
    bounds: tuple[float, float, float, float], shape: tuple[int, int], origin: tuple[float, float], pixel_mm: float
) -> tuple[slice, slice] | None:
    left, top, right, bottom = ((value - origin[axis % 2]) / pixel_mm for axis, value in enumerate(bounds))
    rows = slice(max(0, math.floor(top) - 1), min(shape[0], math.ceil(bottom) + 2))
    columns = slice(max(0, math.floor(left) - 1), min(shape[1], math.ceil(right) + 2))
    return (rows, columns) if rows.start < rows.stop and columns.start < columns.stop else None
