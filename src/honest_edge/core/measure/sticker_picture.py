"""A scan or a photograph of weeded stickers of a known job: where each cut lies against its art.

The art is found by its features and laid over the print as it was written, sticker by sticker; then the edge of each
sticker is followed along the normals of its planned cut. What is told is how far the one lies from the other. Art
without detail cannot be laid over anything, and is refused.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import cv2
import numpy as np
from numpy.typing import NDArray

from honest_edge.core.geometry.corners import resample
from honest_edge.core.geometry.paths import Floats
from honest_edge.core.imaging.flood import Bytes
from honest_edge.core.measure.bent import Mapping, bent, projective
from honest_edge.core.measure.sheet_error import LEAST_PLACES
from honest_edge.core.values.errors import BlockedError
from honest_edge.core.values.measured import MeasuredPlace

_FEATURES, _SEARCH_PX, _LEAST_MATCHES = 6000, 1800, 12
_STRAY_MM, _NEAR_MM, _LEAST_CUBIC = 2.0, 3.0, 60
_RING_POINTS, _REACH_MM, _STEP_MM = 240, 1.3, 0.02
_LEAST_TEXTURE, _LEAST_ALIKE, _LEAST_STEP = 4.0, 0.85, 5.0
_TUKEY, _LEAST_SHARE, _MOST_ROUGH_MM = 4.685, 0.5, 0.12


@dataclass(frozen=True, slots=True, kw_only=True, eq=False)
class PlannedSticker:
    """One sticker as it was planned, millimetres on the sheet.

    Attributes:
        ring_mm: (n, 2) its cut, closed, running round.
        inward_mm: how far inside the cut the print shows no edge of its own.
    """

    ring_mm: Floats
    inward_mm: float

    @property
    def middle_mm(self) -> Floats:
        """The middle of its box."""
        return np.asarray((self.ring_mm.min(0) + self.ring_mm.max(0)) / 2)


def measured_stickers(
    grey: Bytes, page: Bytes, px_per_mm: float, stickers: Sequence[PlannedSticker], middle_mm: Floats, name: str
) -> tuple[MeasuredPlace, ...]:
    """Return one place a sticker.

    Args:
        grey: the picture.
        page: the print as it was written, grey levels.
        px_per_mm: how fine ``page`` is.
        stickers: that lie on the sheet.
        middle_mm: (2,) the marks' middle on the sheet.
        name: of the picture, for messages.

    Raises:
        BlockedError: the art cannot be found in the picture, or too few stickers can be told.
    """
    to_picture = _found_page(grey, page, px_per_mm, name)
    places = tuple(_measured(grey, page, px_per_mm, sticker, to_picture, middle_mm) for sticker in stickers)
    used = sum(place.used for place in places)
    if used < LEAST_PLACES:
        reasons = "; ".join(dict.fromkeys(place.why for place in places if place.why))
        raise BlockedError(
            f"{name}: {used} of {len(places)} stickers can be told, and {LEAST_PLACES} are needed ({reasons}): "
            "measure a target instead"
        )
    return places


def _found_page(grey: Bytes, page: Bytes, px_per_mm: float, name: str) -> Mapping:
    """Return the map from the sheet's millimetres to the picture's pixels."""
    seen, seen_at, seen_share = features(grey)
    known, known_at, known_share = features(page)
    if len(seen_at) < _LEAST_MATCHES or len(known_at) < _LEAST_MATCHES:
        raise BlockedError(f"{name}: the art is too plain to be found in a picture: measure a target instead")
    scale = 1 / (px_per_mm * known_share)  # of a smaller copy's pixel, in millimetres
    pairs = cv2.BFMatcher(cv2.NORM_L2, crossCheck=True).match(known.astype(np.float32), seen.astype(np.float32))
    there = known_at[[pair.queryIdx for pair in pairs]] * scale
    here = seen_at[[pair.trainIdx for pair in pairs]]
    if len(pairs) < _LEAST_MATCHES:
        raise BlockedError(f"{name} does not show this job’s stickers")
    affine, inside = cv2.estimateAffinePartial2D(there, here, method=cv2.RANSAC, ransacReprojThreshold=12.0,
                                                maxIters=20_000, confidence=0.999)  # fmt: skip
    if affine is None or int(inside.sum()) < _LEAST_MATCHES:
        raise BlockedError(f"{name} does not show this job’s stickers, or not sharply enough")
    # alike stickers were mixed up before: look again where each feature must be
    fine = float(np.sqrt(abs(np.linalg.det(affine[:, :2]))))
    expected = known_at * scale @ affine[:, :2].T + affine[:, 2]
    matched = _matched_nearby(known, expected, seen, seen_at, _NEAR_MM * fine)
    if len(matched) < _LEAST_MATCHES:
        raise BlockedError(f"{name} does not show this job’s stickers, or not sharply enough")
    there, here = known_at[matched[:, 0]] * scale, seen_at[matched[:, 1]]
    matrix, good = cv2.findHomography(there, here, cv2.RANSAC, _STRAY_MM * fine)
    if matrix is None or int(good.sum()) < _LEAST_MATCHES:
        raise BlockedError(f"{name}: its stickers lie otherwise than this job’s sheet has them")
    whole, kept = np.asarray(matrix, float), good.ravel() > 0
    flat = projective(whole)
    back = projective(np.linalg.inv(whole))
    middle = np.array(page.shape[::-1]) / px_per_mm / 2
    order = 3 if int(kept.sum()) >= _LEAST_CUBIC else 2
    there, here = there[kept], here[kept]
    curved = bent(flat, there, back(here) - there, middle, order=order)
    return lambda places: (curved(places) + 0.5) / seen_share - 0.5


def features(picture: Bytes, most: int = _FEATURES, side_px: int = _SEARCH_PX) -> tuple[Floats, Floats, float]:
    """Return descriptors and places of features in a smaller copy, and its scale (D. Lowe, SIFT, 2004)."""
    share = min(1.0, side_px / max(picture.shape))
    small = cv2.resize(picture, None, fx=share, fy=share, interpolation=cv2.INTER_AREA) if share < 1 else picture
    points, descriptors = cv2.SIFT.create(nfeatures=most).detectAndCompute(small, None)
    if not points:
        return np.empty((0, 128)), np.empty((0, 2)), share
    return np.asarray(descriptors, float), np.array([point.pt for point in points], float), share


def _matched_nearby(known: Floats, expected: Floats, seen: Floats, seen_at: Floats, reach: float) -> Floats:
    """Return (n, 2) numbers of features that belong together, each the most alike within reach of where it must be."""
    from scipy.spatial import cKDTree

    near = cKDTree(seen_at).query_ball_point(expected, reach)
    pairs = []
    for number, candidates in enumerate(near):
        if not candidates:
            continue
        apart = np.linalg.norm(seen[candidates] - known[number], axis=1)
        best = int(apart.argmin())
        if apart[best] < 250:
            pairs.append((number, candidates[best]))
    return np.array(pairs, int).reshape(-1, 2)


def _measured(
    grey: Bytes, page: Bytes, px_per_mm: float, sticker: PlannedSticker, to_picture: Mapping, middle_mm: Floats
) -> MeasuredPlace:
    x, y = (sticker.middle_mm - middle_mm).tolist()

    def left_out(why: str) -> MeasuredPlace:
        return MeasuredPlace(x_mm=x, y_mm=y, dx_mm=np.nan, dy_mm=np.nan, used=False, why=why)

    local = _laid_over(grey, page, px_per_mm, sticker, to_picture)
    if isinstance(local, str):
        return left_out(local)
    edge = _edge_offset(grey, sticker, local)
    if isinstance(edge, str):
        return left_out(edge)
    dx, dy = edge.tolist()
    return MeasuredPlace(x_mm=x, y_mm=y, dx_mm=dx, dy_mm=dy)


def _laid_over(
    grey: Bytes, page: Bytes, px_per_mm: float, sticker: PlannedSticker, to_picture: Mapping
) -> Mapping | str:
    """Return the map of one sticker's print into the picture, or why there is none.

    The parametric alignment of G. Evangelidis and E. Psarakis (PAMI 30, 2008), which OpenCV has.
    """
    corner = np.floor((sticker.ring_mm.min(0) - 2) * px_per_mm).astype(int)
    end = np.ceil((sticker.ring_mm.max(0) + 2) * px_per_mm).astype(int)
    corner, end = np.maximum(corner, 0), np.minimum(end, page.shape[::-1])
    planned = page[corner[1] : end[1], corner[0] : end[0]].astype(np.float32)
    mask = np.zeros(planned.shape, np.uint8)
    ring = np.round(((sticker.ring_mm * px_per_mm) - 0.5 - corner) * 16).astype(np.int32)
    cv2.fillPoly(mask, [ring], 255, shift=4)
    mask = np.asarray(cv2.erode(mask, np.ones((3, 3), np.uint8), iterations=max(1, round(0.9 * px_per_mm))), np.uint8)
    if not mask.any() or _texture(planned, mask) < _LEAST_TEXTURE:
        return "its art is too plain to be laid over"
    grid = np.stack(np.meshgrid(np.arange(corner[0], end[0]), np.arange(corner[1], end[1])), -1).reshape(-1, 2)
    at = to_picture((grid + 0.5) / px_per_mm).astype(np.float32).reshape(*planned.shape, 2)
    seen = cv2.remap(grey, at[..., 0], at[..., 1], cv2.INTER_LINEAR, borderValue=255).astype(np.float32)
    still = np.eye(2, 3, dtype=np.float32)
    stop = (cv2.TERM_CRITERIA_EPS | cv2.TERM_CRITERIA_COUNT, 80, 1e-6)
    try:
        alike, warp = cv2.findTransformECC(planned, seen, still, cv2.MOTION_AFFINE, stop, mask, 1)
    except cv2.error:
        return "its art cannot be laid over"
    matrix = np.asarray(warp, float)
    if alike < _LEAST_ALIKE or np.abs(matrix[:, :2] - np.eye(2)).max() > 0.03:
        return "its art does not look as it was printed"

    def local(places: Floats) -> Floats:
        pixels = places * px_per_mm - 0.5 - corner
        moved = pixels @ matrix[:, :2].T + matrix[:, 2]
        return to_picture((moved + corner + 0.5) / px_per_mm)

    return local


def _texture(planned: NDArray[np.float32], mask: Bytes) -> float:
    """Return how much levels change a pixel in the direction in which they change the least (C. Harris, 1988)."""
    smooth = cv2.GaussianBlur(planned, (0, 0), 1.2)
    across, down = cv2.Sobel(smooth, cv2.CV_32F, 1, 0) / 8, cv2.Sobel(smooth, cv2.CV_32F, 0, 1) / 8
    inside = mask > 0
    a, b, c = (float(np.mean(np.asarray(v)[inside])) for v in (across * across, across * down, down * down))
    return float(np.sqrt(max(0.0, (a + c) / 2 - np.hypot((a - c) / 2, b)))) * 4


def _edge_offset(grey: Bytes, sticker: PlannedSticker, local: Mapping) -> Floats | str:
    """Return how far the edge lies from the planned cut, or why that cannot be told."""
    length = float(np.linalg.norm(np.diff(sticker.ring_mm, axis=0, append=sticker.ring_mm[:1]), axis=1).sum())
    ring = resample(sticker.ring_mm, length / _RING_POINTS)
    along = np.roll(ring, -1, 0) - np.roll(ring, 1, 0)
    normals = np.stack([along[:, 1], -along[:, 0]], 1) / np.maximum(np.linalg.norm(along, axis=1), 1e-9)[:, None]
    if _area(ring) < 0:
        normals = -normals
    steps = np.arange(-min(_REACH_MM, sticker.inward_mm), _REACH_MM, _STEP_MM)
    at = local((ring[:, None] + normals[:, None] * steps[None, :, None]).reshape(-1, 2)).astype(np.float32)
    at = at.reshape(len(ring), len(steps), 2)
    seen = np.asarray(cv2.remap(grey, at[..., 0], at[..., 1], cv2.INTER_LINEAR), float)
    slopes = np.asarray(cv2.GaussianBlur(np.gradient(seen, axis=1), (0, 0), sigmaX=4.0, sigmaY=1.0))
    sign = 1.0 if np.abs(np.maximum(slopes, 0)).max(1).sum() > np.abs(np.minimum(slopes, 0)).max(1).sum() else -1.0
    best = (sign * slopes)[:, 1:-1].argmax(1) + 1
    rows = np.arange(len(ring))
    a, b, c = (sign * slopes[rows, best + n] for n in (-1, 0, 1))
    strong = b * (0.25 / _STEP_MM) > _LEAST_STEP  # levels over a quarter of a millimetre
    if strong.mean() < _LEAST_SHARE:
        return "its cut edge cannot be seen against what lies under it"
    bend = a - 2 * b + c
    part = np.where(np.abs(bend) > 1e-9, 0.5 * (a - c) / np.where(bend == 0, 1, bend), 0.0)
    offset = steps[best] + _STEP_MM * part
    return _rigid(ring - sticker.middle_mm, normals, offset, strong.astype(float))


def _rigid(places: Floats, normals: Floats, found: Floats, weights: Floats) -> Floats | str:
    """Return the shift that puts the planned cut on the edge: least squares with Tukey's weights.

    Beside the shift a turn and a uniform growth are fitted: blur and shadow move the whole edge in or out.
    """
    turn = places[:, 0] * normals[:, 1] - places[:, 1] * normals[:, 0]
    matrix = np.column_stack([normals, turn / 10.0, np.ones(len(found))])
    start, weight = np.median(found[weights > 0]), weights.copy()
    rest = found - start
    for _ in range(30):
        scale = max(1.4826 * float(np.median(np.abs(rest[weights > 0]))), 2e-3)
        weight = weights * np.clip(1 - (rest / (_TUKEY * scale)) ** 2, 0, 1) ** 2
        root = np.sqrt(weight)
        if root.sum() < 12:
            return "its cut edge is not clear"
        fit = np.linalg.lstsq(matrix * root[:, None], found * root, rcond=None)[0]
        rest = found - matrix @ fit
    agree = (weight > 0.05) & (weights > 0)
    if agree.mean() < _LEAST_SHARE or float(np.sqrt(np.mean(rest[agree] ** 2))) > _MOST_ROUGH_MM:
        return "its cut edge is not clear"
    return np.asarray(fit[:2])


def _area(ring: Floats) -> float:
    x, y = ring.T
    return float(np.sum(x * np.roll(y, -1) - np.roll(x, -1) * y)) / 2
