"""Laying copies out on as many sheets as they need: rows that step round the keep-outs."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from honest_edge.core.geometry.paths import Floats, affine
from honest_edge.core.sheet.marks import Mark, corner_brackets, usable_area
from honest_edge.core.sheet.media import PAPER_MM, PAPER_TITLE, Box
from honest_edge.core.values.errors import BlockedError
from honest_edge.core.values.specs import SheetSpec, Stock


@dataclass(frozen=True, slots=True, kw_only=True)
class Footprint:
    """The room that one copy takes, in the art's frame.

    Attributes:
        name: what messages call the design.
        cut: box of the cut lines.
        reach_mm: how far ink reaches past ``cut`` at most.
        copies: how many are wanted.
        stock: what it is cut from where that is not what is printed on; such pieces get sheets of their own.
    """

    name: str
    cut: Box
    reach_mm: float
    copies: int
    stock: Stock | None = None


@dataclass(frozen=True, slots=True, kw_only=True)
class Placement:
    """One copy on a sheet: the art turned clockwise by quarters, then moved.

    Attributes:
        design: index of the design.
        quarters: quarter turns.
        x_mm, y_mm: where the art frame's origin comes to lie.
    """

    design: int
    quarters: int
    x_mm: float
    y_mm: float

    @property
    def matrix(self) -> Floats:
        """The (2, 3) matrix from the art's frame to the sheet's."""
        return affine(turn_quarters=self.quarters, x_mm=self.x_mm, y_mm=self.y_mm)


@dataclass(frozen=True, slots=True, kw_only=True)
class Plan:
    """Where every copy goes.

    Attributes:
        width_mm, height_mm: the paper.
        usable: the box that the marks span.
        marks: the printed marks with their keep-outs.
        pages: the placements of each sheet.
        stocks: what each sheet is; None for what is printed on.
    """

    width_mm: float
    height_mm: float
    usable: Box
    marks: tuple[Mark, ...]
    pages: tuple[tuple[Placement, ...], ...]
    stocks: tuple[Stock | None, ...]


def fit(designs: Sequence[Footprint], sheet: SheetSpec) -> Plan:
    """Return a layout of all copies; a design is turned by a quarter where more then fit a sheet.

    Raises:
        BlockedError: a design does not fit an empty sheet, nothing is wanted, or the marks cannot be placed.
    """
    marks = corner_brackets(sheet)
    usable = usable_area(sheet)
    table = _Table(usable, tuple(mark.keep_out for mark in marks), _cell_gap(designs, sheet.gap_mm))
    cells = [_best_turn(design, table) for design in designs]
    if not any(design.copies for design in designs):
        raise BlockedError("No copies are wanted of any design: ask for one at least")
    for design, cell in zip(designs, cells, strict=True):
        if design.copies and not table.fill([cell]):
            raise BlockedError(_too_large(design, usable, sheet))
    pages, stocks = [], list[Stock | None]()
    for stock in dict.fromkeys(design.stock for design in designs):
        of_stock = [(index, cell) for index, cell in enumerate(cells) if designs[index].stock == stock]
        queue = [(index, cell) for index, cell in of_stock for _ in range(designs[index].copies)]
        while queue:
            spots = table.fill([cell for _, cell in queue])
            pages.append(tuple(_placed(designs[i], i, c, xy) for (i, c), xy in zip(queue, spots, strict=False)))
            stocks.append(stock)
            queue = queue[len(spots) :]
    width, height = PAPER_MM[sheet.paper]
    return Plan(width_mm=width, height_mm=height, usable=usable, marks=marks, pages=tuple(pages), stocks=tuple(stocks))


@dataclass(frozen=True, slots=True)
class _Cell:
    width: float
    height: float
    quarters: int


@dataclass(frozen=True, slots=True)
class _Table:
    """An empty sheet that can be filled row by row."""

    usable: Box
    keep_outs: tuple[Box, ...]
    gap: float

    def fill(self, cells: Sequence[_Cell]) -> list[tuple[float, float]]:
        """Return the top left corners of as many of the cells, in order, as one sheet takes."""
        spots: list[tuple[float, float]] = []
        y = self.usable.top
        while len(spots) < len(cells) and y + cells[len(spots)].height <= self.usable.bottom + 1e-9:
            row = self._row(cells[len(spots) :], y)
            spots += [(x, y) for x in row]
            y = (
                y + max(cell.height for cell in cells[len(spots) - len(row) : len(spots)]) + self.gap
                if row
                else (self._next_y(y))
            )
        return spots

    def _row(self, cells: Sequence[_Cell], y: float) -> list[float]:
        row: list[float] = []
        x = self.usable.left
        for cell in cells:
            x = self._free_x(cell, x, y)
            if x + cell.width > self.usable.right + 1e-9 or y + cell.height > self.usable.bottom + 1e-9:
                break
            row.append(x)
            x += cell.width + self.gap
        return row

    def _free_x(self, cell: _Cell, x: float, y: float) -> float:
        for box in sorted(self.keep_outs):
            if Box(x, y, x + cell.width, y + cell.height).overlaps(box):
                x = box.right
        return x

    def _next_y(self, y: float) -> float:
        below = [box.bottom for box in self.keep_outs if box.bottom > y + 1e-9]
        return min(below, default=self.usable.bottom) + 0.0


def _cell_gap(designs: Sequence[Footprint], gap_mm: float) -> float:
    """Cells hold cut and bleed; what the cut lines' gap asks beyond two bleeds lies between cells."""
    least = min((design.reach_mm for design in designs), default=0.0)
    return max(0.0, gap_mm - 2 * least)


def _best_turn(design: Footprint, table: _Table) -> _Cell:
    room = 2 * design.reach_mm
    upright = _Cell(design.cut.width + room, design.cut.height + room, 0)
    turned = _Cell(upright.height, upright.width, 1)
    want = design.copies
    return max((upright, turned), key=lambda cell: len(table.fill([cell] * want)))


def _too_large(design: Footprint, usable: Box, sheet: SheetSpec) -> str:
    room = 2 * design.reach_mm
    return (
        f"“{design.name}” needs {design.cut.width + room:.1f} × {design.cut.height + room:.1f} mm with its border "
        f"and bleed; between the marks on {PAPER_TITLE[sheet.paper]} there are {usable.width:.1f} × "
        f"{usable.height:.1f} mm, less the corners of the marks: make it smaller"
    )


def _placed(design: Footprint, index: int, cell: _Cell, corner: tuple[float, float]) -> Placement:
    """Return the placement that brings the turned footprint's corner to ``corner``."""
    box = design.cut.grown(design.reach_mm)
    corners = np.array([(box.left, box.top), (box.right, box.bottom)])
    turned = corners @ affine(turn_quarters=cell.quarters)[:, :2].T
    left, top = turned.min(axis=0)
    return Placement(design=index, quarters=cell.quarters, x_mm=float(corner[0] - left), y_mm=float(corner[1] - top))
