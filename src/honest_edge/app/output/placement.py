"""Which designs of a job are put on a thing after they are cut, and their placement sheets."""

from __future__ import annotations

from collections.abc import Iterable, Sequence

import shapely

from honest_edge.app.results.design_result import DesignResult
from honest_edge.app.results.pipeline import Pipeline
from honest_edge.core.geometry.paths import as_multipolygon, rings_of
from honest_edge.core.values.applied import AppliedDesign, AppliedPart, ApplyWay
from honest_edge.core.values.job import Design, Job
from honest_edge.core.values.papers import PAPER_MM
from honest_edge.core.values.units import Unit
from honest_edge.core.workshop.applying import steps_of
from honest_edge.files.write_placement import placement_pdf

_FLAT_MM = 0.05
_DIGITS = 3


def applied_ways(job: Job, results: Sequence[DesignResult]) -> list[tuple[Design, ApplyWay, DesignResult | None]]:
    """Return which designs of a job are put on a thing, and how.

    Args:
        job: the job.
        results: of its designs, as they are laid out.
    """
    by_key = {result.design.key: result for result in results}
    ways: list[tuple[Design, ApplyWay, DesignResult | None]] = []
    for design in job.designs:
        result = by_key.get(design.key)
        if any(layer.is_piece and layer.stock.has_liner for layer in design.layers):
            ways.append((design, "film", result))
        elif result is None or design.form is not None:
            continue
        elif job.sheet.stock.is_pressed:
            ways.append((design, "pressed", result))
        elif len(shapely.get_parts(result.cut.area)) > 1:
            ways.append((design, "parts", result))
    return ways


def applied_of(job: Job, pipeline: Pipeline, results: Sequence[DesignResult]) -> tuple[AppliedDesign, ...]:
    """Return what of a job is put on a thing; arguments as for ``applied_ways``, and what computed them."""
    applied = []
    for design, way, result in applied_ways(job, results):
        areas = pipeline.assembly(design, job) if result is None or way == "film" else [(design.name, result.cut.area)]
        applied.append(AppliedDesign(name=design.name, way=way, parts=tuple(_part(name, area) for name, area in areas)))
    return tuple(applied)


def _part(name: str, area: shapely.MultiPolygon) -> AppliedPart:
    smooth = as_multipolygon(shapely.simplify(area, _FLAT_MM))
    rings = tuple(tuple(ring.round(_DIGITS).ravel().tolist()) for ring in rings_of(smooth))
    return AppliedPart(name=name, rings=rings)


def placement_name(number: int) -> str:
    """Return the name of the ``number``-th placement sheet, from 1."""
    return f"placement-{number}.pdf"


def placement_files(applied: Iterable[AppliedDesign], *, is_letter: bool, unit: Unit = "mm") -> dict[str, bytes]:
    """Return a placement sheet for each design that is put on a thing, by name."""
    paper = PAPER_MM["letter" if is_letter else "a4"]
    return {
        placement_name(number): placement_pdf(one, steps_of(one), paper, unit) for number, one in enumerate(applied, 1)
    }
