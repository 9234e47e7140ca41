"""Telling the art from its background; what is told keeps the edge's sub-pixel place in its alpha."""

from __future__ import annotations

from dataclasses import dataclass, replace
from typing import Literal

import cv2
import numpy as np

from honest_edge.core.imaging import strokes
from honest_edge.core.imaging.flood import (
    Bytes,
    Mask,
    border_colour,
    colour_distance,
    connected_to_border,
    ringing_limit,
    soft_edge,
    tolerance_for,
)
from honest_edge.core.imaging.leaks import Leak, dammed
from honest_edge.core.imaging.recognise import Likeness, is_shaded, likeness
from honest_edge.core.imaging.subject_cut import Stroke, own_colours, subject_coverage
from honest_edge.core.values.artwork import Artwork
from honest_edge.core.values.errors import BlockedError
from honest_edge.core.values.specs import OutlineRecipe

MOST_PARTS = 500
"""Parts of one picture: more are no art."""

Method = Literal["alpha", "flood", "colour", "subject", "none"]


@dataclass(frozen=True, slots=True, kw_only=True, eq=False)
class Subject:
    """The art without its background.

    Attributes:
        pixels: (h, w, 4) uint8, the art's own straight colours; alpha is the share of each pixel that
            belongs to the art.
        method: what told them apart.
        background_rgb: the colour that was taken away; None where transparency or nothing decided.
        tolerance: the colour distance used; None likewise.
        leaks: gaps through which the background flows in or would, if they were not dammed.
        looks_like: what its whole rectangle was kept for, unasked; None where it was not.
        cleared: what it looked like though its ground was asked to be cleared.
        specks: how many crumbs were left out that no sticker is made of, such as grain of paper.
    """

    pixels: Bytes
    method: Method
    background_rgb: tuple[int, int, int] | None = None
    tolerance: float | None = None
    leaks: tuple[Leak, ...] = ()
    looks_like: Likeness | None = None
    cleared: Likeness | None = None
    specks: int = 0

    @property
    def coverage(self) -> Bytes:
        """(h, w) uint8, 255 where a pixel belongs wholly to the art."""
        return self.pixels[..., 3]


def is_judged(recipe: OutlineRecipe) -> bool:
    """Return whether nothing of the recipe asks for a ground to be cleared, so that a photograph keeps its own."""
    flooded_by_hand = any(step.kind in ("dam", "open") for step in recipe.corrections)
    return recipe.background == "auto" and recipe.colour is None and recipe.tolerance is None and not flooded_by_hand


def clear_background(
    artwork: Artwork, recipe: OutlineRecipe, *, seek_leaks: bool = True, judge: bool = True
) -> Subject:
    """Return the art without its background.

    Args:
        artwork: the picture.
        recipe: how to tell them apart, and the corrections by hand.
        seek_leaks: also look for gaps wider than those that are dammed by default, to offer them.
        judge: keep the rectangle of what looks like a photograph where the recipe is silent.

    Raises:
        BlockedError: nothing is left, or the picture has no background of the kind asked for.
    """
    method = _choose(artwork, recipe)
    if method == "alpha":
        subject = Subject(pixels=artwork.pixels, method="alpha")
    elif method == "none":
        subject = Subject(pixels=strokes.opaque(artwork.pixels), method="none")
    elif method == "subject":
        return _subject(artwork, recipe)
    else:
        subject = _without_colour(artwork, recipe, method, seek_leaks=seek_leaks, judge=judge and is_judged(recipe))
    pixels = strokes.in_area(strokes.corrected(subject.pixels, artwork.pixels, recipe), recipe)
    if not (pixels[..., 3] >= 255 * recipe.threshold).any():
        raise BlockedError(_nothing_left(method))
    pixels, specks = without_specks(pixels, recipe.threshold)
    return replace(subject, pixels=pixels, specks=specks)


