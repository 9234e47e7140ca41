"""What a blade does to one sheet, stroke by stroke, and the same in a machine's own frame."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace

import numpy as np

from honest_edge.core.geometry.paths import CurveRing, Floats
from honest_edge.core.sheet.narrow_lines import has_narrow_place
from honest_edge.core.values.errors import BlockedError
from honest_edge.core.values.machine import LineUse, Machine
from honest_edge.core.values.specs import LineKind

_TOLERANCE_MM = 0.01


@dataclass(frozen=True, slots=True, kw_only=True, eq=False)
class Stroke:
    """One line with the blade down.

    Attributes:
        kind: which kind of line.
        pen: the tool that the machine's profile names for it.
        speed_mm_s: of the blade; None as the machine has it for all.
        force: None as the machine has it for all.
        points: (n, 2) millimetres; of a sheet x right and y down from its top left, of a machine y upward.
    """

    kind: LineKind
    pen: int
    points: Floats
    speed_mm_s: float | None = None
    force: float | None = None

    @property
    def length_mm(self) -> float:
        """How long it is."""
        return float(np.hypot(*np.diff(self.points, axis=0).T).sum())


def strokes(cuts: Mapping[LineKind, Sequence[CurveRing]], machine: Machine) -> tuple[Stroke, ...]:
    """Return the strokes of a sheet in order: each kind of line as often as it has passes."""
    every: list[Stroke] = []
    for kind, rings in cuts.items():
        use = machine.lines[kind]
        once = [
            Stroke(
                kind=kind,
                pen=use.pen,
                points=(points := _closed(ring)),
                speed_mm_s=use.speed_mm_s if use.slow_mm_s is None else speed_of(points, use, machine),
                force=use.force,
            )
            for ring in rings
        ]
        every += once * use.passes
    return _said_of_all(every, machine)


def speed_of(points: Floats, use: LineUse, machine: Machine) -> float:
    """Return how fast a line is cut: slower where it has narrow places and the recipe asks for that."""
    usual = machine.speed_mm_s if use.speed_mm_s is None else use.speed_mm_s
    is_slow = use.slow_mm_s is not None and has_narrow_place(points)
    return min(usual, use.slow_mm_s or usual) if is_slow else usual


def _said_of_all(every: list[Stroke], machine: Machine) -> tuple[Stroke, ...]:
    """Return strokes of which each says its speed and force where one does: a machine keeps what it was told last."""
    has_speed = any(one.speed_mm_s is not None for one in every)
    has_force = any(one.force is not None for one in every)
    return tuple(
        replace(
            one,
            speed_mm_s=(one.speed_mm_s or machine.speed_mm_s) if has_speed else None,
            force=(machine.direct.force if one.force is None else one.force) if has_force else None,
        )
        for one in every
    )


def _closed(ring: CurveRing) -> Floats:
    points = ring.flattened(_TOLERANCE_MM)
    return np.vstack([points, points[:1]]) if ring.closed else points


@dataclass(frozen=True, slots=True, kw_only=True)
class Seat:
    """How a sheet lies in a machine: p = shift + turn (x, height - y), x right and y up, millimetres.

    Attributes:
        turn_rad: counter-clockwise, seen from above.
        scale: of the machine's millimetres against the sheet's.
        shift_mm: where the sheet's bottom left lies.
    """

    turn_rad: float = 0.0
    scale: float = 1.0
    shift_mm: tuple[float, float] = (0.0, 0.0)

    def placed(self, points: Floats, height_mm: float) -> Floats:
        """Return (n, 2) places of a sheet of this height in the machine's frame."""
        upward = np.column_stack([points[:, 0], height_mm - points[:, 1]])
        cos, sin = self.scale * np.cos(self.turn_rad), self.scale * np.sin(self.turn_rad)
        return np.asarray(upward @ np.array([[cos, sin], [-sin, cos]]) + self.shift_mm)


def seated(made: Sequence[Stroke], seat: Seat, height_mm: float, machine: Machine) -> tuple[Stroke, ...]:
    """Return the strokes of a sheet in the machine's frame.

    Raises:
        BlockedError: one leaves the area that the machine cuts; says by how much.
    """
    there = tuple(replace(one, points=seat.placed(one.points, height_mm)) for one in made)
    if not there:
        raise BlockedError("There is nothing to cut on this sheet")
    points = np.concatenate([one.points for one in there])
    low, high = points.min(0), points.max(0)
    reach = np.array([machine.width_mm, machine.length_mm])
    beyond = float(np.max(np.maximum(-low, high - reach)))
    if beyond > 0.005:
        raise BlockedError(
            f"The cut goes {beyond:.1f} mm beyond the {machine.width_mm:g} × {machine.length_mm:g} mm that "
            f"“{machine.name}” cuts: lay the sheet farther in, or take a larger machine"
        )
    return there


def commanded(points: Floats, machine: Machine) -> Floats:
    """Return places of a machine's area (n, 2), right and up from its bottom left, as the numbers it is to be told."""
    use = machine.direct
    origin = np.array(
        [machine.width_mm if "right" in use.corner else 0.0, machine.length_mm if "top" in use.corner else 0]
    )
    inward = np.array([-1.0 if "right" in use.corner else 1.0, -1.0 if "top" in use.corner else 1.0])
    axes = np.array([0, 1]) if use.x_points in ("right", "left") else np.array([1, 0])
    return np.asarray(((points - origin) * inward)[:, axes] / (use.x_scale, use.y_scale))


def home_mm(machine: Machine) -> tuple[float, float]:
    """Return where in its area a machine stands whose numbers are 0: where a pointer begins, and a cut ends."""
    corner = machine.direct.corner
    return (machine.width_mm if "right" in corner else 0.0, machine.length_mm if "top" in corner else 0.0)


def box_of(there: Sequence[Stroke]) -> tuple[float, float, float, float]:
    """Return left, bottom, right and top of strokes in a machine's frame."""
    points = np.concatenate([one.points for one in there])
    low, high = points.min(0), points.max(0)
    return float(low[0]), float(low[1]), float(high[0]), float(high[1])
