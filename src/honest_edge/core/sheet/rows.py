"""Rows and columns: copies upright, alike beside alike, in the tray's order, with even gaps.

Every copy takes its box with half a gap around it, rows go from the top down and their left edges are in line. What
is laid so is cut in an order that reads, and a sticker that is missing is seen.
"""

from __future__ import annotations

import heapq
import math
from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass, field, replace
from typing import Literal, get_args

from honest_edge.core.sheet.media import Box
from honest_edge.core.sheet.nofit import Turned, bounds_of, turned_polygon
from honest_edge.core.sheet.packing import Packing, Sheets
from honest_edge.core.sheet.separate import IsCancelled
from honest_edge.core.sheet.settle import Laid
from honest_edge.core.values.errors import Cancelled

_ALIKE = 1.15
"""Boxes whose sides differ by no more are laid as if all were as large as the largest."""
_MANY = 3
"""From so many copies of a design on, rows of one design alone are tried first."""
_MOST_BESIDE = 600
"""So many copies are put beside others: each looks at every row there is."""
_MOST_TRIED = 1500
"""Of more copies the first order alone is tried: most of their sheets hold one design anyway."""
_ROUNDING_MM = 1e-6

Whole = Literal["all", "first", "none"]
"""Which rows of a sheet take its whole width: all, the first, or none of them need to."""
Order = Literal["apart", "flowing", "beside"]
"""Every design begins a row; one row goes on where the last design ended; or what is low stands beside what is high.

The last is first-fit decreasing height (Coffman, Garey, Johnson and Tarjan 1980).
"""
Counts = Mapping[int, int]
"""How many copies of each piece are laid."""


def in_rows(packing: Packing, counts: Counts, cancelled: IsCancelled) -> Sheets | None:
    """Return the copies in rows on as few sheets as rows need; None where one finds no room in any row.

    Args:
        packing: the pieces and the sheets; what is pinned stays where it is.
        counts: how many of each piece are laid beside what is pinned.
        cancelled: asked between two tries.

    Raises:
        Cancelled: ``cancelled`` said so.
    """
    tried: list[tuple[int, int, Sheets]] = []
    for rows, cells in _ways(packing, counts, cancelled):
        pages = rows.filled(cells)
        if pages is not None:
            sheets = [page.laid(packing) for page in pages]
            laid = sheets if packing.room.used else [sheet for sheet in sheets if sheet]
            tried.append((len(laid), len(tried), laid))
            if len(laid) <= packing.fewest_sheets():
                break  # the tidiest of those that need no sheet more
    return min(tried, key=lambda one: one[:2])[2] if tried else None


def page_in_rows(packing: Packing, page: int, counts: Counts, cancelled: IsCancelled) -> list[Laid] | None:
    """Return the copies in rows on the ``page``-th sheet; None where rows do not hold them.

    Raises:
        Cancelled: ``cancelled`` said so.
    """
    for rows, cells in _ways(packing, counts, cancelled):
        pages = rows.filled(cells, begin=page, most=1)
        if pages is not None:
            return pages[0].laid(packing)
    return None


def _ways(packing: Packing, counts: Counts, cancelled: IsCancelled) -> Iterator[tuple[_Rows, list[_Cell]]]:
    """Return the ways to lay copies in rows, the tidiest first."""
    for turned in _turns(packing, counts):
        for cells, order in _orders(packing, turned, counts):
            for whole in get_args(Whole):
                if cancelled():
                    raise Cancelled
                yield _Rows(packing, order=order, whole=whole), cells


def filled_rows(packing: Packing, pages: int, cancelled: IsCancelled) -> Sheets | None:
    """Return what is wanted in rows, with as many copies more of what fills as rows hold on so many sheets.

    Raises:
        Cancelled: ``cancelled`` said so.
    """
    fillers, wanted = packing.fillers(), packing.wanted()
    room = packing.room.usable
    cells = [_cell(packing, packing.nofit.options[piece][0]) for piece in fillers]
    most = int(pages * room.width * room.height / min(cell.width * cell.height for cell in cells)) + 1

    def laid(more: int) -> Sheets | None:
        counts = dict(wanted)
        fewest = [(counts[piece], at, piece) for at, piece in enumerate(fillers)]
        heapq.heapify(fewest)
        for _ in range(more):
            count, at, piece = fewest[0]
            counts[piece] = count + 1
            heapq.heapreplace(fewest, (count + 1, at, piece))
        sheets = in_rows(packing, counts, cancelled)
        return sheets if sheets is not None and len(sheets) <= pages else None

    best, least = laid(0), 0
    while best is not None and least < most:  # the largest number that still finds room, by halving
        half = (least + most + 1) // 2
        better = laid(half)
        best, least, most = (better, half, most) if better is not None else (best, least, half - 1)
    return best


@dataclass(frozen=True, slots=True)
class _Cell:
    """One copy with half a gap around it."""

    turned: Turned
    width: float
    height: float

    @property
    def size(self) -> tuple[float, float]:
        return self.width, self.height


