"""Which part or hole of an outline lies at a place, and the correction that turns its fate round."""

from __future__ import annotations

from dataclasses import dataclass, replace
from typing import Literal

import shapely

from honest_edge.core.imaging.leaks import Leak, as_dam
from honest_edge.core.outline.outline import Component, Outline
from honest_edge.core.values.specs import Correction, CorrectionKind, OutlineRecipe


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


def corrected(recipe: OutlineRecipe, step: Correction) -> OutlineRecipe:
    """Return the recipe with one more step."""
    return replace(recipe, corrections=(*recipe.corrections, step))


def without_step(recipe: OutlineRecipe, index: int) -> OutlineRecipe:
    """Return the recipe with one step taken back."""
    return replace(recipe, corrections=recipe.corrections[:index] + recipe.corrections[index + 1 :])
