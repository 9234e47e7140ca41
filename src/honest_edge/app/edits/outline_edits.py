"""Which part or hole of an outline lies at a place, and the correction that turns its fate round."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass, replace
from typing import Literal

import shapely

from honest_edge.core.imaging.leaks import Leak, as_dam
from honest_edge.core.outline.outline import Component, Outline
from honest_edge.core.values.errors import UsageError
from honest_edge.core.values.specs import Correction, CorrectionKind, OutlineRecipe, Point

_LEAST_LOOP, _PLAIN = 1e-5, 5e-4  # in squared widths, and in widths, of the picture


@dataclass(frozen=True, slots=True, kw_only=True)
class Picked:
    """A part or a hole."""

    kind: Literal["part", "hole"]
    component: Component


def picked_at(outline: Outline, x_mm: float, y_mm: float) -> Picked | None:
    """Return the smallest part or hole that holds a place."""
    place = shapely.Point(x_mm, y_mm)
    for hole in reversed(outline.holes):
        if hole.polygon.contains(place):
            islands = [part for part in reversed(outline.parts) if part.polygon.contains(place)]
            inner = [part for part in islands if part.polygon.area < hole.polygon.area]
            return Picked(kind="part", component=inner[0]) if inner else Picked(kind="hole", component=hole)
    for part in reversed(outline.parts):
        if part.polygon.contains(place):
            return Picked(kind="part", component=part)
    return None


def turned_round(recipe: OutlineRecipe, picked: Picked, width_mm: float) -> OutlineRecipe:
    """Return the recipe with a part or hole dropped that was kept, or kept that was dropped."""
    kinds: dict[tuple[str, bool], CorrectionKind] = {
        ("part", True): "drop",
        ("part", False): "retain",
        ("hole", True): "fill",
        ("hole", False): "cut",
    }
    place = shapely.point_on_surface(picked.component.polygon)
    step = Correction(
        kind=kinds[picked.kind, picked.component.kept], points=((float(place.x) / width_mm, float(place.y) / width_mm),)
    )
    return corrected(recipe, step)


def dammed_leak(recipe: OutlineRecipe, leak: Leak) -> OutlineRecipe:
    """Return the recipe with a dam across a leak."""
    return corrected(recipe, Correction(kind="dam", points=as_dam(leak)))


def opened_leak(recipe: OutlineRecipe, leak: Leak) -> OutlineRecipe:
    """Return the recipe with a gap left as it is."""
    return corrected(recipe, Correction(kind="open", points=(leak.middle,)))


_SIDES = 64  # of the polygon that stands for an oval
_ROUNDED = 0.18  # of a box's shorter side


def looped(recipe: OutlineRecipe, points: Sequence[Point]) -> OutlineRecipe:
    """Return the recipe with a loop round the subject, in widths of the picture, in place of the one before.

    Raises:
        UsageError: it holds nothing.
    """
    ring = shapely.Polygon(points).buffer(0) if len(points) > 2 else shapely.Polygon()
    if ring.area < _LEAST_LOOP:
        raise UsageError("The loop holds nothing: draw it all round what is to be cut out")
    plain = shapely.simplify(shapely.LinearRing(points), _PLAIN)
    step = Correction(kind="around", points=tuple((float(x), float(y)) for x, y in plain.coords[:-1]))
    others = tuple(one for one in recipe.corrections if one.kind != "around")
    return replace(recipe, background="subject", corrections=(step, *others))


def oval_in(start: Point, end: Point) -> tuple[Point, ...]:
    """Return the places of an oval in a box between two corners."""
    (x, y), (wide, high) = ((start[0] + end[0]) / 2, (start[1] + end[1]) / 2), (end[0] - start[0], end[1] - start[1])
    turns = [2 * math.pi * n / _SIDES for n in range(_SIDES)]
    return tuple((x + wide / 2 * math.cos(turn), y + high / 2 * math.sin(turn)) for turn in turns)


def rounded_box_in(start: Point, end: Point) -> tuple[Point, ...]:
    """Return the places of a box with rounded corners between two corners."""
    (left, right), (top, bottom) = (sorted(pair) for pair in zip(start, end, strict=True))
    radius = _ROUNDED * min(right - left, bottom - top)
    box = shapely.buffer(shapely.buffer(shapely.box(left, top, right, bottom), -radius), radius)
    return tuple((float(x), float(y)) for x, y in shapely.get_coordinates(box)[:-1])


def corrected(recipe: OutlineRecipe, step: Correction) -> OutlineRecipe:
    """Return the recipe with one more step."""
    return replace(recipe, corrections=(*recipe.corrections, step))


def without_step(recipe: OutlineRecipe, index: int) -> OutlineRecipe:
    """Return the recipe with one step taken back."""
    return replace(recipe, corrections=recipe.corrections[:index] + recipe.corrections[index + 1 :])
