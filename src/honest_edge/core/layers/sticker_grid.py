"""Stickers in a grid on a sheet: how many columns and rows show them the largest, and where their middles lie."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from honest_edge.core.layers.arrange import Bounds
from honest_edge.core.layers.sticker_rows import free_band
from honest_edge.core.values.errors import BlockedError

SMALLEST_MM = 8.0
"""The smallest side of a cell that is made unasked: smaller stickers are hard to peel; common practice, no
published source."""


@dataclass(frozen=True, slots=True, kw_only=True)
class StickerGrid:
    """Cells of one size.

    Attributes:
        columns, rows: how many.
        cell_mm: width and height of one, without the gap round it.
        places_mm: middles, row by row, of as many as were asked for; a last row that is not full is centred.
    """

    columns: int
    rows: int
    cell_mm: tuple[float, float]
    places_mm: tuple[tuple[float, float], ...]


def sticker_grid(
    count: int,
    aspects: Sequence[float],
    area: Bounds,
    *,
    gap_mm: float,
    kept: Sequence[Bounds] = (),
    columns: int = 0,
) -> StickerGrid:
    """Return the grid in which so many stickers are the largest.

    Args:
        count: of stickers.
        aspects: width over height of each design that lies in it.
        area: where they may lie: left, top, right, bottom in mm.
        gap_mm: between cells and to the area's edge.
        kept: boxes above or below them that stay free, such as a title.
        columns: so many, whatever that makes of them; 0 takes what shows them the largest.

    Raises:
        BlockedError: they would be smaller than ``SMALLEST_MM``; says how many there is room for.
    """
    left, top, right, bottom = free_band(area, kept)
    best: tuple[float, StickerGrid] | None = None
    for across in (columns,) if columns else range(1, count + 1):
        down = -(-count // across)
        cell = ((right - left - gap_mm) / across - gap_mm, (bottom - top - gap_mm) / down - gap_mm)
        if min(cell) <= 0:
            continue
        size = min(min(cell[0], cell[1] * aspect) * min(1.0, 1 / aspect) for aspect in aspects)
        if best is None or size > best[0] + 1e-9:
            best = size, StickerGrid(columns=across, rows=down, cell_mm=cell, places_mm=())
    if best is None or min(best[1].cell_mm) < SMALLEST_MM:
        side = SMALLEST_MM + gap_mm
        most = int((right - left - gap_mm) // side) * int((bottom - top - gap_mm) // side)
        raise BlockedError(
            f"{count} stickers do not fit on this sheet: there is room for {max(0, most)} of {SMALLEST_MM:g} mm; "
            "make it larger, or take fewer"
        )
    grid = best[1]
    pitch = (grid.cell_mm[0] + gap_mm, grid.cell_mm[1] + gap_mm)
    places = []
    for number in range(count):
        row, column = divmod(number, grid.columns)
        in_row = min(grid.columns, count - row * grid.columns)
        x_mm = (left + right) / 2 + (column - (in_row - 1) / 2) * pitch[0]
        places.append((x_mm, top + gap_mm + grid.cell_mm[1] / 2 + row * pitch[1]))
    return StickerGrid(columns=grid.columns, rows=grid.rows, cell_mm=grid.cell_mm, places_mm=tuple(places))


def grid_for_size(side_mm: float, area: Bounds, *, gap_mm: float, kept: Sequence[Bounds] = ()) -> tuple[int, int]:
    """Return how many stickers of a size lie on a sheet, and in how many columns.

    Raises:
        BlockedError: not one; says how large one could be.
    """
    left, top, right, bottom = free_band(area, kept)
    wide, high = right - left - gap_mm, bottom - top - gap_mm
    columns, rows = int((wide + 1e-6) // (side_mm + gap_mm)), int((high + 1e-6) // (side_mm + gap_mm))
    if columns < 1 or rows < 1:
        largest = max(0.0, min(wide, high) - gap_mm)
        raise BlockedError(f"A sticker of {side_mm:.1f} mm does not fit on this sheet: {largest:.1f} mm would")
    return columns * rows, columns
