"""The layers of a PDF: its optional content, and the lines on a page that mean a cut (ISO 32000-2, section 8.11)."""

from __future__ import annotations

import ctypes
import io
import math
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Any

from honest_edge.files.cutting_words import HAIRLINE_MM, Meaning, meaning_of_names, pure_colour

MOST_LAYERS = 100
_MM_PER_POINT = 25.4 / 72


def optional_content(data: bytes) -> tuple[str, ...]:
    """Return the names of the layers of a file."""
    import pikepdf

    with pikepdf.open(io.BytesIO(data)) as pdf:
        return tuple(str(group.get("/Name", f"Layer {at + 1}"))[:60] for at, group in enumerate(_groups(pdf)))


def with_layers_off(data: bytes, hidden: Sequence[int]) -> bytes:
    """Return a file of which some layers are off, and all others as they were."""
    import pikepdf

    with pikepdf.open(io.BytesIO(data)) as pdf:
        groups = _groups(pdf)
        usual = pdf.Root.OCProperties.get("/D", pikepdf.Dictionary())
        off = list(usual.get("/OFF", [])) + [group for at, group in enumerate(groups) if at in hidden]
        usual.OFF = pikepdf.Array(off)
        if "/ON" in usual:
            usual.ON = pikepdf.Array([group for group in usual.ON if group not in off])
        pdf.Root.OCProperties.D = usual
        out = io.BytesIO()
        pdf.save(out)
        return out.getvalue()


def _groups(pdf: Any) -> list[Any]:
    properties = pdf.Root.get("/OCProperties")
    return [] if properties is None else list(properties.get("/OCGs", []))[:MOST_LAYERS]


@dataclass(frozen=True, slots=True)
class PageLines:
    """Lines of one colour on a page that mean a cut."""

    name: str
    objects: tuple[Any, ...]
    means: Meaning = "cut"


def lines_to_cut(page: Any, unit: float) -> list[PageLines]:
    """Return the hairlines of pure colour that lie on a page, by their colours; ``unit`` is points per unit."""
    import pypdfium2

    hairlines: dict[str, list[Any]] = {}
    for one in page.get_objects(filter=[pypdfium2.raw.FPDF_PAGEOBJ_PATH], max_depth=1):
        colour = _line_colour(one.raw, unit)
        if colour:
            hairlines.setdefault(colour, []).append(one)
    return [
        PageLines(f"{len(alike)} {colour} line{'s'[: len(alike) > 1]}", tuple(alike))
        for colour, alike in hairlines.items()
    ]


def _line_colour(path: Any, unit: float) -> str:
    """Return the name of the pure colour of a hairline; empty for all else."""
    from pypdfium2 import raw

    fill, stroke = ctypes.c_int(), ctypes.c_int()
    if not raw.FPDFPath_GetDrawMode(path, fill, stroke) or fill.value or not stroke.value:
        return ""
    levels = [ctypes.c_uint() for _ in range(4)]
    width, matrix = ctypes.c_float(), raw.FS_MATRIX()
    if not raw.FPDFPageObj_GetStrokeColor(path, *levels) or not raw.FPDFPageObj_GetStrokeWidth(path, width):
        return ""
    raw.FPDFPageObj_GetMatrix(path, matrix)
    scale = math.sqrt(abs(matrix.a * matrix.d - matrix.b * matrix.c))
    if width.value * scale * unit * _MM_PER_POINT > HAIRLINE_MM:
        return ""
    return pure_colour((levels[0].value, levels[1].value, levels[2].value))


def take_out(page: Any, lines: Sequence[PageLines], hidden: Sequence[int], only: Sequence[int]) -> None:
    """Leave lines out of a page; with ``only`` leave out all but those."""
    gone = [one for at in hidden for one in lines[at].objects]
    if only:
        kept = {ctypes.addressof(one.raw.contents) for at in only for one in lines[at].objects}
        gone = [one for one in page.get_objects(max_depth=1) if ctypes.addressof(one.raw.contents) not in kept]
    for one in gone:
        page.remove_obj(one)


def asked_by_names(names: Sequence[str]) -> list[tuple[int, Meaning]]:
    """Return the layers whose names mean a cut."""
    return [(at, means) for at, name in enumerate(names) if (means := meaning_of_names([name]))]
