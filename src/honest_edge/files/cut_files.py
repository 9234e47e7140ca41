"""The cut files of a sheet: which formats the machine reads, and which kinds of line it wants by themselves."""

from __future__ import annotations

from collections.abc import Collection, Iterator, Sequence
from dataclasses import replace
from typing import get_args

from honest_edge.core.values.machine import CutFormat, Machine
from honest_edge.core.values.specs import LineKind
from honest_edge.files.sheet_page import SheetPage
from honest_edge.files.write_cut_pdf import cut_pdf
from honest_edge.files.write_dxf import cut_dxf
from honest_edge.files.write_plt import cut_plt
from honest_edge.files.write_svg import cut_svg

_ENDING: dict[CutFormat, str] = {
    "svg": ".svg",
    "dxf": ".dxf",
    "dxf-spline": "-splines.dxf",
    "dxf-r12": "-r12.dxf",
    "plt": ".plt",
    "pdf": ".pdf",
}


def passes_of(kinds: Collection[LineKind], machine: Machine) -> list[tuple[str, tuple[LineKind, ...]]]:
    """Return the files of a sheet, in the order in which they are cut: what each adds to its name, and its kinds."""
    order: tuple[LineKind, ...] = get_args(LineKind)
    there = [kind for kind in order if kind in kinds]
    together = tuple(kind for kind in there if not machine.lines[kind].alone)
    found: list[tuple[str, tuple[LineKind, ...]]] = []
    for kind in there:
        if machine.lines[kind].alone:
            found.append((f"-{kind}", (kind,)))
        elif kind == together[-1]:  # what frees the stickers comes last
            found.append(("", together))
    return found or [("", ())]


def cut_names(number: int, kinds: Collection[LineKind], machine: Machine) -> list[str]:
    """Return the names of the cut files of sheet ``number``, counted from 1."""
    return [
        f"cut-{number}{suffix}{_ENDING[form]}" for suffix, _ in passes_of(kinds, machine) for form in machine.formats
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
            yield _written(part, form, machine)


def _written(page: SheetPage, form: CutFormat, machine: Machine) -> bytes:
    match form:
        case "svg":
            return cut_svg(page, machine)
        case "dxf":
            return cut_dxf(page)
        case "dxf-spline":
            return cut_dxf(page, "splines")
        case "dxf-r12":
            return cut_dxf(page, "r12")
        case "plt":
            return cut_plt(page, machine)
    return cut_pdf(page, machine)
