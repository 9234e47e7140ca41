"""A design larger than any sheet, split over pages that overlap; ticks show where the next page's edge goes."""

from __future__ import annotations

import math
from dataclasses import dataclass, replace

from honest_edge.app.edits.job_holder import free_name, with_designs
from honest_edge.app.edits.layer_edits import turned_layered
from honest_edge.app.edits.letter_designs import room_for
from honest_edge.app.results.design_result import DesignResult
from honest_edge.core.layers.arrange import free_key, moved
from honest_edge.core.values.errors import BlockedError
from honest_edge.core.values.forms import Form
from honest_edge.core.values.job import Design, Job
from honest_edge.core.values.layers import AS_DRAWN, Layer, Paint, Shape
from honest_edge.core.values.specs import SCHOOL_DEFAULTS
from honest_edge.core.values.units import check_range

MOST_PAGES = 60
_TICK_MM = 4.0
_TICK_LINES = ((1.0, (255, 255, 255)), (0.35, (20, 20, 20)))  # thick and white below thin and dark: seen on any art


@dataclass(frozen=True, slots=True, kw_only=True)
class Tiling:
    """Pages in a grid, each as wide and as high.

    Attributes:
        columns, rows: how many pages.
        page_mm: width and height of each, overlap included.
        overlap_mm: how far neighbours lie over each other.
    """

    columns: int
    rows: int
    page_mm: tuple[float, float]
    overlap_mm: float

    @property
    def pages(self) -> int:
        """How many pages there are."""
        return self.columns * self.rows


def tiling_of(result: DesignResult, job: Job, overlap_mm: float) -> Tiling:
    """Return the fewest pages that a design is split over on the job's sheet.

    Raises:
        BlockedError: it has a form, whose sizes are meant, or would take too many pages.
        UsageError: the overlap is impossible.
    """
    if result.design.form is not None:
        raise BlockedError("A form is cut in one piece: make it smaller, or take a larger paper")
    if result.design.backing is not None or any(layer.is_piece for layer in result.design.layers):
        raise BlockedError("What has a backing or pieces of coloured stock is not split over pages: make it smaller")
    check_range("overlap of pages", overlap_mm, 0, 50)
    left, top, right, bottom = (float(edge) for edge in result.outline.area.bounds)
    room = room_for(job, 0.0)
    counts, sides = [], []
    for whole_mm, room_mm in ((right - left, room[0]), (bottom - top, room[1])):
        if room_mm <= overlap_mm + 10:
            raise BlockedError(f"An overlap of {overlap_mm:g} mm leaves too little of a page: lower it")
        count = max(1, math.ceil((whole_mm - overlap_mm) / (room_mm - overlap_mm) - 1e-9))
        counts.append(count)
        sides.append((whole_mm + (count - 1) * overlap_mm) / count)
    tiling = Tiling(columns=counts[0], rows=counts[1], page_mm=(sides[0], sides[1]), overlap_mm=overlap_mm)
    if tiling.pages > MOST_PAGES:
        raise BlockedError(
            f"“{result.design.name}” would take {tiling.pages} pages, more than {MOST_PAGES}: make it smaller, or take "
            "a larger paper"
        )
    return tiling


def tiled(job: Job, result: DesignResult, tiling: Tiling) -> Job:
    """Return the job with a design in pages, from the top left, row by row, in its place."""
    design = result.design
    whole = design if design.is_layered else turned_layered(design, result.height_mm)
    corner = (0.0, 0.0) if result.composed is None else (result.composed.flat.left_mm, result.composed.flat.top_mm)
    left, top, _, _ = (float(edge) for edge in result.outline.area.bounds)
    left, top = left + corner[0], top + corner[1]
    wide, high = tiling.page_mm
    designs: list[Design] = []
    for row in range(tiling.rows):
        for column in range(tiling.columns):
            x_mm = left + column * (wide - tiling.overlap_mm) + wide / 2
            y_mm = top + row * (high - tiling.overlap_mm) + high / 2
            layers = moved(whole.layers, [layer.key for layer in whole.layers], -x_mm, -y_mm)
            for tick in _ticks(tiling, column, row):
                layers = (*layers, replace(tick, key=free_key(layers)))
            grown = with_designs(job, designs)
            name = f"{design.name}, page {chr(ord('A') + row)}{column + 1}"
            form = Form(kind="label", width_mm=wide, height_mm=high)
            edge = replace(SCHOOL_DEFAULTS["bare"], line_kind="through")
            page = Design(
                key=grown.free_key(),
                name=free_name(grown, name),
                outline=AS_DRAWN,
                edge=edge,
                copies=max(1, design.copies),
                layers=layers,
                form=form,
            )
            designs.append(page)
    at = [other.key for other in job.designs].index(design.key)
    return replace(job, designs=(*job.designs[:at], *designs, *job.designs[at + 1 :]), pins=(), layout=())


def _ticks(tiling: Tiling, column: int, row: int) -> list[Layer]:
    """Return the ticks of a page: at the ends of every line where the left or upper edge of the next one goes."""
    wide, high = tiling.page_mm
    places: list[tuple[float, float, float]] = []
    if column < tiling.columns - 1:
        places += [(wide / 2 - tiling.overlap_mm, side * (high - _TICK_MM) / 2, 90.0) for side in (-1, 1)]
    if row < tiling.rows - 1:
        places += [(side * (wide - _TICK_MM) / 2, high / 2 - tiling.overlap_mm, 0.0) for side in (-1, 1)]
    return [
        Layer(
            key="tick",
            name="Where the next page goes",
            shape=Shape(kind="box", width_mm=_TICK_MM, height_mm=thick_mm),
            paint=Paint(rgb=rgb),
            x_mm=x_mm,
            y_mm=y_mm,
            turn_deg=turn_deg,
        )
        for x_mm, y_mm, turn_deg in places
        for thick_mm, rgb in _TICK_LINES
    ]
