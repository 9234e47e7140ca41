"""Telling the art from its background, as a coverage between 0 and 1 that keeps the edge's sub-pixel place."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

import cv2
import numpy as np
from numpy.typing import NDArray

from honest_edge.core.values.artwork import Artwork
from honest_edge.core.values.errors import BlockedError
from honest_edge.core.values.specs import OutlineRecipe

Bytes = NDArray[np.uint8]
Coverage = NDArray[np.float32]
Method = Literal["alpha", "flood", "none"]

TOLERANCE, TOLERANCE_LOSSY = 16.0, 24.0
_RINGING_SHARE = 0.12  # of an edge's height, seen up to a block away at usual qualities
_SHARED_BORDER = 0.25  # a background is a colour that at least this share of the picture's border has


@dataclass(frozen=True, slots=True, kw_only=True, eq=False)
class Subject:
    """The art without its background.

    Attributes:
        coverage: (h, w) float32, the share of each pixel that belongs to the art.
        pixels: (h, w, 4) uint8, the art's own straight colours with ``coverage`` as alpha.
        method: what told them apart.
        background_rgb: the colour that was taken away; None where transparency or nothing decided.
        tolerance: the colour distance used; None likewise.
    """

    coverage: Coverage
    pixels: Bytes
    method: Method
    background_rgb: tuple[int, int, int] | None = None
    tolerance: float | None = None


def clear_background(artwork: Artwork, recipe: OutlineRecipe) -> Subject:
    """Return the art without its background.

    Raises:
        BlockedError: nothing is left, or the picture has no background of the kind asked for.
    """
    method = _choose(artwork, recipe)
    if method == "alpha":
        coverage = artwork.pixels[..., 3].astype(np.float32) / np.float32(255)
        subject = Subject(coverage=coverage, pixels=artwork.pixels, method="alpha")
    elif method == "none":
        ones = np.ones(artwork.pixels.shape[:2], np.float32)
        subject = Subject(coverage=ones, pixels=_with_alpha(artwork.pixels, ones), method="none")
    else:
        subject = _flooded(artwork, recipe)
    if not (subject.coverage >= 0.5).any():
        raise BlockedError(_nothing_left(method))
    return subject


def _choose(artwork: Artwork, recipe: OutlineRecipe) -> Method:
    see_through = bool((artwork.pixels[..., 3] < 250).any())
    if recipe.background == "alpha" and not see_through:
        raise BlockedError("This picture has no transparency: choose the background “from the border inward”")
    if recipe.background == "auto":
        return "alpha" if see_through else "flood"
    return recipe.background


def _nothing_left(method: Method) -> str:
    if method == "alpha":
        return "The picture is wholly transparent, so there is nothing to print: choose another picture"
    return "The whole picture looks like background: lower the tolerance, or keep the rectangle"


def _with_alpha(pixels: Bytes, coverage: Coverage) -> Bytes:
    out = pixels.copy()
    out[..., 3] = np.rint(coverage * 255)
    return out


def _flooded(artwork: Artwork, recipe: OutlineRecipe) -> Subject:
    rgb = _on_white(artwork.pixels)
    tolerance = recipe.tolerance or (TOLERANCE_LOSSY if artwork.lossy else TOLERANCE)
    background = border_colour(rgb, tolerance)
    if background is None:
        if recipe.background == "flood":
            raise BlockedError("The picture's border has no colour in common: keep the rectangle instead")
        ones = np.ones(rgb.shape[:2], np.float32)
        return Subject(coverage=ones, pixels=_with_alpha(artwork.pixels, ones), method="none")
    distance = colour_distance(rgb, background)
    like = distance <= (_ringing_limit(distance, tolerance) if artwork.lossy else tolerance)
    outside = _connected_to_border(like)
    coverage, pixels = _soft_edge(rgb, distance, outside, background)
    return Subject(
        coverage=coverage,
        pixels=pixels,
        method="flood",
        background_rgb=(int(background[0]), int(background[1]), int(background[2])),
        tolerance=tolerance,
    )


def _on_white(pixels: Bytes) -> Bytes:
    """Return the colours seen on white paper."""
    if (pixels[..., 3] == 255).all():
        return pixels[..., :3]
    share = pixels[..., 3:].astype(np.float32) / 255
    return np.asarray(np.rint(pixels[..., :3] * share + 255 * (1 - share)), np.uint8)


def border_colour(rgb: Bytes, tolerance: float) -> NDArray[np.float32] | None:
    """Return the colour that most of the outermost pixels share, or None where there is none."""
    border = np.concatenate([rgb[0], rgb[-1], rgb[:, 0], rgb[:, -1]]).astype(np.float32)
    coarse = (border / 16).astype(np.int64) @ np.array([256, 16, 1])
    commonest = border[coarse == np.bincount(coarse).argmax()]
    colour = np.median(commonest, axis=0)
    near = np.linalg.norm(border - colour, axis=1) <= tolerance
    if near.mean() < _SHARED_BORDER:
        return None
    return np.asarray(np.median(border[near], axis=0), np.float32)


def colour_distance(rgb: Bytes, colour: NDArray[np.float32]) -> Coverage:
    """Return the Euclidean distance of each pixel's 8-bit RGB from ``colour``."""
    total = np.zeros(rgb.shape[:2], np.float32)
    for channel in range(3):
        gap = rgb[..., channel].astype(np.float32) - colour[channel]
        total += gap * gap
    return np.sqrt(total)


