"""What a target shows: discs, tags, its QR code, rulers."""

from __future__ import annotations

import numpy as np
import shapely

from honest_edge.core.geometry.error_map import linear_part
from honest_edge.core.geometry.paths import CurveRing, Floats, as_multipolygon
from honest_edge.core.layers.codes import code_area
from honest_edge.core.measure.tags import tag_area
from honest_edge.core.measure.target import (
    CUT_RADIUS_MM,
    PRINTED_RADIUS_MM,
    QR_MM,
    TAG_IDS,
    TAG_MM,
    Ruler,
    TargetLayout,
    rulers,
)
from honest_edge.core.sheet.marks import disc_ring
from honest_edge.core.values.layers import Code
from honest_edge.core.values.measured import ErrorParts
from honest_edge.core.values.misregistration import UNITS

_LINE_MM, _TICK_MM = 0.25, 1.2


def dark_area(layout: TargetLayout) -> shapely.MultiPolygon:
    """Return the tags and the QR code."""
    tags = [tag_area(number, place, TAG_MM) for number, place in zip(TAG_IDS, layout.tags_mm, strict=True)]
    code = code_area(Code(kind="QR", text=layout.code, width_mm=QR_MM)).dark
    return as_multipolygon(shapely.union_all([*tags, shapely.transform(code, lambda points: points + layout.qr_mm)]))


def ruler_area(layout: TargetLayout) -> shapely.MultiPolygon:
    """Return the rulers: a line with a tick every ten millimetres, longer ones at its ends."""
    return as_multipolygon(shapely.union_all([part for ruler in rulers(layout) for part in _ruler(ruler)]))


def _ruler(ruler: Ruler) -> list[shapely.Geometry]:
    start, end = np.array(ruler.start_mm), np.array(ruler.end_mm)
    across = np.array([0.0, 1.0]) if start[1] == end[1] else np.array([1.0, 0.0])
    half = _LINE_MM / 2
    parts: list[shapely.Geometry] = [_thick(start, end, half)]
    count = round(ruler.length_mm / 10)
    for number in range(count + 1):
        at = start + (end - start) * number / count
        reach = _TICK_MM * (1.0 if number in (0, count) else 0.6)
        parts.append(_thick(at - across * reach, at + across * reach, half))
    return parts


def _thick(start: Floats, end: Floats, half: float) -> shapely.Geometry:
    low, high = np.minimum(start, end), np.maximum(start, end)
    grow = np.where(high - low > 1e-9, 0.0, half)
    (left, top), (right, bottom) = (low - grow).tolist(), (high + grow).tolist()
    return shapely.Polygon([(left, top), (right, top), (right, bottom), (left, bottom)])


def discs(layout: TargetLayout) -> tuple[CurveRing, ...]:
    """Return the printed discs."""
    return tuple(disc_ring(x, y, PRINTED_RADIUS_MM) for x, y in layout.places_mm.tolist())


def cuts(layout: TargetLayout) -> tuple[CurveRing, ...]:
    """Return the kiss cuts, row by row, moved as the layout says."""
    matrix = moved_matrix(layout.cut_moved_by, layout.middle_mm)
    return tuple(disc_ring(x, y, CUT_RADIUS_MM).placed(matrix) for x, y in layout.places_mm.tolist())


def moved_matrix(parts: ErrorParts, middle_mm: Floats) -> Floats:
    """Return the (2, 3) matrix that moves what lies on a sheet by shift, turn and growth about the marks' middle."""
    values = np.array(parts.values) * UNITS
    matrix = np.eye(2) + linear_part(values)
    shift = values[:2] + middle_mm - matrix @ middle_mm
    return np.column_stack([matrix, shift])