def without_specks(pixels: Bytes, threshold: float) -> tuple[Bytes, int]:
    """Return art of which thousands of the smallest parts are left out, and how many those are.

    Grain, noise and dots of a print are no art: they would be traced for minutes, a part each.
    """
    inked = (pixels[..., 3] >= 255 * threshold).astype(np.uint8)
    count, labels, stats, _ = cv2.connectedComponentsWithStats(inked, connectivity=8)
    if count - 1 <= MOST_PARTS:
        return pixels, 0
    kept = np.zeros(count, bool)
    kept[1 + np.argsort(-stats[1:, cv2.CC_STAT_AREA], kind="stable")[:MOST_PARTS]] = True
    near = cv2.dilate(kept[labels].astype(np.uint8), np.ones((3, 3), np.uint8)) > 0  # with their soft edges
    pixels = pixels.copy()
    pixels[~near | ((labels > 0) & ~kept[labels]), 3] = 0
    return pixels, count - 1 - MOST_PARTS


def _subject(artwork: Artwork, recipe: OutlineRecipe) -> Subject:
    """Return the subject of a photograph; strokes are understood there, and not only painted."""
    rgb = strokes.on_white(artwork.pixels)
    said = []
    for step in recipe.corrections:
        if step.kind in ("keep", "clear"):
            mask = np.zeros(rgb.shape[:2], np.uint8)
            strokes.draw(mask, step, width_px=rgb.shape[1])
            said.append(Stroke(mask, belongs=step.kind == "keep"))
    coverage = subject_coverage(rgb, strokes.looped(rgb.shape, recipe), said)
    return Subject(pixels=strokes.in_area(own_colours(rgb, coverage), recipe), method="subject")


def _choose(artwork: Artwork, recipe: OutlineRecipe) -> Method:
    see_through = bool((artwork.pixels[..., 3] < 250).any())
    if recipe.background == "alpha" and not see_through:
        raise BlockedError("This picture has no transparency: choose the background “from the border inward”")
    if recipe.background == "auto":
        return "alpha" if see_through else "flood"
    return recipe.background


def _nothing_left(method: Method) -> str:
    if method == "alpha":
        return "Nothing of the picture is opaque enough to print: lower the threshold, or choose another picture"
    return "The whole picture looks like background: lower the tolerance, or keep the rectangle"


def _without_colour(
    artwork: Artwork, recipe: OutlineRecipe, method: Method, *, seek_leaks: bool, judge: bool
) -> Subject:
    rgb = strokes.on_white(artwork.pixels)
    colour = border_colour(rgb) if recipe.colour is None else np.array(recipe.colour, np.float32)
    if colour is None:
        if recipe.background != "auto":
            raise BlockedError("The picture’s border has no colour in common: choose a colour, or keep the rectangle")
        looks_like: Likeness | None = "photograph" if judge and is_shaded(rgb) else None
        return Subject(pixels=strokes.opaque(artwork.pixels), method="none", looks_like=looks_like)
    tolerance = recipe.tolerance or tolerance_for(rgb, colour)
    looks_like = likeness(rgb, colour, tolerance, lossy=artwork.lossy)
    if looks_like is not None and judge:
        return Subject(pixels=strokes.opaque(artwork.pixels), method="none", looks_like=looks_like)
    distance = colour_distance(rgb, colour)
    like = distance <= (ringing_limit(distance, tolerance) if artwork.lossy else tolerance)
    outside, leaks = _flooded(like, rgb, recipe, seek_leaks=seek_leaks) if method == "flood" else (like, ())
    return Subject(
        pixels=soft_edge(rgb, distance, outside, colour),
        method=method,
        background_rgb=(int(colour[0]), int(colour[1]), int(colour[2])),
        tolerance=tolerance,
        leaks=leaks,
        cleared=looks_like,
    )


def _flooded(like: Mask, rgb: Bytes, recipe: OutlineRecipe, *, seek_leaks: bool) -> tuple[Mask, tuple[Leak, ...]]:
    """Return what the background reaches from the border, by hand and by itself dammed, and the leaks."""
    opened = strokes.painted(like.shape, recipe, "clear")
    closed = strokes.painted(like.shape, recipe, "dam", "keep")
    like = (like | opened) & ~closed
    if recipe.dam_px == 0 and not seek_leaks:
        return connected_to_border(like), ()
    width = like.shape[1]
    left_open = [(x * width, y * width) for c in recipe.corrections if c.kind == "open" for x, y in c.points]
    return dammed(like, rgb, dam_px=recipe.dam_px, left_open=left_open, seek=seek_leaks)
