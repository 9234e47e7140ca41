"""How a mark's length and thickness turn into the error of what is read from it.

A line scan over a bar, blurred by the reader's spot: the Cramer-Rao bound of the bar's middle is
q^2 D / integral of the square of the signal's slope (S. M. Kay, Estimation Theory, 1993, section 3.5), which for a bar
of thickness t and a Gaussian spot w is q^2 sqrt(pi) w D / (1 - exp(-t^2 / 4 w^2)). Many lines average along the
length; what the head and the ink's edge add does not, or only over lengths longer than the ink's own waves.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Literal

import numpy as np

from honest_edge.core.geometry.paths import Floats
from honest_edge.core.sheet.marks import marks_of
from honest_edge.core.values.misregistration import PER_SPREAD
from honest_edge.core.values.sheet import SheetSpec
from honest_edge.core.values.stock import Gloss

MapKind = Literal["affine", "similarity"]


@dataclass(frozen=True, slots=True, kw_only=True)
class ReaderNature:
    """How a mark reader sees; every number is an assumption, for no maker states them.

    Attributes:
        spot_mm: one standard deviation of the spot of light.
        step_mm: between samples along a line.
        line_mm: between the lines that cross a bar.
        common_mm: what head and carriage add to a mark, however long it is.
        ink_mm: one standard deviation of the printed edge's waves.
        wave_mm: how long they are.
        map: whether what is read makes an affine map or a similarity.
    """

    spot_mm: float = 0.35
    step_mm: float = 0.1
    line_mm: float = 0.5
    common_mm: float = 0.03
    ink_mm: float = 0.02
    wave_mm: float = 0.5
    map: MapKind = "affine"


NOISE_OF: dict[Gloss, float] = {"matt": 0.04, "satin": 0.09, "glossy": 0.21, "mirror": 1.2}
"""Noise of a sample against the contrast of ink and stock, by how the stock shines: assumptions."""

READER = ReaderNature()

_STICKERS_WITHIN = 0.9
"""The farthest sticker's middle lies so far from the marks' middle, in shares of the marks' own distance."""


def line_sd_mm(thickness_mm: float, noise: float, reader: ReaderNature = READER) -> float:
    """Return the standard deviation of a bar's middle as one line tells it."""
    seen = -math.expm1(-(thickness_mm**2) / (4 * reader.spot_mm**2))
    return noise * math.sqrt(math.sqrt(math.pi) * reader.spot_mm * reader.step_mm / seen)


def mark_sd_mm(length_mm: float, thickness_mm: float, noise: float, reader: ReaderNature = READER) -> float:
    """Return the standard deviation of a mark's place in one direction."""
    line = line_sd_mm(thickness_mm, noise, reader)
    ink = reader.ink_mm**2 / 2 * min(1.0, reader.wave_mm / length_mm)  # both edges of the bar make its middle
    return math.sqrt(reader.common_mm**2 + line**2 * min(1.0, reader.line_mm / length_mm) + ink)


def map_factor(marks_mm: Floats, place_mm: Sequence[float], kind: MapKind) -> float:
    """Return what a mark's error is multiplied with at a place, in x and y alike on average.

    Least squares through (k, 2) marks: three of them make an affine map exactly.
    """
    centre = np.asarray(marks_mm).mean(0)
    away, at = np.asarray(marks_mm) - centre, np.asarray(place_mm, float) - centre
    if kind == "affine":
        matrix = np.column_stack([np.ones(len(away)), away])
        row = np.array([1.0, *at])
        return float(np.sqrt(row @ np.linalg.inv(matrix.T @ matrix) @ row))
    return math.sqrt(1 / len(away) + float(at @ at) / float(np.square(away).sum()))


def marks_middles(sheet: SheetSpec) -> Floats:
    """Return (k, 2) places of a sheet's marks, from the paper's middle; the corners of a frame.

    Raises:
        BlockedError: the marks cannot be placed.
    """
    width, height = sheet.size_mm
    if sheet.marks.kind == "frame":
        x, y = width / 2 - sheet.marks.inset_mm, height / 2 - sheet.marks.inset_mm
        return np.array([(-x, -y), (x, -y), (-x, y), (x, y)])
    boxes = [box for mark in marks_of(sheet) for box in mark.keep_outs]
    return np.array([box.middle for box in boxes]) - np.array([width, height]) / 2


def reading_error_mm(sheet: SheetSpec, reader: ReaderNature = READER) -> float:
    """Return within what distance the reading puts a cut, 19 times of 20, in the corner farthest from the marks.

    Raises:
        BlockedError: the marks cannot be placed.
    """
    marks, middles = sheet.marks, marks_middles(sheet)
    # a disc or a square is crossed over its whole width, where no line's thickness counts
    thick = marks.thickness_mm if "bracket" in marks.kind or marks.kind == "frame" else marks.length_mm
    spread = mark_sd_mm(marks.length_mm, thick, NOISE_OF[sheet.stock.gloss], reader)
    reach = _STICKERS_WITHIN * np.abs(middles).max(0)
    corners = [(x * reach[0], y * reach[1]) for x in (-1, 1) for y in (-1, 1)]
    return PER_SPREAD * spread * max(map_factor(middles, corner, reader.map) for corner in corners)


@dataclass(frozen=True, slots=True, kw_only=True)
class MarkPrice:
    """What smaller marks give and take.

    Attributes:
        length_mm, thickness_mm: their size.
        more: how many more stickers a fresh sheet takes.
        error_mm: within what distance reading them puts the cut, 19 times of 20, in the farthest corner.
        error_now_mm: the same with the present marks.
    """

    length_mm: float
    thickness_mm: float
    more: int
    error_mm: float
    error_now_mm: float
