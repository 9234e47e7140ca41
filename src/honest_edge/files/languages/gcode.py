"""G-code as small open controllers take it.

Words as in ISO 6983-1 and in "The NIST RS274/NGC Interpreter, version 3" (Kramer, Proctor and Messina, NISTIR 6556,
2000): G0, G1, G4, G21, G90, G94, F, S, M2, M3, M5; M4 for a laser whose power follows its speed, and the single
characters "!" (hold), "?" (status) and 0x18 (reset) are common to open controllers, from memory.
"""

from __future__ import annotations

import itertools

from honest_edge.core.sheet.strokes import Stroke
from honest_edge.core.values.machine import Machine
from honest_edge.files.languages.language import Language

_DIGITS = 3
_SLOW_MM_S = 20.0  # what a hand can follow with its eyes


def _opening(machine: Machine) -> list[str]:
    return ["G21", "G90", "G94", *_up(machine)]


def _stroke(one: Stroke, machine: Machine, _pen: int) -> list[str]:
    places = [(round(x, _DIGITS), round(y, _DIGITS)) for x, y in one.points.tolist()]
    path = [places[0], *(place for before, place in itertools.pairwise(places) if place != before)]
    if len(path) < 2:
        return []
    feed = f" F{60 * (one.speed_mm_s or machine.speed_mm_s):g}"
    lines = [f"G0 X{path[0][0]:g} Y{path[0][1]:g}", *_down(machine)]
    for number, (x, y) in enumerate(path[1:]):
        lines.append(f"G1 X{x:g} Y{y:g}{'' if number else feed}")
    return [*lines, *_up(machine), *_done(machine)]


def _travel(to: tuple[float, float], machine: Machine) -> list[str]:
    x, y = (round(value, _DIGITS) for value in to)
    return [*_up(machine), f"G1 X{x:g} Y{y:g} F{60 * min(machine.speed_mm_s, _SLOW_MM_S):g}", "G4 P0"]


def _done(machine: Machine) -> list[str]:
    """A dwell is answered once all before it has moved: without it an "ok" only says that a line was understood."""
    return [] if machine.direct.blade == "servo" else ["G4 P0"]  # a servo's own dwell does it


def _closing(machine: Machine) -> list[str]:
    off = [] if machine.direct.blade == "z" else ["M5"]
    return [*_up(machine), "G0 X0 Y0", *off, "M2"]


def _up(machine: Machine) -> list[str]:
    use = machine.direct
    if use.blade == "z":
        return [f"G0 Z{use.up_mm:g}"]
    return [f"M3 S{use.up_s:g}", f"G4 P{use.settle_s:g}"] if use.blade == "servo" else ["M5"]


def _down(machine: Machine) -> list[str]:
    use = machine.direct
    if use.blade == "z":
        return [f"G1 Z{use.down_mm:g} F{60 * use.plunge_mm_s:g}"]
    return [f"M3 S{use.down_s:g}", f"G4 P{use.settle_s:g}"] if use.blade == "servo" else [f"M4 S{use.down_s:g}"]


GCODE = Language(
    title="G-code",
    suffix=".gcode",
    opening=_opening,
    stroke=_stroke,
    travel=_travel,
    closing=_closing,
    stop=b"!\x18",
    hello=b"\x18",
    status=b"?",
    answers=True,
)
