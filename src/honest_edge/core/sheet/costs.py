"""What a layout costs: time at the cutter, and stock."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from typing import get_args

import numpy as np

from honest_edge.core.geometry.paths import CurveRing
from honest_edge.core.sheet.cut_order import travel_mm
from honest_edge.core.sheet.narrow_lines import has_narrow_place
from honest_edge.core.sheet.plan import Plan
from honest_edge.core.sheet.strokes import strokes
from honest_edge.core.values.machine import LineUses, Machine
from honest_edge.core.values.sheet import SheetSpec
from honest_edge.core.values.specs import LineKind

_FLAT_MM = 0.01


def cut_seconds(cuts: Mapping[LineKind, Sequence[CurveRing]], machine: Machine, home: tuple[float, float]) -> float:
    """Return how long a sheet takes at the machine's speeds at least: way by speed, without speeding up and down.

    Args:
        cuts: the lines by kind, in the order in which they are cut.
        machine: its speeds, and how often it goes over each kind.
        home: where the blade comes from.
    """
    cut_s = sum(one.length_mm / (one.speed_mm_s or machine.speed_mm_s) for one in strokes(cuts, machine))
    lifted_mm = travel_mm([ring for rings in cuts.values() for ring in rings], home)
    return cut_s + lifted_mm / machine.travel_mm_s


@dataclass(frozen=True, slots=True, kw_only=True)
class NarrowLines:
    """Lines of a sheet with narrow places: how many of how many, and what cutting them slower costs."""

    narrow: int
    lines: int
    more_s: float


def narrow_lines(cuts: Mapping[LineKind, Sequence[CurveRing]], machine: Machine) -> NarrowLines:
    """Return which lines have narrow places; slower is as the recipe says, or at half speed where none says it."""
    narrow, lines, more_s = 0, 0, 0.0
    for one in strokes(cuts, replace(machine, lines=_once(machine))):
        lines += 1
        if not has_narrow_place(one.points):
            continue
        narrow += 1
        use = machine.lines[one.kind]
        usual = use.speed_mm_s or machine.speed_mm_s
        slow = min(usual, usual / 2 if use.slow_mm_s is None else use.slow_mm_s)
        more_s += use.passes * one.length_mm * (1 / slow - 1 / usual)
    return NarrowLines(narrow=narrow, lines=lines, more_s=more_s)


def _once(machine: Machine) -> LineUses:
    uses = machine.lines
    for kind in get_args(LineKind):
        uses = uses.with_use(kind, replace(uses[kind], passes=1))
    return uses


def length_mm(ring: CurveRing) -> float:
    """Return how long a ring or line is."""
    points = ring.flattened(_FLAT_MM)
    if ring.closed:
        points = np.vstack([points, points[:1]])
    return float(np.hypot(*np.diff(points, axis=0).T).sum())


def stock_cost(plan: Plan, sheet: SheetSpec) -> float | None:
    """Return the price of all sheets, in the user's own money; None where that of one was never typed."""
    prices = [(stock or sheet.stock).price for stock in plan.stocks]
    known = [price for price in prices if price is not None]
    return sum(known) if len(known) == len(prices) else None
