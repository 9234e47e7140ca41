"""The placement sheet: what is put on a thing, at true size, with the lines of its middle and the order of the work."""

from __future__ import annotations

import io
import textwrap
from collections.abc import Sequence

from reportlab.pdfbase import pdfmetrics
from reportlab.pdfbase.ttfonts import TTFont
from reportlab.pdfgen.canvas import Canvas

from honest_edge.core.values.applied import AppliedDesign
from honest_edge.core.values.units import Unit, format_length
from honest_edge.files.typefaces import words_file
from honest_edge.files.write_pdf import POINTS_PER_MM

_FONT = "Placement"
_MARGIN_MM, _AIR_MM, _LINE_MM, _LETTERS_MM, _TICK_MM = 10.0, 12.0, 5.0, 3.3, 4.0
RULER_MM = 50.0


def placement_pdf(
    applied: AppliedDesign, steps: Sequence[str], paper_mm: tuple[float, float], unit: Unit = "mm"
) -> bytes:
    """Return the sheet as PDF, as large as the design needs it; the same input gives the same bytes.

    Args:
        applied: what is put on.
        steps: how, in order.
        paper_mm: width and height of the paper that it is printed on, where it fits.
        unit: in which its size is told.
    """
    left, top, right, bottom = applied.box_mm
    wide, high = right - left, bottom - top
    width = max(paper_mm[0], wide + 2 * (_MARGIN_MM + _AIR_MM))
    lines = _wrapped(steps, width - 2 * _MARGIN_MM)
    words_mm = _LINE_MM * (len(lines) + 4)
    height = max(paper_mm[1], high + 2 * (_MARGIN_MM + _AIR_MM) + words_mm)
    out = io.BytesIO()
    pdfmetrics.registerFont(TTFont(_FONT, str(words_file())))
    canvas = Canvas(out, pagesize=(width * POINTS_PER_MM, height * POINTS_PER_MM), invariant=1)
    canvas.setTitle(f"{applied.name}: placement")
    canvas.scale(POINTS_PER_MM, POINTS_PER_MM)
    middle = (width / 2, height - _MARGIN_MM - _AIR_MM - high / 2)
    _draw_parts(canvas, applied, middle)
    _draw_middle(canvas, middle, (wide, high), width)
    size = f"{format_length(wide, unit)} × {format_length(high, unit)}"
    head = f"{applied.name}: {size}. Print at 100 %: the line below is {format_length(RULER_MM, unit)} long."
    _draw_words(canvas, [head, *lines], words_mm)
    canvas.showPage()
    canvas.save()
    return out.getvalue()


def _draw_parts(canvas: Canvas, applied: AppliedDesign, middle: tuple[float, float]) -> None:
    left, top, right, bottom = applied.box_mm
    across, down = middle[0] - (left + right) / 2, middle[1] + (top + bottom) / 2
    canvas.setLineWidth(0.25)
    for number, part in enumerate(applied.parts, 1):
        path = canvas.beginPath()
        for ring in part.rings:
            points = [(x + across, down - y) for x, y in zip(ring[::2], ring[1::2], strict=True)]
            path.moveTo(*points[0])
            for point in points[1:]:
                path.lineTo(*point)
            path.close()
        canvas.drawPath(path, stroke=1, fill=0)
        if len(applied.parts) > 1:
            canvas.setFont(_FONT, _LETTERS_MM)
            x, y = part.rings[0][0] + across, down - part.rings[0][1]
            canvas.drawString(x + 0.6, y + 0.6, str(number))


def _draw_middle(canvas: Canvas, middle: tuple[float, float], size: tuple[float, float], width: float) -> None:
    """Draw the lines of the middle right across, and where they leave the design."""
    x, y = middle
    reach = size[0] / 2 + _AIR_MM - 2, size[1] / 2 + _AIR_MM - 2
    canvas.setLineWidth(0.15)
    canvas.setDash([6, 1.5, 1, 1.5])
    canvas.line(max(_MARGIN_MM / 2, x - max(reach[0], width)), y, min(width - _MARGIN_MM / 2, x + width), y)
    canvas.line(x, y - reach[1], x, y + reach[1])
    canvas.setDash()
    canvas.setLineWidth(0.4)
    for sign in (-1, 1):
        canvas.line(x + sign * size[0] / 2, y - _TICK_MM / 2, x + sign * size[0] / 2, y + _TICK_MM / 2)
        canvas.line(x - _TICK_MM / 2, y + sign * size[1] / 2, x + _TICK_MM / 2, y + sign * size[1] / 2)


def _draw_words(canvas: Canvas, lines: Sequence[str], words_mm: float) -> None:
    canvas.setFont(_FONT, _LETTERS_MM)
    y = _MARGIN_MM + words_mm - _LINE_MM
    for line in lines:
        canvas.drawString(_MARGIN_MM, y, line)
        y -= _LINE_MM
    canvas.setLineWidth(0.4)
    canvas.line(_MARGIN_MM, y, _MARGIN_MM + RULER_MM, y)
    for x in (_MARGIN_MM, _MARGIN_MM + RULER_MM):
        canvas.line(x, y - 1, x, y + 1)


def _wrapped(steps: Sequence[str], width_mm: float) -> list[str]:
    letters = max(20, int(width_mm / (0.5 * _LETTERS_MM)))
    lines: list[str] = []
    for number, step in enumerate(steps, 1):
        lines += textwrap.wrap(f"{number}. {step}", letters, subsequent_indent="    ")
    return lines
