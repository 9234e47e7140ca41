"""A picture that brings its own cut line: what the lines enclose is the sticker."""

from __future__ import annotations

import cv2
import numpy as np
from numpy.typing import NDArray

from honest_edge.core.values.errors import ArtError

_INKED = 128
_LEAST_SHARE = 1e-4
"""Of the picture: lines that enclose less are open."""


def cut_along(pixels: NDArray[np.uint8], lines: NDArray[np.uint8]) -> NDArray[np.uint8]:
    """Return a picture on white, of which only what lines enclose is there.

    Args:
        pixels: (h, w, 4) uint8, straight sRGB and alpha, without the lines.
        lines: (h, w) uint8, how much of each pixel the lines cover.

    Raises:
        ArtError: the lines enclose nothing.
    """
    height, width = lines.shape
    free = np.pad((lines < _INKED).astype(np.uint8), 1, constant_values=1)
    mask = np.zeros((height + 4, width + 4), np.uint8)
    cv2.floodFill(free, mask, (0, 0), 2)
    inside = free[1:-1, 1:-1] != 2
    within = inside & (lines < _INKED)
    if np.count_nonzero(within) < _LEAST_SHARE * inside.size:
        raise ArtError("Its cut lines enclose nothing: close them, or leave them out of the print")
    from_outside = cv2.distanceTransform(inside.astype(np.uint8), cv2.DIST_L2, 5)
    from_within = cv2.distanceTransform((~within).astype(np.uint8), cv2.DIST_L2, 5)
    share = np.clip(0.5 + (from_outside - from_within) / 2, 0, 1)  # the cut goes along the middle of the line
    alpha = pixels[..., 3:].astype(np.float32) / 255
    rgb = np.rint(pixels[..., :3] * alpha + 255 * (1 - alpha)).astype(np.uint8)
    return np.dstack([rgb, np.rint(255 * share).astype(np.uint8)])
