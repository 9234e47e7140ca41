"""What a layout costs: time at the cutter, and stock."""

from __future__ import annotations

from collections.abc import Mapping, Sequence

import numpy as np

from honest_edge.core.geometry.paths import CurveRing
from honest_edge.core.sheet.cut_order import travel_mm
from honest_edge.core.sheet.plan import Plan
from honest_edge.core.values.machine import Machine
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
    cut_mm = sum(machine.lines[kind].passes * length_mm(ring) for kind, rings in cuts.items() for ring in rings)
    lifted_mm = travel_mm([ring for rings in cuts.values() for ring in rings], home)
    return cut_mm / machine.speed_mm_s + lifted_mm / machine.travel_mm_s


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
