"""A page that was photographed aslant: its four corners, and the page as if seen from straight above."""

from __future__ import annotations

import math
from itertools import pairwise

import cv2
import numpy as np
from numpy.typing import NDArray

from honest_edge.core.geometry.paths import Floats
from honest_edge.core.imaging.paper import is_drawing_on_paper
from honest_edge.core.values.errors import ArtError
from honest_edge.core.values.specs import Point

Corners = tuple[Point, Point, Point, Point]
"""Upper left, upper right, lower right, lower left, in shares of the picture's width and height."""

_LOOKED_AT_PX = 480
_LEAST_SHARE, _MOST_SHARE = 0.15, 0.97
"""Of the picture, for what may be a page in it: less is a thing that lies there, more is all there is."""
_LEAST_FULL = 0.93
"""Of its four corners' area that a page covers: its sides are straight."""
_LEAST_CONTRAST = 25.0
"""Levels by which a page is lighter than what it lies on."""
_SKEW = 0.02
"""Of the picture: corners that are no farther from those of an upright page need no setting."""
_MOST_PX = 60_000_000
_RIM = 0.03
_FLAT = 1e-4
_LENSES, _ASSUMED_LENS = (0.4, 4.0), 0.85
"""Focal lengths in longer sides of the picture: of any lens there is, and of a telephone's; from memory."""


def page_corners(pixels: NDArray[np.uint8]) -> Corners | None:
    """Return the corners of a light page, drawn on, that lies aslant on a darker ground; None where none is seen.

    Args:
        pixels: (h, w, 3 or 4) uint8.
    """
    height, width = pixels.shape[:2]
    factor = min(1.0, _LOOKED_AT_PX / max(height, width))
    size = (max(8, round(width * factor)), max(8, round(height * factor)))
    colours = np.ascontiguousarray(pixels[..., :3])
    small = np.asarray(cv2.resize(colours, size, interpolation=cv2.INTER_AREA), np.uint8)
    light = cv2.medianBlur(np.ascontiguousarray(small.min(axis=2)), 7)
    _, inked = cv2.threshold(light, 0, 255, cv2.THRESH_BINARY | cv2.THRESH_OTSU)
    whole = cv2.morphologyEx(inked, cv2.MORPH_CLOSE, np.ones((9, 9), np.uint8))
    shapes, _ = cv2.findContours(whole, cv2.RETR_EXTERNAL, cv2.CHAIN_APPROX_NONE)
    if not shapes:
        return None
    page = max(shapes, key=cv2.contourArea)
    left, top, wide, high = cv2.boundingRect(page)
    if min(left, top) < 2 or left + wide > size[0] - 2 or top + high > size[1] - 2:
        return None  # it goes on outside of the picture
    inside = np.zeros(light.shape, np.uint8)
    cv2.drawContours(inside, [page], -1, 1, -1)
    share = float(inside.mean())
    if not _LEAST_SHARE <= share <= _MOST_SHARE:
        return None
    if float(np.median(light[inside > 0])) - float(np.median(light[inside == 0])) < _LEAST_CONTRAST:
        return None
    quad = four_corners(np.asarray(page, np.int32))
    full = 0.0 if quad is None else cv2.contourArea(page) / max(1.0, cv2.contourArea(quad.astype(np.float32)))
    if quad is None or not _LEAST_FULL <= full <= 1 / _LEAST_FULL:
        return None
    corners = _in_order((quad + 0.5) / size)
    if _is_upright(corners) or not is_drawing_on_paper(_inner(set_upright(small, corners))):
        return None
    return corners


def _inner(page: NDArray[np.uint8]) -> NDArray[np.uint8]:
    """Return a page without its outermost edge, where its shadow and what lies under it may show."""
    rim = max(1, round(_RIM * min(page.shape[:2])))
    return page[rim:-rim, rim:-rim]


