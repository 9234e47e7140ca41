"""What decides whether a sticker comes out clean: the cut with the ink round it, and detail with the cut round it."""

from __future__ import annotations

import math
from collections.abc import Callable
from dataclasses import dataclass, field, replace

import numpy as np
import shapely

from honest_edge.core.edge.art_edge import SEEN_CONTRAST, ArtEdge, detail_inside
from honest_edge.core.edge.contour import CutLines
from honest_edge.core.edge.kiss import KissCuts
from honest_edge.core.geometry.corners import resample
from honest_edge.core.geometry.distance import DistanceField, distance_field, within
from honest_edge.core.geometry.paths import Floats, as_multipolygon, rings_of
from honest_edge.core.outline.outline import Outline
from honest_edge.core.values.specs import EdgeRecipe

TOUCHING_MM = 0.15
"""Ink that ends this close to the cut is meant to reach it."""

_MOST_POINTS = 700
_FINEST_SPACING_MM = 0.25
_STEPS = 20  # of a distance field from the boundary to its reach
_STEP_MM = (0.12, 0.5)
_MOST_NODES = 800_000  # of a distance field, near the boundary
_NOWHERE = np.empty((0, 2))
_LEAST_REACH_MM, _MOST_REACH_MM = 2.0, 14.0
_MOST_RING_REACH_MM = 4.0
_LIVE_STEP_MM = 0.3
"""Rings are mended by less; what strays farther is past them anyway."""


@dataclass(frozen=True, slots=True, kw_only=True, eq=False)
class EdgeModel:
    """One design's edge, ready to be tried against many errors; places in the art's frame, millimetres.

    Attributes:
        cut_points: (n, 2) places of the cut where a lack of ink would be seen.
        ink: distances from the ink.
        detail_points: (m, 2) places of the boundary of what must not be cut.
        cut: distances from what the cut encloses.
        middle: (2,) the middle of the cut, whose place on the sheet is known.
        detail: what must not be cut.
        is_inked: whether ink reaches the cut as planned; if not, bare stock runs round the art as a border.
        border_mm: typical width of that border; 0 where ink reaches the cut.
        kiss_points: (k, 2) places of the kiss cuts of stickers that lie on it.
        room: distances from where those may come to lie; None without such stickers.
        ring_mm: the narrowest ring round one of them.
    """

    cut_points: Floats
    ink: DistanceField
    detail_points: Floats
    cut: DistanceField
    middle: Floats
    detail: shapely.MultiPolygon
    is_inked: bool
    border_mm: float
    kiss_points: Floats = field(default_factory=lambda: _NOWHERE)
    room: DistanceField | None = None
    ring_mm: float = 0.0


def edge_model(
    outline: Outline,
    cut: CutLines,
    ink_area: shapely.MultiPolygon,
    art_edge: ArtEdge,
    recipe: EdgeRecipe,
    *,
    width_mm: float,
    largest_mm: float,
    kiss: KissCuts | None = None,
) -> EdgeModel:
    """Return the model of a design's edge.

    Args:
        outline: the art's raw outline.
        cut: the cut.
        ink_area: where ink lies.
        art_edge: the art as its edge shows it.
        recipe: the school and the strokes by hand that guard or spare detail.
        width_mm: the picture's width, the unit of those strokes.
        largest_mm: the greatest displacement that will be asked for.
        kiss: the kiss cuts of stickers that lie on it.
    """
    enclosed, border_mm = cut.enclosed, max(0.0, recipe.signed_offset_mm)
    reach = min(max(_LEAST_REACH_MM, largest_mm + 0.5, border_mm + 1.0), _MOST_REACH_MM)
    field_of = _fields(enclosed, cut.length_mm, reach, largest_mm)
    points = _cut_points(cut)
    touched = within(ink_area, points, TOUCHING_MM)
    is_inked = bool(touched.mean() > 0.5)
    seen = touched & (art_edge.contrast_at(points) >= SEEN_CONTRAST) if is_inked else np.zeros(len(points), bool)
    points = _thinned(points[seen])
    ink = field_of(ink_area, points if len(points) else _NOWHERE, TOUCHING_MM if len(points) else None)
    if is_inked:
        detail = detail_inside(art_edge, enclosed, recipe.detail, width_mm)
        places = _boundary_points(detail)
    else:
        detail = outline.area
        places = _boundary_points(detail)
        places = places[art_edge.contrast_at(places) >= SEEN_CONTRAST]
    cut_field = field_of(enclosed, places)
    if len(places):
        away = cut_field.at(places[:, 0], places[:, 1])
        places = _thinned(places[(away > 0.02 - reach) & (away < reach)])
    left, top, right, bottom = enclosed.bounds
    return EdgeModel(
        cut_points=points,
        ink=ink,
        detail_points=places,
        cut=cut_field,
        middle=np.array([(left + right) / 2, (top + bottom) / 2]),
        detail=detail,
        is_inked=is_inked,
        border_mm=0.0 if is_inked else border_mm,
        kiss_points=_NOWHERE if kiss is None else kiss.points,
        room=None if kiss is None else _room_field(kiss, largest_mm, _STEP_MM[0]),
        ring_mm=0.0 if kiss is None else kiss.ring_mm,
    )


