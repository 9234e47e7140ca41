"""The cut files of a sheet: which formats the machine reads, and which kinds of line it wants by themselves."""

from __future__ import annotations

from collections.abc import Callable, Collection, Iterator, Sequence
from dataclasses import replace
from typing import get_args

from honest_edge.core.values.machine import CutFormat, Machine
from honest_edge.core.values.specs import LineKind
from honest_edge.files.sheet_page import SheetPage
from honest_edge.files.write_cut_pdf import cut_pdf
from honest_edge.files.write_dxf import cut_dxf
from honest_edge.files.write_spoken import cut_gcode, cut_plt
from honest_edge.files.write_svg import cut_svg

WRITERS: dict[CutFormat, tuple[str, Callable[[SheetPage, Machine], bytes]]] = {
    "svg": (".svg", cut_svg),
    "dxf": (".dxf", lambda page, _machine: cut_dxf(page)),
    "dxf-spline": ("-splines.dxf", lambda page, _machine: cut_dxf(page, "splines")),
    "dxf-r12": ("-r12.dxf", lambda page, _machine: cut_dxf(page, "r12")),
    "plt": (".plt", cut_plt),
    "gcode": (".gcode", cut_gcode),
    "pdf": (".pdf", cut_pdf),
}
"""Every format: how its files end, and what writes one."""


def passes_of(kinds: Collection[LineKind], machine: Machine) -> list[tuple[str, tuple[LineKind, ...]]]:
    """Return the files of a sheet, in the order in which they are cut: what each adds to its name, and its kinds."""
    order: tuple[LineKind, ...] = get_args(LineKind)
    there = [kind for kind in order if kind in kinds]
    together = tuple(kind for kind in there if not machine.lines[kind].alone)
    passes: list[tuple[str, tuple[LineKind, ...]]] = []
    for kind in there:
        if machine.lines[kind].alone:
            passes.append((f"-{kind}", (kind,)))
        elif kind == together[-1]:  # what frees the stickers comes last
            passes.append(("", together))
    return passes or [("", ())]


def cut_names(number: int, kinds: Collection[LineKind], machine: Machine) -> list[str]:
    """Return the names of the cut files of sheet ``number``, counted from 1."""
    return [
        f"cut-{number}{suffix}{WRITERS[form][0]}" for suffix, _ in passes_of(kinds, machine) for form in machine.formats
    ]


def cut_files(pages: Sequence[SheetPage], machine: Machine) -> Iterator[list[tuple[str, bytes]]]:
    """Yield names and contents of the cut files of one sheet after the other; alike sheets are written once."""
    known: dict[tuple[int, bool], list[bytes]] = {}
    for number, page in enumerate(pages, 1):
        key = id(page.cuts), page.is_printed
        if key not in known:
            known[key] = list(_contents(page, machine))
        names = cut_names(number, [kind for kind, rings in page.cuts.items() if rings], machine)
        yield list(zip(names, known[key], strict=True))


def _contents(page: SheetPage, machine: Machine) -> Iterator[bytes]:
    kinds = [kind for kind, rings in page.cuts.items() if rings]
    for _, held in passes_of(kinds, machine):
        part = replace(page, cuts={kind: rings for kind, rings in page.cuts.items() if kind in held or not rings})
        for form in machine.formats:
            _, write = WRITERS[form]
            yield write(part, machine)
