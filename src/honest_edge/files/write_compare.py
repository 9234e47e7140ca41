"""Pages that compare ways to set a printer's driver: one sheet goes through once for each, and prints one field."""

from __future__ import annotations

import io

from reportlab.lib.colors import Color
from reportlab.pdfbase import pdfmetrics
from reportlab.pdfbase.ttfonts import TTFont
from reportlab.pdfgen.canvas import Canvas

from honest_edge.core.measure.print_strip import GREY, PATCHES
from honest_edge.core.values.specs import Colour
from honest_edge.files.typefaces import words_file
from honest_edge.files.write_pdf import POINTS_PER_MM

FIELDS = 4
_FONT = "Compare"
_MARGIN_MM, _GAP_MM = 14.0, 8.0
_LETTERS_MM = (3.2, 2.2, 1.6, 1.1)
_LINES_MM = (0.5, 0.25, 0.12, 0.06)


def compare_page(number: int, size_mm: tuple[float, float]) -> bytes:
    """Return the page that prints field ``number`` of 1 to 4, as PDF; the same input gives the same bytes."""
    out = io.BytesIO()
    pdfmetrics.registerFont(TTFont(_FONT, str(words_file())))
    canvas = Canvas(out, pagesize=tuple(side * POINTS_PER_MM for side in size_mm), invariant=1)
    canvas.setTitle(f"Field {number} of {FIELDS}")
    canvas.scale(POINTS_PER_MM, POINTS_PER_MM)
    wide = (size_mm[0] - 2 * _MARGIN_MM - _GAP_MM) / 2
    high = (size_mm[1] - 2 * _MARGIN_MM - _GAP_MM) / 2
    left = _MARGIN_MM + (number - 1) % 2 * (wide + _GAP_MM)
    bottom = size_mm[1] - _MARGIN_MM - high - (number - 1) // 2 * (high + _GAP_MM)
    canvas.translate(left, bottom)
    _field(canvas, number, wide, high)
    canvas.showPage()
    canvas.save()
    return out.getvalue()


def _field(canvas: Canvas, number: int, wide: float, high: float) -> None:
    canvas.setLineWidth(0.2)
    canvas.rect(0, 0, wide, high)
    canvas.setFont(_FONT, 8)
    canvas.drawString(4, high - 11, str(number))
    canvas.setFont(_FONT, 3)
    canvas.drawString(13, high - 7, "The driver was set to:")
    canvas.line(13, high - 14, wide - 4, high - 14)
    side = (wide - 8) / (len(PATCHES) + 1)
    y = high - 20 - side
    for place, rgb in enumerate((*(rgb for _, rgb in PATCHES), GREY)):
        canvas.setFillColor(_colour(rgb))
        canvas.rect(4 + place * side, y, side - 0.6, side, stroke=0, fill=1)
    y -= 4 + 14
    stops = [Color(0.99, 0.93, 0.85), Color(0.85, 0.55, 0.35), Color(0.25, 0.15, 0.2)]
    _blend(canvas, (4, y, wide - 8, 14), stops)
    y -= 4 + 8
    _blend(canvas, (4, y, wide - 8, 8), [Color(1, 1, 1), Color(0, 0, 0)])
    y -= 6
    canvas.setFillColor(Color(0, 0, 0))
    for size in _LETTERS_MM:
        canvas.setFont(_FONT, size)
        canvas.drawString(4, y, "Small letters stay open: a e g s 6 8 9")
        y -= size + 1.6
    for thick in _LINES_MM:
        canvas.setLineWidth(thick)
        canvas.line(4, y, wide / 2 - 2, y)
        canvas.setLineWidth(0.2)
        canvas.setStrokeColor(_colour(PATCHES[1][1]))
        canvas.setLineWidth(thick)
        canvas.line(wide / 2 + 2, y, wide - 4, y)
        canvas.setStrokeColor(Color(0, 0, 0))
        y -= 2.2


def _blend(canvas: Canvas, box: tuple[float, float, float, float], stops: list[Color]) -> None:
    """Fill a box from one colour to the next, from left to right."""
    canvas.saveState()
    path = canvas.beginPath()
    path.rect(*box)
    canvas.clipPath(path, stroke=0)
    canvas.linearGradient(box[0], box[1], box[0] + box[2], box[1], stops, extend=False)
    canvas.restoreState()


def _colour(rgb: Colour) -> Color:
    return Color(*(channel / 255 for channel in rgb))