def with_other_rings(model: EdgeModel, kiss: KissCuts, largest_mm: float) -> EdgeModel:
    """Return the model of a sheet whose rings a hand still moves: within three points of what it forecasts."""
    # whether a cut leaves its room is decided beside the room's boundary: only there is it measured
    some = replace(kiss, points=_thinned(kiss.points))
    room = _room_field(some, largest_mm, _LIVE_STEP_MM, is_rough_away=True)
    return replace(model, kiss_points=some.points, room=room, ring_mm=kiss.ring_mm)


def _fields(
    enclosed: shapely.MultiPolygon, length_mm: float, reach: float, largest_mm: float
) -> Callable[..., DistanceField]:
    """Return what measures distances from an area, round a cut and as finely as its length and the reach allow."""
    left, top, right, bottom = enclosed.bounds
    box = (left - reach, top - reach, right + reach, bottom + reach)
    finest = max(_STEP_MM[0], math.sqrt(2 * reach * length_mm / _MOST_NODES))
    step = min(max(reach / _STEPS, finest), _STEP_MM[1])

    def field(area: shapely.MultiPolygon, asked: Floats, inside_mm: float | None = None) -> DistanceField:
        return distance_field(
            area, box, reach_mm=reach, step_mm=step, inside_mm=inside_mm, asked=asked, within_mm=largest_mm
        )

    return field


def _room_field(kiss: KissCuts, largest_mm: float, finest_mm: float, *, is_rough_away: bool = False) -> DistanceField:
    """Return distances from where kiss cuts may be: finer than those of a rim, for rings are narrow."""
    left, top, right, bottom = kiss.room.bounds
    reach = min(max(_LEAST_REACH_MM, largest_mm + 0.5), _MOST_RING_REACH_MM)
    step = max(finest_mm, math.sqrt((right - left + 2 * reach) * (bottom - top + 2 * reach) / _MOST_NODES))
    box = (left - reach, top - reach, right + reach, bottom + reach)
    return distance_field(
        kiss.room,
        box,
        reach_mm=reach,
        step_mm=step,
        asked=kiss.points,
        within_mm=min(largest_mm, reach) * (0.5 if is_rough_away else 1),
        is_rough_away=is_rough_away,
    )


def _cut_points(cut: CutLines) -> Floats:
    """Return even places along the cut, and its nodes, where corners are."""
    spacing = max(_FINEST_SPACING_MM, cut.length_mm / _MOST_POINTS)
    places = []
    for curve in cut.curves:
        places += [resample(curve.flattened(0.005), spacing), curve.cubics[:, 0]]
    return np.concatenate(places)


def _boundary_points(area: shapely.MultiPolygon) -> Floats:
    rings = rings_of(as_multipolygon(shapely.simplify(area, 0.01, preserve_topology=False)))
    if not rings:
        return np.empty((0, 2))
    spacing = max(_FINEST_SPACING_MM, area.length / _MOST_POINTS)
    return np.concatenate([shapely.get_coordinates(shapely.segmentize(shapely.linearrings(r), spacing)) for r in rings])


def _thinned(points: Floats) -> Floats:
    """Return at most about ``_MOST_POINTS`` of the places, evenly chosen."""
    return points[:: max(1, round(len(points) / _MOST_POINTS))]
