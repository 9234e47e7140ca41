"""The edge, or the rings of a sheet, while a hand still moves them: shares at reduced sampling, exact ones follow."""

from __future__ import annotations

from dataclasses import dataclass, replace
from typing import Literal

import shapely

from honest_edge.app.results.design_result import DesignResult
from honest_edge.core.edge.bleed import ink_area
from honest_edge.core.edge.contour import contour
from honest_edge.core.edge.forecast import LIVE, farthest_mm, forecast
from honest_edge.core.edge.model import EdgeModel, edge_model, with_other_rings
from honest_edge.core.geometry.paths import as_multipolygon
from honest_edge.core.values.job import Job
from honest_edge.core.values.specs import EdgeRecipe


@dataclass(frozen=True, slots=True, kw_only=True, eq=False)
class EdgePreview:
    """A first look at another offset, or at other rings.

    Attributes:
        moved: what is moved.
        length_mm: where to.
        area: what the cut, or what the rings enclose.
        share_clean: within three points of what the exact forecast will say.
    """

    moved: Literal["an offset", "rings"]
    length_mm: float
    area: shapely.MultiPolygon
    share_clean: float


def preview_edge(last: DesignResult, edge: EdgeRecipe, job: Job) -> EdgePreview:
    """Return a first look.

    Raises:
        BlockedError: an inward offset leaves nothing.
    """
    cut = contour(last.outline, edge)
    bleed = ink_area(last.outline, cut, edge)
    model = edge_model(
        last.outline,
        cut,
        last.inked if bleed is None else bleed,
        last.art_edge,
        edge,
        width_mm=last.width_mm,
        largest_mm=_farthest_mm(last, cut.area, job),
    )
    on_it = last.model  # what lies on a sheet stays where it is
    model = replace(model, kiss_points=on_it.kiss_points, room=on_it.room, ring_mm=on_it.ring_mm)
    return EdgePreview(
        moved="an offset", length_mm=edge.offset_mm, area=cut.area, share_clean=_share_clean(model, last, job)
    )


def preview_rings(last: DesignResult, ring_mm: float, job: Job) -> EdgePreview:
    """Return a first look at a sheet of stickers with rings of another width."""
    assert last.kiss is not None  # asked for on sheets of stickers alone
    kiss = last.kiss.rough.with_rings(ring_mm)
    model = with_other_rings(last.model, kiss, _farthest_mm(last, last.cut.area, job))
    rings = shapely.union_all([shapely.buffer(one.cut, one.ring_mm) for one in kiss.stickers])
    return EdgePreview(
        moved="rings", length_mm=ring_mm, area=as_multipolygon(rings), share_clean=_share_clean(model, last, job)
    )


def _farthest_mm(last: DesignResult, area: shapely.MultiPolygon, job: Job) -> float:
    left, top, right, bottom = area.bounds
    return farthest_mm(job.misregistration, max(right - left, bottom - top), last.forecast.place)


def _share_clean(model: EdgeModel, last: DesignResult, job: Job) -> float:
    expected = forecast(model, job.misregistration, last.forecast.place, visible_mm=job.visible_mm, fineness=LIVE)
    return expected.share_clean
