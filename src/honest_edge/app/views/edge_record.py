"""The forecast of one design in plain numbers, as the command line prints and writes it."""

from __future__ import annotations

import math
from typing import Any

from honest_edge.app.results.assess_edge import TARGETS, proposed_change
from honest_edge.app.results.design_result import DesignResult
from honest_edge.app.results.pipeline import Pipeline
from honest_edge.app.results.progress import IsCancelled, never
from honest_edge.core.edge.forecast import Forecast
from honest_edge.core.values.job import Job


def edge_record(
    result: DesignResult, job: Job, pipeline: Pipeline, *, cancelled: IsCancelled = never
) -> dict[str, Any]:
    """Return the numbers of a forecast; lengths in millimetres, shares from 0 to 1, None where there is none.

    Raises:
        Cancelled: ``cancelled`` said so.
    """
    expected, edge, recipe = result.forecast, result.edge, result.design.edge
    weak_places = edge.weak_places(job.misregistration, expected.place, job.visible_mm)
    return {
        "school": recipe.school,
        "offset_mm": recipe.offset_mm,
        "bleed_mm": recipe.bleed_mm,
        "visible_mm": job.visible_mm,
        "at_mm": [expected.place.x_mm, expected.place.y_mm],
        "share_clean": expected.share_clean,
        "uncertainty": expected.uncertainty,
        "share_without_white": expected.share_without_white,
        "share_without_loss": expected.share_without_loss,
        "border_nominal_mm": None if expected.is_inked else recipe.offset_mm,
        "border_narrowest_mm": expected.narrowest_border_mm,
        "worst_place": _worst(weak_places),
        "places": len(weak_places),
        "smallest_changes": {
            f"{target:.0%}": _change(expected, result, job, pipeline, target, cancelled) for target in TARGETS
        },
        "cut_length_mm": edge.length_mm,
        "room_mm": edge.narrowest_mm if math.isfinite(edge.narrowest_mm) else None,
        "findings": [
            {"check": f.check, "severity": f.severity, "message": f.message, "remedy": f.remedy}
            for f in result.findings
        ],
    }


def _worst(weak_places: Any) -> dict[str, Any] | None:
    if not weak_places:
        return None
    worst = weak_places[0]
    return {
        "trouble": worst.trouble,
        "chance": worst.chance,
        "room_mm": worst.room_mm,
        "along_mm": worst.along_mm,
        "x_mm": worst.x_mm,
        "y_mm": worst.y_mm,
    }


def _change(
    expected: Forecast, result: DesignResult, job: Job, pipeline: Pipeline, target: float, cancelled: IsCancelled
) -> dict[str, Any] | None:
    """Return the recipe that reaches the target: the present one where it does; None where none was found."""
    recipe, share = result.design.edge, expected.share_clean
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
