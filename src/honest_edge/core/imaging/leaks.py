"""Gaps in a drawn outline through which the background flows in.

The background is flooded through gaps of growing width: where the flood from outside is held back by a
closing of radius r and then regrown, what it no longer reaches is a pocket behind a gap narrower than 2 r.
"""

from __future__ import annotations

import math
from collections.abc import Iterator, Sequence
from dataclasses import dataclass, replace

import cv2
import numpy as np
from numpy.typing import NDArray

from honest_edge.core.imaging.flood import Bytes, Mask, connected_to_border
from honest_edge.core.values.specs import Point

_OFFERED_SHARES = (1 / 150, 1 / 90, 1 / 50)  # of the picture's longer side: wider gaps are a shape, no slip
_DAMMED_SHARE = 0.08  # a smaller pocket may well be a bay of the art that nearly closes: it is shown, not dammed
_ONE_COLOUR = 60.0  # levels within which two ends of a line have one colour
_MOST_SOUGHT_PX = 20_000_000  # a larger picture is searched for the gaps that are dammed, no wider ones
_SOUGHT_RADIUS_PX = 8  # a gap is found as well in a picture so much reduced
_DAM_OVER = 0.008  # widths of the picture
_RING_PX = 600  # longer side at which an open ring is looked for
_RING_SHARE, _LINE_SHARE = (
    0.15,
    0.3,
)  # of the picture that a ring goes round; of what it goes round that its line covers
_BAY_DEPTH, _WIDEST_MOUTH = 0.6, 0.55  # in diameters of a disc as large: a sixth of a ring is 0.5 wide
_DEFAULT_ROOM, _OFFERED_ROOM = 2.0, 3.0  # a pocket is at least so many radii deep, or it is a notch in the art

_MOST_POCKETS = 60  # hatching and grain have thousands, and no outline that was to be closed
_MOST_TOLD = 10


@dataclass(frozen=True, slots=True, kw_only=True)
class Leak:
    """A gap in an outline; places in widths of the picture.

    Attributes:
        start, end: the gap's two sides, where it is narrowest.
        width: the gap, in widths of the picture.
        pocket: area behind it, in squares of the picture's width.
        dammed: whether it was closed by itself.
    """

    start: Point
    end: Point
    width: float
    pocket: float
    dammed: bool

    @property
    def middle(self) -> Point:
        """The place to show."""
        return (self.start[0] + self.end[0]) / 2, (self.start[1] + self.end[1]) / 2


@dataclass(frozen=True, slots=True)
class _Gap:
    start: tuple[int, int]  # x, y of the barrier's pixels on either side
    end: tuple[int, int]
    pocket_px: int

    def larger(self, factor: int) -> _Gap:
        """The gap in a picture that was reduced so much, at the middles of its pixels."""

        def of(place: tuple[int, int]) -> tuple[int, int]:
            return place[0] * factor + factor // 2, place[1] * factor + factor // 2

        return _Gap(of(self.start), of(self.end), self.pocket_px * factor**2)

    @property
    def width_px(self) -> float:
        return math.dist(self.start, self.end) - 1

    @property
    def middle(self) -> tuple[float, float]:
        return (self.start[0] + self.end[0]) / 2, (self.start[1] + self.end[1]) / 2


def dammed(
    like: Mask, rgb: Bytes, *, dam_px: float, left_open: Sequence[tuple[float, float]], seek: bool
) -> tuple[Mask, tuple[Leak, ...]]:
    """Return what the background reaches once narrow gaps are dammed, and every gap that was found.

    Args:
        like: (h, w), pixels of the background's colour.
        rgb: the picture.
        dam_px: widest gap that is dammed.
        left_open: places in pixels; a gap near one is not dammed.
        seek: look for wider gaps as well.
    """
    width = like.shape[1]
    outside = connected_to_border(like)
    leaks: list[Leak] = []
    if dam_px > 0:
        barrier, enclosed_px = like.copy(), like.size - np.count_nonzero(outside)
        for gap in _gaps(like, outside, dam_px / 2 + 0.5, _DEFAULT_ROOM):
            is_large = gap.pocket_px >= _DAMMED_SHARE * (enclosed_px + gap.pocket_px)
            is_open = not (is_large or _is_in_one_line(gap, like, rgb))
            is_open |= any(math.dist(gap.middle, place) <= 2 * dam_px + 4 for place in left_open)
            if not is_open:
                _dam(barrier, gap)
            leaks.append(_leak(gap, width, dammed=not is_open))
        if any(leak.dammed for leak in leaks):
            outside = connected_to_border(barrier)
    if seek and like.size <= _MOST_SOUGHT_PX:
        leaks += _offered(like, outside, dam_px, [leak for leak in leaks if not leak.dammed])
        leaks += [
            ring for ring in _open_ring(outside) if not _is_near(ring, [leak.middle for leak in leaks], ring.width)
        ]
        known = [(x / width, y / width) for x, y in left_open]
        leaks = [leak for leak in leaks if leak.dammed or not _is_near(leak, known, (2 * dam_px + 4) / width)]
    return outside, tuple(leaks)


