"""Smaller copies of pictures that keep colour and edge true."""

from __future__ import annotations

from typing import Any

import cv2
import numpy as np
from numpy.typing import NDArray

from honest_edge.core.imaging.flood import Bytes, Distances

_BAND_ROWS = 128
_LEAST = np.float32(1e-6)  # of an average opacity; nothing divides by nothing


def reduced(pixels: Bytes, factor: int) -> Bytes:
    """Return the picture with every ``factor`` x ``factor`` pixels averaged, colours weighted by alpha.

    Args:
        pixels: (h, w, 4) uint8 straight RGBA; what does not fill a last block is padded with nothing.
        factor: at least 1, which returns ``pixels`` itself.
    """
    if factor == 1:
        return pixels
    height, width = pixels.shape[:2]
    rows, columns = -(-height // factor), -(-width // factor)
    out = np.empty((rows, columns, 4), np.uint8)
    for first in range(0, rows, _BAND_ROWS):
        last = min(first + _BAND_ROWS, rows)
        band = pixels[first * factor : last * factor]
        below, right = (last - first) * factor - band.shape[0], columns * factor - width
        whole = cv2.copyMakeBorder(band, 0, below, 0, right, cv2.BORDER_CONSTANT, value=(0, 0, 0, 0))
        *colours, alpha = cv2.split(whole)
        size = (columns, last - first)
        total = _averaged(alpha.astype(np.float32), size)
        share = np.maximum(total, _LEAST)
        weighted = [_averaged(cv2.multiply(one, alpha, dtype=cv2.CV_32F), size) / share for one in colours]
        cv2.merge([_rounded(plane) for plane in weighted] + [_rounded(total)], out[first:last])
    return out


def _rounded(plane: NDArray[Any]) -> Bytes:
    return np.asarray((plane + 0.5).astype(np.uint8))


def _averaged(plane: NDArray[Any], size: tuple[int, int]) -> Distances:
    """Return averages of whole blocks; sums of 8-bit products are whole numbers that single precision holds exactly."""
    return np.asarray(cv2.resize(plane, size, interpolation=cv2.INTER_AREA), np.float32)
