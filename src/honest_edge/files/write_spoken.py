"""Cut lines as files in a language that machines are spoken to in: the same text that would be sent to one.

Places are those of the sheet, y upward from its bottom left: a machine's own axes count where it is spoken to.
"""

from __future__ import annotations

from dataclasses import replace

from honest_edge.core.sheet.pen_test import bare
from honest_edge.core.sheet.strokes import Seat, strokes
from honest_edge.core.values.machine import Machine
from honest_edge.files.languages.gcode import GCODE
from honest_edge.files.languages.hpgl import HPGL
from honest_edge.files.languages.language import Language, whole_file
from honest_edge.files.sheet_page import SheetPage


def cut_plt(page: SheetPage, machine: Machine) -> bytes:
    """Return the cut file of one sheet in HP-GL: each kind of line with its own tool, as often as it has passes."""
    return _spoken(HPGL, page, machine)


def cut_gcode(page: SheetPage, machine: Machine) -> bytes:
    """Return the cut file of one sheet in G-code: the blade as the machine's profile moves it."""
    return _spoken(GCODE, page, machine)


def _spoken(language: Language, page: SheetPage, machine: Machine) -> bytes:
    lines = strokes(page.cuts, machine)
    there = tuple(replace(one, points=Seat().placed(one.points, page.height_mm)) for one in lines)
    return whole_file(language, there, bare(machine))
