"""What each step of the pipeline depends on: results are kept by it, so that an edit redoes only what it touches."""

from __future__ import annotations

from collections.abc import Hashable
from dataclasses import replace

import shapely

from honest_edge.core.sheet.plan import Footprint
from honest_edge.core.values.job import Design, Job
from honest_edge.core.values.specs import EdgeRecipe, OutlineRecipe


def shown_by(design: Design, job: Job) -> tuple[Hashable, ...]:
    """Return what a design's picture depends on."""
    if not design.is_layered:
        return design.asset, design.source
    stickers = tuple(other for other in job.designs if other.key in design.stickers)
    clear_mm = None if design.table is None else job.kept_clear_mm  # it bounds the words of the table
    return design.layers, design.backing, design.form, design.table, clear_mm, design.is_flattened, stickers


def of_background(recipe: OutlineRecipe) -> OutlineRecipe:
    """Return the recipe without what does not touch the background, so that its results are kept."""
    strokes = tuple(c for c in recipe.corrections if c.kind in ("dam", "open", "keep", "clear", "around"))
    usual = OutlineRecipe()
    return replace(
        recipe,
        speck_mm2=usual.speck_mm2,
        hole_mm2=usual.hole_mm2,
        smoothness_mm=None,
        corner_deg=usual.corner_deg,
        closely_mm=usual.closely_mm,
        true_mm=usual.true_mm,
        corrections=strokes,
    )


def of_cut(recipe: EdgeRecipe) -> EdgeRecipe:
    """Return the recipe without what does not move the cut."""
    return replace(recipe, bleed_mm=0.0, fill="nearest", fill_rgb=None, detail=())


def footprint_key(footprint: Footprint) -> tuple[Hashable, ...]:
    """Return what a layout depends on of one design; shapes are the same where all their points are."""
    area = shapely.to_wkb(footprint.area)
    return (footprint.key, footprint.name, area, footprint.reach_mm, footprint.copies, footprint.fills, footprint.stock)
