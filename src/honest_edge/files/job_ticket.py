"""The job ticket: one page that goes with the work, from the printer to the last cut."""

from __future__ import annotations

import io
from collections.abc import Sequence
from dataclasses import dataclass
from xml.sax.saxutils import escape

import numpy as np
from PIL import Image, ImageDraw

from honest_edge.core.values.machine import Machine
from honest_edge.core.values.units import MM_PER_INCH
from honest_edge.files.print_png import page_pixels
from honest_edge.files.sheet_page import SheetPage
from honest_edge.files.typefaces import words_file

_PPI = 96.0
MOST_PICTURES = 6
"""More sheets than so many are counted, not shown."""
_FONT = "Ticket"


@dataclass(frozen=True, slots=True, kw_only=True)
class TicketSection:
    """A heading and the lines under it."""

    heading: str
    lines: tuple[str, ...]


def sheet_picture(page: SheetPage, print_file: bytes | None, printed_number: int, machine: Machine) -> Image.Image:
    """Return a small picture of a sheet: what is printed, and its lines in the colours of their kinds."""
    px = _PPI / MM_PER_INCH
    picture = Image.new("RGB", (round(page.width_mm * px), round(page.height_mm * px)), "white")
    if print_file is not None and page.is_printed:
        blue_first = page_pixels(print_file, printed_number, _PPI)
        picture.paste(Image.fromarray(np.ascontiguousarray(blue_first[..., 2::-1])))
    draw = ImageDraw.Draw(picture)
    for kind, rings in page.cuts.items():
        for ring in rings:
            points = [(x * px, y * px) for x, y in ring.flattened(0.1).tolist()]
            draw.line([*points, points[0]] if ring.closed else points, fill=machine.lines[kind].colour, width=2)
    draw.rectangle((0, 0, picture.width - 1, picture.height - 1), outline=(150, 140, 120), width=2)
    return picture


def ticket_pdf(
    title: str,
    under: str,
    pictures: Sequence[Image.Image],
    sections: Sequence[TicketSection],
    *,
    unshown: int,
    is_letter: bool,
) -> bytes:
    """Return the ticket on Letter or A4; the same input gives the same bytes.

    Args:
        title: the job's.
        under: what stands below it.
        pictures: of sheets, side by side.
        sections: what it says.
        unshown: how many sheets more there are.
        is_letter: its paper.
    """
    from reportlab import rl_config
    from reportlab.lib.pagesizes import A4, LETTER
    from reportlab.lib.styles import ParagraphStyle
    from reportlab.pdfbase import pdfmetrics
    from reportlab.pdfbase.ttfonts import TTFont
    from reportlab.platypus import Image as Picture
    from reportlab.platypus import KeepTogether, Paragraph, SimpleDocTemplate, Spacer, Table

    rl_config.useA85 = 0  # pictures stay bytes: as text they take a second each
    pdfmetrics.registerFont(TTFont(_FONT, str(words_file())))
    text = ParagraphStyle("text", fontName=_FONT, fontSize=9, leading=12)
    heading = ParagraphStyle("heading", parent=text, fontSize=11, leading=15, spaceBefore=6)
    name = ParagraphStyle("name", parent=text, fontSize=18, leading=23)
    story = [Paragraph(escape(title), name), Paragraph(escape(under), text), Spacer(1, 6)]
    if pictures:
        width = min(540 / len(pictures) - 8, 170)
        story.append(Table([[_picture(Picture, picture, width) for picture in pictures]], hAlign="LEFT"))
    if unshown:
        story.append(Paragraph(f"and {unshown} sheets more", text))
    for section in sections:
        lines = [Paragraph(escape(line), text) for line in section.lines]
        story.append(KeepTogether([Paragraph(escape(section.heading), heading), *lines]))
    out = io.BytesIO()
    document = SimpleDocTemplate(
        out,
        pagesize=LETTER if is_letter else A4,
        title=title,
        author="Honest Edge",
        invariant=1,
        leftMargin=36,
        rightMargin=36,
        topMargin=36,
        bottomMargin=36,
    )
    document.build(story)
    return out.getvalue()


def _picture(kind: type, picture: Image.Image, width: float) -> object:
    data = io.BytesIO()
    picture.save(data, "PNG", compress_level=1)  # the document packs it once more
    data.seek(0)
    height = width * picture.height / picture.width
    scale = min(1.0, 230 / height)
    return kind(data, width=width * scale, height=height * scale)
