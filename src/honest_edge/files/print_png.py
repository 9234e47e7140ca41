"""Printed pages as pictures, rendered from the print file so that both are one."""

from __future__ import annotations

import io
import math
from typing import Any

import numpy as np
import pypdfium2
from PIL import Image

from honest_edge.core.imaging.flood import Bytes
from honest_edge.core.sheet.media import Box
from honest_edge.core.values.units import MM_PER_INCH

_HAIR_PX = 0.01
"""A page is kept so much below whole pixels: pdfium works in single precision and rounds up."""
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
        ground = (255, 255, 255, 255) if crop is None else (0, 0, 0, 0)
        picture = _rendered(pdf, page, ppi, fill_color=ground, maybe_alpha=crop is not None).to_pil()
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


def page_pixels(print_file: bytes, page: int, ppi: float) -> Bytes:
    """Return a page of a print file as (height, width, 4) pixels, blue first, of which the fourth is unused.

    Pixels are laid from the page's top left; the last row and column may reach past the paper.
    """
    with pypdfium2.PdfDocument(print_file) as pdf:
        whole = _rendered(pdf, page, ppi, fill_color=(255, 255, 255, 255), prefer_bgrx=True)
        return np.asarray(whole.to_numpy(), np.uint8)  # which keeps the bitmap's memory: a copy takes 140 MB at 600 ppi


def _rendered(pdf: pypdfium2.PdfDocument, page: int, ppi: float, **how: Any) -> pypdfium2.PdfBitmap:
    """Render a page whose box is first grown to whole pixels: pdfium would stretch it to them."""
    scale, sheet = ppi / 72, pdf[page]
    width, height = sheet.get_size()
    across, down = (math.ceil(side * scale - _HAIR_PX) - _HAIR_PX for side in (width, height))
    sheet.set_mediabox(0, height - down / scale, across / scale, height)
    return pdf[page].render(scale=scale, **how)


def _keep_corners(picture: Image.Image) -> None:
    """Make opposite corners a trace opaque, so that no program trims one picture of a set and not the other."""
    for place in ((0, 0), (picture.width - 1, picture.height - 1)):
        if picture.getpixel(place)[3] == 0:  # type: ignore[index]
            picture.putpixel(place, (255, 255, 255, _LEAST_ALPHA))
