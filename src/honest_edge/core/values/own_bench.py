"""The answers of the first start, as profiles of the user's own."""

from __future__ import annotations

from dataclasses import dataclass, replace
from typing import Literal

from honest_edge.core.values.errors import UsageError
from honest_edge.core.values.machine import MACHINES, Machine
from honest_edge.core.values.marks import MarkKind, with_mark_kind
from honest_edge.core.values.printer import PRINTERS, Printer

OWN_PRINTER, OWN_MACHINE = "My printer", "My cutter"
RIM_STEPS = 15
"""The page that is printed to find a printer's rim has a line at every millimetre so far from its edges."""


@dataclass(frozen=True, slots=True, kw_only=True)
class BenchAnswers:
    """What was answered; None where a question was passed over.

    Attributes:
        rim_mm: what the printer cannot print at the paper's edges.
        marks: what the cutter's reader looks for; "own program" where that program prints the marks itself, "by hand"
            where nothing reads them.
        area_mm: the largest area that is cut, across and along.
    """

    rim_mm: float | None = None
    marks: MarkKind | Literal["own program", "by hand"] | None = None
    area_mm: tuple[float, float] | None = None


def rim_read(side: int, foot: int) -> float:
    """Return the rim in mm from the smallest numbers that can be seen at the side and at the foot of the page.

    The larger one holds for every side: a printer's widest rim is where the paper leaves it last.

    Raises:
        UsageError: no such line is on the page.
    """
    for name, number in (("side", side), ("foot", foot)):
        if not 1 <= number <= RIM_STEPS:
            raise UsageError(f"The page has lines 1 to {RIM_STEPS} at its {name}: {number} is none of them")
    return float(max(side, foot))


def own_profiles(answers: BenchAnswers) -> tuple[Machine | Printer, ...]:
    """Return a profile for everything that was answered.

    Raises:
        UsageError: a size is out of range.
    """
    profiles: list[Machine | Printer] = []
    if answers.rim_mm is not None:
        profiles.append(replace(PRINTERS[0], name=OWN_PRINTER, rim_mm=answers.rim_mm))
    if answers.marks is not None or answers.area_mm is not None:
        profiles.append(_machine(answers))
    return tuple(profiles)


def _machine(answers: BenchAnswers) -> Machine:
    base = MACHINES[0]
    if answers.marks == "own program":
        base = next(machine for machine in MACHINES if machine.prints_own_marks)
    elif answers.marks == "by hand":
        base = next(machine for machine in MACHINES if not machine.finds_marks)
    elif answers.marks is not None:
        readers = [one for one in MACHINES if one.finds_marks and not one.prints_own_marks]
        alike = [one for one in readers if one.marks.kind == answers.marks]
        base = alike[0] if alike else replace(base, marks=with_mark_kind(base.marks, answers.marks))
    machine = replace(base, name=OWN_MACHINE)
    if answers.area_mm is not None:
        machine = replace(machine, width_mm=answers.area_mm[0], length_mm=answers.area_mm[1])
    return machine
