"""The exact end of a layout: pieces are pushed apart until every gap is kept, measured on their polygons."""

from __future__ import annotations

import itertools
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
import shapely
from numpy.typing import NDArray

from honest_edge.core.geometry.paths import Floats
from honest_edge.core.sheet.grid import Grid, GridPosition
from honest_edge.core.sheet.nofit import turned_polygon

_ROUNDS = 60
_SPARE_MM = 0.002
"""How much farther than need be pieces are pushed, so that rounding keeps the gap."""


@dataclass(frozen=True, slots=True)
class Laid:
    """A piece on a sheet: its turn in degrees, clockwise, and where its middle lies."""

    piece: int
    turn_deg: float
    x_mm: float
    y_mm: float
    is_pinned: bool = False


def laid_at(position: GridPosition, grid: Grid) -> Laid:
    """Return the piece that lies on a position of a grid."""
    turned = position.turned
    return Laid(turned.piece, grid.nofit.pieces[turned.piece].degrees(turned), *grid.place(position))


def position_near(laid: Laid, grid: Grid) -> GridPosition:
    """Return the position of a grid that is nearest to where and how a piece lies."""
    step, usable = grid.nofit.pitch_mm, grid.usable
    piece = grid.nofit.pieces[laid.piece]
    turned = min(
        grid.nofit.options[laid.piece], key=lambda turn: abs((piece.degrees(turn) - laid.turn_deg + 180) % 360 - 180)
    )
    row = min(max(round((laid.y_mm - usable.top) / step), 0), grid.rows - 1)
    return GridPosition(turned, row, min(max(round((laid.x_mm - usable.left) / step), 0), grid.columns - 1))


def settle(pieces: Sequence[Laid], grid: Grid) -> list[Laid] | None:
    """Return the pieces moved as little as it takes to keep every gap; None where they cannot be parted."""
    nofit = grid.nofit
    lies = {(p.piece, p.turn_deg) for p in pieces}  # copies of a design lie in few ways
    turned = {(piece, deg): turned_polygon(nofit.pieces[piece].polygon, deg) for piece, deg in lies}
    polygons = np.array([turned[p.piece, p.turn_deg] for p in pieces], dtype=object)
    places = np.array([(p.x_mm, p.y_mm) for p in pieces]).reshape(-1, 2)
    still = np.array([p.is_pinned for p in pieces], bool)
    reaches = np.array([nofit.pieces[p.piece].reach_mm for p in pieces])
    gaps = nofit.gap_of(reaches[:, None], reaches[None, :])
    bounds = shapely.bounds(polygons).reshape(-1, 4)
    room = _room(grid, bounds, reaches)
    for _ in range(_ROUNDS):
        clamped = np.where(still[:, None], places, np.clip(places, room[:, :2], room[:, 2:]))
        moved = _moved(polygons, clamped)
        push, worst = _push(moved, clamped, gaps, still)
        blocked, worst_blocked = _push_off(moved, clamped, grid, np.where(still, 0.0, reaches), still)
        if max(worst, worst_blocked) <= 1e-6:
            return [
                Laid(p.piece, p.turn_deg, float(x), float(y), p.is_pinned)
                for p, (x, y) in zip(pieces, clamped, strict=True)
            ]
        places = clamped + np.where(still[:, None], 0.0, push + blocked)
    return None


def lying(polygon: shapely.Geometry, laid: Laid) -> shapely.Geometry:
    """Return a polygon about its middle where and how a piece lies."""
    turned = turned_polygon(polygon, laid.turn_deg)
    return shapely.transform(turned, lambda points: points + np.array([laid.x_mm, laid.y_mm]))


def _moved(polygons: NDArray[np.object_], by_mm: Floats) -> NDArray[np.object_]:
    points, owner = shapely.get_coordinates(polygons, return_index=True)
    return np.asarray(shapely.set_coordinates(polygons.copy(), points + by_mm[owner]))


