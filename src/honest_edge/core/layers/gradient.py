"""Gradients as pictures that fill a form."""

from __future__ import annotations

import math

import numpy as np

from honest_edge.core.imaging.flood import Bytes
from honest_edge.core.values.layers import Gradient

_LONGER_PX = 1024  # steps of a level are wider than a pixel of it on all but a poster


def gradient_pixels(gradient: Gradient, width_mm: float, height_mm: float) -> Bytes:
    """Return (h, w, 4) uint8 opaque pixels of a gradient over a box, colours evenly spaced and mixed in sRGB.

    A straight one runs along a line through the middle that is as long as brings the first and the last colour into
    the corners; a round one reaches its last colour at the corners (W3C, CSS Images Module Level 3, 3.1 and 3.2).
    """
    scale = _LONGER_PX / max(width_mm, height_mm)
    width, height = max(2, round(width_mm * scale)), max(2, round(height_mm * scale))
    x = (np.arange(width) + 0.5) / width * width_mm - width_mm / 2
    y = (np.arange(height) + 0.5) / height * height_mm - height_mm / 2
    if gradient.kind == "radial":
        share = np.hypot(x[None] / width_mm, y[:, None] / height_mm) / math.hypot(0.5, 0.5)
    else:
        turn = math.radians(gradient.turn_deg)
        length = abs(width_mm * math.cos(turn)) + abs(height_mm * math.sin(turn))
        share = (x[None] * math.cos(turn) + y[:, None] * math.sin(turn)) / length + 0.5
    stops = np.linspace(0, 1, len(gradient.colours))
    levels = np.array(gradient.colours, float)
    pixels = np.full((height, width, 4), 255, np.uint8)
    for channel in range(3):
        pixels[..., channel] = np.rint(np.interp(share, stops, levels[:, channel]))
    return pixels
