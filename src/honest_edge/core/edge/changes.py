"""The smallest change of bleed or offset that reaches a share of clean stickers."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace

from honest_edge.core.edge.forecast import Forecast
from honest_edge.core.values.specs import EdgeRecipe

STEP_MM = 0.05
_COARSE_MM = 0.1
_MOST_MM = 6.0


def smallest_change(expected: Forecast, recipe: EdgeRecipe, share: float) -> EdgeRecipe | None:
    """Return the recipe with the smallest change that lets ``share`` of the stickers come out clean.

    The unchanged recipe where they do already; None where no change of bleed, offset or both reaches it.
    """
    if expected.share_clean >= share:
        return recipe
    tries = (_inside,) if recipe.school == "inside" else (_bleed, _offset, _both)
    for find in tries:
        changed = find(expected, recipe, share)
        if changed is not None:
            return changed
    return None


def _bleed(expected: Forecast, recipe: EdgeRecipe, share: float) -> EdgeRecipe | None:
    if not expected.is_inked:
        return None
    step = _least(lambda mm: expected.share_with(bleed_mm=mm) >= share)
    return step if step is None else _with_bleed(recipe, recipe.bleed_mm + step)


def _offset(expected: Forecast, recipe: EdgeRecipe, share: float) -> EdgeRecipe | None:
    """Move the cut out; the bleed moves with it."""
    if expected.is_inked and recipe.bleed_mm == 0:
        return None
    step = _least(lambda mm: expected.share_with(bleed_mm=mm, outward_mm=mm) >= share)
    return step if step is None else replace(recipe, offset_mm=_rounded(recipe.offset_mm + step))


def _both(expected: Forecast, recipe: EdgeRecipe, share: float) -> EdgeRecipe | None:
    """Give each trouble half of what may still go wrong."""
    if not expected.is_inked:
        return None
    enough = 1 - (1 - share) / 2
    out = _least(lambda mm: expected.share_without_loss_at(mm) >= enough)
    if out is None:
        return None
    more = _least(lambda mm: expected.share_with(bleed_mm=mm + out, outward_mm=out) >= share)
    return (
        more
        if more is None
        else replace(_with_bleed(recipe, recipe.bleed_mm + more), offset_mm=_rounded(recipe.offset_mm + out))
    )


def _inside(expected: Forecast, recipe: EdgeRecipe, share: float) -> EdgeRecipe | None:
    """Cut farther inside, or less far where detail is in the way; else let ink reach past the art."""
    for way in (1, -1):  # farther in is better for white and worse for detail, so every step is tried
        most_mm = _MOST_MM if way > 0 else recipe.offset_mm
        for number in range(1, int(most_mm / _COARSE_MM) + 1):
            if expected.share_with(outward_mm=-way * number * _COARSE_MM) >= share:
                return replace(recipe, offset_mm=_rounded(recipe.offset_mm + way * number * _COARSE_MM))
    bleed = _least(lambda mm: expected.share_with(bleed_mm=mm) >= share)
    return None if bleed is None else _with_bleed(recipe, max(recipe.offset_mm, recipe.bleed_mm) + bleed)


def _with_bleed(recipe: EdgeRecipe, bleed_mm: float) -> EdgeRecipe:
    return replace(recipe, school="bleed" if recipe.school == "bare" else recipe.school, bleed_mm=_rounded(bleed_mm))


def _rounded(value_mm: float) -> float:
    return round(value_mm, 2)


def _least(is_enough: Callable[[float], bool]) -> float | None:
    """Return the smallest step that is enough, by halving: more of it is never worse."""
    low, high = 0, round(_MOST_MM / STEP_MM)
    if not is_enough(high * STEP_MM):
        return None
    while low < high:
        middle = (low + high) // 2
        low, high = (low, middle) if is_enough(middle * STEP_MM) else (middle + 1, high)
    return low * STEP_MM
