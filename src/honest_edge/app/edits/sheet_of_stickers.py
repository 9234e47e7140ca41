"""Pictures on a sheet of stickers: each scaled to its cell with its ring, in a grid clear of titles and rim."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, replace

from honest_edge.app.edits.layer_edits import ring_mm
from honest_edge.app.edits.sizes import factor_for
from honest_edge.app.edits.together import resized
from honest_edge.app.results.design_result import DesignResult
from honest_edge.core.layers.arrange import Bounds, free_key
from honest_edge.core.layers.forms import form_shape
from honest_edge.core.layers.sticker_grid import StickerGrid, grid_for_size, sticker_grid
from honest_edge.core.values.errors import BlockedError
from honest_edge.core.values.job import Design, Job
from honest_edge.core.values.layers import Layer, Sticker
from honest_edge.core.values.specs import WantedSize


@dataclass(frozen=True, slots=True, kw_only=True)
class LaidSheet:
    """A job with its sheet laid, and how.

    Attributes:
        job: the job.
        grid: the cells.
    """

    job: Job
    grid: StickerGrid


def laid_in_grid(
    job: Job,
    key: str,
    results: Mapping[str, DesignResult],
    boxes: Mapping[str, Bounds],
    *,
    count: int = 0,
    columns: int = 0,
) -> LaidSheet:
    """Return the job with a sheet's stickers laid in a grid, all designs in turn, as large as its cells.

    Args:
        job: the job.
        key: of the sheet.
        results: of the designs that lie on it, in their order.
        boxes: of its layers, by key; titles stay clear.
        count: how many stickers; 0 is one of each design.
        columns: so many; 0 takes what shows them the largest.

    Raises:
        BlockedError: they do not fit; the message says how many would.
        UsageError: a sticker would have a size that none has.
    """
    sheet = job.design(key)
    kept = tuple(layer for layer in sheet.layers if layer.sticker is None)
    ring = ring_mm(job)
    keys = list(results)
    sizes = [results[one].cut_size_mm for one in keys]
    if not keys:
        raise BlockedError("Nothing lies on this sheet yet: drop pictures on it")
    grid = sticker_grid(
        count or len(keys),
        [wide / high for wide, high in sizes],
        _room(job, sheet),
        gap_mm=2 * ring,
        kept=_titles(sheet, boxes),
        columns=columns,
    )
    for one in keys:
        job = job.with_design(_fitted(job.design(one), results[one], grid.cell_mm))
    layers = kept
    for number, (x_mm, y_mm) in enumerate(grid.places_mm):
        one = keys[number % len(keys)]
        layers = (
            *layers,
            Layer(
                key=free_key(layers),
                name=job.design(one).name,
                sticker=Sticker(design=one),
                joining="knock out",
                gap_mm=ring,
                x_mm=round(x_mm, 2),
                y_mm=round(y_mm, 2),
            ),
        )
    return LaidSheet(job=job.with_design(replace(sheet, layers=layers)), grid=grid)


def _fitted(design: Design, result: DesignResult, cell_mm: tuple[float, float]) -> Design:
    """Return a design whose cut just fits a cell, and keeps to that."""
    sides = result.cut_size_mm
    side = 0 if sides[0] / sides[1] >= cell_mm[0] / cell_mm[1] else 1
    length_mm = round(cell_mm[side], 2)
    factor = factor_for(result, length_mm, "cut", 1 if side else 0)
    wanted = WantedSize(of="cut", side=1 if side else 0, length_mm=length_mm)
    return replace(resized(design, factor), wanted=wanted, copies=0, fills=False)


def count_of_size(job: Job, key: str, boxes: Mapping[str, Bounds], side_mm: float) -> tuple[int, int]:
    """Return how many stickers of a size lie on a sheet, and in how many columns.

    Raises:
        BlockedError: not one; says how large one could be.
    """
    sheet = job.design(key)
    return grid_for_size(side_mm, _room(job, sheet), gap_mm=2 * ring_mm(job), kept=_titles(sheet, boxes))


def _room(job: Job, sheet: Design) -> Bounds:
    """Return where stickers may lie: the form without its rim."""
    assert sheet.form is not None
    left, top, right, bottom = (float(edge) for edge in form_shape(sheet.form).area.bounds)
    rim_mm = job.kept_clear_mm - 2 * ring_mm(job)  # their own gap is kept to the edge, too
    rim_mm = max(0.0, rim_mm)
    return left + rim_mm, top + rim_mm, right - rim_mm, bottom - rim_mm


def _titles(sheet: Design, boxes: Mapping[str, Bounds]) -> list[Bounds]:
    return [boxes[one.key] for one in sheet.layers if one.lettering and one.key in boxes and not one.is_hidden]