def four_corners(contour: NDArray[np.int32]) -> Floats | None:
    """Return the four corners of a contour's hull, each where two fitted sides meet, (4, 2) pixels."""
    hull = cv2.convexHull(contour)
    around = cv2.arcLength(hull, True)
    for share in np.linspace(0.01, 0.08, 15):
        rough = cv2.approxPolyDP(hull, float(share) * around, True)
        if len(rough) == 4:
            break
    else:
        return None
    corners = rough.reshape(4, 2).astype(np.float64)
    places = contour.reshape(-1, 2).astype(np.float64)
    sides = []
    for one, two in pairwise([*corners, corners[0]]):
        along = (two - one) / max(float(np.hypot(*(two - one))), 1e-9)
        at = (places - one) @ along / max(float(np.hypot(*(two - one))), 1e-9)
        off = np.abs((places - one) @ np.array([-along[1], along[0]]))
        near = places[(at > 0.08) & (at < 0.92) & (off < 0.03 * around)]
        if len(near) < 8:
            return corners
        x, y, x0, y0 = cv2.fitLine(near.astype(np.float32), cv2.DIST_HUBER, 0, 0.01, 0.01).ravel().tolist()
        sides.append(np.cross([x0, y0, 1.0], [x0 + x, y0 + y, 1.0]))
    meets = [np.cross(sides[at - 1], sides[at]) for at in range(4)]
    if any(abs(meet[2]) < _FLAT for meet in meets):
        return corners
    return np.array([meet[:2] / meet[2] for meet in meets])


def _in_order(places: Floats) -> Corners:
    """Return four places clockwise from the upper left."""
    middle = places.mean(axis=0)
    around = places[np.argsort(np.arctan2(*(places - middle).T[::-1]))]
    first = int(np.argmin(around.sum(axis=1)))
    ordered = np.roll(around, -first, axis=0).tolist()
    return tuple((float(x), float(y)) for x, y in ordered)  # type: ignore[return-value]


def _is_upright(corners: Corners) -> bool:
    (left, top), (right, upper), (outer, bottom), (inner, lower) = corners
    return max(abs(left - inner), abs(right - outer), abs(top - upper), abs(bottom - lower)) < _SKEW


def set_upright(pixels: NDArray[np.uint8], corners: Corners) -> NDArray[np.uint8]:
    """Return the page between four corners as if it had been seen from straight above.

    Its sides' ratio is that of the page itself, found from what perspective does to it (Zhang and He, Whiteboard
    scanning and image enhancement, 2007, section 3.1.2), with the picture's middle where the lens looked.

    Raises:
        ArtError: the corners are no four corners of a page.
    """
    height, width = pixels.shape[:2]
    places = np.array(corners) * [width, height]
    size = upright_size((width, height), corners)
    target = np.array([(0, 0), (size[0], 0), size, (0, size[1])], np.float32) - 0.5  # pixels' middles at whole numbers
    warp = cv2.getPerspectiveTransform((places - 0.5).astype(np.float32), target)
    return np.asarray(cv2.warpPerspective(pixels, warp, size, flags=cv2.INTER_AREA, borderMode=cv2.BORDER_REPLICATE))


def upright_size(size_px: tuple[int, int], corners: Corners) -> tuple[int, int]:
    """Return width and height in pixels of the page in a picture so large, once it is set upright.

    Raises:
        ArtError: the corners are no four corners of a page.
    """
    width, height = size_px
    places = np.array(corners) * [width, height]
    if not cv2.isContourConvex(places.astype(np.float32)) or cv2.contourArea(places.astype(np.float32)) < 64:
        raise ArtError("The four corners of the page do not go round it: put each on its own corner")
    ratio = _ratio(places - [width / 2, height / 2], max(width, height))
    sides = [float(np.hypot(*(two - one))) for one, two in pairwise([*places, places[0]])]
    wide = max(sides[0], sides[2], ratio * max(sides[1], sides[3]))
    scale = min(1.0, math.sqrt(_MOST_PX / (wide * wide / ratio)))
    return max(2, round(scale * wide)), max(2, round(scale * wide / ratio))


def _ratio(places: Floats, longer: float) -> float:
    """Return width by height of the page whose corners are seen at (4, 2) places round the middle of a picture.

    Where two sides are seen parallel nothing tells the lens, and that of a telephone is assumed.
    """
    left, right, outer, inner = (np.array([x, y, 1.0]) for x, y in places)
    across = np.cross(left, outer) @ inner / (np.cross(right, outer) @ inner) * right - left
    down = np.cross(left, outer) @ right / (np.cross(inner, outer) @ right) * inner - left
    focal = math.inf
    if abs(across[2] * down[2]) > _FLAT:
        focal = -(across[0] * down[0] + across[1] * down[1]) / (across[2] * down[2])
    least, most = ((limit * longer) ** 2 for limit in _LENSES)
    if not least < focal < most:
        focal = (_ASSUMED_LENS * longer) ** 2
    by = np.array([1 / focal, 1 / focal, 1.0])
    return float(math.sqrt((across**2 @ by) / (down**2 @ by)))
