"""Corrections by hand drawn into a picture."""

from __future__ import annotations

import cv2
import numpy as np
from numpy.typing import NDArray

from honest_edge.core.values.specs import Correction, CorrectionKind, OutlineRecipe

Bytes = NDArray[np.uint8]
_DAM_PX = 2
_NEAR = 0.025  # of the picture
_RIM = 0.03  # of the picture: subjects seldom reach into it
_SHIFT = 4  # fractional bits of OpenCV's coordinates


def opaque(pixels: Bytes) -> Bytes:
    """Return the picture as seen on white, nothing see-through."""
    return np.dstack([on_white(pixels), np.full(pixels.shape[:2], 255, np.uint8)])


def on_white(pixels: Bytes) -> Bytes:
    """Return the colours seen on white paper."""
    if (pixels[..., 3] == 255).all():
        return pixels[..., :3]
    share = pixels[..., 3:].astype(np.float32) / 255
    return np.asarray(np.rint(pixels[..., :3] * share + 255 * (1 - share)), np.uint8)


def painted(shape: tuple[int, ...], recipe: OutlineRecipe, *kinds: CorrectionKind) -> NDArray[np.bool_]:
    """Return where corrections of these kinds lie."""
    mask = np.zeros(shape[:2], np.uint8)
    for correction in recipe.corrections:
        if correction.kind in kinds:
            draw(mask, correction, width_px=shape[1])
    return mask > 127


def corrected(pixels: Bytes, original: Bytes, recipe: OutlineRecipe) -> Bytes:
    """Return the art with keep and clear strokes applied in order."""
    brushed = [c for c in recipe.corrections if c.kind in ("keep", "clear")]
    if not brushed:
        return pixels
    pixels = pixels.copy()
    for correction in brushed:
        mask = np.zeros(pixels.shape[:2], np.uint8)
        draw(mask, correction, width_px=pixels.shape[1])
        if correction.kind == "clear":
            np.minimum(pixels[..., 3], 255 - mask, out=pixels[..., 3])
        else:
            bare = (mask > 0) & (pixels[..., 3] < 255)
            pixels[bare, :3] = on_white(original[bare][:, None])[:, 0]
            np.maximum(pixels[..., 3], mask, out=pixels[..., 3])
    return pixels


def in_area(pixels: Bytes, recipe: OutlineRecipe) -> Bytes:
    """Return the art with nothing outside the trace area."""
    if recipe.trace_area is None:
        return pixels
    height, width = pixels.shape[:2]
    left, top, right, bottom = recipe.trace_area
    inside = np.zeros((height, width), bool)
    inside[round(top * height) : round(bottom * height), round(left * width) : round(right * width)] = True
    pixels = pixels.copy()
    pixels[~inside, 3] = 0
    return pixels


def looped(shape: tuple[int, ...], recipe: OutlineRecipe) -> Bytes:
    """Return the inside of the last loop as 255; without one all but a rim of the picture."""
    height, width = shape[:2]
    mask = np.zeros((height, width), np.uint8)
    loops = [c for c in recipe.corrections if c.kind == "around"]
    if loops:
        places = np.array(loops[-1].points) * width
        cv2.fillPoly(mask, [np.rint((places - 0.5) * (1 << _SHIFT)).astype(np.int32)], 255, cv2.LINE_8, _SHIFT)
        _reach_edges(mask, max(1, round(_NEAR * min(height, width))))
    else:
        rim = round(_RIM * min(height, width))
        mask[rim : height - rim, rim : width - rim] = 255
    return mask


def _reach_edges(mask: Bytes, near: int) -> None:
    """Let a loop that comes near the picture's edge go on to it: nobody draws along the last pixels."""
    for view in (mask, mask[::-1], mask.T, mask.T[::-1]):
        np.maximum(view[:near], view[near], out=view[:near])


def draw(mask: Bytes, correction: Correction, *, width_px: float, origin_px: tuple[float, float] = (0.0, 0.0)) -> None:
    """Draw one correction as 255 into ``mask``.

    Args:
        mask: (h, w) pixels.
        correction: its places are in widths of the picture.
        width_px: the picture's width in the mask's pixels.
        origin_px: where the picture's top left lies in the mask.
    """
    places = np.array(correction.points) * width_px + origin_px
    fixed = np.rint((places - 0.5) * (1 << _SHIFT)).astype(np.int32)
    thick = _DAM_PX if correction.kind == "dam" else max(1, round(correction.brush * width_px))
    # a stroke of one place is a dot
    chain = fixed if len(fixed) > 1 else np.repeat(fixed, 2, axis=0)
    cv2.polylines(mask, [chain], False, 255, thick, cv2.LINE_AA, _SHIFT)
