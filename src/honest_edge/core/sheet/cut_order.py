"""In which order a sheet is cut, and where each cut begins.

Inside before outside, so that nothing comes loose while something in it is still to be cut; then the nearest
next, bettered by exchanges (2-opt, Croes 1958; or-opt, Or 1976). Cuts begin away from sharp corners, where a
blade that swivels leaves the least trace.
"""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np
import shapely
from numpy.typing import NDArray

from honest_edge.core.geometry.paths import CurveRing, Floats

_SHARP_DEG = 25.0
_AWAY_MM = 1.0
"""A start lies at least so far from a sharp corner, where the ring is long enough."""
_MOST_STARTS = 24


def ordered(rings: Sequence[CurveRing], home: tuple[float, float], first: int | None = None) -> list[CurveRing]:
    """Return closed rings and open lines in the order in which they are cut, each from its best start.

    Args:
        rings: of one kind of line, on one sheet.
        home: where the blade comes from.
        first: which of them is cut first, with what lies in it, as a proof.
    """
    if not rings:
        return []
    groups = _groups(rings)
    lead = next((number for number, group in enumerate(groups) if first in group), None)
    middles = np.array([_middle(rings[group[-1]]) for group in groups])
    tour = _tour(middles, np.array(home), lead)
    order = [index for number in tour for index in groups[number]]
    return _started([rings[index] for index in order], np.array(home))


def travel_mm(rings: Sequence[CurveRing], home: tuple[float, float]) -> float:
    """Return how far the blade travels lifted, from home through every ring in this order."""
    at, total = np.array(home), 0.0
    for ring in rings:
        total += float(np.hypot(*(ring.cubics[0, 0] - at)))
        at = ring.cubics[-1, 3]
    return total


def _groups(rings: Sequence[CurveRing]) -> list[list[int]]:
    """Return rings that hold no other together with what lies in them, the inner before the outer."""
    polygons = [shapely.Polygon(p) if len(p := ring.flattened(0.1)) > 2 else shapely.Polygon() for ring in rings]
    areas = shapely.area(polygons)
    points = shapely.points([ring.cubics[0, 0] for ring in rings])
    tree = shapely.STRtree(polygons)
    inner, outer = tree.query(points, predicate="within")
    root = list(range(len(rings)))
    depth = [0] * len(rings)
    for one, two in zip(inner.tolist(), outer.tolist(), strict=True):
        if one != two and areas[two] > areas[one]:
            depth[one] += 1
            if areas[two] > areas[root[one]] or root[one] == one:
                root[one] = two
    groups: dict[int, list[int]] = {}
    for index in range(len(rings)):
        groups.setdefault(root[index], []).append(index)
    return [sorted(group, key=lambda index: (-depth[index], index)) for group in groups.values()]


def _middle(ring: CurveRing) -> Floats:
    return np.asarray(ring.cubics[:, 0].mean(axis=0))


def _tour(points: Floats, home: Floats, lead: int | None) -> list[int]:
    """Return an order of points, the nearest next, then bettered; ``lead`` stays first."""
    left = set(range(len(points)))
    tour: list[int] = []
    at = home
    if lead is not None:
        tour.append(lead)
        left.discard(lead)
        at = points[lead]
    while left:
        rest = np.array(sorted(left))
        nearest = int(rest[np.hypot(*(points[rest] - at).T).argmin()])
        tour.append(nearest)
        left.discard(nearest)
        at = points[nearest]
    return _bettered(points, home, tour, 1 if lead is not None else 0)


def _bettered(points: Floats, home: Floats, tour: list[int], fixed: int) -> list[int]:
    """Return a shorter order: stretches are reversed and moved as long as that saves way."""
    path = np.vstack([home, points[tour]])
    order = [-1, *tour]
    start = 1 + fixed
    for _ in range(60):
        saved = _reverse(path, order, start) or _move(path, order, start)
        if not saved:
            break
    return order[1:]


def _reverse(path: Floats, order: list[int], start: int) -> bool:
    """Reverse the stretches that save the most (the end of the way is free)."""
    better, count = False, len(order)
    for i in range(start, count - 1):
        js = np.arange(i + 1, count)
        before = np.hypot(*(path[i] - path[i - 1])) + np.where(js + 1 < count, _apart(path[js], path, js + 1), 0.0)
        after = np.hypot(*(path[js] - path[i - 1]).T) + np.where(js + 1 < count, _apart(path[i], path, js + 1), 0.0)
        gain = before - after
        best = int(gain.argmax())
        if gain[best] > 1e-9:
            j = int(js[best])
            path[i : j + 1] = path[i : j + 1][::-1].copy()
            order[i : j + 1] = order[i : j + 1][::-1]
            better = True
    return better


def _move(path: Floats, order: list[int], start: int) -> bool:
    """Move stretches of up to three to where they cost less."""
    better = False
    for length in (1, 2, 3):
        i = start
        while i + length <= len(order):
            better |= _move_one(path, order, start, i, length)
            i += 1
    return better


