"""Reading a print file again: its page boxes, and whether the marks are printed."""

from __future__ import annotations

import io
from collections.abc import Sequence
from dataclasses import dataclass
from itertools import pairwise

import numpy as np
import pikepdf
import pypdfium2

from honest_edge.core.values.errors import FileError
from honest_edge.core.values.units import MM_PER_INCH

_POINTS_PER_MM = 72 / MM_PER_INCH
_PX_MM = 4.0  # pixels per millimetre: a bar of a millimetre covers four
_ROUNDING = 0.01
_BOXES = ("/TrimBox", "/BleedBox", "/MediaBox")
Box = tuple[float, float, float, float]


@dataclass(frozen=True, slots=True, kw_only=True)
class PrintPage:
    """One page.

    Attributes:
        width_mm, height_mm: of its media box.
        is_nested: whether trim lies within bleed, and bleed within media.
        mark_levels: for each bar of the marks, by how many levels it stands out from the paper beside it.
    """

    width_mm: float
    height_mm: float
    is_nested: bool
    mark_levels: tuple[float, ...]


def read_print(data: bytes, marks_mm: Sequence[Box]) -> list[PrintPage]:
    """Return the pages of a print file of ours.

    Args:
        data: the PDF.
        marks_mm: boxes of the marks' bars: left, top, right, bottom.

    Raises:
        FileError: it cannot be read.
    """
    try:
        with pikepdf.open(io.BytesIO(data)) as pdf, pypdfium2.PdfDocument(data) as drawn:
            return [_page(page, drawn[number], marks_mm) for number, page in enumerate(pdf.pages)]
    except (pikepdf.PdfError, pypdfium2.PdfiumError) as error:
        raise FileError(f"The print file is damaged ({type(error).__name__})") from None


def _page(page: pikepdf.Page, drawn: pypdfium2.PdfPage, marks_mm: Sequence[Box]) -> PrintPage:
    boxes = [[float(value) for value in page.obj.get(name, page.MediaBox)] for name in _BOXES]
    unit = float(page.obj.get("/UserUnit", 1))
    left, bottom, right, top = boxes[-1]
    return PrintPage(
        width_mm=(right - left) * unit / _POINTS_PER_MM,
        height_mm=(top - bottom) * unit / _POINTS_PER_MM,
        is_nested=all(_is_within(inner, outer) for inner, outer in pairwise(boxes)),
        mark_levels=_levels(drawn, marks_mm),
    )


def _is_within(inner: Sequence[float], outer: Sequence[float]) -> bool:
    return (
        inner[0] >= outer[0] - _ROUNDING
        and inner[1] >= outer[1] - _ROUNDING
        and inner[2] <= outer[2] + _ROUNDING
        and inner[3] <= outer[3] + _ROUNDING
    )


def _levels(drawn: pypdfium2.PdfPage, marks_mm: Sequence[Box]) -> tuple[float, ...]:
    if not marks_mm:
        return ()
    picture = drawn.render(scale=_PX_MM / _POINTS_PER_MM, grayscale=True).to_numpy()
    grey = np.asarray(picture, np.float64).reshape(picture.shape[0], picture.shape[1])
    return tuple(abs(_mean(grey, box, -0.2) - _mean(grey, box, 1.0, ring=True)) for box in marks_mm)


def _mean(grey: np.ndarray, box: Box, grown_mm: float, *, ring: bool = False) -> float:
    """Return the mean level of a box that is grown, or of the ring that it grew by."""
    rows, columns = _pixels(grey, box, grown_mm)
    whole = grey[rows, columns]
    if not ring:
        return float(whole.mean()) if whole.size else 255.0
    inner_rows, inner_columns = _pixels(grey, box, 0.5)
    mask = np.ones(grey.shape, bool)
    mask[inner_rows, inner_columns] = False
    around = whole[mask[rows, columns]]
    return float(np.median(around)) if around.size else 255.0


def _pixels(grey: np.ndarray, box: Box, grown_mm: float) -> tuple[slice, slice]:
    left, top, right, bottom = box
    rows = slice(max(0, round((top - grown_mm) * _PX_MM)), max(1, round((bottom + grown_mm) * _PX_MM)))
    return rows, slice(max(0, round((left - grown_mm) * _PX_MM)), max(1, round((right + grown_mm) * _PX_MM)))
