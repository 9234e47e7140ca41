"""One picture of many drawings becomes one design each."""

from __future__ import annotations

import math
from dataclasses import replace

import shapely

from honest_edge.app.edits.job_holder import new_design, with_designs
from honest_edge.app.results.design_result import DesignResult
from honest_edge.core.values.errors import BlockedError
from honest_edge.core.values.job import Job
from honest_edge.core.values.specs import Correction, OutlineRecipe, Point

_AIR_MM = 0.5  # round a drawing, so that the background's colour still stands at its picture's border
MOST_DRAWINGS = 200


def drawings_of(result: DesignResult) -> tuple[shapely.Polygon, ...]:
    """Return the pieces of a design's cut, the separate drawings, row by row."""
    pieces = list(result.cut.area.geoms)
    rows = max(1.0, min((piece.bounds[3] - piece.bounds[1] for piece in pieces), default=1.0) / 2)
    return tuple(sorted(pieces, key=lambda piece: (math.floor(piece.centroid.y / rows), piece.centroid.x)))


def split(job: Job, result: DesignResult) -> Job:
    """Return the job with a design for each drawing in place of the one that holds them all.

    Each keeps its size; it shows its own region of the original, and parts of neighbours that reach into
    that region are left out.

    Raises:
        BlockedError: there is only one drawing, or more than anyone means.
    """
    pieces, whole = drawings_of(result), result.design
    if not 2 <= len(pieces) <= MOST_DRAWINGS:
        raise BlockedError(f"There must be 2 to {MOST_DRAWINGS} separate drawings to split, not {len(pieces)}")
    grown, parts = job, []
    for piece in pieces:
        inside = [part.polygon for part in result.outline.parts if part.kept and part.polygon.intersects(piece)]
        others = [part.polygon for part in result.outline.parts if part.kept and not part.polygon.intersects(piece)]
        if not inside:
            continue
        box = _box(inside, result)
        design = new_design(grown, whole.asset, whole.file_name, box[2] - box[0])
        design = replace(
            design,
            source=replace(whole.source, region=_region(box, result)),
            outline=_recipe(whole.outline, box, whole.width_mm, others),
            edge=whole.edge,
            copies=whole.copies,
            fills=whole.fills,
        )
        parts.append(design)
        grown = with_designs(grown, [design])
    at = [design.key for design in job.designs].index(whole.key)
    return replace(job, designs=(*job.designs[:at], *parts, *job.designs[at + 1 :]))


def _box(art: list[shapely.Polygon], result: DesignResult) -> tuple[float, float, float, float]:
    left, top, right, bottom = shapely.total_bounds(art).tolist()
    pixel_mm = result.outline.pixel_mm
    air = max(_AIR_MM, 4 * pixel_mm)
    return (
        max(0.0, math.floor((left - air) / pixel_mm) * pixel_mm),
        max(0.0, math.floor((top - air) / pixel_mm) * pixel_mm),
        min(result.width_mm, math.ceil((right + air) / pixel_mm) * pixel_mm),
        min(result.height_mm, math.ceil((bottom + air) / pixel_mm) * pixel_mm),
    )


def _region(box: tuple[float, float, float, float], result: DesignResult) -> tuple[float, float, float, float]:
    """Return the box in shares of the whole original, of which the design may show a region already."""
    width, height = result.width_mm, result.height_mm
    left, top, right, bottom = result.design.source.region or (0.0, 0.0, 1.0, 1.0)
    wide, high = right - left, bottom - top
    return (
        left + wide * box[0] / width,
        top + high * box[1] / height,
        min(1.0, left + wide * box[2] / width),
        min(1.0, top + high * box[3] / height),
    )


def _recipe(
    recipe: OutlineRecipe, box: tuple[float, float, float, float], width_mm: float, others: list[shapely.Polygon]
) -> OutlineRecipe:
    """Return the recipe for a region: corrections move along, neighbours that reach in are left out."""
    wide = box[2] - box[0]

    def moved(x_mm: float, y_mm: float) -> Point:
        return (x_mm - box[0]) / wide, (y_mm - box[1]) / wide

    kept = []
    for step in recipe.corrections:
        points = tuple(moved(x * width_mm, y * width_mm) for x, y in step.points)
        if any(0 <= x <= 1 and 0 <= y * wide <= box[3] - box[1] for x, y in points):
            kept.append(Correction(kind=step.kind, points=points, brush=min(10.0, step.brush * width_mm / wide)))
    seen = [piece for piece in shapely.intersection(others, shapely.box(*box)) if not piece.is_empty] if others else []
    dropped = tuple(moved(place.x, place.y) for place in map(shapely.point_on_surface, seen))
    if dropped:
        kept.append(Correction(kind="drop", points=dropped))
    return replace(recipe, trace_area=None, corrections=tuple(kept))
