"""Telling a picture whose ground belongs to it, a photograph above all, from art that lies on a plain ground."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

import cv2
import numpy as np

from honest_edge.core.imaging.flood import (
    Bytes,
    Distances,
    Mask,
    colour_distance,
    connected_to_border,
    ringing_limit,
)

Likeness = Literal["photograph", "page of writing", "drawing on lined paper"]
"""What a picture looks like whose whole rectangle is kept unasked."""

_LOOKED_AT_PX = 1024  # longest side at which a picture is judged
_UNEVEN = 3.2  # median distance of the ground from its colour, in levels: art on a plain ground stays under 3
_DARK, _TONES = 40.0, 0.5  # a ground so dark belongs to a picture of which so much is soft shades
_LIGHT, _ALL_ROUND = 150.0, 0.8  # paper, and all round the art but for where that touches the border
_CRISP = 0.6  # share of the flood's edge at which the colour really changes
_RAGGED = 40.0  # length of the flood's edge, in square roots of the area that it leaves
_MOST_CROSSINGS = 20  # of the picture's border by what is not the ground
_LINE_CROSSINGS, _FEW_CROSSINGS = 60, 8  # by thin lines; by more than lines
_PAGE_PARTS = 40


@dataclass(frozen=True, slots=True)
class _Flooded:
    """What a plain flood would leave, measured; see ``likeness`` for what it tells.

    Attributes:
        border_share: of the border that has the ground's colour.
        crossings: how often the border changes between ground and other, single pixels left out.
        thin_crossings: the same with them.
        unevenness: median distance of the flooded ground from its colour, in levels.
        crispness: share of the flood's edge along which the colour changes strongly within a few pixels.
        raggedness: length of the flood's edge in square roots of the area left.
        parts: how many are left that are larger than specks.
        tones: share of what is left that is soft shades.
    """

    border_share: float
    crossings: int
    thin_crossings: int
    unevenness: float
    crispness: float
    raggedness: float
    parts: int
    tones: float


def likeness(rgb: Bytes, colour: Distances, tolerance: float, *, lossy: bool) -> Likeness | None:
    """Return what a picture looks like whose ground had better stay; None for art on a plain ground.

    Judged are the ground that a flood from the border would take (is it one colour, or does it shade off; does it
    go all round) and what it would leave (ragged, in tatters, of soft shades). The limits lie between what
    ``benchmarks/photographs.py`` measures on open photographs and on open drawings.

    Args:
        rgb: (h, w, 3) uint8.
        colour: of the ground, 3 levels.
        tolerance: colour distance within which a flood spreads.
        lossy: it comes from a JPEG.
    """
    measured = _measured(_reduced(rgb), colour, tolerance, lossy=lossy)
    is_paper = colour.min() >= _LIGHT and measured.border_share >= _ALL_ROUND and measured.crispness >= _CRISP
    if measured.parts >= _PAGE_PARTS and measured.raggedness >= _RAGGED and measured.border_share >= 0.5 and is_paper:
        return "page of writing"
    if measured.crossings >= _MOST_CROSSINGS or (measured.unevenness >= _UNEVEN and not is_paper):
        return "photograph"
    if colour.max() <= _DARK and measured.tones >= _TONES:
        return "photograph"
    if measured.raggedness >= _RAGGED and measured.crispness < _CRISP:
        return "photograph"
    has_lines = measured.thin_crossings >= _LINE_CROSSINGS and measured.crossings <= _FEW_CROSSINGS
    if has_lines and measured.border_share >= 0.5 and measured.crispness >= _CRISP:
        return "drawing on lined paper"
    return None


def is_shaded(rgb: Bytes) -> bool:
    """Return whether a picture whose border has no colour in common is of soft shades, as photographs are."""
    small = _reduced(rgb)
    return _soft_shades(small, np.ones(small.shape[:2], np.uint8)) >= _TONES


def _reduced(rgb: Bytes) -> Bytes:
    height, width = rgb.shape[:2]
    factor = _LOOKED_AT_PX / max(height, width)
    if factor >= 1:
        return rgb
    size = (max(1, round(width * factor)), max(1, round(height * factor)))
    return np.asarray(cv2.resize(rgb, size, interpolation=cv2.INTER_AREA))


def _measured(rgb: Bytes, colour: Distances, tolerance: float, *, lossy: bool) -> _Flooded:
    distance = colour_distance(rgb, colour)
    like = distance <= (ringing_limit(distance, tolerance) if lossy else tolerance)
    outside = connected_to_border(like)
    inside = (~outside).astype(np.uint8)
    edge = (inside > 0) & (cv2.erode(inside, np.ones((3, 3), np.uint8), borderValue=1) == 0)
    strongest = cv2.dilate(np.where(outside, 0, distance).astype(np.float32), np.ones((7, 7), np.uint8))
    ground = cv2.erode(outside.astype(np.uint8), np.ones((9, 9), np.uint8), borderValue=1) > 0
    ring = _ring(distance) <= tolerance
    sizes = cv2.connectedComponentsWithStats(inside, connectivity=4)[2][1:, cv2.CC_STAT_AREA]
    return _Flooded(
        border_share=float(ring.mean()),
        crossings=_changes(_without_thin(ring)),
        thin_crossings=_changes(ring),
        unevenness=float(np.median(distance[ground])) if ground.any() else 0.0,
        crispness=float((strongest[edge] >= 2.5 * tolerance).mean()) if edge.any() else 1.0,
        raggedness=float(edge.sum() / np.sqrt(max(1, int(inside.sum())))),
        parts=int((sizes >= max(9, 1e-5 * inside.size)).sum()),
        tones=_soft_shades(rgb, inside),
    )


def _ring(distance: Distances) -> Distances:
    """Return the outermost pixels in their order round the picture."""
    return np.concatenate([distance[0], distance[1:, -1], distance[-1, -2::-1], distance[-2:0:-1, 0]])


def _changes(ring: Mask) -> int:
    return int((ring != np.roll(ring, 1)).sum())


def _without_thin(ring: Mask) -> Mask:
    """Return the border with what is narrower than about a four-hundredth of it taken for its surroundings."""
    width = max(3, len(ring) // 400 * 2 + 1)
    around = np.pad(ring.astype(float), width, mode="wrap")
    return np.asarray(np.convolve(around, np.ones(width) / width, "same")[width:-width] > 0.5)


def _soft_shades(rgb: Bytes, inside: Bytes) -> float:
    """Return the share of the art where neighbours differ a little: flat colour and hard edges do not."""
    grey = cv2.cvtColor(rgb, cv2.COLOR_RGB2GRAY)
    kernel = np.ones((3, 3), np.uint8)
    steps = cv2.subtract(cv2.dilate(grey, kernel), cv2.erode(grey, kernel))
    deep = steps[cv2.erode(inside, np.ones((5, 5), np.uint8)) > 0]
    return float(((deep >= 3) & (deep <= 30)).mean()) if len(deep) else 0.0
