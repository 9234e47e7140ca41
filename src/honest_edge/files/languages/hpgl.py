"""HP-GL: the graphics language of pen plotters.

Commands as in Hewlett-Packard, "7475A Graphics Plotter: Interfacing and Programming Manual" (07475-90001, 1983): IN,
SP, PA, PU and PD with absolute places in plotter units of 0.025 mm, y upward, VS in cm/s; FS, force, is of later
plotters; from memory. "ESC . K" of the same manual (device control: abort graphics) empties the buffer.
"""

from __future__ import annotations

import itertools

from honest_edge.core.sheet.strokes import Stroke
from honest_edge.core.values.machine import DirectUse, Machine
from honest_edge.files.languages.language import Language

UNITS_PER_MM = 40
_MOST_PAIRS = 40  # in one command: buffers of old plotters are short


def _opening(machine: Machine) -> list[str]:
    use = machine.direct
    return ["IN;", "PA;", "PU;", *_speed(use, machine.speed_mm_s), *_force(use, use.force)]


def _speed(use: DirectUse, speed_mm_s: float | None) -> list[str]:
    return [f"VS{round(speed_mm_s / 10, 1):g};"] if use.says_speed and speed_mm_s else []


def _force(use: DirectUse, force: float | None) -> list[str]:
    """A machine whose profile names no force is set by hand."""
    return [f"FS{force:g};"] if use.force and force else []


def _stroke(one: Stroke, machine: Machine, pen: int) -> list[str]:
    units = [(round(x * UNITS_PER_MM), round(y * UNITS_PER_MM)) for x, y in one.points.tolist()]
    path = [units[0], *(unit for before, unit in itertools.pairwise(units) if unit != before)]
    if len(path) < 2:
        return []
    lines = [] if one.pen == pen else [f"SP{one.pen};"]
    lines += [*_speed(machine.direct, one.speed_mm_s), *_force(machine.direct, one.force)]
    lines.append(f"PU{path[0][0]},{path[0][1]};")
    for start in range(1, len(path), _MOST_PAIRS):
        lines.append("PD" + ",".join(f"{x},{y}" for x, y in path[start : start + _MOST_PAIRS]) + ";")
    return [*lines, "PU;"]


def _travel(to: tuple[float, float], _machine: Machine) -> list[str]:
    x, y = (round(value * UNITS_PER_MM) for value in to)
    return [f"PU{x},{y};"]


def _closing(_machine: Machine) -> list[str]:
    return ["PU0,0;", "SP0;"]


HPGL = Language(
    title="HP-GL",
    suffix=".hpgl",
    opening=_opening,
    stroke=_stroke,
    travel=_travel,
    closing=_closing,
    stop=b"\x1b.K;PU;",
    answers=False,
)
