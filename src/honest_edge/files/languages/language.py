"""What a machine's language is: text for what a blade does, and how the machine answers."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, replace

from honest_edge.core.sheet.strokes import Stroke, commanded
from honest_edge.core.values.machine import Machine


@dataclass(frozen=True, slots=True, kw_only=True)
class Language:
    """A command language.

    Attributes:
        title: what it is called.
        suffix: how its files end.
        opening: lines before the first stroke; they move nothing but lift the blade.
        stroke: lines of one stroke, which begin and end with the blade up.
        travel: lines of a slow move with the blade up, to a place.
        closing: lines after the last stroke: the blade up, and back to the corner.
        stop: bytes that stop the machine at once, past everything that waits.
        hello: bytes that let a machine forget a command that came to it only in part, before anything else is said.
        status: bytes that ask how the machine is, answered past everything that waits; empty where nothing is.
        answers: whether it answers each line with "ok" or what is wrong.
        line_end: what ends a line.
    """

    title: str
    suffix: str
    opening: Callable[[Machine], list[str]]
    stroke: Callable[[Stroke, Machine, int], list[str]]
    travel: Callable[[tuple[float, float], Machine], list[str]]
    closing: Callable[[Machine], list[str]]
    stop: bytes
    answers: bool
    hello: bytes = b""
    status: bytes = b""
    line_end: bytes = b"\n"


def whole_file(language: Language, there: tuple[Stroke, ...], machine: Machine) -> bytes:
    """Return a file that holds all of a sheet."""
    lines = language.opening(machine)
    pen = 0
    for one in [replace(one, points=commanded(one.points, machine)) for one in there]:
        lines += language.stroke(one, machine, pen)
        pen = one.pen
    lines += language.closing(machine)
    return b"".join(line.encode("ascii") + language.line_end for line in lines)
