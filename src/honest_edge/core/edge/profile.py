"""The edge profile: what lies across the cut, all along it."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

import cv2
import numpy as np
import shapely
from numpy.typing import NDArray

from honest_edge.core.edge.bleed import PrintArt, rasterised
from honest_edge.core.edge.contour import CutLines
from honest_edge.core.geometry.corners import arc_lengths, resample
from honest_edge.core.geometry.paths import Floats

Trouble = Literal["white", "art"]
"""White would show inside the cut; or art of a bordered sticker would be cut into."""

ALONG_STEP_MM = 0.1
ACROSS_STEP_MM = 0.05
REACH_MM = 4.0
"""How far across the profile looks, on either side."""

RESOLUTION_MM = 0.03
"""Differences below this are the fit's and the sampling's own, and finer than any blade."""

_TOUCHING_MM = 0.15  # ink that ends this close to the cut is meant to reach it
_VISIBLE_CONTRAST = 40.0  # RGB distance from the stock below which a missing colour is not seen
_MERGE_MM = 2.0


@dataclass(frozen=True, slots=True, kw_only=True)
class Spot:
    """A stretch of the cut where the assumed drift shows.

    Attributes:
        trouble: what would be seen.
        along_mm: place of its weakest point, along all rings one after the other.
        start_mm, end_mm: the stretch.
        margin_mm: drift at which it begins to show at the weakest point.
        x_mm, y_mm: the weakest point in the art's frame.
    """

    trouble: Trouble
    along_mm: float
    start_mm: float
    end_mm: float
    margin_mm: float
    x_mm: float
    y_mm: float


@dataclass(frozen=True, slots=True, kw_only=True, eq=False)
class EdgeProfile:
    """Samples along every cut, one ring after the other.

    Attributes:
        along_mm: (n,) distance along the cut.
        points_mm: (n, 2) places in the art's frame.
        outward_mm: (n,) how far ink reaches outward from the cut without a gap; negative where it ends
            inside the cut. Limited to ``REACH_MM`` either way.
        strip: (m, n, 4) uint8, ink colour across; row 0 lies ``REACH_MM`` outside.
        margin_mm: (n,) drift that the place stands before something shows; REACH_MM where nothing can.
        white_first: (n,) True where white would show, False where art would be cut into.
        length_mm: length of the whole cut.
    """

    along_mm: Floats
    points_mm: Floats
    outward_mm: Floats
    strip: NDArray[np.uint8]
    margin_mm: Floats
    white_first: NDArray[np.bool_]
    length_mm: float

    @property
    def reach_mm(self) -> float:
        """How far across the samples look."""
        return REACH_MM

    @property
    def typical_outward_mm(self) -> float:
        """The median of ``outward_mm``: the bleed, or minus the border."""
        return float(np.median(self.outward_mm))

    @property
    def narrowest_mm(self) -> float:
        """The smallest drift at which anything shows."""
        return float(self.margin_mm.min())

    def spots(self, drift_mm: float) -> tuple[Spot, ...]:
        """Return the stretches that do not stand ``drift_mm``, weakest first."""
        weak = np.flatnonzero(self._is_weak(drift_mm))
        if len(weak) == 0:
            return ()
        breaks = np.flatnonzero(np.diff(self.along_mm[weak]) > _MERGE_MM) + 1
        spots = [self._spot(run) for run in np.split(weak, breaks)]
        return tuple(sorted(spots, key=lambda spot: (spot.margin_mm, spot.along_mm)))

    def share_at_risk(self, drift_mm: float) -> float:
        """Return the share of the cut's length that does not stand ``drift_mm``."""
        return float(self._is_weak(drift_mm).mean())

    def _is_weak(self, drift_mm: float) -> NDArray[np.bool_]:
        return np.asarray(self.margin_mm < drift_mm - RESOLUTION_MM)

    def _spot(self, run: NDArray[np.intp]) -> Spot:
        worst = int(run[np.argmin(self.margin_mm[run])])
        return Spot(
            trouble="white" if self.white_first[worst] else "art",
            along_mm=float(self.along_mm[worst]),
            start_mm=float(self.along_mm[run[0]]),
            end_mm=float(self.along_mm[run[-1]]),
            margin_mm=float(self.margin_mm[worst]),
            x_mm=float(self.points_mm[worst, 0]),
            y_mm=float(self.points_mm[worst, 1]),
        )


def profile(cut: CutLines, art: PrintArt, *, stock_rgb: tuple[int, int, int] = (255, 255, 255)) -> EdgeProfile:
    """Walk every cut and look across it.

    Where ink reaches the cut, the margin is how far it reaches beyond: a drift larger than that shows
    stock inside the cut. Where it stops short on purpose (a border), the margin is the border's width
    there: a drift larger than that cuts into the art.
    """
    points, normals, along, length = _walk(cut)
    across = np.arange(REACH_MM, -REACH_MM - 1e-9, -ACROSS_STEP_MM)
    strip = _sample(art, points, normals, across)
    ink = strip[..., 3] >= 128
    outward = _reach(strip[..., 3], across)
    if art.ink_area is not None:
        outward = _refined(outward, points, normals, art)
    contrast = _edge_contrast(strip, ink, across, stock_rgb)
    bordered = outward < -_TOUCHING_MM
    margin = np.where(bordered, -outward, np.maximum(outward, 0.0))
    # ink of the stock's own colour can neither be missed nor seen to be cut
    margin = np.where(contrast < _VISIBLE_CONTRAST, REACH_MM, margin)
    return EdgeProfile(
        along_mm=along,
        points_mm=points,
        outward_mm=outward,
        strip=strip,
        margin_mm=margin,
        white_first=~bordered,
        length_mm=length,
    )


