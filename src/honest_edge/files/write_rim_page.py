"""The page that shows a printer's rim: lines at every millimetre from the edges, of which the outer ones stay white."""

from __future__ import annotations

import io

from reportlab.pdfgen.canvas import Canvas

from honest_edge.core.values.own_bench import RIM_STEPS
from honest_edge.files.write_pdf import POINTS_PER_MM

_STEP_MM, _LINE_MM, _BESIDE_MM = 6.0, 4.0, 1.5


def rim_page(width_mm: float, height_mm: float) -> bytes:
    """Return a page as PDF: line n stands n mm from the paper's left edge, and from its lower edge."""
    out = io.BytesIO()
    canvas = Canvas(out, pagesize=(width_mm * POINTS_PER_MM, height_mm * POINTS_PER_MM), invariant=1)
    canvas.scale(POINTS_PER_MM, POINTS_PER_MM)
    canvas.setLineWidth(0.25)
    canvas.setFont("Helvetica", 3.2)
    top_mm, left_mm = height_mm / 2 + _STEP_MM * RIM_STEPS / 2, width_mm / 2 - _STEP_MM * RIM_STEPS / 2
    for number in range(1, RIM_STEPS + 1):
        y_mm = top_mm - _STEP_MM * (number - 1)
        canvas.line(number, y_mm, number, y_mm - _LINE_MM)
        canvas.drawString(number + _BESIDE_MM, y_mm - 0.75 * _LINE_MM, str(number))
        x_mm = left_mm + _STEP_MM * (number - 1)
        canvas.line(x_mm, number, x_mm + _LINE_MM, number)
        canvas.drawCentredString(x_mm + _LINE_MM / 2, number + _BESIDE_MM, str(number))
    canvas.setFont("Helvetica", 5)
    for line, words in enumerate(
        (
            "What does this printer leave white?",
            "At the left edge and at the lower edge, find the smallest number",
            "whose line can be seen, and type both numbers in Honest Edge.",
            "Print this page at 100 %, never fitted to the page.",
        )
    ):
        canvas.drawCentredString(width_mm / 2, height_mm * 0.72 - 8 * line, words)
    canvas.showPage()
    canvas.save()
    return out.getvalue()
