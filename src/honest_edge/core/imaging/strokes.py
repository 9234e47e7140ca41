"""Corrections by hand drawn into a picture."""

from __future__ import annotations

import cv2
import numpy as np
from numpy.typing import NDArray

from honest_edge.core.values.specs import Correction, CorrectionKind, OutlineRecipe

Bytes = NDArray[np.uint8]
_DAM_PX = 2
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
            _draw(mask, correction)
    return mask > 127


def corrected(pixels: Bytes, original: Bytes, recipe: OutlineRecipe) -> Bytes:
    """Return the art with keep and clear strokes applied in order, and nothing outside the trace area."""
    brushed = [c for c in recipe.corrections if c.kind in ("keep", "clear")]
    if not brushed and recipe.trace_area is None:
        return pixels
    pixels = pixels.copy()
    for correction in brushed:
        mask = np.zeros(pixels.shape[:2], np.uint8)
        _draw(mask, correction)
        if correction.kind == "clear":
            np.minimum(pixels[..., 3], 255 - mask, out=pixels[..., 3])
        else:
            bare = (mask > 0) & (pixels[..., 3] < 255)
            pixels[bare, :3] = on_white(original[bare][:, None])[:, 0]
            np.maximum(pixels[..., 3], mask, out=pixels[..., 3])
    if recipe.trace_area is not None:
        height, width = pixels.shape[:2]
        left, top, right, bottom = recipe.trace_area
        inside = np.zeros((height, width), bool)
        inside[round(top * height) : round(bottom * height), round(left * width) : round(right * width)] = True
        pixels[~inside, 3] = 0
    return pixels


def _draw(mask: Bytes, correction: Correction) -> None:
    width = mask.shape[1]
    places = np.rint((np.array(correction.points) * width - 0.5) * (1 << _SHIFT)).astype(np.int32)
    thick = _DAM_PX if correction.kind == "dam" else max(1, round(correction.brush * width))
    # a stroke of one place is a dot
    chain = places if len(places) > 1 else np.repeat(places, 2, axis=0)
    cv2.polylines(mask, [chain], False, 255, thick, cv2.LINE_AA, _SHIFT)
