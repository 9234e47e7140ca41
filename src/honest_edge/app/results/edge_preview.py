"""The edge while a hand still moves it: cut and share at reduced sampling, the exact ones follow."""

from __future__ import annotations

from dataclasses import dataclass

import shapely

from honest_edge.app.results.design_result import DesignResult
from honest_edge.core.edge.bleed import ink_area
from honest_edge.core.edge.contour import contour
from honest_edge.core.edge.forecast import LIVE, farthest_mm, forecast
from honest_edge.core.edge.model import edge_model
from honest_edge.core.values.job import Job
from honest_edge.core.values.specs import EdgeRecipe


@dataclass(frozen=True, slots=True, kw_only=True, eq=False)
class EdgePreview:
    """A first look at another edge of the same outline.

    Attributes:
        edge: the recipe it is about.
        area: what its cut encloses.
        share_clean: within three points of what the exact forecast will say.
    """

    edge: EdgeRecipe
    area: shapely.MultiPolygon
    share_clean: float


def preview_edge(last: DesignResult, edge: EdgeRecipe, job: Job) -> EdgePreview:
    """Return a first look.

    Raises:
        BlockedError: an inward offset leaves nothing.
    """
    cut = contour(last.outline, edge)
    left, top, right, bottom = cut.area.bounds
    place, bleed = last.forecast.place, ink_area(last.outline, cut, edge)
    model = edge_model(
        last.outline,
        cut,
        last.inked if bleed is None else bleed,
        last.art_edge,
        edge,
        width_mm=last.width_mm,
        largest_mm=farthest_mm(job.misregistration, max(right - left, bottom - top), place),
    )
    expected = forecast(model, job.misregistration, place, visible_mm=job.visible_mm, fineness=LIVE)
    return EdgePreview(edge=edge, area=cut.area, share_clean=expected.share_clean)
