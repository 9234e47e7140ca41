"""A picture in memory, with what its file said about itself."""

from __future__ import annotations

import math
from dataclasses import dataclass
from typing import Literal

import numpy as np
from numpy.typing import NDArray

from honest_edge.core.values.units import MM_PER_INCH

SizeSource = Literal[
    "PNG pHYs",
    "JFIF",
    "EXIF",
    "TIFF",
    "file header",
    "SVG units",
    "SVG pixels of 1/96 in",
    "PDF page",
    "PSD header",
    "layers",
    "assumed",
]


@dataclass(frozen=True, slots=True, kw_only=True, eq=False)
class Artwork:
    """Pixels of one picture.

    Attributes:
        pixels: (height, width, 4) uint8, straight (not premultiplied) sRGB and alpha, top row first.
        stated_ppi: pixels per inch that the file states, or 300 where it states none.
        size_source: where ``stated_ppi`` comes from.
        lossy: the file's compression blurs colours (JPEG), so backgrounds are noisy.
        notes: what reading changed, each one sentence.
        statements: every resolution that the file states, in ppi, by where it stands.
        is_vector: the pixels were drawn from a drawing, as many as the finished size needs.
        page_count: pages of the file.
        layers: names of the file's layers, bottom first.
        cutting: those that mean a cut and no ink: their numbers, each with what it asks for, as "cut" or "crease".
        inner_px: how many pixels across a drawing that holds pictures would have as fine as its coarsest; else 0.
        look_of_px: width of the whole picture where this is only a first look, of fewer pixels; else 0.
    """

    pixels: NDArray[np.uint8]
    stated_ppi: float
    size_source: SizeSource
    lossy: bool = False
    notes: tuple[str, ...] = ()
    statements: tuple[tuple[SizeSource, float], ...] = ()
    is_vector: bool = False
    page_count: int = 1
    layers: tuple[str, ...] = ()
    cutting: tuple[tuple[int, str], ...] = ()
    look_of_px: int = 0
    inner_px: float = 0.0

    @property
    def width_px(self) -> int:
        """Pixels across."""
        return int(self.pixels.shape[1])

    @property
    def height_px(self) -> int:
        """Pixels down."""
        return int(self.pixels.shape[0])

    @property
    def is_cut_out(self) -> bool:
        """Whether some of the picture is see-through."""
        return not bool((self.pixels[..., 3] >= 250).all())

    @property
    def has_conflict(self) -> bool:
        """Whether the file states two sizes that are not one."""
        stated = [ppi for _, ppi in self.statements]
        return bool(stated) and max(stated) > 1.01 * min(stated)

    @property
    def stated_width_mm(self) -> float:
        """Width at the stated (or assumed) resolution."""
        return (self.look_of_px or self.width_px) / self.stated_ppi * MM_PER_INCH

    def ppi_at(self, width_mm: float) -> float:
        """Pixels per inch when it is printed ``width_mm`` wide; a picture in a drawing has no more than its own."""
        return min(self.width_px, self.inner_px or math.inf) / (width_mm / MM_PER_INCH)

    @property
    def stays_crisp(self) -> bool:
        """Whether it is a drawing without pictures in it, which is drawn as fine as it is printed."""
        return self.is_vector and not self.inner_px
