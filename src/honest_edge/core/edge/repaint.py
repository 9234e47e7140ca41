"""A picture that differs from another only well inside: its carried colour is the other's, and is not carried again."""

from __future__ import annotations

import math
from dataclasses import replace

import numpy as np

from honest_edge.core.edge.bleed import CORE_DEPTH_MM, FINEST_PPI, PrintArt, rasterised
from honest_edge.core.geometry.offset import offset_area
from honest_edge.core.imaging.flood import Bytes, whole_pixels
from honest_edge.core.imaging.reduce import reduced
from honest_edge.core.outline.outline import Outline
from honest_edge.core.values.specs import EdgeRecipe

_REACH_PX = 48
"""How far into the art the softening of a carried colour looks: coarse pixels of 16, read over three of them."""

_SLACK_MM = 0.3


def repainted(before: PrintArt, was: Bytes, now: Bytes, outline: Outline, recipe: EdgeRecipe) -> PrintArt | None:
    """Return what carrying the colour of ``now`` would give, made from what it gave for ``was``.

    Args:
        before: the printed picture of ``was``.
        was: (h, w, 4) uint8, the art that it was made of.
        now: the same size, another art in the same outline.
        outline: of both.
        recipe: with which it was made.

    Returns:
        None where that cannot be told from ``before``: the two differ near the edge, or in what is see-through, or
        their colour is mirrored at the edge.
    """
    if was.shape != now.shape or recipe.fill == "mirror":
        return None
    factor = max(1, math.floor(25.4 / outline.pixel_mm / FINEST_PPI))
    was, now, pixel_mm = reduced(was, factor), reduced(now, factor), outline.pixel_mm * factor
    changed = whole_pixels(was) != whole_pixels(now)
    rows, columns = np.flatnonzero(changed.any(axis=1)), np.flatnonzero(changed.any(axis=0))
    if len(rows) == 0:
        return before
    box = slice(int(rows[0]), int(rows[-1]) + 1), slice(int(columns[0]), int(columns[-1]) + 1)
    if (was[box][..., 3] < 255).any() or (now[box][..., 3] < 255).any():
        return None
    calm = offset_area(outline.area, -(CORE_DEPTH_MM + _REACH_PX * pixel_mm + _SLACK_MM))
    if (changed & (rasterised(calm, changed.shape, (0.0, 0.0), pixel_mm) == 0)).any():
        return None
    down, across = round(-before.top_mm / pixel_mm), round(-before.left_mm / pixel_mm)
    pixels = before.pixels.copy()
    place = slice(box[0].start + down, box[0].stop + down), slice(box[1].start + across, box[1].stop + across)
    pixels[place] = np.where(changed[box][..., None], now[box], pixels[place])
    return replace(before, pixels=pixels)
