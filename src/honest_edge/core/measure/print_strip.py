"""A strip of patches and fine lines in a sheet's margin, and what a picture of it says of the print before it dries.

Patches of each ink and of two on each other tell ink that is missing or weak, a grey block bands along the feed, a
stair of fine lines nozzles that do not fire. How much is too much is common practice, no published source.
"""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from honest_edge.core.sheet.media import Box
from honest_edge.core.values.specs import Colour

STRIP_MM = (78.0, 4.0)
"""Width and height."""

PATCHES: tuple[tuple[str, Colour], ...] = (
    ("cyan", (0, 160, 220)),
    ("magenta", (215, 20, 130)),
    ("yellow", (250, 225, 0)),
    ("black", (25, 25, 25)),
    ("red", (215, 40, 40)),
    ("green", (40, 150, 70)),
    ("blue", (50, 60, 150)),
)
GREY: Colour = (140, 140, 140)
_PATCH_MM, _GAP_MM, _GREY_MM, _AIR_MM = 5.0, 0.6, 14.0, 1.5
"""Wide, between two, the grey block, and beside it."""

_STEPS, _STEP_MM, _LINE_MM, _LINE_LONG_MM = 22, 0.9, 0.25, 1.2
_ROWS = 3
_WEAK, _CAST, _BANDS, _GONE = 0.55, 0.12, 0.045, 0.12
_INNER = 0.25  # of a patch's side that is not looked at: where it ends is not sure


@dataclass(frozen=True, slots=True, kw_only=True)
class StripReading:
    """What a picture of the strip says.

    Attributes:
        weak: patches with too little ink, by name.
        bands: how much the grey block's lightness goes up and down along the feed, in shares of the paper's.
        gone: share of the fine lines that are not there.
        cast: how far apart the grey block's channels are, in shares of the paper's.
    """

    weak: tuple[str, ...]
    bands: float
    gone: float
    cast: float

    @property
    def is_fine(self) -> bool:
        """Whether nothing is wrong with it."""
        return not (self.weak or self.has_bands or self.has_gaps or self.has_cast)

    @property
    def has_bands(self) -> bool:
        """Whether bands are seen."""
        return self.bands > _BANDS

    @property
    def has_gaps(self) -> bool:
        """Whether nozzles do not fire."""
        return self.gone > _GONE

    @property
    def has_cast(self) -> bool:
        """Whether grey is not grey."""
        return self.cast > _CAST


def strip_patches(box: Box) -> tuple[tuple[Box, Colour], ...]:
    """Return what is printed of a strip that begins at a box's top left: boxes and their colours."""
    patches = [(place, rgb) for (_, rgb), place in zip(PATCHES, _patch_places(box), strict=True)]
    lines = [(line, (0, 0, 0)) for line in _lines(box)]
    return (*patches, (_grey_place(box), GREY), *lines)


def _patch_places(box: Box) -> Iterator[Box]:
    for number in range(len(PATCHES)):
        left = box.left + number * (_PATCH_MM + _GAP_MM)
        yield Box(left, box.top, left + _PATCH_MM, box.top + STRIP_MM[1])


def _grey_place(box: Box) -> Box:
    left = box.left + len(PATCHES) * (_PATCH_MM + _GAP_MM) + _AIR_MM
    return Box(left, box.top, left + _GREY_MM, box.top + STRIP_MM[1])


def _lines(box: Box) -> Iterator[Box]:
    """Yield the fine lines: in three rows, each step a little beside the one above it."""
    left, pitch = _grey_place(box).right + _AIR_MM, STRIP_MM[1] / _ROWS
    for row in range(_ROWS):
        for step in range(_STEPS):
            x = left + step * _STEP_MM + row * _STEP_MM / _ROWS
            y = box.top + row * pitch
            yield Box(x, y, x + _LINE_MM, y + _LINE_LONG_MM)


def read_strip(seen: NDArray[np.uint8], px_per_mm: float, around_mm: float) -> StripReading:
    """Return what a strip says.

    Args:
        seen: (h, w, 3) the strip as if seen from straight above, red first, with paper round it.
        px_per_mm: how fine.
        around_mm: how much paper.
    """
    box = Box(around_mm, around_mm, around_mm + STRIP_MM[0], around_mm + STRIP_MM[1])
    picture = seen.astype(np.float64)
    paper = np.array([_row_paper(picture[..., channel], px_per_mm, around_mm) for channel in range(3)])
    share = picture / np.maximum(np.moveaxis(paper, 0, -1), 1.0)
    weak = tuple(
        name
        for (name, rgb), place in zip(PATCHES, _patch_places(box), strict=True)
        if _ink_share(_inside(share, place, px_per_mm), rgb) < _WEAK
    )
    grey = _inside(share, _grey_place(box), px_per_mm)
    rows = grey.mean(axis=(1, 2))
    middle = grey.mean(axis=(0, 1))
    return StripReading(
        weak=weak,
        bands=float(np.percentile(rows, 95) - np.percentile(rows, 5)),
        gone=_gone(share.mean(axis=2), box, px_per_mm),
        cast=float(middle.max() - middle.min()),
    )


def _row_paper(channel: NDArray[np.float64], px_per_mm: float, around_mm: float) -> NDArray[np.float64]:
    """Return the paper's own light at every pixel, from the paper above and below: light falls off across a picture."""
    rim = max(1, round(0.7 * around_mm * px_per_mm))
    above, below = np.median(channel[:rim], axis=0), np.median(channel[-rim:], axis=0)
    width = max(1, round(8 * px_per_mm))
    kernel = np.ones(width) / width
    ends = [np.convolve(np.pad(one, width // 2, mode="edge"), kernel, "same")[width // 2 : width // 2 + len(one)]
            for one in (above, below)]  # fmt: skip
    at = np.linspace(0, 1, len(channel))[:, None]
    return np.asarray(ends[0] * (1 - at) + ends[1] * at)


def _inside(picture: NDArray[np.float64], place: Box, px_per_mm: float) -> NDArray[np.float64]:
    inner = _INNER * min(place.width, place.height)
    box = place.grown(-inner)
    left, top, right, bottom = (round(side * px_per_mm) for side in box)
    return picture[top:bottom, left:right]


def _ink_share(seen: NDArray[np.float64], rgb: Colour) -> float:
    """Return how much of a patch's ink there is: what the paper loses by it against what it should lose."""
    wanted = 1 - np.array(rgb) / 255
    lost = 1 - np.median(seen, axis=(0, 1))
    return float((lost * wanted).sum() / (wanted**2).sum())


def _gone(light: NDArray[np.float64], box: Box, px_per_mm: float) -> float:
    """Return the share of fine lines that are not darker than what lies beside them."""
    gone, lines = 0, 0
    for line in _lines(box):
        reach = 0.3
        left, right = round((line.left - reach) * px_per_mm), round((line.right + reach) * px_per_mm)
        top, bottom = round((line.top + 0.3) * px_per_mm), round((line.bottom - 0.3) * px_per_mm)
        across = light[top:bottom, left:right].mean(axis=0)
        lines += 1
        gone += bool(across.max() - across.min() < _LEAST_LINE)
    return gone / lines


_LEAST_LINE = 0.06  # of the paper's light, by which a line of a quarter of a millimetre is darker
