"""Plain forms as areas round their own middle, millimetres, y down."""

from __future__ import annotations

import math

import numpy as np
import shapely

from honest_edge.core.geometry.paths import Floats, as_multipolygon
from honest_edge.core.values.errors import BlockedError
from honest_edge.core.values.layers import Shape

_TOLERANCE_MM = 0.001
_TAG_SHOULDER = 0.28  # of a tag's height: how long its slanted shoulders are
_EYELET_RIM_MM = 2.0  # stock left round an eyelet; common practice, no published source


def shape_area(shape: Shape) -> shapely.MultiPolygon:
    """Return what a shape covers.

    Raises:
        BlockedError: its sizes leave nothing, or contradict each other.
    """
    whole = _filled(shape)
    if not shape.stroke_mm or shape.kind == "line":
        return whole
    inside = shapely.buffer(whole, -shape.stroke_mm, join_style="mitre")
    return whole if inside.is_empty else as_multipolygon(shapely.difference(whole, inside))


def _filled(shape: Shape) -> shapely.MultiPolygon:
    width, height = shape.width_mm, shape.height_mm
    if shape.kind == "heart":
        return as_multipolygon(_heart(width, height))
    if shape.kind in ("box", "line"):
        return as_multipolygon(rounded_box(width, height, shape.radius_mm))
    if shape.kind == "oval":
        return as_multipolygon(shapely.Polygon(oval_points(width, height)))
    if shape.kind == "tag":
        return _tag(shape)
    if shape.kind == "banner":
        return as_multipolygon(shapely.Polygon(_banner(shape)))
    return as_multipolygon(shapely.Polygon(_star(shape) if shape.kind == "star" else _corners(shape, shape.points)))


def oval_points(width_mm: float, height_mm: float) -> Floats:
    """Return a polygon of an ellipse that has the ellipse's own area.

    A regular n-gon in a circle has n/2 sin(2 pi/n) / pi of its area; its corners are moved out by the root of
    what is missing, so that areas are exact and no place strays more than a micrometre.
    """
    circle = _circle(max(width_mm, height_mm) / 2)
    turn = 2 * math.pi / len(circle)
    return math.sqrt(turn / math.sin(turn)) / 2 * circle * [width_mm, height_mm]


def _circle(radius_mm: float) -> Floats:
    """Return points of the unit circle, four times as many as a quarter needs to be true to the micrometre."""
    count = 4 * max(8, math.ceil(math.pi / 4 / math.acos(max(0.0, 1 - _TOLERANCE_MM / radius_mm))))
    angle = np.arange(count) * (2 * math.pi / count)
    return np.stack([np.cos(angle), np.sin(angle)], axis=1)


def rounded_box(width_mm: float, height_mm: float, radius_mm: float) -> shapely.Polygon:
    """Return a box round the origin whose corners are rounded, at most to half its shorter side."""
    radius = min(radius_mm, width_mm / 2, height_mm / 2)
    if radius <= 0:
        return shapely.box(-width_mm / 2, -height_mm / 2, width_mm / 2, height_mm / 2)
    circle = radius * _circle(radius)  # through the sides' own ends, so that the box keeps its size
    quarter = len(circle) // 4
    right, bottom = width_mm / 2 - radius, height_mm / 2 - radius
    middles = ((right, bottom), (-right, bottom), (-right, -bottom), (right, -bottom))
    around = np.vstack([circle, circle[:1]])
    return shapely.Polygon(
        np.vstack([around[turn * quarter : (turn + 1) * quarter + 1] + middles[turn] for turn in range(4)])
    )


def _heart(width_mm: float, height_mm: float) -> shapely.Polygon:
    """Return two half discs on the upper sides of a square that stands on its tip, stretched into a box."""
    root = math.sqrt(0.5)
    square = shapely.Polygon([(0.0, -1.0), (1.0, 0.0), (0.0, 1.0), (-1.0, 0.0)])
    lobes = [shapely.Polygon(root * _circle(max(width_mm, height_mm)) + (side / 2, -0.5)) for side in (-1, 1)]
    whole = shapely.union_all([square, *lobes])
    left, top, right, bottom = whole.bounds
    scale = np.array([width_mm / (right - left), height_mm / (bottom - top)])
    middle = np.array([(left + right) / 2, (top + bottom) / 2])
    return shapely.Polygon((shapely.get_coordinates(whole) - middle) * scale)


def _corners(shape: Shape, count: int, share: float = 1.0, start: float = 0.0) -> Floats:
    angle = (np.arange(count) + start) * (2 * math.pi / count) - math.pi / 2
    return share / 2 * np.stack([shape.width_mm * np.cos(angle), shape.height_mm * np.sin(angle)], axis=1)


def _star(shape: Shape) -> Floats:
    points = np.empty((2 * shape.points, 2))
    points[::2] = _corners(shape, shape.points)
    points[1::2] = _corners(shape, shape.points, 1 - shape.depth, 0.5)
    return points


def _banner(shape: Shape) -> Floats:
    x, y = shape.width_mm / 2, shape.height_mm / 2
    notch = shape.depth * min(x, shape.height_mm)
    return np.array([(-x, -y), (x, -y), (x - notch, 0), (x, y), (-x, y), (-x + notch, 0)])


def _tag(shape: Shape) -> shapely.MultiPolygon:
    """Return a box with slanted shoulders at its left end, and the eyelet between them."""
    x, y, hole = shape.width_mm / 2, shape.height_mm / 2, shape.eyelet_mm / 2
    shoulder = min(_TAG_SHOULDER * shape.height_mm, x)
    body = rounded_box(shape.width_mm, shape.height_mm, shape.radius_mm)
    wedge = shapely.Polygon(
        [(-x, -y + shoulder), (-x + shoulder, -y), (x, -y), (x, y), (-x + shoulder, y), (-x, y - shoulder)]
    )
    area = shapely.intersection(body, wedge)
    if hole == 0:
        return as_multipolygon(area)
    middle = -x + _EYELET_RIM_MM + max(hole, shoulder / 2)
    if hole + _EYELET_RIM_MM > min(y, x):
        raise BlockedError(
            f"An eyelet of {shape.eyelet_mm:g} mm leaves no rim on a tag {shape.height_mm:g} mm high: make it "
            f"{max(0.0, 2 * (min(x, y) - _EYELET_RIM_MM)):.1f} mm or less"
        )
    eyelet = shapely.Polygon(oval_points(2 * hole, 2 * hole) + np.array([middle, 0.0]))
    return as_multipolygon(shapely.difference(area, eyelet))
