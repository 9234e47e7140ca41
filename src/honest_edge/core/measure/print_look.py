"""A picture of a printed sheet before it dries: whether it was scaled, and what its strip says."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import cv2
import numpy as np
from numpy.typing import NDArray

from honest_edge.core.geometry.paths import Floats
from honest_edge.core.imaging.flood import Bytes
from honest_edge.core.measure.loaded_sheet import PlannedPage, drawn_mark, paper_map, seen_flat
from honest_edge.core.measure.print_strip import STRIP_MM, StripReading, read_strip
from honest_edge.core.sheet.marks import Mark
from honest_edge.core.sheet.media import Box

_PX_MM, _STRIP_PX_MM = 4.0, 14.0
_REACH_MM = 9.0
"""A dialog that fits a page moves a mark by so much at most."""
_AROUND_MM = 1.2
_LEAST_ALIKE, _LONG = 0.45, 4.0


@dataclass(frozen=True, slots=True, kw_only=True, eq=False)
class PrintLook:
    """What a picture says of a print.

    Attributes:
        scale_x, scale_y: of the print against what was sealed, from its marks and the paper's edges.
        strip: what the strip says; None where it has none, or none is seen.
    """

    scale_x: float
    scale_y: float
    strip: StripReading | None


def print_look(rgb: NDArray[np.uint8], planned: PlannedPage, strip: Box | None) -> PrintLook | None:
    """Return what a picture says of a print; None where this sheet is not seen, or too few of its marks.

    Args:
        rgb: (h, w, 3) the picture, red first.
        planned: the sheet as it was sealed.
        strip: where its strip is printed.
    """
    grey = np.asarray(cv2.cvtColor(rgb, cv2.COLOR_RGB2GRAY), np.uint8)
    to_picture = paper_map(grey, planned)
    if to_picture is None:
        return None
    fit = _fitted(grey, to_picture, planned.marks)
    if fit is None:
        return None
    scales, shifts = fit
    printed = np.array([[scales[0], 0, shifts[0]], [0, scales[1], shifts[1]], [0, 0, 1.0]])
    there = to_picture @ printed
    reading = None
    if strip is not None:
        box = Box(strip.left, strip.top, strip.left + STRIP_MM[0], strip.top + STRIP_MM[1]).grown(_AROUND_MM)
        flat = np.dstack([seen_flat(np.ascontiguousarray(rgb[..., n]), there, box, _STRIP_PX_MM) for n in range(3)])
        reading = read_strip(flat, _STRIP_PX_MM, _AROUND_MM)
    return PrintLook(scale_x=scales[0], scale_y=scales[1], strip=reading)


def _fitted(grey: Bytes, to_picture: Floats, marks: Sequence[Mark]) -> tuple[Floats, Floats] | None:
    """Return scale and shift of the print on its paper, across and down, from where its marks lie."""
    pairs: tuple[list[tuple[float, float]], list[tuple[float, float]]] = ([], [])
    for mark in marks:
        for room in mark.keep_outs:
            at = _mark_at(grey, to_picture, mark, room)
            if at is None:
                continue
            for axis, along in ((0, room.width / room.height), (1, room.height / room.width)):
                if along < _LONG:  # along a bar of a frame its place is not sure
                    pairs[axis].append((room.middle[axis], at[axis]))
    scales, shifts = np.zeros(2), np.zeros(2)
    for axis in (0, 1):
        if len({round(one) for one, _ in pairs[axis]}) < 2:
            return None
        planned, seen = np.array(pairs[axis]).T
        matrix = np.column_stack([planned, np.ones(len(planned))])
        (scales[axis], shifts[axis]), *_ = np.linalg.lstsq(matrix, seen, rcond=None)
    return scales, shifts


def _mark_at(grey: Bytes, to_picture: Floats, mark: Mark, room: Box) -> tuple[float, float] | None:
    """Return where the middle of a mark's room lies on the paper; None where the mark is not seen."""
    inked = drawn_mark(mark, room, _PX_MM)
    wide = room.grown(_REACH_MM)
    seen = seen_flat(grey, to_picture, wide, _PX_MM).astype(np.float32)
    raw = cv2.matchTemplate(seen, 255.0 - inked.astype(np.float32), cv2.TM_CCOEFF_NORMED)
    score = np.asarray(np.nan_to_num(raw, nan=-1.0), np.float32)
    _, best, _, (x, y) = cv2.minMaxLoc(score)
    if best < _LEAST_ALIKE:
        return None
    dx, dy = _within(score, x, y)
    left, top = wide.left + (x + dx) / _PX_MM, wide.top + (y + dy) / _PX_MM
    return left + room.width / 2, top + room.height / 2


def _within(score: NDArray[np.float32], x: int, y: int) -> tuple[float, float]:
    """Return by what share of a pixel the peak lies beside its highest pixel: a parabola through its neighbours."""
    beside = []
    for axis, at, last in ((1, x, score.shape[1] - 1), (0, y, score.shape[0] - 1)):
        if not 0 < at < last:
            beside.append(0.0)
            continue
        line = score[y, x - 1 : x + 2] if axis else score[y - 1 : y + 2, x]
        a, b, c = (float(value) for value in line)
        bend = a - 2 * b + c
        beside.append(0.0 if bend == 0 else 0.5 * (a - c) / bend)
    return beside[0], beside[1]