def _move_one(path: Floats, order: list[int], start: int, i: int, length: int) -> bool:
    count = len(order)
    stretch, rest = path[i : i + length].copy(), np.delete(path, np.s_[i : i + length], axis=0)
    has_next = i + length < count
    out = np.hypot(*(path[i] - path[i - 1]))
    if has_next:
        out += np.hypot(*(path[i + length] - path[i + length - 1])) - np.hypot(*(path[i + length] - path[i - 1]))
    at = np.arange(start, len(rest) + 1)  # put before rest[at]
    ends = at < len(rest)
    closing = np.where(ends, _apart(stretch[-1], rest, at), 0.0)
    joined = np.where(ends, np.hypot(*(rest[np.minimum(at, len(rest) - 1)] - rest[at - 1]).T), 0.0)
    cost = np.hypot(*(stretch[0] - rest[at - 1]).T) + closing - joined
    best = int(cost.argmin())
    if out - cost[best] <= 1e-9:
        return False
    to = int(at[best])
    path[:] = np.insert(rest, to, stretch, axis=0)
    moved = order[i : i + length]
    del order[i : i + length]
    order[to:to] = moved
    return True


def _apart(points: Floats, path: Floats, index: NDArray[np.intp]) -> Floats:
    return np.asarray(np.hypot(*(points - path[np.minimum(index, len(path) - 1)]).T))


def _started(rings: Sequence[CurveRing], home: Floats) -> list[CurveRing]:
    """Return each ring begun, and each open line run, where the way from the last and to the next is shortest."""
    choices = [_choices(ring) for ring in rings]
    enters = [np.array([choice.cubics[0, 0] for choice in ways]) for ways in choices]
    leaves = [np.array([choice.cubics[-1, 3] for choice in ways]) for ways in choices]
    chosen = [0] * len(rings)
    for _ in range(4):
        changed = False
        for index in range(len(rings)):
            before = home if index == 0 else leaves[index - 1][chosen[index - 1]]
            way = np.hypot(*(enters[index] - before).T)
            if index + 1 < len(rings):
                way = way + np.hypot(*(leaves[index] - enters[index + 1][chosen[index + 1]]).T)
            best = int(way.argmin())
            changed |= best != chosen[index]
            chosen[index] = best
        if not changed:
            break
    return [ways[k] for ways, k in zip(choices, chosen, strict=True)]


def _choices(ring: CurveRing) -> list[CurveRing]:
    """Return how a ring may be cut: from each of its starts, or an open line from either end."""
    if ring.closed:
        return [_from(ring, node) for node in _starts(ring)]
    return [ring, CurveRing(ring.cubics[::-1, ::-1], ring.straight[::-1], closed=False)]


def with_smooth_start(ring: CurveRing) -> CurveRing:
    """Return a ring with a node, away from sharp corners, that a cut can begin at; the curve stays what it is."""
    if not ring.closed or _smooth_nodes(ring):
        return ring
    lengths = np.hypot(*(ring.cubics[:, 3] - ring.cubics[:, 0]).T)
    longest = int(lengths.argmax())
    halves = _halved(ring.cubics[longest])
    cubics = np.concatenate([ring.cubics[:longest], halves, ring.cubics[longest + 1 :]])
    straight = np.insert(ring.straight, longest, ring.straight[longest])
    return CurveRing(cubics, straight)


def _halved(cubic: Floats) -> Floats:
    """Return a cubic as two (de Casteljau)."""
    a, b, c, d = cubic
    ab, bc, cd = (a + b) / 2, (b + c) / 2, (c + d) / 2
    abc, bcd = (ab + bc) / 2, (bc + cd) / 2
    middle = (abc + bcd) / 2
    return np.array([[a, ab, abc, middle], [middle, bcd, cd, d]])


def _starts(ring: CurveRing) -> list[int]:
    smooth = _smooth_nodes(ring) or [0]
    return smooth[:: max(1, -(-len(smooth) // _MOST_STARTS))]


def _smooth_nodes(ring: CurveRing) -> list[int]:
    """Return the nodes where the ring does not turn sharply and that lie away from where it does."""
    turns = turns_deg(ring)
    nodes = ring.cubics[:, 0]
    sharp = nodes[turns > _SHARP_DEG]
    smooth = np.flatnonzero(turns <= _SHARP_DEG)
    if not len(sharp):
        return [int(index) for index in smooth]
    away = np.array([np.hypot(*(sharp - nodes[index]).T).min() for index in smooth])
    far = smooth[away >= _AWAY_MM]
    if len(far):
        return [int(index) for index in far]
    return [int(smooth[away.argmax()])] if len(smooth) else []


def turns_deg(ring: CurveRing) -> Floats:
    """Return by how many degrees a closed ring turns at each node."""
    leaving = _tangents(ring.cubics)
    arriving = -_tangents(ring.cubics[:, ::-1])
    before = np.roll(arriving, 1, axis=0)
    cosine = np.clip((leaving * before).sum(axis=1), -1, 1)
    return np.asarray(np.degrees(np.arccos(cosine)))


def _tangents(cubics: Floats) -> Floats:
    """Return unit tangents at the starts of cubics, from the first control point that differs."""
    steps = cubics[:, 1:] - cubics[:, :1]
    lengths = np.hypot(steps[..., 0], steps[..., 1])
    pick = (lengths > 1e-9).argmax(axis=1)
    rows = np.arange(len(cubics))
    return np.asarray(steps[rows, pick] / np.maximum(lengths[rows, pick], 1e-12)[:, None])


def _from(ring: CurveRing, node: int) -> CurveRing:
    if node == 0:
        return ring
    return CurveRing(np.roll(ring.cubics, -node, axis=0), np.roll(ring.straight, -node), ring.closed)
