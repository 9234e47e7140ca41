"""The print file of a run: sealed pages, each as often as it is printed, with every sheet's own sign."""

from __future__ import annotations

import io
from collections.abc import Sequence

import pikepdf
import shapely

from honest_edge.core.sheet.media import Box
from honest_edge.core.values.specs import Colour
from honest_edge.files.pdf_path import number
from honest_edge.files.write_pdf import POINTS_PER_MM, area_operators


def signed_print(
    print_file: bytes,
    sheets: Sequence[tuple[int, shapely.MultiPolygon | None]],
    patches: Sequence[tuple[Box, Colour]] = (),
) -> bytes:
    """Return the pages of a sealed print file, with signs; the same input gives the same bytes.

    Args:
        print_file: what was sealed.
        sheets: of every sheet its page, from 0, and what is printed on it besides, in mm from the top left.
        patches: boxes that are printed in a colour on every sheet.
    """
    with pikepdf.open(io.BytesIO(print_file)) as source:
        with_signs = pikepdf.new()
        with_signs.trailer.Info = with_signs.copy_foreign(source.trailer.Info)
        before = with_signs.make_stream(b"q")
        for page, sign in sheets:
            with_signs.pages.append(source.pages[page])
            added = with_signs.pages[-1]
            if sign is not None or patches:
                height = float(added.mediabox[3]) - float(added.mediabox[1])
                matrix = f"{number(POINTS_PER_MM)} 0 0 {number(-POINTS_PER_MM)} 0 {number(height)} cm"
                ink = "" if sign is None else f"0 g {area_operators(sign)} f*"
                signed = with_signs.make_stream(f"Q q {matrix} {_filled(patches)} {ink} Q".encode())
                added.Contents = pikepdf.Array([before, added.Contents, signed])  # its own list: pages share the rest
        out = io.BytesIO()
        with_signs.save(
            out,
            deterministic_id=True,
            compress_streams=True,
            object_stream_mode=pikepdf.ObjectStreamMode.generate,
        )
    return out.getvalue()


def _filled(patches: Sequence[tuple[Box, Colour]]) -> str:
    """Return boxes filled with their colours (ISO 32000-2, 8.5.2.1 and 8.6.8: re, f, rg)."""
    parts = []
    for box, rgb in patches:
        colour = " ".join(number(channel / 255) for channel in rgb)
        place = " ".join(number(value) for value in (box.left, box.top, box.width, box.height))
        parts.append(f"{colour} rg {place} re f")
    return " ".join(parts)