@dataclass(slots=True)
class _Row:
    """Copies side by side, and between which edges they may stand."""

    left: float
    right: float
    top: float
    height: float
    cells: list[_Cell] = field(default_factory=list)

    @property
    def width(self) -> float:
        return math.fsum(cell.width for cell in self.cells)

    def left_near(self, left: float) -> float:
        """Return where the row begins if it would best begin at ``left``."""
        return max(self.left, min(left, self.right - self.width))


@dataclass(slots=True)
class _Page:
    """A sheet that is filled from the top down."""

    room: Box
    blocked: tuple[Box, ...]
    pinned: list[Laid]
    down: float
    rows: list[_Row] = field(default_factory=list)
    columns: dict[int, int] = field(default_factory=dict)

    def free_at(self, top: float, height: float) -> tuple[float, float]:
        """Return left and right of the widest stretch that is free between ``top`` and ``top + height``."""
        bottom = top + height - _ROUNDING_MM
        edges = [(self.room.left, self.room.left), (self.room.right, self.room.right)]
        edges += [(box.left, box.right) for box in self.blocked if box.top < bottom and box.bottom > top + _ROUNDING_MM]
        best, reached = (self.room.left, self.room.left), self.room.left
        for left, right in sorted(edges):
            if left - reached > best[1] - best[0]:
                best = reached, left
            reached = max(reached, right)
        return best

    def laid(self, packing: Packing) -> list[Laid]:
        """Return what lies on the sheet: all rows begin in one line, and stand in the middle where they can."""
        pieces = list(self.pinned)
        widest = max((row.width for row in self.rows), default=0.0)
        middle = (self.room.left + self.room.right - widest) / 2
        least = max((row.left for row in self.rows), default=0.0)
        most = min((row.right - row.width for row in self.rows), default=0.0)
        begin = max(least, min(middle, most)) if least <= most else middle
        for row in self.rows:
            x = row.left_near(begin)
            for cell in row.cells:
                left, top, right, bottom = packing.nofit.bounds(cell.turned)
                degrees = packing.nofit.pieces[cell.turned.piece].degrees(cell.turned)
                at = x + (cell.width - left - right) / 2, row.top + (row.height - top - bottom) / 2
                pieces.append(Laid(cell.turned.piece, degrees, *at))
                x += cell.width
        return pieces


class _Rows:
    """Fills sheets with rows."""

    def __init__(self, packing: Packing, *, order: Order, whole: Whole) -> None:
        """Take what is laid, how rows follow each other, and which rows may not stand beside a mark."""
        self._packing, self._order, self._whole = packing, order, whole
        pieces = packing.nofit.pieces
        self._ends: list[int] = []
        self._over = min(_half(packing, piece) - pieces[piece].reach_mm for piece in range(len(pieces)))

    def filled(self, cells: Sequence[_Cell], *, begin: int = 0, most: int | None = None) -> list[_Page] | None:
        """Return the sheets that the cells need from the ``begin``-th on; None where ``most`` do not hold them."""
        self._ends = self._run_ends(cells)
        pages = [self._page(begin)]
        last = max(self._packing.pinned, default=-1)
        at = 0
        while at < len(cells):
            if self._order == "beside" and self._is_beside(pages, cells[at]):
                at += 1
                continue
            row = self._row(pages[-1], cells[at])
            if row is not None:
                at = self._fill(pages[-1], row, cells, at)
                continue
            is_fresh = not pages[-1].rows and not pages[-1].pinned and len(pages) > 1
            if is_fresh or len(pages) == most:
                return None
            pages.append(self._page(begin + len(pages)))
        while most is None and len(pages) <= last:
            pages.append(self._page(len(pages)))
        return pages

    def _is_beside(self, pages: Sequence[_Page], cell: _Cell) -> bool:
        """Put a cell at the end of the first row that has room for it; return whether there is one."""
        for page in pages:
            for row in page.rows:
                if cell.height <= row.height and row.width + cell.width <= row.right - row.left + _ROUNDING_MM:
                    row.cells.append(cell)
                    return True
        return False

    def _page(self, number: int) -> _Page:
        packing = self._packing
        room = packing.room.usable.grown(self._over)
        pinned = packing.pinned.get(number, [])
        blocked = [Box(*bounds_of(area)).grown(-self._over) for area in packing.grid(number).blocked]
        for one in pinned:
            box = Box(*bounds_of(turned_polygon(packing.nofit.pieces[one.piece].polygon, one.turn_deg)))
            half = _half(packing, one.piece)
            blocked.append(
                Box(box.left + one.x_mm, box.top + one.y_mm, box.right + one.x_mm, box.bottom + one.y_mm).grown(half)
            )
        return _Page(room, tuple(blocked), list(pinned), room.top)

    def _row(self, page: _Page, cell: _Cell) -> _Row | None:
        """Return the next row that a cell can begin; None where the sheet is full."""
        below = sorted(box.bottom for box in page.blocked if box.bottom > page.down)
        is_whole = self._whole == "all" or (self._whole == "first" and not page.rows)
        width = max(cell.width, page.room.width if is_whole else 0.0) - _ROUNDING_MM
        for top in (page.down, *below):
            if top + cell.height > page.room.bottom + _ROUNDING_MM:
                return None
            left, right = page.free_at(top, cell.height)
            if right - left >= width:
                return _Row(left, right, top, cell.height)
        return None

    def _fill(self, page: _Page, row: _Row, cells: Sequence[_Cell], at: int) -> int:
        """Put cells in a row from ``at`` on; return the first that is not in it."""
        first, columns = cells[at], self._columns(page, row, cells, at)
        while at < len(cells):
            cell = cells[at]
            if self._parts(cell, first):
                break
            is_even = len(row.cells) == columns and cell.size == first.size == row.cells[0].size
            if is_even or row.width + cell.width > row.right - row.left + _ROUNDING_MM:
                break
            if cell.height > row.height and not self._heightened(page, row, cell):
                break
            row.cells.append(cell)
            at += 1
        page.rows.append(row)
        page.down = row.top + row.height
        return at

    def _columns(self, page: _Page, row: _Row, cells: Sequence[_Cell], at: int) -> int:
        """Return how many of a run of cells of one size stand in each row of a sheet, so that its rows are even."""
        first, end = cells[at], self._ends[at]
        if end not in page.columns:
            across = max(1, int((row.right - row.left + _ROUNDING_MM) / first.width))
            rows = math.ceil((end - at) / across)
            has_room = row.top + rows * first.height <= page.room.bottom + _ROUNDING_MM
            page.columns[end] = math.ceil((end - at) / rows) if has_room else len(cells)
        return page.columns[end]

    def _run_ends(self, cells: Sequence[_Cell]) -> list[int]:
        """Return for each cell where the run of cells of its size ends that stand one after another."""
        ends = list(range(1, len(cells) + 1))
        for at in range(len(cells) - 2, -1, -1):
            if cells[at].size == cells[at + 1].size and not self._parts(cells[at], cells[at + 1]):
                ends[at] = ends[at + 1]
        return ends

    def _parts(self, one: _Cell, other: _Cell) -> bool:
        return self._order == "apart" and one.turned != other.turned

    def _heightened(self, page: _Page, row: _Row, cell: _Cell) -> bool:
        """Make a row as high as a cell where it stays as wide as it is; return whether it does."""
        if row.top + cell.height > page.room.bottom + _ROUNDING_MM:
            return False
        left, right = page.free_at(row.top, cell.height)
        if left > row.left + _ROUNDING_MM or right < row.right - _ROUNDING_MM:
            return False
        row.height = cell.height
        return True