def _ringing_limit(distance: Coverage, tolerance: float) -> Coverage:
    """Return the tolerance near strong edges, where JPEG's 8 x 8 blocks carry ripples of the edge outward."""
    strongest = cv2.dilate(distance, np.ones((17, 17), np.uint8))
    return np.asarray(np.maximum(_RINGING_SHARE * strongest, np.float32(tolerance)))


def _connected_to_border(like: NDArray[np.bool_]) -> NDArray[np.bool_]:
    """Return the pixels of ``like`` that hang together with the picture's border, sides only."""
    padded = np.pad(like, 1, constant_values=True).astype(np.uint8)
    _, labels = cv2.connectedComponents(padded, connectivity=4, ltype=cv2.CV_32S)
    return np.asarray(labels[1:-1, 1:-1] == labels[0, 0])


def _soft_edge(
    rgb: Bytes, distance: Coverage, outside: NDArray[np.bool_], background: NDArray[np.float32]
) -> tuple[Coverage, Bytes]:
    """Split the pixels near the edge into art and background.

    A pixel there is c F + (1 - c) B with B the background and F the colour of the nearest pixel that is
    surely art, so c = (C - B).(F - B) / |F - B|^2: the least-squares share on the line between the two.
    """
    inside = ~outside
    core = inside & _surely_art(inside, distance)
    band = _grown(outside, 2) & _grown(inside, 2) & ~core
    coverage = inside.astype(np.float32)
    pixels = np.dstack([rgb, np.zeros(rgb.shape[:2], np.uint8)])
    if core.any() and band.any():
        source = nearest(core, np.flatnonzero(band).astype(np.int32))[0]
        full = rgb.reshape(-1, 3)[source].astype(np.float32)
        span = full - background
        share = np.einsum("nc,nc->n", rgb[band] - background, span)
        share /= np.maximum(np.einsum("nc,nc->n", span, span), 1.0)
        coverage[band] = np.clip(share, 0.0, 1.0)
        pixels[band, :3] = full.astype(np.uint8)
    # interior background colour further in than the band is art, whatever its colour
    pixels[..., 3] = np.rint(coverage * 255)
    return coverage, pixels


def _surely_art(inside: NDArray[np.bool_], distance: Coverage) -> NDArray[np.bool_]:
    """Two pixels inside the edge, or, in strokes thinner than that, as far from the background as any near."""
    deep = ~_grown(~inside, 2)
    strongest = cv2.dilate(distance, np.ones((5, 5), np.uint8))
    return np.asarray(deep | (distance >= 0.98 * strongest))


def _grown(mask: NDArray[np.bool_], pixels: int) -> NDArray[np.bool_]:
    kernel = cv2.getStructuringElement(cv2.MORPH_ELLIPSE, (2 * pixels + 1, 2 * pixels + 1))
    return np.asarray(cv2.dilate(mask.astype(np.uint8), kernel) > 0)


def nearest(source: NDArray[np.bool_], places: NDArray[np.int32]) -> tuple[NDArray[np.int32], Coverage]:
    """Return for each place, a flat index, that of a nearest True pixel of ``source``, and its distance.

    The mask 5 transform of OpenCV picks a source up to 1.4 px farther than the nearest: enough for
    colours, not for geometry.
    """
    distance, labels = cv2.distanceTransformWithLabels(
        (~source).astype(np.uint8), cv2.DIST_L2, cv2.DIST_MASK_5, labelType=cv2.DIST_LABEL_PIXEL
    )
    flat = np.flatnonzero(source).astype(np.int32)
    lookup = np.zeros(int(labels.max()) + 1, np.int32)
    lookup[labels.reshape(-1)[flat]] = flat
    return lookup[labels.reshape(-1)[places]], np.asarray(distance.reshape(-1)[places], np.float32)
