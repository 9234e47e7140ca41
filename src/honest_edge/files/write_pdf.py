"""The print file: one page a sheet, at exact size.

Content is built in millimetres with y down under one matrix per page, so every number in the file is the
number in the plan. PDF's unit is 1/72 in and its y runs up (ISO 32000-2 §8.3.2.3).
"""

from __future__ import annotations

import io
import os
import zlib
from collections.abc import Mapping, Sequence
from concurrent.futures import ThreadPoolExecutor
from dataclasses import dataclass
from decimal import Decimal

import numpy as np
import pikepdf
import shapely
from pikepdf import Array, Dictionary, Name, Object, Stream

from honest_edge.core.edge.bleed import PrintArt
from honest_edge.core.geometry.paths import Floats
from honest_edge.core.imaging.flood import Bytes
from honest_edge.core.sheet.media import Box
from honest_edge.core.values.units import MM_PER_INCH
from honest_edge.files.pdf_path import number, path_operators
from honest_edge.files.sheet_page import SheetPage

_UP = 2  # the filter's number (PNG, 3rd edition, 9.2)
_LEVEL = 4  # of zlib: higher ones take twice as long for a twentieth
POINTS_PER_MM = 72 / MM_PER_INCH


@dataclass(frozen=True, slots=True, kw_only=True, eq=False)
class VectorArt:
    """A page of a PDF that is printed as it is, over the picture that carries its colour.

    Attributes:
        data: the file.
        page: counted from 1.
        width_mm, height_mm: finished size of the page.
        area: where it is printed; outside lies what was cleared.
    """

    data: bytes
    page: int
    width_mm: float
    height_mm: float
    area: shapely.MultiPolygon


def print_pdf(
    pages: Sequence[SheetPage], arts: Sequence[PrintArt], title: str, vectors: Mapping[int, VectorArt] | None = None
) -> bytes:
    """Return the print file; the same input gives the same bytes.

    Args:
        pages: the sheets.
        arts: the printed picture of each design.
        title: the document's title.
        vectors: by design, what is printed as vectors over the picture.
    """
    pdf = pikepdf.new()
    pdf.trailer.Info = pdf.make_indirect(Dictionary(Title=title, Creator="Honest Edge"))
    vectors = vectors or {}
    with ThreadPoolExecutor(min(2, os.cpu_count() or 1)) as threads:  # packing lets other threads run meanwhile
        packed = threads.map(_packed, [art.pixels for art in arts])
        forms = [
            _form(pdf, art, picture, vectors.get(design))
            for design, (art, picture) in enumerate(zip(arts, packed, strict=True))
        ]
    for page in (page for page in pages if page.is_printed):
        _add_page(pdf, page, forms, arts)
    out = io.BytesIO()
    pdf.save(
        out,
        deterministic_id=True,
        compress_streams=True,
        object_stream_mode=pikepdf.ObjectStreamMode.generate,
        static_id=False,
    )
    return out.getvalue()


def _add_page(pdf: pikepdf.Pdf, page: SheetPage, forms: Sequence[Stream], arts: Sequence[PrintArt]) -> None:
    used = sorted({art.design for art in page.arts})
    content = [f"{number(POINTS_PER_MM)} 0 0 {number(-POINTS_PER_MM)} 0 {number(page.height_mm * POINTS_PER_MM)} cm"]
    content += [f"q {_matrix(art.matrix)} cm /D{art.design} Do Q" for art in page.arts]
    content.append(" ".join(number(level / 255) for level in page.marks_rgb) + " rg")
    content += [f"{path_operators(ring)} f" for ring in page.marks]
    if page.note is not None:
        content.append(f"0 g {area_operators(page.note)} f*")
    whole = Box(0.0, 0.0, page.width_mm, page.height_mm)
    trim = _bounds(page) or whole
    bleed = _union([trim, *(_placed_box(arts[art.design], art.matrix) for art in page.arts)])
    pdf.pages.append(
        pikepdf.Page(
            pdf.make_indirect(
                Dictionary(
                    Type=Name.Page,
                    MediaBox=_box(whole, page.height_mm),
                    TrimBox=_box(trim, page.height_mm),
                    BleedBox=_box(_within(bleed, whole), page.height_mm),
                    Resources=Dictionary(XObject=Dictionary({f"/D{design}": forms[design] for design in used})),
                    Contents=pdf.make_stream("\n".join(content).encode()),
                )
            )
        )
    )


def _form(pdf: pikepdf.Pdf, art: PrintArt, picture: _Packed, vector: VectorArt | None) -> Stream:
    """Return a form that draws one design in its own frame, millimetres with y down."""
    height, width = art.pixels.shape[:2]
    left, top, right, bottom = art.bounds_mm
    lines = [] if art.ink_area is None else [_clip(art.ink_area)]
    size = f"{number(width * art.pixel_mm)} 0 0 {number(-height * art.pixel_mm)}"
    lines.append(f"q {size} {number(art.left_mm)} {number(art.top_mm + height * art.pixel_mm)} cm /Art Do Q")
    pictures = Dictionary(Art=_image(pdf, picture, width))
    if vector is not None:
        pictures.Vector, matrix = _vector(pdf, vector)
        lines.append(f"q {_clip(vector.area)} {matrix} cm /Vector Do Q")
    form = pdf.make_stream("\n".join(lines).encode())
    form.Type, form.Subtype = Name.XObject, Name.Form
    form.BBox = Array([_r(left), _r(top), _r(right), _r(bottom)])
    form.Resources = Dictionary(XObject=pictures)
    return form


