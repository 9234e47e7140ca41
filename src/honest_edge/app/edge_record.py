"""The forecast of one design in plain numbers, as the command line prints and writes it."""

from __future__ import annotations

import math
from typing import Any

from honest_edge.app.judging import TARGETS, proposed_change
from honest_edge.app.pipeline import DesignResult, IsCancelled, Pipeline, never
from honest_edge.core.edge.forecast import Forecast
from honest_edge.core.values.job import Job


def edge_record(
    result: DesignResult, job: Job, pipeline: Pipeline, *, cancelled: IsCancelled = never
) -> dict[str, Any]:
    """Return the numbers of a forecast; lengths in millimetres, shares from 0 to 1, None where there is none.

    Raises:
        Cancelled: ``cancelled`` said so.
    """
    seen, edge, recipe = result.forecast, result.edge, result.design.edge
    spots = edge.spots(job.bench_error, seen.place, job.visible_mm)
    return {
        "school": recipe.school,
        "offset_mm": recipe.offset_mm,
        "bleed_mm": recipe.bleed_mm,
        "visible_mm": job.visible_mm,
        "at_mm": [seen.place.x_mm, seen.place.y_mm],
        "share_clean": seen.share_clean,
        "uncertainty": seen.uncertainty,
        "share_without_white": seen.share_without_white,
        "share_without_loss": seen.share_without_loss,
        "border_nominal_mm": None if seen.is_inked else recipe.offset_mm,
        "border_narrowest_mm": seen.narrowest_border_mm(),
        "worst_place": _worst(spots),
        "places": len(spots),
        "smallest_changes": {
            f"{target:.0%}": _change(seen, result, job, pipeline, target, cancelled) for target in TARGETS
        },
        "cut_length_mm": edge.length_mm,
        "room_mm": edge.narrowest_mm if math.isfinite(edge.narrowest_mm) else None,
        "findings": [{"check": f.check, "message": f.message, "remedy": f.remedy} for f in result.findings],
    }


def _worst(spots: Any) -> dict[str, Any] | None:
    if not spots:
        return None
    worst = spots[0]
    return {
        "trouble": worst.trouble,
        "chance": worst.chance,
        "room_mm": worst.room_mm,
        "along_mm": worst.along_mm,
        "x_mm": worst.x_mm,
        "y_mm": worst.y_mm,
    }


def _change(
    seen: Forecast, result: DesignResult, job: Job, pipeline: Pipeline, target: float, cancelled: IsCancelled
) -> dict[str, Any] | None:
    """Return the recipe that reaches the target: the present one where it does; None where none was found."""
    recipe, share = result.design.edge, seen.share_clean
    if share < target:
        change = proposed_change(result, job, pipeline, target, cancelled=cancelled)
        if change is None:
            return None
        recipe, share = change.edge, change.share
    return {
        "school": recipe.school,
        "offset_mm": recipe.offset_mm,
        "bleed_mm": recipe.bleed_mm,
        "share_clean": share,
    }
