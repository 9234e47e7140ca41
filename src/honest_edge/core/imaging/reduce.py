"""Smaller copies of pictures that keep colour and edge true."""

from __future__ import annotations

import numpy as np

from honest_edge.core.imaging.flood import Bytes

_BAND_ROWS = 128


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
        missing = ((0, (last - first) * factor - band.shape[0]), (0, columns * factor - width), (0, 0))
        blocks = np.pad(band, missing).reshape(last - first, factor, columns, factor, 4)
        alpha = blocks[..., 3].astype(np.uint32)
        total = alpha.sum(axis=(1, 3))
        for channel in range(3):
            weighted = (blocks[..., channel] * alpha).sum(axis=(1, 3))
            out[first:last, :, channel] = (weighted + total // 2) // np.maximum(total, 1)
        out[first:last, :, 3] = (total + factor * factor // 2) // (factor * factor)
    return out
