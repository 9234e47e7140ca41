"""What one sheet holds, ready for every writer: one geometry, many formats."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass, field
from typing import get_args

import numpy as np
import shapely

from honest_edge.core.edge.contour import CutLines
from honest_edge.core.geometry.paths import CurveRing, Floats
from honest_edge.core.sheet.blade import blade_path
from honest_edge.core.sheet.cut_order import ordered, with_smooth_start
from honest_edge.core.sheet.plan import Placement, Plan
from honest_edge.core.values.machine import Machine
from honest_edge.core.values.specs import Colour, LineKind

_ALWAYS = ("kiss", "through")  # groups that are there even when they are empty
HOME_MM = (0.0, 0.0)
"""Where the blade comes from: the sheet's top left."""


@dataclass(frozen=True, slots=True, kw_only=True, eq=False)
class PlacedArt:
    """One printed copy: which design's picture, and the (2, 3) matrix from its frame to the sheet."""

    design: int
    matrix: Floats


@dataclass(frozen=True, slots=True, kw_only=True, eq=False)
class SheetPage:
    """One sheet in sheet millimetres.

    Attributes:
        width_mm, height_mm: the paper.
        arts: the printed copies.
        cuts: the lines by kind, in the order in which they are worked: kiss first, through last.
        marks: the marks that are printed with it, filled with ink.
        marks_rgb: their colour.
        note: what is printed outside of the art: which sheet it is, and a ruler.
        is_printed: whether there is anything to print; pieces of coloured stock are only cut.
    """

    width_mm: float
    height_mm: float
    arts: tuple[PlacedArt, ...]
    cuts: dict[LineKind, tuple[CurveRing, ...]]
    marks: tuple[CurveRing, ...]
    marks_rgb: Colour = (0, 0, 0)
    note: shapely.MultiPolygon | None = None
    is_printed: bool = True


def sheet_pages(plan: Plan, cuts: Sequence[CutLines], machine: Machine) -> Iterator[SheetPage]:
    """Yield every sheet of a plan; those that are cut alike share their lines."""
    known: dict[tuple[tuple[int, float, float, float], ...], dict[LineKind, tuple[CurveRing, ...]]] = {}
    for number, placements in enumerate(plan.pages):
        key = tuple((id(cuts[p.design]), p.turn_deg, p.x_mm, p.y_mm) for p in placements)
        if key not in known:
            known[key] = _lines(plan, placements, cuts, machine)
        yield _page(plan, number, known[key], machine)


def sheet_page(plan: Plan, number: int, cuts: Sequence[CutLines], machine: Machine) -> SheetPage:
    """Return one sheet of a plan, counted from 0."""
    return _page(plan, number, _lines(plan, plan.pages[number], cuts, machine), machine)


def _page(plan: Plan, number: int, lines: dict[LineKind, tuple[CurveRing, ...]], machine: Machine) -> SheetPage:
    placements, is_printed = plan.pages[number], plan.stocks[number] is None
    is_marked = is_printed and not machine.prints_own_marks
    return SheetPage(
        width_mm=plan.width_mm,
        height_mm=plan.height_mm,
        arts=tuple(PlacedArt(design=p.design, matrix=p.matrix) for p in placements) if is_printed else (),
        cuts=lines,
        marks=tuple(ring for mark in plan.marks for ring in mark.rings) if is_marked else (),
        marks_rgb=machine.marks.rgb,
        is_printed=is_printed,
    )


@dataclass(slots=True)
class _Lines:
    """The lines of one kind, and which of them is the proof."""

    rings: list[CurveRing] = field(default_factory=list)
    proof: int | None = None


CopyLines = Sequence[tuple[LineKind, CurveRing]]
"""What is cut for one copy, where it lies on the sheet."""


def copy_lines(placement: Placement, cut: CutLines) -> list[tuple[LineKind, CurveRing]]:
    """Return what is cut for one copy."""
    return [(path.kind, path.curve.placed(placement.matrix)) for path in cut.all_paths]


def _lines(
    plan: Plan, placements: Sequence[Placement], cuts: Sequence[CutLines], machine: Machine
) -> dict[LineKind, tuple[CurveRing, ...]]:
    """Return the lines by kind in the order in which they are cut."""
    copies = [copy_lines(placement, cuts[placement.design]) for placement in placements]
    return in_order(copies, next(iter(proof_order(plan, placements, cuts)), None), machine)


def in_order(copies: Sequence[CopyLines], proof: int | None, machine: Machine) -> dict[LineKind, tuple[CurveRing, ...]]:
    """Return the lines of copies by kind in the order in which they are cut, as the machine's knife wants them.

    Args:
        copies: what is cut for each.
        proof: which copy is cut first.
        machine: whose knife it is.
    """
    lines_of_kind: dict[LineKind, _Lines] = {kind: _Lines() for kind in get_args(LineKind)}
    for number, copy in enumerate(copies):
        for kind, ring in copy:
            lines = lines_of_kind[kind]
            if number == proof and lines.proof is None:
                lines.proof = len(lines.rings)
            lines.rings.append(with_smooth_start(ring))
    offset_mm = machine.blade_offset_mm if machine.compensates else 0.0
    by_kind: dict[LineKind, tuple[CurveRing, ...]] = {}
    for kind, lines in lines_of_kind.items():
        if lines.rings or kind in _ALWAYS:
            order = ordered(lines.rings, HOME_MM, lines.proof)
            by_kind[kind] = tuple(blade_path(r, overcut_mm=machine.overcut_mm, offset_mm=offset_mm) for r in order)
    return by_kind


def proof_order(plan: Plan, placements: Sequence[Placement], cuts: Sequence[CutLines]) -> list[int]:
    """Return the copies, the one farthest from the marks first, where print and cut disagree the most."""
    middles = []
    for placement in placements:
        left, top, right, bottom = cuts[placement.design].area.bounds
        middles.append(placement.matrix @ np.array([(left + right) / 2, (top + bottom) / 2, 1.0]))
    boxes = [box for mark in plan.marks for box in mark.keep_outs]
    marks = np.mean([box.middle for box in boxes], axis=0) if boxes else np.zeros(2)
    away = [round(float(np.hypot(*(middle - marks))), 3) for middle in middles]
    return sorted(range(len(middles)), key=lambda index: (-away[index], -float(middles[index].sum())))
