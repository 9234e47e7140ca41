"""A picture in memory, with what its file said about itself."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

import numpy as np
from numpy.typing import NDArray

from honest_edge.core.values.units import MM_PER_INCH

SizeSource = Literal["PNG pHYs", "JFIF", "EXIF", "TIFF", "file header", "assumed"]


@dataclass(frozen=True, slots=True, kw_only=True, eq=False)
class Artwork:
    """Pixels of one picture.

    Attributes:
        pixels: (height, width, 4) uint8, straight (not premultiplied) sRGB and alpha, top row first.
        stated_ppi: pixels per inch that the file states, or 300 where it states none.
        size_source: where ``stated_ppi`` comes from.
        lossy: the file's compression blurs colours (JPEG), so backgrounds are noisy.
        notes: what reading changed, each one sentence.
    """

    pixels: NDArray[np.uint8]
    stated_ppi: float
    size_source: SizeSource
    lossy: bool = False
    notes: tuple[str, ...] = ()

    @property
    def width_px(self) -> int:
        """Pixels across."""
        return int(self.pixels.shape[1])

    @property
    def height_px(self) -> int:
        """Pixels down."""
        return int(self.pixels.shape[0])

    @property
    def stated_width_mm(self) -> float:
        """Width at the stated (or assumed) resolution."""
        return self.width_px / self.stated_ppi * MM_PER_INCH

    def ppi_at(self, width_mm: float) -> float:
        """Pixels per inch when the picture is printed ``width_mm`` wide."""
        return self.width_px / (width_mm / MM_PER_INCH)