def _vector(pdf: pikepdf.Pdf, vector: VectorArt) -> tuple[Object, str]:
    """Return a page as a form, and the matrix that lays it over the picture, y down."""
    with pikepdf.open(io.BytesIO(vector.data)) as source:
        page = source.pages[vector.page - 1]
        page.trimbox = page.cropbox  # a form is cut to the trim box, the picture was drawn from the crop box
        form = pdf.copy_foreign(page.as_form_xobject())
    left, bottom, right, top = (float(value) for value in form.BBox)
    a, b, c, d, e, f = (float(value) for value in form.get("/Matrix", [1, 0, 0, 1, 0, 0]))
    corners = [(x, y) for x in (left, right) for y in (bottom, top)]
    xs = [a * x + c * y + e for x, y in corners]
    ys = [b * x + d * y + f for x, y in corners]
    across, down = vector.width_mm / (max(xs) - min(xs)), vector.height_mm / (max(ys) - min(ys))
    return form, f"{number(across)} 0 0 {number(-down)} {number(-across * min(xs))} {number(down * max(ys))}"


def _clip(area: shapely.MultiPolygon) -> str:
    """Return path operators that clip to ``area``, holes by the even-odd rule (ISO 32000-2 §8.5.4)."""
    return f"{area_operators(area)} W* n"


def area_operators(area: shapely.MultiPolygon) -> str:
    """Return the path operators of every boundary of an area."""
    parts = []
    for polygon in area.geoms:
        for ring in (polygon.exterior, *polygon.interiors):
            points = [f"{number(x)} {number(y)}" for x, y in shapely.get_coordinates(ring)[:-1].tolist()]
            parts.append(f"{points[0]} m " + " ".join(f"{point} l" for point in points[1:]) + " h")
    return "\n".join(parts)


_Packed = tuple[bytes, bytes | None, int]
"""A picture's colours and its opacity, packed, None where it is opaque; and its height."""


def _packed(pixels: Bytes) -> _Packed:
    alpha = pixels[..., 3]
    opacity = _deflated(alpha) if (alpha < 255).any() else None
    return _deflated(pixels[..., :3]), opacity, pixels.shape[0]


def _deflated(picture: Bytes) -> bytes:
    """Return a picture's rows, each less the one above: PNG's filter Up, one of /Predictor 15 (ISO 32000-2 §7.4.4.4).

    Of drawn art it packs as small as a choice of filters for every row, in half the time.
    """
    rows = np.ascontiguousarray(picture).reshape(len(picture), -1)
    filtered = np.full((len(rows), rows.shape[1] + 1), _UP, np.uint8)
    filtered[0, 1:] = rows[0]
    np.subtract(rows[1:], rows[:-1], out=filtered[1:, 1:])
    return zlib.compress(filtered.data, _LEVEL)


def _image(pdf: pikepdf.Pdf, picture: _Packed, width: int) -> Stream:
    colours, opacity, height = picture
    image = _flate_image(pdf, colours, (width, height), Name.DeviceRGB, 3)
    if opacity is not None:
        image.SMask = _flate_image(pdf, opacity, (width, height), Name.DeviceGray, 1)
    return image


def _flate_image(pdf: pikepdf.Pdf, packed: bytes, size: tuple[int, int], space: Name, colours: int) -> Stream:
    return Stream(
        pdf,
        packed,
        Type=Name.XObject,
        Subtype=Name.Image,
        Width=size[0],
        Height=size[1],
        ColorSpace=space,
        BitsPerComponent=8,
        Filter=Name.FlateDecode,
        DecodeParms=Dictionary(Predictor=15, Colors=colours, BitsPerComponent=8, Columns=size[0]),
    )


def _bounds(page: SheetPage) -> Box | None:
    boxes = []
    for rings in page.cuts.values():
        for ring in rings:
            points = ring.flattened(0.01)
            boxes.append(Box(*points.min(axis=0).tolist(), *points.max(axis=0).tolist()))
    return _union(boxes) if boxes else None


def _placed_box(art: PrintArt, matrix: Floats) -> Box:
    left, top, right, bottom = art.bounds_mm
    xs, ys = matrix[:, :2] @ [[left, right], [top, bottom]] + matrix[:, 2:]
    return Box(float(xs.min()), float(ys.min()), float(xs.max()), float(ys.max()))


def _union(boxes: Sequence[Box]) -> Box:
    return Box(
        min(b.left for b in boxes), min(b.top for b in boxes), max(b.right for b in boxes), max(b.bottom for b in boxes)
    )


def _within(box: Box, whole: Box) -> Box:
    return Box(
        max(box.left, whole.left), max(box.top, whole.top), min(box.right, whole.right), min(box.bottom, whole.bottom)
    )


def _box(box: Box, height_mm: float) -> Array:
    """Return a PDF rectangle: lower left, upper right, in points (ISO 32000-2 §14.11.2)."""
    corners = (box.left, height_mm - box.bottom, box.right, height_mm - box.top)
    return Array([_r(value * POINTS_PER_MM) for value in corners])


def _matrix(matrix: Floats) -> str:
    (a, c, e), (b, d, f) = matrix.tolist()
    return " ".join(number(value) for value in (a, b, c, d, e, f))


def _r(value: float) -> Decimal:
    """Return a number as pikepdf writes it, without binary rounding."""
    return Decimal(number(value))
