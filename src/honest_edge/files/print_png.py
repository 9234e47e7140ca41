"""Printed pages as pictures, rendered from the print file so that both are one."""

from __future__ import annotations

import io

import pypdfium2
from PIL import Image

from honest_edge.core.sheet.media import Box
from honest_edge.core.values.units import MM_PER_INCH

_LEAST_ALPHA = 1
"""Of 255: unseen on paper, yet enough that a program which trims empty margins keeps the corner."""


def page_png(print_file: bytes, page: int, ppi: float, *, crop: Box | None = None) -> bytes:
    """Return a page of a print file as a PNG with its ppi written in.

    Args:
        print_file: the PDF.
        page: counted from 0.
        ppi: pixels per inch.
        crop: what of the page is wanted, in mm; without it the whole page on white, with it on nothing.
    """
    with pypdfium2.PdfDocument(print_file) as pdf:
        sheet = pdf[page]
        ground = (255, 255, 255, 255) if crop is None else (0, 0, 0, 0)
        bitmap = sheet.render(scale=ppi / 72, fill_color=ground, maybe_alpha=crop is not None)
        picture = bitmap.to_pil()
    if crop is not None:
        px = ppi / MM_PER_INCH
        left, top = round(crop.left * px), round(crop.top * px)
        size = round(crop.width * px), round(crop.height * px)
        picture = picture.convert("RGBA").crop((left, top, left + size[0], top + size[1]))
        _keep_corners(picture)
    else:
        picture = picture.convert("RGB")
    out = io.BytesIO()
    picture.save(out, "PNG", dpi=(ppi, ppi))
    return out.getvalue()


def _keep_corners(picture: Image.Image) -> None:
    """Make opposite corners a trace opaque, so that no program trims one picture of a set and not the other."""
    for place in ((0, 0), (picture.width - 1, picture.height - 1)):
        if picture.getpixel(place)[3] == 0:  # type: ignore[index]
            picture.putpixel(place, (255, 255, 255, _LEAST_ALPHA))
