"""A drawing on paper: the light that lies on the paper is estimated and divided out, so that the paper turns white.

The light is a smooth surface (a polynomial of third order, fitted again and again to what is not darker than it), times
what a grey closing leaves of the rest, which no line survives: the usual correction of shading by division.
"""

from __future__ import annotations

import cv2
import numpy as np
from numpy.typing import NDArray

from honest_edge.core.imaging.flood import Bytes
from honest_edge.core.values.specs import Paper

Floats = NDArray[np.float32]

_SEEN_PX, _STROKES = 320, 1 / 20  # size at which the light is estimated; of it, how wide what is drawn may be
_DIM, _COLOURED = 110.0, 0.3  # paper is lighter, and has less colour
_SHADOW, _NEUTRAL, _BRIGHTER, _FITS, _LEAST = 0.8, 1.06, 1.03, 8, 0.2
_SHARE, _NEAR = 0.6, 0.9  # of the picture that is paper: so close to its light
_SHADE, _WHITE = 10.0, 246.0  # levels by which light differs, or from which on paper is white already
_GRAIN = 3.0  # standard deviations of the paper's own grain that are white, too
_INK_LEVEL, _DARKEST, _INK_SHARE = 225.0, 25.0, 5.0


def on_shaded_paper(pixels: Bytes) -> bool:
    """Return whether a picture is a drawing on paper that is not white all over: shaded, grey or yellowish."""
    if (pixels[..., 3] < 250).any():
        return False
    small = _seen(pixels[..., :3])
    light = _light(small)
    grey_light = light.mean(axis=2)
    is_uneven = float(np.ptp(grey_light)) > _SHADE or float(np.median(grey_light)) < _WHITE
    return is_uneven and _is_drawing(small, light)


def is_drawing_on_paper(pixels: Bytes) -> bool:
    """Return whether most of a picture is light, plain paper, and something is drawn on it; (h, w, 3 or 4) uint8."""
    small = _seen(pixels[..., :3])
    return _is_drawing(small, _light(small))


def _is_drawing(small: Floats, light: Floats) -> bool:
    grey_light, grey = light.mean(axis=2), small.mean(axis=2)
    colour = (light.max(axis=2) - light.min(axis=2)) / np.maximum(light.max(axis=2), 1)
    if grey_light.min() < _DIM or float(np.median(colour)) > _COLOURED:
        return False
    is_paper = grey >= _NEAR * grey_light
    return bool(is_paper.mean() >= _SHARE and not is_paper.all())


def whitened(pixels: Bytes, paper: Paper) -> Bytes:
    """Return a picture whose paper is white: divided by its light, grain taken away; (h, w, 4) uint8."""
    if paper == "kept":
        return pixels
    rgb = pixels[..., :3]
    small = _seen(rgb)
    light = _light(small)
    height, width = rgb.shape[:2]
    white = max(0.5, 1 - _GRAIN * _grain(rgb, light))
    whole = cv2.resize(light * np.float32(white), (width, height), interpolation=cv2.INTER_LINEAR)
    out = cv2.divide(rgb.astype(np.float32), np.maximum(whole, 1), scale=255.0)
    if paper == "strong":
        out = _strengthened(np.asarray(out, np.float32))
    return np.dstack([np.clip(np.rint(out), 0, 255).astype(np.uint8), pixels[..., 3]])


def _grain(rgb: Bytes, light: Floats) -> float:
    """Return the standard deviation of the paper's own grain, in shares of its light, from every n-th pixel."""
    step = max(1, max(rgb.shape[:2]) // 1000)
    some = rgb[::step, ::step].astype(np.float32)
    lit = cv2.resize(light, (some.shape[1], some.shape[0]), interpolation=cv2.INTER_LINEAR)
    share = (some / np.maximum(lit, 1)).mean(axis=2)
    near = np.abs(share - 1) <= 1 - _NEAR
    return float(share[near].std()) if near.any() else 0.0


def _seen(rgb: Bytes) -> Floats:
    height, width = rgb.shape[:2]
    factor = min(1.0, _SEEN_PX / max(height, width))
    size = (max(1, round(width * factor)), max(1, round(height * factor)))
    return np.asarray(cv2.resize(rgb, size, interpolation=cv2.INTER_AREA), np.float32)


def _light(small: Floats) -> Floats:
    """Return the light on the paper, (h, w, 3)."""
    surface = _surface(small)
    rest = np.asarray(np.minimum(small / np.maximum(surface, 1), _BRIGHTER), np.float32)  # colours may be brighter
    reach = max(1, round(_STROKES * max(small.shape[:2])))
    disc = cv2.getStructuringElement(cv2.MORPH_ELLIPSE, (2 * reach + 1, 2 * reach + 1))
    closed = cv2.morphologyEx(cv2.medianBlur(rest, 3), cv2.MORPH_CLOSE, disc, borderType=cv2.BORDER_REPLICATE)
    least, most = closed.min(axis=2), closed.max(axis=2)
    closed[(least < _SHADOW) | (most > _NEUTRAL * least)] = 1.0  # no shade is so dark or coloured: that is drawn
    smooth = cv2.GaussianBlur(closed, (0, 0), reach / 2, borderType=cv2.BORDER_REPLICATE)
    return np.asarray(surface * smooth, np.float32)


def _surface(small: Floats) -> Floats:
    """Return a polynomial of third order through the paper, channel by channel."""
    height, width = small.shape[:2]
    across, down = np.vander(np.linspace(-1, 1, width), 4), np.vander(np.linspace(-1, 1, height), 4)
    terms = [np.outer(down[:, i], across[:, j]).ravel() for i in range(4) for j in range(3 - i, 4)]
    powers = np.array(terms, np.float32)
    flat = np.ascontiguousarray(small.reshape(-1, 3).T)  # channel by channel: long rows are what NumPy is fast at
    grey = flat.mean(axis=0)
    is_paper = grey >= np.median(grey)
    surface = flat
    for _ in range(_FITS):
        # ten powers on -1 to 1: the normal equations lose nothing, and are solved in no time
        on_paper = powers * is_paper
        factors = np.linalg.lstsq((on_paper @ powers.T).astype(float), (on_paper @ flat.T).astype(float), rcond=None)[0]
        surface = np.maximum(factors.T.astype(np.float32) @ powers, 1)
        share = flat / surface  # channel by channel: what has another colour is no paper
        was, is_paper = is_paper, np.logical_and.reduce((share >= _NEAR) & (share <= 1 / _NEAR))
        if np.array_equal(was, is_paper):
            break
        if np.count_nonzero(is_paper) < _LEAST * len(grey):
            return np.full(small.shape, max(float(grey.max()), 1.0), np.float32)  # there is no paper
    return np.ascontiguousarray(surface.T).reshape(small.shape)


def _strengthened(out: Floats) -> Floats:
    """Return a drawing whose darkest strokes are nearly black, and all others darker in the same measure."""
    ink = out[out < _INK_LEVEL]
    if not len(ink):
        return out
    lowest = float(np.percentile(ink, _INK_SHARE))
    return np.asarray(255 - (255 - out) * ((255 - _DARKEST) / max(1.0, 255 - lowest)), np.float32)
