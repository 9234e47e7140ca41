"""The hand-off pack, for a machine whose own program prints the marks.

Per sheet: the print as a picture without ground, and every kind of line as SVG and as a filled picture. All have
exactly one extent, the usable area, which stands in the file name: whoever imports them types that size in.
"""

from __future__ import annotations

from collections.abc import Collection, Iterator, Mapping, Sequence
from dataclasses import replace
from typing import get_args

from honest_edge.core.edge.bleed import PrintArt
from honest_edge.core.geometry.paths import affine, polygon_of
from honest_edge.core.sheet.media import Box
from honest_edge.core.values.machine import Machine
from honest_edge.core.values.specs import LineKind
from honest_edge.files.print_png import page_png
from honest_edge.files.sheet_page import SheetPage
from honest_edge.files.write_pdf import VectorArt, print_pdf
from honest_edge.files.write_svg import pass_svg

_FILLED = ("kiss", "through")
HANDOFF_PPI = 300.0


def handoff_names(number: int, kinds: Collection[LineKind], usable: Box, *, is_printed: bool) -> list[str]:
    """Return the names of the pack's files of sheet ``number``, counted from 1."""
    size = f"{usable.width:.1f}x{usable.height:.1f}mm"
    names = [f"handoff-{number}-print-{size}.png"] if is_printed else []
    for kind in (kind for kind in get_args(LineKind) if kind in kinds):
        names.append(f"handoff-{number}-{kind}-{size}.svg")
        if kind in _FILLED:
            names.append(f"handoff-{number}-{kind}-{size}.png")
    return names


def handoff_files(
    page: SheetPage,
    number: int,
    usable: Box,
    machine: Machine,
    arts: Sequence[PrintArt],
    vectors: Mapping[int, VectorArt],
) -> Iterator[tuple[str, bytes]]:
    """Return name and content of every file of one sheet."""
    lines = {kind: rings for kind, rings in page.cuts.items() if rings}
    names = iter(handoff_names(number, lines, usable, is_printed=page.is_printed))
    bare = replace(page, marks=(), note=None)
    if page.is_printed:
        yield next(names), page_png(print_pdf([bare], arts, "", vectors), 0, HANDOFF_PPI, crop=usable)
    for kind in (kind for kind in get_args(LineKind) if kind in lines):
        moved = [ring.placed(affine(x_mm=-usable.left, y_mm=-usable.top)) for ring in lines[kind]]
        yield next(names), pass_svg(moved, kind, machine, usable.width, usable.height)
        if kind in _FILLED:
            shape = replace(bare, arts=(), note=polygon_of(lines[kind]), is_printed=True)
            yield next(names), page_png(print_pdf([shape], arts, ""), 0, HANDOFF_PPI, crop=usable)