def told(leaks: Sequence[Leak]) -> tuple[Leak, ...]:
    """Return the gaps that are worth a line each: the open ones first, then those before the largest pockets."""
    if len(leaks) <= _MOST_TOLD:
        return tuple(leaks)
    return tuple(sorted(leaks, key=lambda leak: (leak.dammed, -leak.pocket))[:_MOST_TOLD])


def _is_near(leak: Leak, places: Sequence[Point], reach: float) -> bool:
    return any(math.dist(leak.middle, place) <= reach for place in places)


def _is_in_one_line(gap: _Gap, like: Mask, rgb: Bytes) -> bool:
    """Return whether both sides of a gap are a thin line of one colour: an outline that was not closed."""
    reach = max(8, max(like.shape) // 80)
    seen = []
    for x, y in (gap.start, gap.end):
        top, left = max(0, y - 2 * reach), max(0, x - 2 * reach)
        window = (slice(top, y + 2 * reach + 1), slice(left, x + 2 * reach + 1))
        depth = cv2.distanceTransform((~like[window]).astype(np.uint8), cv2.DIST_L2, cv2.DIST_MASK_5)
        near = np.zeros(depth.shape, np.uint8)
        cv2.circle(near, (x - left, y - top), reach, 1, -1)
        depth = np.where(near > 0, depth, 0)
        deepest = float(depth.max())
        if deepest > reach / 2:
            return False
        seen.append(np.median(rgb[window][depth >= 0.7 * deepest], axis=0))
    return float(np.linalg.norm(seen[0] - seen[1])) <= _ONE_COLOUR


def _offered(like: Mask, outside: Mask, dam_px: float, known: Sequence[Leak]) -> list[Leak]:
    height, width = like.shape
    offered: list[Leak] = []
    for share in _OFFERED_SHARES:
        radius = share * max(height, width)
        if radius <= dam_px / 2 + 0.5:
            continue
        factor = 1 if share == _OFFERED_SHARES[0] else max(1, int(radius / _SOUGHT_RADIUS_PX))
        small = _smaller(outside, factor)
        for gap in _gaps(small, small, radius / factor, _OFFERED_ROOM):
            leak = _leak(gap.larger(factor), width, dammed=False)
            seen = [*known, *offered]
            if not any(math.dist(leak.middle, other.middle) <= 2 * radius / width for other in seen):
                offered.append(leak)
    return offered


def _smaller(outside: Mask, factor: int) -> Mask:
    """Return a reduced mask where only what is wholly outside is so: no thin line is lost, what closes is narrow."""
    if factor == 1:
        return outside
    height, width = outside.shape
    below, right = -height % factor, -width % factor
    whole = np.pad(outside, ((0, below), (0, right)), constant_values=True)
    return np.asarray(whole.reshape(whole.shape[0] // factor, factor, -1, factor).all(axis=(1, 3)))


def _open_ring(outside: Mask) -> Iterator[Leak]:
    """Yield the mouth of a drawing that is one thin line nearly round its inside, such as a ring that was not closed.

    The hull of such a line has one deep bay, and the hull's edge across it is the gap. It is too wide for a closing to
    bridge it without filling all else.
    """
    height, width = outside.shape
    factor = min(1.0, _RING_PX / max(height, width))
    small = cv2.resize((~outside).astype(np.uint8), None, fx=factor, fy=factor, interpolation=cv2.INTER_AREA)
    lines, _ = cv2.findContours(small, cv2.RETR_EXTERNAL, cv2.CHAIN_APPROX_NONE)
    line = max(lines, key=lambda points: cv2.contourArea(cv2.convexHull(points)), default=None)
    if line is None or len(line) < 20:
        return
    hull = cv2.convexHull(line)
    around = float(cv2.contourArea(hull))
    if around < _RING_SHARE * small.size or cv2.contourArea(line) > _LINE_SHARE * around:
        return
    across = math.sqrt(4 * around / math.pi)
    defects = cv2.convexityDefects(line, cv2.convexHull(line, returnPoints=False))
    known = np.zeros((0, 4), int) if defects is None else np.reshape(defects, (-1, 4))
    bays = [bay for bay in known if bay[3] / 256 > _BAY_DEPTH * across]  # the depth is fixed-point
    if len(bays) != 1:
        return
    places = np.reshape(line, (-1, 2))
    start, end = (places[bays[0][side]] for side in (0, 1))
    gap = math.dist(start, end)
    if gap <= _WIDEST_MOUTH * across:
        ends = [((float(x) + 0.5) / factor / width, (float(y) + 0.5) / factor / width) for x, y in (start, end)]
        pocket = around / factor**2 / width**2
        yield Leak(start=ends[0], end=ends[1], width=gap / factor / width, pocket=pocket, dammed=False)


def _leak(gap: _Gap, width: int, *, dammed: bool) -> Leak:
    start, end = (((x + 0.5) / width, (y + 0.5) / width) for x, y in (gap.start, gap.end))
    return Leak(start=start, end=end, width=gap.width_px / width, pocket=gap.pocket_px / width**2, dammed=dammed)


def as_dam(leak: Leak) -> tuple[Point, Point]:
    """Return the line that closes a leak, drawn a little into the outline on either side."""
    (x0, y0), (x1, y1) = leak.start, leak.end
    over = min(0.2, _DAM_OVER / max(leak.width, 1e-9))  # no stub beside the line where the gap is wide
    return (
        (x0 + over * (x0 - x1), y0 + over * (y0 - y1)),
        (x1 + over * (x1 - x0), y1 + over * (y1 - y0)),
    )


def _dam(like: Mask, gap: _Gap) -> None:
    line = np.zeros(like.shape, np.uint8)
    cv2.line(line, gap.start, gap.end, 255, 2)
    like[line > 0] = False


def _gaps(like: Mask, outside: Mask, radius: float, room: float) -> Iterator[_Gap]:
    """Yield the gaps narrower than twice ``radius`` behind which lies a pocket ``room`` radii deep."""
    margin = math.ceil(radius) + 2
    padded = np.pad(like, margin, constant_values=True).astype(np.uint8)
    depth = np.asarray(cv2.distanceTransform(padded, cv2.DIST_L2, cv2.DIST_MASK_5), np.float32)
    held = _regrown(connected_to_border(depth > radius), np.pad(outside, margin, constant_values=True), radius)
    pockets = np.pad(outside, margin) & ~held
    if not (depth[pockets] > room * radius).any():
        return
    count, labels, boxes, _ = cv2.connectedComponentsWithStats(pockets.astype(np.uint8), connectivity=4)
    largest = np.arange(1, count)
    if count > _MOST_POCKETS:
        largest = 1 + np.argsort(-boxes[1:, cv2.CC_STAT_AREA], kind="stable")[:_MOST_POCKETS]
    seen = 0
    for label in largest.tolist():
        if seen >= _MOST_POCKETS:
            return
        left, top, wide, high, area = (int(value) for value in boxes[label])
        window = (slice(top - 1, top + high + 1), slice(left - 1, left + wide + 1))
        pocket = labels[window] == label
        if depth[window][pocket].max() <= room * radius:
            continue
        mouth = pocket & (cv2.dilate(held[window].astype(np.uint8), np.ones((3, 3), np.uint8)) > 0)
        for x, y in _mouths(mouth, depth[window]):
            gap = _narrowest(padded == 0, (x + left - 1, y + top - 1), radius, area)
            if gap is not None:
                seen += 1
                yield replace(
                    gap,
                    start=(gap.start[0] - margin, gap.start[1] - margin),
                    end=(gap.end[0] - margin, gap.end[1] - margin),
                )


def _regrown(seed: Mask, within: Mask, radius: float) -> Mask:
    """Grow ``seed`` by ``radius`` without leaving ``within`` (geodesic dilation, octagonal steps)."""
    grown, limit = seed.astype(np.uint8), within.astype(np.uint8)
    cross = cv2.getStructuringElement(cv2.MORPH_CROSS, (3, 3))
    box = np.ones((3, 3), np.uint8)
    for step in range(math.ceil(radius) + 1):
        grown = np.asarray(cv2.dilate(grown, box if step % 2 else cross), np.uint8) & limit
    return grown > 0


def _mouths(mouth: Mask, depth: NDArray[np.float32]) -> Iterator[tuple[int, int]]:
    """Yield the middle of every place where a pocket meets the outside."""
    count, labels = cv2.connectedComponents(mouth.astype(np.uint8), connectivity=8)
    for label in range(1, count):
        ys, xs = np.nonzero(labels == label)
        best = int(depth[ys, xs].argmax())
        yield int(xs[best]), int(ys[best])


def _narrowest(barrier: Mask, place: tuple[int, int], radius: float, area: int) -> _Gap | None:
    """Return the narrowest passage between the barrier's two sides near a place in the channel."""
    reach = math.ceil(2 * radius + 3)
    x, y = place
    top, left = max(0, y - reach), max(0, x - reach)
    window = barrier[top : y + reach + 1, left : x + reach + 1]
    _, labels = cv2.connectedComponents(window.astype(np.uint8), connectivity=8)
    ys, xs = np.nonzero(labels)
    side = labels[ys, xs]
    places = np.stack([xs + left, ys + top], axis=1)
    away = np.hypot(*(places - place).T)
    if len(np.unique(side)) < 2:
        return None  # one wall round a bay, no gap between two ends
    first = side[away.argmin()]
    second = side[np.where(side == first, np.inf, away).argmin()]
    one, two = places[side == first], places[side == second]
    gaps = np.hypot(one[:, None, 0] - two[None, :, 0], one[:, None, 1] - two[None, :, 1])
    a, b = np.unravel_index(int(gaps.argmin()), gaps.shape)
    if gaps[a, b] - 1 > 2 * radius:
        return None
    return _Gap((int(one[a, 0]), int(one[a, 1])), (int(two[b, 0]), int(two[b, 1])), area)
