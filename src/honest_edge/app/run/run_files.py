"""The files of a run, made from its seal: sheets with their signs to print, and what each sheet is cut from."""

from __future__ import annotations

from collections.abc import Collection, Sequence
from typing import Literal

from honest_edge.app.output.print_notes import sign_area
from honest_edge.app.run.sealing import ring_of
from honest_edge.core.measure.print_strip import strip_patches
from honest_edge.core.sheet.marks import marks_of
from honest_edge.core.sheet.media import Box
from honest_edge.core.values.errors import BlockedError
from honest_edge.core.values.run_seal import SealedRun, sheet_sign
from honest_edge.files.cut_files import WRITERS
from honest_edge.files.runs.signed_print import signed_print
from honest_edge.files.sheet_page import SheetPage, in_order
from honest_edge.files.typefaces import FontLibrary

Part = Literal["whole", "proof", "rest"]


def printed_sheets(seal: SealedRun, print_file: bytes, sheets: Sequence[tuple[int, int]], fonts: FontLibrary) -> bytes:
    """Return the print file of some sheets, each with its own sign.

    Args:
        seal: of the run.
        print_file: what was sealed.
        sheets: of each its number in the run, from 1, and its page of the layout.
        fonts: for the signs.

    Raises:
        BlockedError: one of them is not printed.
    """
    prints = []
    for number, page in sheets:
        print_page = seal.pages[page].print_page
        if print_page is None:
            raise BlockedError(f"Sheet {number} is not printed: it is cut from stock of its own")
        box = seal.sign_box_mm
        sign = None if box is None else sign_area(sheet_sign(seal.run, number), Box(*box), fonts)
        prints.append((print_page, sign))
    strip = () if seal.strip_box_mm is None else strip_patches(Box(*seal.strip_box_mm))
    return signed_print(print_file, prints, strip)


def cut_names(seal: SealedRun, number: int, page: int, cut_pass: int, part: Part) -> list[str]:
    """Return the names of the files of one pass of a sheet."""
    suffix = seal.pages[page].passes[cut_pass].suffix
    which = "" if part == "whole" else f"-{part}"
    return [f"cut-{number}{suffix}{which}{WRITERS[form][0]}" for form in seal.sheet.machine.formats]


def cut_page(
    seal: SealedRun,
    number: int,
    page: int,
    cut_pass: int,
    part: Part,
    *,
    proof: int | None = None,
    without: Collection[int] = (),
) -> SheetPage:
    """Return what is cut of a sheet in one pass, in its order, with the sheet's marks.

    Args:
        seal: of the run.
        number: of the sheet, from 1.
        page: of the layout that it shows.
        cut_pass: which pass, from 0.
        part: all of it, the proof sticker alone, or the rest.
        proof: which copy the proof is.
        without: copies that are not cut.

    Raises:
        BlockedError: nothing would be cut.
    """
    machine, sealed_page = seal.sheet.machine, seal.pages[page]
    kinds = sealed_page.passes[cut_pass].kinds
    chosen = [copy for copy in range(len(sealed_page.copies)) if copy not in without]
    if part == "proof":
        chosen = [] if proof is None else [proof]
    copies = [
        [(line.kind, ring_of(line)) for line in sealed_page.copies[copy].lines if line.kind in kinds] for copy in chosen
    ]
    if not any(copies):
        raise BlockedError(f"Nothing of sheet {number} is left to cut")
    first = next((chosen.index(copy) for copy in sealed_page.proof_order if copy in chosen), None)
    width, height = seal.sheet.size_mm
    lines = {kind: rings for kind, rings in in_order(copies, first, machine).items() if kind in kinds or not rings}
    is_marked = sealed_page.print_page is not None and not machine.prints_own_marks
    return SheetPage(
        width_mm=width,
        height_mm=height,
        arts=(),
        cuts=lines,
        marks=tuple(ring for mark in marks_of(seal.sheet) for ring in mark.rings) if is_marked else (),
        marks_rgb=machine.marks.rgb,
        is_printed=sealed_page.print_page is not None,
    )


def cut_contents(
    seal: SealedRun, number: int, page: int, cut_pass: int, part: Part, made: SheetPage
) -> dict[str, bytes]:
    """Return the files of one pass of a sheet, by name; arguments as for ``cut_page``, which made the page."""
    machine = seal.sheet.cutter
    names = cut_names(seal, number, page, cut_pass, part)
    return {name: WRITERS[form][1](made, machine) for name, form in zip(names, machine.formats, strict=True)}
