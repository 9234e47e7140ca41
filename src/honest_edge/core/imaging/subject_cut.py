"""The subject of a photograph: what lies in a loose loop and is told from what is round it by its colours.

Graph cut on colour mixtures (Rother, Kolmogorov and Blake, "GrabCut", ACM Transactions on Graphics 23(3), 2004, as
OpenCV has it), solved small and followed up in a band round its boundary at twice the scale, again and again. The
coverage of whole pixels follows the picture's own edges there (guided filter: He, Sun and Tang, ECCV 2010; its
coefficients found small: He and Sun, "Fast guided filter", 2015).
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Any

import cv2
import numpy as np
from numpy.typing import NDArray

from honest_edge.core.imaging.flood import Bytes, Mask, nearest
from honest_edge.core.values.errors import BlockedError

Floats = NDArray[np.float32]

_FIRST_PX, _LARGEST_PX = 256, 1024
"""Longer side at which it is solved first, and at which it is followed up last."""

_ROUNDS, _SEED = 4, 1
_BAND_PX = 3
_SURE = {True: 3, False: 2}
"""What is known of a place that a stroke went over."""

_MARGIN = 0.25  # of the loop's size: so much round it tells what the ground looks like
_RIM = 0.1  # of the loop's size: just inside of it the ground is likelier
_TOUCHED = 24  # of 255: a stroke covers so much of a pixel of the small picture
_CRUMB, _SPECK = 0.04, 0.015
"""Of the largest part: parts smaller than the one are none of the subject, holes smaller than the other are its own."""

_GUIDE_PX, _EPSILON = 5, 4e-4
_WHOLE = 250  # coverage from which on a pixel is all the subject's
_LEAST_SHARE = 2e-4  # of the loop: less than this is nothing

_NOTHING = (
    "Nothing inside the loop stands out from what is round it: draw it closer, or brush over what belongs to the art"
)


@dataclass(frozen=True, eq=False)
class Stroke:
    """What a hand said: (h, w) uint8, 255 where something belongs to the subject, or where it does not."""

    mask: Bytes
    belongs: bool


def subject_coverage(rgb: Bytes, loop: Bytes, strokes: Sequence[Stroke] = ()) -> Bytes:
    """Return how much of each pixel belongs to the subject, (h, w) uint8.

    Args:
        rgb: (h, w, 3) uint8.
        loop: (h, w) uint8, 255 inside the loop; outside all is ground unless a stroke says otherwise.
        strokes: one after the other; where two contradict each other the later one counts.

    Raises:
        BlockedError: nothing is told from the ground.
    """
    area = cv2.boundingRect(np.maximum.reduce([loop, *(one.mask for one in strokes if one.belongs)]))
    if not area[2]:
        raise BlockedError("The loop holds nothing of the picture: draw it round what is to be cut out")
    inner = _with_margin(area, rgb.shape)
    part = rgb[inner]
    small = _sized(part, _LARGEST_PX)
    lab = np.asarray(cv2.cvtColor(small, cv2.COLOR_RGB2LAB), np.uint8)
    known = np.zeros(lab.shape[:2], np.uint8)
    for stroke in strokes:
        known[_sized(stroke.mask[inner], _LARGEST_PX) >= _TOUCHED] = _SURE[stroke.belongs]
    mask = _solved(lab, _sized(loop[inner], _LARGEST_PX), known)
    mask = _whole(mask, known)
    if np.count_nonzero(mask) < max(4.0, _LEAST_SHARE * mask.size):
        raise BlockedError(_NOTHING)
    out = np.zeros(rgb.shape[:2], np.uint8)
    out[inner] = _refined(part, mask, small)
    return out


def _with_margin(area: Any, shape: tuple[int, ...]) -> tuple[slice, slice]:
    left, top, width, height = area
    margin = round(_MARGIN * max(width, height)) + 2
    return (
        slice(max(0, top - margin), min(shape[0], top + height + margin)),
        slice(max(0, left - margin), min(shape[1], left + width + margin)),
    )


def _sized(picture: Bytes, longer_px: int) -> Bytes:
    height, width = picture.shape[:2]
    factor = longer_px / max(height, width)
    if factor >= 1:
        return picture
    size = (max(1, round(width * factor)), max(1, round(height * factor)))
    return np.asarray(cv2.resize(picture, size, interpolation=cv2.INTER_AREA), np.uint8)


def _solved(lab: Bytes, loop: Bytes, known: Bytes) -> Bytes:
    """Return the subject as 1 and the ground as 0: solved small, then followed up at twice the size."""
    longer, side = max(lab.shape[:2]), _FIRST_PX
    models = np.zeros((1, 65)), np.zeros((1, 65))
    mask: Bytes | None = None
    while True:
        small, inside = _sized(lab, side), _sized(loop, side)
        labels = _begun(inside) if mask is None else np.where(inside > 127, _band(mask, inside.shape), cv2.GC_BGD)
        for sure in _SURE.values():
            labels[_sized(np.where(known == sure, 255, 0).astype(np.uint8), side) >= _TOUCHED] = sure & 1
        mask = _cut(small, labels, models, rounds=0 if mask is not None else _ROUNDS)
        if side >= longer:
            return mask
        side *= 2


def _whole(mask: Bytes, known: Bytes) -> Bytes:
    """Return a subject in one piece or a few: crumbs of the ground go, and specks inside of it are its own.

    What a stroke touches stays as the stroke says.
    """
    largest = _sizes(mask).max(initial=0)
    kept = _without(mask, known == _SURE[True], _CRUMB * largest)
    outside = np.pad(1 - kept, 1, constant_values=1)  # all of the ground that reaches the rim is one
    filled = _without(outside, np.pad(known == _SURE[False], 1), _SPECK * largest)[1:-1, 1:-1]
    return np.asarray(1 - filled, np.uint8)


def _sizes(mask: Bytes) -> NDArray[np.int32]:
    return np.asarray(cv2.connectedComponentsWithStats(mask, connectivity=4)[2][1:, cv2.CC_STAT_AREA], np.int32)


def _without(mask: Bytes, touched: Mask, least: float) -> Bytes:
    """Return a mask without parts smaller than ``least``, but for those that a stroke touches."""
    _, labels, stats, _ = cv2.connectedComponentsWithStats(mask, connectivity=4)
    stays = stats[:, cv2.CC_STAT_AREA] >= least
    stays[np.unique(labels[touched])] = True
    stays[0] = False
    return np.asarray(stays[labels].astype(np.uint8))


def _cut(lab: Bytes, labels: NDArray[Any], models: tuple[NDArray[Any], NDArray[Any]], *, rounds: int = 0) -> Bytes:
    """Return the subject as 1, cut anew where ``labels`` leave it open; without rounds by the models as they are."""
    labels = np.ascontiguousarray(labels, np.uint8)
    is_subject = labels & 1
    if is_subject.any() and not is_subject.all() and (labels >= cv2.GC_PR_BGD).any():
        cv2.setRNGSeed(_SEED)  # the same picture is cut the same every time
        mode = cv2.GC_INIT_WITH_MASK if rounds else cv2.GC_EVAL_FREEZE_MODEL
        cv2.grabCut(lab, labels, None, *models, rounds or 1, mode)  # type: ignore[call-overload]
    return np.asarray(labels & 1, np.uint8)


def _begun(loop: Bytes) -> Bytes:
    """Return what is known at first: outside the loop is ground, and just inside it likelier than not.

    Where the loop goes along the edge of the picture nothing is known: the frame may cut the subject.
    """
    inside = (loop > 127).astype(np.uint8)
    reach = max(1, round(_RIM * math.sqrt(np.count_nonzero(inside) + 1)))
    deep = cv2.distanceTransform(np.pad(inside, 1, constant_values=1), cv2.DIST_L2, 3)[1:-1, 1:-1] > reach
    labels = np.where(inside > 0, cv2.GC_PR_BGD, cv2.GC_BGD).astype(np.uint8)
    labels[deep] = cv2.GC_PR_FGD
    return labels


def _band(mask: Bytes, shape: tuple[int, ...]) -> Bytes:
    """Return a solution at a larger size, left open in a band round its boundary."""
    large = cv2.resize(mask, (shape[1], shape[0]), interpolation=cv2.INTER_NEAREST)
    kernel = np.ones((2 * _BAND_PX + 1, 2 * _BAND_PX + 1), np.uint8)
    labels = np.where(large > 0, cv2.GC_PR_FGD, cv2.GC_PR_BGD).astype(np.uint8)
    labels[cv2.erode(large, kernel, borderValue=1) > 0] = cv2.GC_FGD
    labels[cv2.dilate(large, kernel) == 0] = cv2.GC_BGD
    return labels


# -- coverage ------------------------------------------------------------------------------------------


def _refined(rgb: Bytes, mask: Bytes, small: Bytes) -> Bytes:
    """Return the coverage of whole pixels: sure away from the boundary, guided by the picture in a band round it."""
    guide = np.asarray(small, np.float32) / np.float32(255)
    slope, constant = _guided(guide, np.asarray(mask, np.float32))
    kernel = np.ones((2 * _BAND_PX + 1, 2 * _BAND_PX + 1), np.uint8)
    sure = cv2.erode(mask, kernel, borderValue=1)
    never = cv2.dilate(mask, kernel) == 0
    height, width = rgb.shape[:2]
    size, unsure = (width, height), 128
    known = np.where(never, 0, np.where(sure > 0, 255, unsure)).astype(np.uint8)
    out = np.asarray(cv2.resize(known, size, interpolation=cv2.INTER_NEAREST), np.uint8)
    slopes, constants = (cv2.resize(one, size, interpolation=cv2.INTER_LINEAR) for one in (slope, constant))
    open_to = out == unsure
    share = (rgb[open_to].astype(np.float32) / 255 * slopes[open_to]).sum(axis=1) + constants[open_to]
    out[open_to] = np.rint(np.clip(share, 0, 1) * 255).astype(np.uint8)
    return out


def _guided(guide: Floats, share: Floats) -> tuple[Floats, Floats]:
    """Return the guided filter's coefficients, slopes (h, w, 3) and constants (h, w): equations 14 to 16 of 2010."""
    window = (2 * _GUIDE_PX + 1, 2 * _GUIDE_PX + 1)

    def mean(values: Floats) -> Floats:
        return np.asarray(cv2.blur(values, window), np.float32)

    middle, level = mean(guide), mean(share)
    covariance = np.stack([mean(guide[..., n] * share) - middle[..., n] * level for n in range(3)], axis=-1)
    spread = np.empty((*guide.shape[:2], 3, 3), np.float32)
    for i in range(3):
        for j in range(i, 3):
            both = mean(guide[..., i] * guide[..., j]) - middle[..., i] * middle[..., j]
            spread[..., i, j] = spread[..., j, i] = both + (_EPSILON if i == j else 0.0)
    slope = np.linalg.solve(spread, covariance[..., None])[..., 0]
    constant = level - (slope * middle).sum(axis=-1)
    return mean(np.ascontiguousarray(slope, np.float32)), mean(np.asarray(constant, np.float32))


def own_colours(rgb: Bytes, coverage: Bytes) -> Bytes:
    """Return (h, w, 4) pixels of a subject: where it covers a pixel only in part, the colour of what lies just inside.

    Such a pixel is a mixture with the old ground, of which no rim may show on new paper.
    """
    pixels = np.dstack([rgb, coverage])
    mixed = (coverage > 0) & (coverage < _WHOLE)
    core = cv2.erode((coverage >= _WHOLE).astype(np.uint8), np.ones((3, 3), np.uint8), borderValue=1)
    shell = (core > 0) & (cv2.erode(core, np.ones((3, 3), np.uint8), borderValue=1) == 0)
    if not (mixed.any() and shell.any()):
        return pixels
    places = np.flatnonzero(mixed).astype(np.int32)
    index, _ = nearest(shell, places)
    flat = pixels.reshape(-1, 4)
    flat[places, :3] = flat[index, :3]
    return pixels
