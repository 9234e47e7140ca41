"""The copies of one kind of stock, and the sheets that they lie on."""

from __future__ import annotations

import math
from collections import Counter
from collections.abc import Iterable, Sequence
from dataclasses import dataclass, field

import numpy as np
import shapely

from honest_edge.core.geometry.paths import cos_sin
from honest_edge.core.sheet.first_fit import snuggest
from honest_edge.core.sheet.grid import Filling, Grid
from honest_edge.core.sheet.media import Box
from honest_edge.core.sheet.nofit import NestPiece, NoFit, bounds_of, simple_outline, turned_polygon
from honest_edge.core.sheet.plan import Footprint, Placement
from honest_edge.core.sheet.rectangles import RULES, FreeSpace, Rule
from honest_edge.core.sheet.separate import IsCancelled
from honest_edge.core.sheet.settle import Laid, laid_at, most_crowded, position_near, settle
from honest_edge.core.sheet.space import SheetSpace
from honest_edge.core.values.errors import Cancelled
from honest_edge.core.values.sheet import SheetSpec, Turning

_QUARTERS = (0, 1, 2, 3)
_FREE_TURNS = (0.0, 45.0)
_SAME_SHARE = 0.002
"""Two turns of a shape that differ by less of its area are one."""
_MOST_CELLS = 90_000
_EMPTIEST = 24
"""So many sheets, the emptiest, are tried for a piece that found no room on its own after all."""
_BOXY = 0.93
"""From this share of its box on, a shape is worth laying as a box."""

Sheets = list[list[Laid]]


def piece_of(design: int, footprint: Footprint, turning: Turning, usable: Box) -> NestPiece:
    """Return a design as the search sees it; turns that give the same shape are tried once."""
    middle = footprint.cut.middle
    polygon = simple_outline(footprint.area, middle)
    shapes: list[shapely.Geometry] = []
    turns: list[float] = []
    for turn in _free_turns(polygon, footprint.reach_mm, usable) if turning == "free" else (0.0,):
        if not _is_there(turned_polygon(polygon, turn), shapes):
            turns.append(turn)
            shapes.append(turned_polygon(polygon, turn))
    quarters = [0]
    shown: list[shapely.Geometry] = [polygon]
    for quarter in _QUARTERS[1:] if turning != "none" else ():
        if not _is_there(turned_polygon(polygon, 90.0 * quarter), shown):
            quarters.append(quarter)
            shown.append(turned_polygon(polygon, 90.0 * quarter))
    return NestPiece(
        design=design,
        polygon=polygon,
        middle=middle,
        reach_mm=footprint.reach_mm,
        turns_deg=tuple(turns),
        quarters=tuple(quarters),
    )


def _free_turns(polygon: shapely.Geometry, reach_mm: float, usable: Box) -> tuple[float, ...]:
    """Return the turns below a quarter that are tried: the usual ones, and where none of them fits, what fits best."""

    def spare_mm(turn_deg: float) -> float:
        left, top, right, bottom = bounds_of(turned_polygon(polygon, turn_deg))
        width, height = right - left + 2 * reach_mm, bottom - top + 2 * reach_mm
        upright = min(usable.width - width, usable.height - height)
        return max(upright, min(usable.width - height, usable.height - width))

    if max(map(spare_mm, _FREE_TURNS)) >= 0:
        return _FREE_TURNS
    return (*_FREE_TURNS, max(map(float, range(90)), key=spare_mm))


def _is_there(shape: shapely.Geometry, others: Iterable[shapely.Geometry]) -> bool:
    return any(
        shapely.area(shapely.symmetric_difference(shape, other)) < _SAME_SHARE * shapely.area(shape) for other in others
    )


@dataclass(slots=True)
class _Open:
    """A sheet that is being filled, the designs that found no room on it, and its exact layout once it is known."""

    filling: Filling
    pinned: list[Laid]
    full: set[int] = field(default_factory=set)
    exact: list[Laid] | None = None

    def again(self) -> _Open:
        """Return one more sheet with the same on it."""
        filling = Filling(self.filling.grid, list(self.filling.positions))
        return _Open(filling, list(self.pinned), set(self.full), self.exact)


