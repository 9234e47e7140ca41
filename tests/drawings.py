"""Drawings made by the tests: SVG, PDF and PSD, good and bad."""

import io
import struct

import numpy as np
import pikepdf
import pypdfium2
from PIL import Image
from psd_tools import PSDImage
from psd_tools.constants import Resource
from psd_tools.psd.image_resources import ImageResource

SVG_HEAD = 'xmlns="http://www.w3.org/2000/svg" xmlns:xlink="http://www.w3.org/1999/xlink"'


def svg(
    body='<circle cx="30" cy="20" r="15" fill="#c03020"/>', attributes='width="60mm" height="40mm" viewBox="0 0 60 40"'
):
    return f"<svg {SVG_HEAD} {attributes}>{body}</svg>".encode()


def pdf(pages=1, size=(144, 72), content=b"1 0 0 rg 20 10 60 40 re f", **options):
    made = pikepdf.new()
    for _ in range(pages):
        made.add_blank_page(page_size=size)
        made.pages[-1].Contents = made.make_stream(content)
    for key, value in options.pop("page", {}).items():
        made.pages[0].obj[key] = value
    out = io.BytesIO()
    made.save(out, **options)
    return out.getvalue()


def psd(
    layers=(("Back", (200, 40, 40, 255), (10, 10, 60, 60)), ("Dot", (40, 40, 200, 255), (40, 40, 80, 80))), profile=b""
):
    """A picture of 100 x 100 px whose layers are boxes."""
    made = PSDImage.new("RGBA", (100, 100), (0, 0, 0, 0))
    for name, colour, (left, top, right, bottom) in layers:
        box = Image.new("RGBA", (right - left, bottom - top), colour)
        made.create_pixel_layer(box, name=name, top=top, left=left)
    if profile:
        made.image_resources[Resource.ICC_PROFILE] = ImageResource(key=Resource.ICC_PROFILE.value, data=profile)
    out = io.BytesIO()
    made.save(out)
    return out.getvalue()


def flat_psd(depth=8, colour_mode=3, channels=3):
    """A picture without layers, written byte by byte (Adobe Photoshop File Formats Specification)."""
    side = 16
    head = b"8BPS" + struct.pack(">H6xHIIHH", 1, channels, side, side, depth, colour_mode) + b"\0" * 12
    ramp = np.linspace(0, 2**depth - 1, side * side).astype(f">u{depth // 8}").reshape(side, side)
    return head + struct.pack(">H", 0) + ramp.tobytes() * channels


def pdf_with_discs(size_mm, middles_mm, radius_mm=5.0):
    """Return a PDF page with black discs, each of four cubics (their usual handle, 0.5523 of the radius)."""
    pdf, point = pikepdf.new(), 72 / 25.4
    width, height = (side * point for side in size_mm)
    pdf.add_blank_page(page_size=(width, height))
    lines = [_disc(x * point, height - y * point, radius_mm * point) for x, y in middles_mm]
    pdf.pages[0].Contents = pdf.make_stream("\n".join(lines).encode())
    out = io.BytesIO()
    pdf.save(out)
    return out.getvalue()


def _disc(x, y, radius):
    path = f"1 0 0 1 {x:.5f} {y:.5f} cm {radius:.5f} 0 m"
    for (a, b), (c, d) in (((1, 0), (0, 1)), ((0, 1), (-1, 0)), ((-1, 0), (0, -1)), ((0, -1), (1, 0))):
        points = (a + 0.5523 * c, b + 0.5523 * d, c + 0.5523 * a, d + 0.5523 * b, c, d)
        path += " " + " ".join(f"{radius * value:.5f}" for value in points) + " c"
    return f"q {path} f Q"


def drawn(pdf, page=0, ppi=300):
    """Return a page as pdfium draws it, in grey."""
    return pypdfium2.PdfDocument(pdf)[page].render(scale=ppi / 72, grayscale=True).to_numpy().astype(np.int16)


def layered_pdf(content, names):
    """Return a page whose content uses optional content groups, ``/L0`` and so on (ISO 32000-2 §8.11)."""
    made = pikepdf.new()
    made.add_blank_page(page_size=(144, 72))
    groups = [made.make_indirect(pikepdf.Dictionary(Type=pikepdf.Name.OCG, Name=name)) for name in names]
    made.Root.OCProperties = pikepdf.Dictionary(OCGs=pikepdf.Array(groups), D=pikepdf.Dictionary())
    properties = pikepdf.Dictionary({f"/L{number}": group for number, group in enumerate(groups)})
    made.pages[0].Resources = pikepdf.Dictionary(Properties=properties)
    made.pages[0].Contents = made.make_stream(content)
    out = io.BytesIO()
    made.save(out)
    return out.getvalue()