def _walk(cut: CutLines) -> tuple[Floats, Floats, Floats, float]:
    """Return places, outward unit normals and distances along every fitted ring, and the whole length."""
    places, normals, along, start = [], [], [], 0.0
    for index, curve in enumerate(cut.curves):
        flat = curve.flattened(0.005)
        ring = resample(flat, ALONG_STEP_MM)
        length = float(arc_lengths(np.vstack([flat, flat[:1]]))[-1])
        tangent = np.roll(ring, -1, axis=0) - np.roll(ring, 1, axis=0)
        normal = np.stack([tangent[:, 1], -tangent[:, 0]], axis=1)
        normal /= np.maximum(np.hypot(normal[:, 0], normal[:, 1]), 1e-12)[:, None]
        if _is_hole(cut, index) == (_signed_area(ring) > 0):
            normal = -normal
        places.append(ring)
        normals.append(normal)
        along.append(start + np.arange(len(ring)) * (length / len(ring)))
        start += length
    return np.vstack(places), np.vstack(normals), np.concatenate(along), start


def _is_hole(cut: CutLines, index: int) -> bool:
    holes = [hole for part in cut.area.geoms for hole in (False, *(True for _ in part.interiors))]
    return holes[index]


def _signed_area(ring: Floats) -> float:
    x, y = ring[:, 0], ring[:, 1]
    return float(np.dot(x, np.roll(y, -1)) - np.dot(y, np.roll(x, -1))) / 2


def _sample(art: PrintArt, points: Floats, normals: Floats, across: Floats) -> NDArray[np.uint8]:
    """Return the (len(across), len(points), 4) colours of the printed picture, bilinear, clear outside."""
    at = points[None] + across[:, None, None] * normals[None]
    x = ((at[..., 0] - art.left_mm) / art.pixel_mm - 0.5).astype(np.float32)
    y = ((at[..., 1] - art.top_mm) / art.pixel_mm - 0.5).astype(np.float32)
    pixels = art.pixels
    if art.ink_area is not None:
        exact = rasterised(art.ink_area, pixels.shape[:2], (art.left_mm, art.top_mm), art.pixel_mm)
        pixels = np.dstack([pixels[..., :3], np.minimum(pixels[..., 3], exact)])
    return _remapped(np.ascontiguousarray(pixels), x, y)


def _remapped(pixels: NDArray[np.uint8], x: NDArray[np.float32], y: NDArray[np.float32]) -> NDArray[np.uint8]:
    # OpenCV's remap takes at most 32767 columns
    parts = [
        cv2.remap(
            pixels,
            np.ascontiguousarray(x[:, start : start + 30_000]),
            np.ascontiguousarray(y[:, start : start + 30_000]),
            cv2.INTER_LINEAR,
            borderMode=cv2.BORDER_CONSTANT,
            borderValue=(255, 255, 255, 0),
        )
        for start in range(0, x.shape[1], 30_000)
    ]
    return np.concatenate(parts, axis=1)


def _reach(alpha: NDArray[np.uint8], across: Floats) -> Floats:
    """Return how far ink reaches outward without a gap, negative where it starts only inside the cut."""
    zero = int(np.argmin(np.abs(across)))
    level = alpha.astype(np.float64) / 255 - 0.5
    outward = _first_crossing(-level[: zero + 1][::-1])
    inward = _first_crossing(level[zero:])
    return np.where(level[zero] >= 0, outward, -inward)


def _refined(outward: Floats, points: Floats, normals: Floats, art: PrintArt) -> Floats:
    """Halve the pixel's uncertainty away where ink ends at its exact boundary, not at a see-through place."""
    low, high = outward - 1.5 * art.pixel_mm, outward + 1.5 * art.pixel_mm
    shapely.prepare(art.ink_area)

    def inside(at: Floats) -> NDArray[np.bool_]:
        places = points + at[:, None] * normals
        return np.asarray(shapely.contains_xy(art.ink_area, places[:, 0], places[:, 1]))

    exact = (outward > 0) & (outward < REACH_MM) & inside(low) & ~inside(high)
    for _ in range(8):
        middle = (low + high) / 2
        within = inside(middle)
        low, high = np.where(within, middle, low), np.where(within, high, middle)
    return np.where(exact, (low + high) / 2, outward)


def _first_crossing(level: Floats) -> Floats:
    """Return, column by column, the distance at which ``level`` first rises through zero; REACH_MM if never."""
    above = level >= 0
    row = np.maximum(above.argmax(axis=0), 1)
    column = np.arange(level.shape[1])
    low, high = level[row - 1, column], level[row, column]
    share = np.clip(-low / np.maximum(high - low, 1e-9), 0.0, 1.0)
    distance = np.where(above[0], 0.0, (row - 1 + share) * ACROSS_STEP_MM)
    return np.where(above.any(axis=0), distance, REACH_MM)


def _edge_contrast(
    strip: NDArray[np.uint8], ink: NDArray[np.bool_], across: Floats, stock_rgb: tuple[int, int, int]
) -> Floats:
    """Return the RGB distance from the stock of the first solid ink at or inside the cut."""
    zero = int(np.argmin(np.abs(across)))
    within = ink[zero:]
    settle = round(0.15 / ACROSS_STEP_MM)  # past the anti-aliased rim
    first = np.minimum(within.argmax(axis=0) + zero + settle, len(across) - 1)
    colour = strip[first, np.arange(strip.shape[1]), :3].astype(np.float64)
    contrast = np.linalg.norm(colour - np.array(stock_rgb), axis=1)
    return np.where(within.any(axis=0), contrast, 0.0)