class Packing:
    """Lays copies that may share sheets; all are of one stock."""

    def __init__(
        self,
        designs: Sequence[Footprint],
        members: Sequence[int],
        sheet: SheetSpec,
        room: SheetSpace,
        pins: Sequence[tuple[int, Placement]],
        *,
        is_first: bool,
    ) -> None:
        """Take all designs, those among them that are laid here, the sheet, and copies pinned to sheets.

        What is laid first may go on the partly used sheet.
        """
        self.designs, self.members, self.sheet, self.room = designs, tuple(members), sheet, room
        pieces = [piece_of(index, designs[index], sheet.turning, room.usable) for index in self.members]
        self.pinned: dict[int, list[Laid]] = {}
        for page, placement in pins:
            pieces.append(_pinned_piece(placement, designs[placement.design]))
            self.pinned.setdefault(page, []).append(laid_of(placement, designs, len(pieces) - 1))
        self.nofit = NoFit(pieces, sheet.gap_mm, pitch_mm=_pitch(room, pieces), finer=2)
        is_printed = all(designs[index].stock is None for index in self.members)
        keep_outs = room.keep_outs if is_printed else ()
        used = room.used if is_printed and is_first else ()
        self.fresh = Grid(room.usable, [shapely.box(*box) for box in keep_outs], self.nofit)
        self.first = (
            Grid(room.usable, [shapely.box(*box) for box in (*keep_outs, *used)], self.nofit) if used else self.fresh
        )
        self.is_mixed = sheet.grouping == "mixed"

    def grid(self, page: int) -> Grid:
        """Return the grid of a sheet."""
        return self.first if page == 0 else self.fresh

    def area(self, laid: Iterable[Laid]) -> float:
        """Return the area of pieces."""
        return sum(self.designs[self.nofit.pieces[one.piece].design].area.area for one in laid)

    def filled(self, laid: Iterable[Laid]) -> float:
        """Return the share of the usable area that pieces cover."""
        usable = self.room.usable
        return self.area(laid) / (usable.width * usable.height)

    def rank(self, sheets: Sheets) -> tuple[float, ...]:
        """Return what makes one layout better than another; the least is best."""
        return (len(sheets), -sum(map(len, sheets)), *(-round(self.filled(laid), 6) for laid in sheets))

    def placement(self, laid: Laid) -> Placement:
        """Return a piece as a placement of its design."""
        piece = self.nofit.pieces[laid.piece]
        cos, sin = cos_sin(laid.turn_deg)
        x, y = piece.middle
        return Placement(
            design=piece.design,
            turn_deg=laid.turn_deg,
            x_mm=laid.x_mm - (cos * x - sin * y),
            y_mm=laid.y_mm - (sin * x + cos * y),
            is_pinned=laid.is_pinned,
        )

    def wanted(self) -> dict[int, int]:
        """Return how many copies of each piece are wanted beside what is pinned."""
        there = [self.nofit.pieces[laid.piece].design for page in self.pinned.values() for laid in page]
        return {
            piece: max(0, self.designs[design].copies - there.count(design))
            for piece, design in enumerate(self.members)
        }

    def fewest_sheets(self) -> int:
        """Return how many sheets no layout can do without, by area alone and by what is pinned."""
        area = sum(self.designs[design].area.area * self.designs[design].copies for design in self.members)
        usable = self.room.usable
        return max(1 + max(self.pinned, default=0), math.ceil(area / (usable.width * usable.height)))

    def order(self) -> list[int]:
        """Return the pieces in the order in which they are laid."""
        pieces = list(range(len(self.members)))
        if self.is_mixed:
            pieces.sort(key=lambda piece: -self.designs[self.members[piece]].area.area)
        return pieces

    def first_fit(self, cancelled: IsCancelled, begun: Sequence[Sequence[Laid]] = ()) -> Sheets | None:
        """Return a layout made piece by piece, the large first; None where one has no room on an empty sheet.

        What has ``begun`` stays where it lies.
        """
        there = Counter(one.piece for laid in begun for one in laid)
        wanted = {piece: max(0, count - there[piece]) for piece, count in self.wanted().items()}
        pages = max(1 + max(self.pinned, default=-1), len(begun))
        opened = [self._open(page, begun[page] if page < len(begun) else ()) for page in range(pages)]
        for piece in self.order():
            left = wanted[piece]
            while left:
                if cancelled():
                    raise Cancelled
                if self._lay(piece, opened):
                    left -= 1
                    continue
                if opened and self._is_alone(piece, opened[-1], len(opened) - 1):
                    left += self._make_exact(opened[-1], len(opened) - 1)
                    if (alike := len(opened[-1].filling.positions)) <= left:
                        opened.append(opened[-1].again())
                        left -= alike
                        continue
                opened.append(self._open(len(opened)))
                if not self._lay(piece, opened[-1:]):
                    if len(opened) > 1 or not self.room.used:
                        return None
                    continue  # the used sheet may be full where a fresh one is not
                left -= 1
        sheets = self._settled(opened, cancelled)
        self._fill(sheets, cancelled)
        return sheets

    def _is_alone(self, piece: int, one: _Open, page: int) -> bool:
        """Return whether a sheet was fresh and holds copies of one piece and nothing else."""
        was_fresh = self.grid(page) is self.fresh and not one.pinned
        return was_fresh and {position.turned.piece for position in one.filling.positions} == {piece}

    def _make_exact(self, one: _Open, page: int) -> int:
        """Settle a sheet; return how many pieces found no room on it after all."""
        if one.exact is not None:
            return 0
        grid, out = one.filling.grid, 0
        laid, lost = _parted([laid_at(position, grid) for position in one.filling.positions], grid)
        for piece in lost:
            more = self.beside(laid, page, piece)
            laid, out = (laid, out + 1) if more is None else (more, out)
        one.exact = laid
        one.filling = Filling(grid, [position_near(piece, grid) for piece in laid])
        return out

    def _open(self, page: int, begun: Sequence[Laid] = ()) -> _Open:
        filling = Filling(self.grid(page))
        pinned = self.pinned.get(page, [])
        for laid in (*pinned, *begun):
            filling.lay(position_near(laid, filling.grid))
        return _Open(filling, pinned, exact=[*pinned, *begun] if begun else None)

    def _lay(self, piece: int, opened: Sequence[_Open]) -> bool:
        """Lay one piece on the first sheet with room, or, where designs stay together, on the last."""
        for one in opened if self.is_mixed else opened[-1:]:
            if piece in one.full:
                continue
            position = snuggest(one.filling, self.nofit.options[piece])
            if position is not None:
                one.filling.lay(position)
                return True
            one.full.add(piece)
        return False

    def _settled(self, opened: Sequence[_Open], cancelled: IsCancelled) -> Sheets:
        """Return the sheets with every gap exact; what cannot be parted goes on a sheet of its own."""
        sheets: Sheets = []
        over: list[int] = []
        known: dict[tuple[bool, tuple[Laid, ...]], tuple[list[Laid], list[int]]] = {}
        for page, one in enumerate(opened):
            if cancelled():
                raise Cancelled
            grid = self.grid(page)
            if one.exact is not None and len(one.exact) == len(one.filling.positions):
                sheets.append(list(one.exact))
                continue
            pieces = [*one.pinned, *(laid_at(position, grid) for position in one.filling.positions[len(one.pinned) :])]
            key = (grid is self.fresh, tuple(pieces))  # sheets that are alike are settled once
            if key not in known:
                known[key] = _parted(pieces, grid)
            sheets.append(list(known[key][0]))
            over += known[key][1]
        for piece in over:
            if cancelled():
                raise Cancelled
            self._lay_over(piece, sheets)
        return sheets if self.room.used else [laid for laid in sheets if laid]

    def _lay_over(self, piece: int, sheets: Sheets) -> None:
        """Lay a piece beside what is settled on one of the emptiest sheets, or on a sheet of its own."""
        for page in sorted(range(len(sheets)), key=lambda page: self.filled(sheets[page]))[:_EMPTIEST]:
            if (more := self.beside(sheets[page], page, piece)) is not None:
                sheets[page] = more
                return
        alone = self.beside([], len(sheets), piece)
        if alone is not None:
            sheets.append(alone)

    def beside(self, laid: Sequence[Laid], page: int, piece: int) -> list[Laid] | None:
        """Return a sheet with one more piece where it fits without a search; None where it does not."""
        filling = Filling(self.grid(page))
        for one in laid:
            filling.lay(position_near(one, filling.grid))
        position = snuggest(filling, self.nofit.options[piece])
        return None if position is None else settle([*laid, laid_at(position, filling.grid)], filling.grid)

    def fillers(self) -> list[int]:
        """Return the pieces that fill what the others leave, the largest first."""
        filling = [piece for piece, design in enumerate(self.members) if self.designs[design].fills]
        return sorted(filling, key=lambda piece: -self.designs[self.members[piece]].area.area)

    def _fill(self, sheets: Sheets, cancelled: IsCancelled) -> None:
        """Lay what fills the sheets wherever there is room; sheets that are alike are filled alike."""
        fillers = self.fillers()
        if fillers and not sheets:
            sheets.append([])
        known: dict[tuple[bool, tuple[Laid, ...]], list[Laid]] = {}
        for page, laid in enumerate(sheets if fillers else ()):
            key = (self.grid(page) is self.fresh, tuple(laid))
            if key not in known:
                known[key] = self._filled_up(laid, self.grid(page), fillers, cancelled)
            sheets[page] = list(known[key])

    def _filled_up(self, laid: list[Laid], grid: Grid, fillers: Sequence[int], cancelled: IsCancelled) -> list[Laid]:
        filling = Filling(grid)
        for one in laid:
            filling.lay(position_near(one, grid))
        turns = list(fillers)
        while turns and not cancelled():  # one of each in turn, the largest first, until none of it finds room
            for piece in tuple(turns):
                position = snuggest(filling, self.nofit.options[piece])
                more = None if position is None else settle([*laid, laid_at(position, grid)], grid)
                if position is None or more is None:
                    turns.remove(piece)
                    continue
                laid = more
                filling.lay(position)
        return laid

    def in_boxes(self, cancelled: IsCancelled) -> Sheets | None:
        """Return the best layout of the pieces' boxes, exact to the box; None where the boxes do not fit.

        It is made only where designs fill their boxes: there a grid wastes what boxes do not.
        """
        shares = [
            self.designs[design].area.area / (self.designs[design].cut.width * self.designs[design].cut.height)
            for design in self.members
        ]
        if not self.is_mixed or self.pinned or (min(shares) < _BOXY and sum(shares) < _BOXY * len(shares)):
            return None
        return self._best_of_boxes(cancelled)

    def in_first_boxes(self, cancelled: IsCancelled) -> Sheets | None:
        """Return one layout of the pieces' boxes, whatever they waste; None where they do not fit, or are pinned."""
        return None if self.pinned else self._boxes(RULES[0], 0, cancelled)

    def _best_of_boxes(self, cancelled: IsCancelled) -> Sheets | None:
        tried = (self._boxes(rule, prefer, cancelled) for rule in RULES for prefer in (0, 1, 2))
        laid = [packing for packing in tried if packing is not None]
        return min(laid, key=self.rank, default=None)

    def _boxes(self, rule: Rule, prefer: int, cancelled: IsCancelled) -> Sheets | None:
        pieces = self.nofit.pieces
        halves = [max(self.sheet.gap_mm / 2, piece.reach_mm) for piece in pieces]
        over = min(half - piece.reach_mm for half, piece in zip(halves, pieces, strict=True))
        wanted = self.wanted()
        rooms: list[FreeSpace] = []
        sheets: Sheets = []
        for piece in self.order():
            left = wanted[piece]
            while left:
                if cancelled():
                    raise Cancelled
                if self._box_on(piece, halves[piece], rooms, sheets, rule, prefer):
                    left -= 1
                    continue
                page = len(rooms)
                is_alone = rooms and self.grid(page - 1) is self.fresh and {o.piece for o in sheets[-1]} == {piece}
                if is_alone and (alike := len(sheets[-1])) <= left:
                    rooms.append(rooms[-1].again())
                    sheets.append(list(sheets[-1]))
                    left -= alike
                    continue
                rooms.append(self._free_room(page, over))
                sheets.append([])
                if self._box_on(piece, halves[piece], rooms[-1:], sheets[-1:], rule, prefer):
                    left -= 1
                elif page or not self.room.used:
                    return None
        if not rooms:
            rooms.append(self._free_room(0, over))
            sheets.append([])
        turns = self.fillers()
        while turns:
            if cancelled():
                raise Cancelled
            turns = [piece for piece in turns if self._box_on(piece, halves[piece], rooms, sheets, rule, prefer)]
        return sheets

    def _free_room(self, page: int, over: float) -> FreeSpace:
        room = FreeSpace([self.room.usable.grown(over)])
        for area in self.grid(page).blocked:
            room.take(Box(*bounds_of(area)).grown(-over))
        return room

    def _box_on(self, piece: int, half: float, rooms: list[FreeSpace], sheets: Sheets, rule: Rule, prefer: int) -> bool:
        """Lay a piece's box on the first sheet with room; return whether. ``prefer`` 1 and 2 try one turn first."""
        turns = self.nofit.options[piece][:2]
        sizes = []
        for turned in turns:
            left, top, right, bottom = self.nofit.bounds(turned)
            sizes.append((right - left + 2 * half, bottom - top + 2 * half))
        orders: list[tuple[int, ...]] = [tuple(range(len(turns)))]
        if prefer and len(turns) > 1:
            orders = [(0,), (1,)] if prefer == 1 else [(1,), (0,)]
        for page, room in enumerate(rooms):
            if piece in room.full:
                continue
            for order in orders:
                place = room.best([sizes[option] for option in order], rule)
                if place is None:
                    continue
                turned, box = turns[order[place[0]]], place[1]
                room.take(box)
                left, top, _, _ = self.nofit.bounds(turned)
                degrees = self.nofit.pieces[piece].degrees(turned)
                sheets[page].append(Laid(piece, degrees, box.left + half - left, box.top + half - top))
                return True
            room.full.add(piece)
        return False


