"""Cut lines as plot text: PU and PD moves at 40 units a millimetre, y upward from the sheet's bottom left.

The commands and the unit of 0.025 mm are those of the graphics language that pen plotters made common; from memory.
"""

from __future__ import annotations

import itertools

from honest_edge.core.geometry.paths import CurveRing
from honest_edge.core.values.machine import Machine
from honest_edge.files.sheet_page import SheetPage

UNITS_PER_MM = 40
_TOLERANCE_MM = 0.01


def cut_plt(page: SheetPage, machine: Machine) -> bytes:
    """Return the cut file of one sheet: each kind of line with its own tool, as often as it has passes."""
    commands = ["IN", "PA"]
    for kind, rings in page.cuts.items():
        if not rings:
            continue
        use = machine.lines[kind]
        commands.append(f"SP{use.pen}")
        for _ in range(use.passes):
            for ring in rings:
                commands += _moves(ring, page.height_mm)
    return (";".join([*commands, "PU0,0", "SP0"]) + ";\n").encode("ascii")


def _moves(ring: CurveRing, height_mm: float) -> list[str]:
    points = ring.flattened(_TOLERANCE_MM)
    units = [(round(x * UNITS_PER_MM), round((height_mm - y) * UNITS_PER_MM)) for x, y in points.tolist()]
    if ring.closed:
        units.append(units[0])
    line = [units[0]]
    line += [unit for before, unit in itertools.pairwise(units) if unit != before]
    rest = ",".join(f"{x},{y}" for x, y in line[1:])
    return [f"PU{line[0][0]},{line[0][1]}", f"PD{rest}"] if rest else []
