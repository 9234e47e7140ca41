"""Flooding a background by colour: what it is, how noisy it is, how far it reaches, where its edge lies."""

from __future__ import annotations

import cv2
import numpy as np
from numpy.typing import NDArray

Bytes = NDArray[np.uint8]
Mask = NDArray[np.bool_]
Distances = NDArray[np.float32]

LEAST_TOLERANCE, MOST_TOLERANCE = 16.0, 36.0
"""Below the first anti-aliasing is taken for art, above the second pale art for background."""

_RINGING_SHARE = 0.12  # of an edge's height, seen up to a block away at usual qualities
_SHARED_BORDER = 0.25  # a background is a colour that at least this share of the picture's border has
_NEARLY = 48.0  # a border pixel closer than this is background with noise, else art that touches the border
_NO_CONTRAST = 24.0  # below this distance a colour cannot tell how much of a pixel is art


def whole_pixels(pixels: Bytes) -> NDArray[np.uint32]:
    """Return (h, w) numbers, one for each of (h, w, 4) pixels, in the same memory."""
    return pixels.view(np.uint32)[..., 0]


def tolerance_for(rgb: Bytes, colour: Distances) -> float:
    """Return the tolerance that the picture's own noise asks for.

    Noise is read from the border pixels that are nearly the background: the distance that 99 of 100 do not
    exceed, with a third more for what lies between the border and the art.
    """
    gap = colour_distance(_border(rgb)[None], colour)[0]
    near = gap[gap <= _NEARLY]
    noise = float(np.percentile(near, 99)) if len(near) else 0.0
    return float(min(max(LEAST_TOLERANCE, round(8 + 4 / 3 * noise)), MOST_TOLERANCE))


def _border(rgb: Bytes) -> Bytes:
    return np.concatenate([rgb[0], rgb[-1], rgb[:, 0], rgb[:, -1]])


def border_colour(rgb: Bytes) -> Distances | None:
    """Return the colour that most of the outermost pixels share, or None where there is none."""
    border = _border(rgb).astype(np.float32)
    coarse = (border / 16).astype(np.int64) @ np.array([256, 16, 1])
    commonest = border[coarse == np.bincount(coarse).argmax()]
    colour = np.median(commonest, axis=0)
    near = np.linalg.norm(border - colour, axis=1) <= LEAST_TOLERANCE * 1.5
    if near.mean() < _SHARED_BORDER:
        return None
    return np.asarray(np.median(border[near], axis=0), np.float32)


def colour_distance(rgb: Bytes, colour: Distances) -> Distances:
    """Return the Euclidean distance of each pixel's 8-bit RGB from ``colour``."""
    total = np.zeros(rgb.shape[:2], np.float32)
    for channel in range(3):
        gap = rgb[..., channel].astype(np.float32) - colour[channel]
        total += gap * gap
    return np.sqrt(total)


def ringing_limit(distance: Distances, tolerance: float) -> Distances:
    """Return the tolerance near strong edges, where JPEG's 8 x 8 blocks carry ripples of the edge outward."""
    strongest = cv2.dilate(distance, np.ones((17, 17), np.uint8))
    return np.asarray(np.maximum(_RINGING_SHARE * strongest, np.float32(tolerance)))


def connected_to_border(like: Mask) -> Mask:
    """Return the pixels of ``like`` that hang together with the picture's border, sides only."""
    padded = np.pad(like, 1, constant_values=True).astype(np.uint8)
    _, labels = cv2.connectedComponents(padded, connectivity=4, ltype=cv2.CV_32S)
    return np.asarray(labels[1:-1, 1:-1] == labels[0, 0])


def soft_edge(rgb: Bytes, distance: Distances, outside: Mask, background: Distances) -> Bytes:
    """Return (h, w, 4) pixels of the art alone, those near its edge split into art and background.

    A pixel there is c F + (1 - c) B with B the background and F the colour of the nearest pixel that is
    surely art, so c = (C - B).(F - B) / |F - B|^2: the least-squares share on the line between the two.
    """
    inside = ~outside
    pixels = np.asarray(cv2.merge([*cv2.split(rgb), inside.view(np.uint8) * np.uint8(255)]), np.uint8)
    core = inside & _surely_art(inside, distance)
    band = _grown(outside, 2) & _grown(inside, 2) & ~core
    if not core.any() or not band.any():
        return pixels
    places = np.flatnonzero(band).astype(np.int32)
    colours, flat = np.ascontiguousarray(rgb).reshape(-1, 3), pixels.reshape(-1, 4)
    full = colours[nearest(core, places)[0]].astype(np.float32)
    span = full - background
    square = np.einsum("nc,nc->n", span, span)
    share = np.einsum("nc,nc->n", colours[places] - background, span) / np.maximum(square, 1.0)
    # art of the background's own colour ends where the flood ended: at a dam, at a trace area's border
    share = np.where(square < _NO_CONTRAST**2, inside.reshape(-1)[places], np.clip(share, 0.0, 1.0))
    flat[places, :3] = full.astype(np.uint8)
    flat[places, 3] = np.rint(share * 255)
    return pixels


def _surely_art(inside: Mask, distance: Distances) -> Mask:
    """Two pixels inside the edge, or, in strokes thinner than that, as far from the background as any near."""
    deep = ~_grown(~inside, 2)
    strongest = cv2.dilate(distance, np.ones((5, 5), np.uint8))
    return np.asarray(deep | (distance >= 0.98 * strongest))


def _grown(mask: Mask, pixels: int) -> Mask:
    kernel = cv2.getStructuringElement(cv2.MORPH_ELLIPSE, (2 * pixels + 1, 2 * pixels + 1))
    return np.asarray(cv2.dilate(mask.astype(np.uint8), kernel) > 0)


def nearest(source: Mask, places: NDArray[np.int32]) -> tuple[NDArray[np.int32], Distances]:
    """Return for each place, a flat index, that of a nearest True pixel of ``source``, and its distance.

    The mask 5 transform of OpenCV picks a source up to 1.4 px farther than the nearest: enough for
    colours, not for geometry.
    """
    distance, labels = cv2.distanceTransformWithLabels(
        (~source).astype(np.uint8), cv2.DIST_L2, cv2.DIST_MASK_5, labelType=cv2.DIST_LABEL_PIXEL
    )
    numbered = np.flatnonzero(source).astype(np.int32)  # the library numbers them row by row, from 1 on
    return numbered[labels.reshape(-1)[places] - 1], np.asarray(distance.reshape(-1)[places], np.float32)
