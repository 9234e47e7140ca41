"""The outline at screen scale, at once: what a control does is seen while it moves; the exact one follows."""

from __future__ import annotations

import math
from dataclasses import dataclass, replace

import shapely

from honest_edge.app.results.cache import ResultCache
from honest_edge.app.results.design_result import DesignResult
from honest_edge.core.imaging.background import clear_background, is_judged
from honest_edge.core.imaging.flood import Bytes
from honest_edge.core.imaging.reduce import reduced
from honest_edge.core.outline.outline import outline_of
from honest_edge.core.outline.trace import trace_pixels
from honest_edge.core.values.artwork import Artwork
from honest_edge.core.values.job import Design

_MOST_BYTES = 30_000_000  # of reduced pictures

MOST_PX = 560
"""Longer side of the picture that is previewed: about what a table of 1280 x 800 shows of it."""


@dataclass(frozen=True, slots=True, kw_only=True, eq=False)
class OutlinePreview:
    """A first look.

    Attributes:
        pixels: the art without its background, reduced.
        pixel_mm: size of such a pixel.
        area: the outline in millimetres, good to about half a pixel of the screen.
    """

    pixels: Bytes
    pixel_mm: float
    area: shapely.MultiPolygon


class Previewer:
    """Keeps the reduced pictures."""

    def __init__(self) -> None:
        self._cache = ResultCache(_MOST_BYTES)

    def small(self, artwork: Artwork) -> tuple[Artwork, int]:
        """Return the reduced picture and by how much; made once, best before a control is touched."""
        factor = max(1, math.ceil(max(artwork.width_px, artwork.height_px) / MOST_PX))
        small_picture: Artwork = self._cache.get("small", (artwork, factor), lambda: _reduced(artwork, factor))
        return small_picture, factor

    def preview(self, design: Design, last: DesignResult) -> OutlinePreview:
        """Return a first look at a design whose recipe changed since its ``last`` result.

        Raises:
            BlockedError: as for the exact outline.
        """
        small, factor = self.small(last.artwork)
        recipe = replace(design.outline, dam_px=design.outline.dam_px / factor)
        if recipe.tolerance is None and recipe.background == last.design.outline.background:
            recipe = replace(recipe, tolerance=last.subject.tolerance)  # the noise is that of the whole picture
        if last.subject.looks_like and is_judged(recipe):
            recipe = replace(recipe, background="none")
        subject = clear_background(small, recipe, seek_leaks=False, judge=False)
        pixels = trace_pixels(subject.coverage, recipe.threshold, corner_deg=None)
        # the last block of a row may reach past the picture
        width_mm = last.width_mm * small.width_px * factor / last.artwork.width_px
        outline = outline_of(pixels, width_px=small.width_px, width_mm=width_mm, recipe=recipe)
        return OutlinePreview(pixels=subject.pixels, pixel_mm=outline.pixel_mm, area=outline.area)


def _reduced(artwork: Artwork, factor: int) -> Artwork:
    return replace(artwork, pixels=reduced(artwork.pixels, factor))