def most_crowded(pieces: Sequence[Laid], grid: Grid) -> int:
    """Return which piece that is not pinned lacks most of its gaps to the others."""
    shapes = [lying(grid.nofit.pieces[piece.piece].polygon, piece) for piece in pieces]
    lacks = np.zeros(len(pieces))
    for a, b in itertools.combinations(range(len(pieces)), 2):
        gap = grid.nofit.gap_between(pieces[a].piece, pieces[b].piece)
        if shapely.dwithin(shapes[a], shapes[b], gap):
            lack = gap - shapely.distance(shapes[a], shapes[b])
            lacks[[a, b]] += lack
    loose = [index for index, piece in enumerate(pieces) if not piece.is_pinned]
    return max(loose, key=lambda index: (lacks[index], index))


def _room(grid: Grid, bounds: Floats, reaches: Floats) -> Floats:
    """Return for each piece the box in which its middle keeps it inside the usable area."""
    usable = grid.usable
    low = np.array([usable.left, usable.top]) - bounds[:, :2] + reaches[:, None]
    high = np.array([usable.right, usable.bottom]) - bounds[:, 2:] - reaches[:, None]
    middle = (low + high) / 2  # a piece as wide as the area may be wider by a rounding
    return np.hstack([np.minimum(low, middle), np.maximum(high, middle)])


def _push(moved: NDArray[np.object_], places: Floats, gaps: Floats, still: NDArray[np.bool_]) -> tuple[Floats, float]:
    """Return how far each piece is pushed by its neighbours, and the greatest gap that is missing."""
    push = np.zeros_like(places)
    if len(moved) < 2:
        return push, 0.0
    tree = shapely.STRtree(moved)
    pairs = tree.query(moved, predicate="dwithin", distance=float(gaps.max()))
    one, two = pairs[:, pairs[0] < pairs[1]]
    if not len(one):
        return push, 0.0
    away, apart = _away(moved[one], moved[two], places[one] - places[two])
    deep = np.array([0.0 if gap else _depth(moved[a], moved[b]) for a, b, gap in zip(one, two, apart, strict=True)])
    missing = np.where(still[one] & still[two], 0.0, gaps[one, two] - apart + deep)  # pinned pairs stay as they are
    worst = float(missing.max(initial=0.0))
    close = missing > 1e-6
    for a, b, lack, toward in zip(one[close], two[close], missing[close], away[close], strict=True):
        step = toward * (lack + _SPARE_MM)
        share = 0.5 if not (still[a] or still[b]) else 1.0
        push[a] += share * step
        push[b] -= share * step
    return push, worst


def _push_off(
    moved: NDArray[np.object_], places: Floats, grid: Grid, reaches: Floats, still: NDArray[np.bool_]
) -> tuple[Floats, float]:
    """Return how far each piece is pushed by what is blocked, and the greatest room that is missing."""
    push, worst = np.zeros_like(places), 0.0
    for area in grid.blocked:
        middle = shapely.get_coordinates(shapely.centroid(area))[0]
        near = np.flatnonzero(shapely.dwithin(moved, area, float(reaches.max(initial=0.0))))
        for index in near[~still[near]]:
            away, apart = _away(moved[index : index + 1], np.array([area]), places[index : index + 1] - middle)
            lack = reaches[index] - float(apart[0])
            if apart[0] == 0:
                lack += _depth(moved[index], area)
            if lack > 1e-6:
                worst = max(worst, lack)
                push[index] += away[0] * (lack + _SPARE_MM)
    return push, worst


def _depth(one: shapely.Geometry, two: shapely.Geometry) -> float:
    """Return about how deep two shapes overlap; 0 where they only touch."""
    shared = shapely.intersection(one, two)
    left, top, right, bottom = shared.bounds if not shared.is_empty else (0.0, 0.0, 0.0, 0.0)
    return float(min(right - left, bottom - top)) if shared.area > 1e-9 else 0.0


def _away(one: NDArray[np.object_], two: NDArray[np.object_], fallback: Floats) -> tuple[Floats, Floats]:
    """Return unit vectors from each second shape to its first at their nearest points, and their distances."""
    lines = shapely.get_coordinates(shapely.shortest_line(one, two)).reshape(-1, 2, 2)
    apart = np.asarray(shapely.distance(one, two))
    toward = lines[:, 0] - lines[:, 1]
    touching = apart < 1e-9
    toward[touching] = fallback[touching]
    length = np.hypot(toward[:, 0], toward[:, 1])
    return toward / np.maximum(length, 1e-12)[:, None], apart
