"""The marks that the cutter's reader finds, and the room they need."""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np

from honest_edge.core.geometry.paths import CurveRing
from honest_edge.core.sheet.media import Box
from honest_edge.core.values.errors import BlockedError
from honest_edge.core.values.marks import MarkSpec
from honest_edge.core.values.sheet import SheetSpec
from honest_edge.core.values.sides import Sides

_KAPPA = 4 / 3 * math.tan(math.pi / 8)
"""Length of the handles of a quarter circle; the cubic strays by 0.03 % of the radius (Riškus 2006)."""


@dataclass(frozen=True, slots=True, kw_only=True)
class Mark:
    """One printed mark.

    Attributes:
        name: where it stands, in words.
        bars: its printed boxes.
        disc: middle x and y and radius, where it is a disc.
        keep_outs: where nothing else may be printed or cut.
    """

    name: str
    bars: tuple[Box, ...] = ()
    disc: tuple[float, float, float] | None = None
    keep_outs: tuple[Box, ...]

    @property
    def rings(self) -> tuple[CurveRing, ...]:
        """What is filled with ink, for every kind of file."""
        inked = [_box_ring(bar) for bar in self.bars]
        return tuple(inked if self.disc is None else [*inked, disc_ring(*self.disc)])


def marks_of(sheet: SheetSpec) -> tuple[Mark, ...]:
    """Return the marks of a sheet. Of three brackets the free corner, bottom right, tells how the sheet lies.

    Raises:
        BlockedError: a mark would lie in the printer's rim or where the machine cannot reach, or the marks meet.
    """
    spec = sheet.marks
    if spec.inset_mm < (rim_mm := rim_of_marks(sheet)):
        raise BlockedError(
            f"The marks stand {spec.inset_mm:g} mm from the paper’s edge, inside the {rim_mm:g} mm that "
            f"the printer cannot print: set the inset to {rim_mm:g} mm or more"
        )
    width, height = sheet.size_mm
    size = 2 * (spec.thickness_mm + spec.clear_mm) if spec.kind == "frame" else spec.length_mm
    longest = min(width, height) / 2 - spec.inset_mm - spec.clear_mm
    if size > longest:
        raise BlockedError(
            f"Marks of {size:g} mm at an inset of {spec.inset_mm:g} mm meet on "
            f"{sheet.paper_title}: make them {max(longest, 0):.0f} mm or shorter"
        )
    whole = Box(0.0, 0.0, width, height).grown(-spec.inset_mm)
    if spec.kind == "frame":
        return (_frame(whole, spec),)
    corners = [("top left", 1, 1), ("top right", -1, 1), ("bottom left", 1, -1), ("bottom right", -1, -1)]
    marks = [_corner_mark(name, whole, across, down, spec) for name, across, down in corners]
    return tuple(marks[:3] if spec.kind == "three brackets" else marks)


def rim_of_marks(sheet: SheetSpec) -> float:
    """Return the printer's rim that marks stay clear of: ours, alike all round, of its widest side.

    A machine that prints its own marks moves them in where a side asks for it.
    """
    return min(sheet.rims_mm) if sheet.machine.prints_own_marks else sheet.rim_mm


def aims_of(sheet: SheetSpec) -> tuple[tuple[str, float, float], ...]:
    """Return the points that a hand sets the blade over, the first one first: name, x and y in mm from the top left.

    They are the middles of discs and squares, and the outer corners of brackets and of a frame.
    """
    whole = Box(0.0, 0.0, *sheet.size_mm).grown(-sheet.marks.inset_mm)
    inward = sheet.marks.length_mm / 2 if sheet.marks.kind in ("four discs", "four squares") else 0.0
    aims = whole.grown(-inward)
    corners = (
        ("top left", aims.left, aims.top),
        ("top right", aims.right, aims.top),
        ("bottom left", aims.left, aims.bottom),
        ("bottom right", aims.right, aims.bottom),
    )
    return corners[:3] if sheet.marks.kind == "three brackets" else corners


def marks_span(sheet: SheetSpec) -> Box:
    """Return the box that the marks span: the reader corrects between them, not beyond."""
    spec = sheet.marks
    more = spec.thickness_mm + spec.clear_mm if spec.kind == "frame" else 0.0
    own = sheet.rims_mm if sheet.machine.prints_own_marks else Sides.alike(sheet.rim_mm)  # ours stand alike all round
    insets = Sides(*(max(spec.inset_mm, rim_mm) + more for rim_mm in own))
    return Box(0.0, 0.0, *sheet.size_mm).inside(insets)


def _corner_mark(name: str, whole: Box, across: int, down: int, spec: MarkSpec) -> Mark:
    x, y = whole.left if across > 0 else whole.right, whole.top if down > 0 else whole.bottom
    length, thick = spec.length_mm, spec.thickness_mm
    room = _box(x, y, across * length, down * length).grown(spec.clear_mm)
    if spec.kind == "four discs":
        radius = length / 2
        return Mark(name=name, disc=(x + across * radius, y + down * radius, radius), keep_outs=(room,))
    if spec.kind == "four squares":
        return Mark(name=name, bars=(_box(x, y, across * length, down * length),), keep_outs=(room,))
    bars = (_box(x, y, across * length, down * thick), _box(x, y, across * thick, down * length))
    return Mark(name=name, bars=bars, keep_outs=(room,))


def _frame(whole: Box, spec: MarkSpec) -> Mark:
    thick = spec.thickness_mm
    bars = (
        whole._replace(bottom=whole.top + thick),
        whole._replace(top=whole.bottom - thick),
        Box(whole.left, whole.top + thick, whole.left + thick, whole.bottom - thick),
        Box(whole.right - thick, whole.top + thick, whole.right, whole.bottom - thick),
    )
    return Mark(name="round the art", bars=bars, keep_outs=tuple(bar.grown(spec.clear_mm) for bar in bars))


def _box(x: float, y: float, width: float, height: float) -> Box:
    return Box(min(x, x + width), min(y, y + height), max(x, x + width), max(y, y + height))


def _box_ring(box: Box) -> CurveRing:
    corners = np.array([(box.left, box.top), (box.right, box.top), (box.right, box.bottom), (box.left, box.bottom)])
    after = np.roll(corners, -1, axis=0)
    shares = np.array([0.0, 1 / 3, 2 / 3, 1.0])[None, :, None]
    return CurveRing(corners[:, None] * (1 - shares) + after[:, None] * shares, np.ones(4, bool))


def disc_ring(x: float, y: float, radius: float) -> CurveRing:
    """Return a circle of four cubics, in millimetres."""
    starts = np.array([(1.0, 0.0), (0.0, 1.0), (-1.0, 0.0), (0.0, -1.0)])
    ends = np.roll(starts, -1, axis=0)
    cubics = np.stack([starts, starts + _KAPPA * ends, ends + _KAPPA * starts, ends], axis=1)
    return CurveRing(cubics * radius + np.array([x, y]), np.zeros(4, bool))
