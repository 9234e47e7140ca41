"""Traced parts that are meant to be a disc, a box or a rounded box, and those forms themselves."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Literal

import numpy as np
import shapely

from honest_edge.core.geometry.paths import Floats

FormKind = Literal["disc", "box", "rounded box"]

MOST_OFF_MM, MOST_OFF_SHARE = 0.8, 0.03
"""How far a traced part may stray from a form, in millimetres and of its shorter side, for that to be meant."""
_EXACT_MM = 0.06
"""What strays no farther is as true as it can be traced."""
_LEAST_MM = 4.0
_UPRIGHT_DEG = 1.5
"""A box that is turned by less stands upright."""
_PLAINER_MM = 0.1
"""A plainer form may stray by so much more."""
_STEP_MM = 0.2
_ROUNDEST = 0.35
"""Of its shorter side, the largest radius of a box's corners: what is rounder has no straight sides."""


@dataclass(frozen=True, slots=True, kw_only=True, eq=False)
class TrueForm:
    """A form, and how far what was traced strays from it.

    Attributes:
        kind: which.
        polygon: the form itself, without holes.
        off_mm: the farthest that the traced boundary lies from it.
    """

    kind: FormKind
    polygon: shapely.Polygon
    off_mm: float


@dataclass(frozen=True, slots=True, kw_only=True)
class OfferedForms:
    """Forms that parts of an outline can be made.

    Attributes:
        within_mm: how far a part may stray for all of them to become true, to a tenth; 0 for none.
        kinds: what each of them is.
    """

    within_mm: float
    kinds: tuple[FormKind, ...]


def true_form(part: shapely.Polygon) -> TrueForm | None:
    """Return the form that a traced part is meant to be, the plainest of those near it; None for others."""
    plain = shapely.Polygon(part.exterior)
    box = shapely.minimum_rotated_rectangle(plain)
    if not isinstance(box, shapely.Polygon):
        return None
    corners = shapely.get_coordinates(box)[:4]
    sides = np.hypot(*(corners[1:3] - corners[:2]).T)
    if float(sides.min()) < _LEAST_MM:
        return None
    most_mm = min(MOST_OFF_MM, MOST_OFF_SHARE * float(sides.min()))
    ring = shapely.get_coordinates(shapely.segmentize(plain.exterior, _STEP_MM))
    forms = [form for form in (_disc(plain, ring), *_boxes(plain, corners, ring)) if form.off_mm <= most_mm]
    least = min((form.off_mm for form in forms), default=0.0)
    return next((form for form in forms if form.off_mm <= least + _PLAINER_MM), None)


def _disc(plain: shapely.Polygon, ring: Floats) -> TrueForm:
    """Return the disc of the same middle and area."""
    middle, radius = shapely.get_coordinates(plain.centroid)[0], math.sqrt(plain.area / math.pi)
    away = np.hypot(*(ring - middle).T)
    count = max(64, math.ceil(2 * math.pi * radius / _STEP_MM))
    angle = np.arange(count) * (2 * math.pi / count)
    circle = middle + radius * np.stack([np.cos(angle), np.sin(angle)], axis=1)
    return TrueForm(kind="disc", polygon=shapely.Polygon(circle), off_mm=float(np.abs(away - radius).max()))


def _boxes(plain: shapely.Polygon, corners: Floats, ring: Floats) -> list[TrueForm]:
    """Return the box whose sides lie amid what was traced, and the same with corners as round as its area says."""
    along = corners[1] - corners[0]
    turn = math.atan2(along[1], along[0])
    upright = round(turn / (math.pi / 2)) * (math.pi / 2)
    if abs(math.degrees(turn - upright)) < _UPRIGHT_DEG:
        turn = upright
    cos, sin = math.cos(turn), math.sin(turn)
    frame = np.array([[cos, sin], [-sin, cos]])
    own = ring @ frame.T
    low, high = own.min(axis=0), own.max(axis=0)
    edges: list[float] = []
    for axis in (0, 1):  # the middle of each side, away from its corners
        across = own[:, 1 - axis]
        share = (across - low[1 - axis]) / (high[1 - axis] - low[1 - axis])
        amid, middle = (share > 0.3) & (share < 0.7), (low[axis] + high[axis]) / 2
        sides = [own[amid & side, axis] for side in (own[:, axis] < middle, own[:, axis] > middle)]
        if not all(map(len, sides)):
            return []  # no side runs there: it is no box
        edges += [float(np.median(side)) for side in sides]
    left, right, top, bottom = edges
    if right - left < _LEAST_MM or bottom - top < _LEAST_MM:
        return []
    lost = (right - left) * (bottom - top) - plain.area
    radius = math.sqrt(max(0.0, lost) / (4 - math.pi))
    roundest = _ROUNDEST * min(right - left, bottom - top)
    boxes = []
    for kind, round_mm in (("box", 0.0), ("rounded box", radius))[: 2 if radius <= roundest else 1]:
        square = shapely.box(left + round_mm, top + round_mm, right - round_mm, bottom - round_mm)
        form = shapely.buffer(square, round_mm, quad_segs=max(8, math.ceil(8 * round_mm))) if round_mm else square
        turned = shapely.Polygon(shapely.get_coordinates(form) @ frame) if not form.is_empty else form
        if isinstance(turned, shapely.Polygon) and not turned.is_empty:
            off = shapely.distance(turned.exterior, shapely.points(ring))
            boxes.append(TrueForm(kind=kind, polygon=turned, off_mm=float(off.max())))  # type: ignore[arg-type]
    return boxes


def made_true(parts: Sequence[shapely.Polygon], within_mm: float) -> list[shapely.Polygon]:
    """Return parts of which those are true forms that stray no farther than ``within_mm``; their holes stay."""
    true_parts = []
    for part in parts:
        form = true_form(part)
        if form is None or form.off_mm > within_mm:
            true_parts.append(part)
            continue
        with_holes = shapely.Polygon(form.polygon.exterior, list(part.interiors))
        true_parts.append(with_holes if with_holes.is_valid else form.polygon)
    return true_parts


def offered_forms(parts: Sequence[shapely.Polygon]) -> OfferedForms:
    """Return the forms that parts are meant to be; none where all that are meant to be one are one."""
    forms = [form for part in parts if (form := true_form(part)) is not None]
    off_mm = max((form.off_mm for form in forms), default=0.0)
    if off_mm <= _EXACT_MM:
        return OfferedForms(within_mm=0.0, kinds=())
    return OfferedForms(within_mm=math.ceil(10 * off_mm) / 10, kinds=tuple(form.kind for form in forms))