def _parted(pieces: list[Laid], grid: Grid) -> tuple[list[Laid], list[int]]:
    """Return pieces with every gap exact, and those that had to be taken out for it."""
    out: list[int] = []
    while (laid := settle(pieces, grid)) is None:
        out.append(pieces.pop(most_crowded(pieces, grid)).piece)
    return laid, out


def laid_of(placement: Placement, designs: Sequence[Footprint], piece: int) -> Laid:
    """Return a placement as the search sees it: where the middle of its design's box lies."""
    x, y = designs[placement.design].cut.middle
    at = placement.matrix @ np.array([x, y, 1.0])
    return Laid(piece, placement.turn_deg, float(at[0]), float(at[1]), placement.is_pinned)


def _pinned_piece(placement: Placement, footprint: Footprint) -> NestPiece:
    middle = footprint.cut.middle
    return NestPiece(
        design=placement.design,
        polygon=simple_outline(footprint.area, middle),
        middle=middle,
        reach_mm=footprint.reach_mm,
        turns_deg=(placement.turn_deg,),
    )


def _pitch(room: SheetSpace, pieces: Sequence[NestPiece]) -> float:
    """Return a millimetre, less for small pieces, more for sheets of more than so many places."""
    smallest = min(math.sqrt(piece.polygon.area) for piece in pieces)
    least = math.sqrt(room.usable.width * room.usable.height / _MOST_CELLS)
    return max(min(1.0, smallest / 15), least)