def _half(packing: Packing, piece: int) -> float:
    """Return how much room a copy keeps around its cut, so that two keep the gap."""
    return max(packing.sheet.gap_mm / 2, packing.nofit.pieces[piece].reach_mm)


def _cell(packing: Packing, turned: Turned) -> _Cell:
    left, top, right, bottom = packing.nofit.bounds(turned)
    half = _half(packing, turned.piece)
    return _Cell(turned, right - left + 2 * half, bottom - top + 2 * half)


def _turns(packing: Packing, counts: Counts) -> Iterator[dict[int, Turned]]:
    """Return how each piece stands: upright; where more copies fit so, a quarter turned, all copies alike."""
    room = packing.room.usable
    upright: dict[int, Turned] = {}
    roomy: dict[int, Turned] = {}
    for piece, count in counts.items():
        if not count:
            continue

        def fitting(turned: Turned) -> int:
            cell = _cell(packing, turned)
            over = 2 * (_half(packing, turned.piece) - packing.nofit.pieces[turned.piece].reach_mm) + _ROUNDING_MM
            return int((room.width + over) / cell.width) * int((room.height + over) / cell.height)

        ways = [one for one in packing.nofit.options[piece] if one.step == 0 and one.quarters < 2]
        upright[piece] = next((way for way in ways if fitting(way)), ways[0])
        roomy[piece] = max(ways, key=fitting)
    yield upright
    if roomy != upright:
        yield roomy


def _orders(packing: Packing, turned: Mapping[int, Turned], counts: Counts) -> Iterator[tuple[list[_Cell], Order]]:
    """Return the cells in the orders that are tried, the tidiest first."""
    own = [_cell(packing, turned[piece]) for piece in sorted(turned)]
    as_they_come = [cell for cell in own for _ in range(counts[cell.turned.piece])]
    if len(own) < 2:
        yield as_they_come, "apart"
        return
    width, height = max(cell.width for cell in own), max(cell.height for cell in own)
    alike: list[_Cell] = []
    if width <= _ALIKE * min(cell.width for cell in own) and height <= _ALIKE * min(cell.height for cell in own):
        alike = [replace(cell, width=width, height=height) for cell in as_they_come]
    many = len(as_they_come) >= _MANY * len(own)
    if many:
        yield as_they_come, "apart"
    if many and len(as_they_come) > _MOST_TRIED:
        return
    if alike:
        yield alike, "flowing"
    yield as_they_come, "flowing"
    if packing.is_mixed:
        yield sorted(as_they_come, key=lambda cell: -cell.height), "flowing"
        if len(as_they_come) <= _MOST_BESIDE:
            yield sorted(as_they_come, key=lambda cell: -cell.height), "beside"
    if not many:
        yield as_they_come, "apart"
