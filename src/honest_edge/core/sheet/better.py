"""Making a layout better while one waits: a sheet takes one more piece from a later sheet, or a larger one."""

from __future__ import annotations

import random
from collections.abc import Callable, Sequence

from honest_edge.core.sheet.grid import Grid, GridPosition
from honest_edge.core.sheet.packing import Packing, Sheets
from honest_edge.core.sheet.separate import IsCancelled, least_deep, separate
from honest_edge.core.sheet.settle import Laid, position_near

_ROUNDS = 45
"""Rounds without a better layout after which one try is given up; tried on open artwork."""
_BRIEF, _BRIEF_ROUNDS, _ALMOST_EMPTY = 10, 12, 0.12
_FULL = 0.86
"""No sheet is asked to be fuller: nothing but boxes ever is."""


class Search:
    """Tries to better one layout; every better one is told at once."""

    def __init__(
        self, packing: Packing, sheets: Sheets, found: Callable[[Sheets], None], cancelled: IsCancelled
    ) -> None:
        self._packing, self.sheets = packing, [list(laid) for laid in sheets]
        self._found, self._cancelled = found, cancelled
        self._chance = random.Random(1)
        self._tries = 0
        self._rounds = _ROUNDS

    def run(self, patience: int) -> None:
        """Try until ``patience`` tries in a row fail or the search is called off."""
        failed = 0
        while failed < patience and not self._cancelled():
            moves = self._moves()
            if not moves:
                return
            failed = 0 if self._chance.choice(moves)() else failed + 1

    @property
    def may_save_a_sheet(self) -> bool:
        """Whether the last sheet is almost empty."""
        return len(self.sheets) > 1 and self._packing.filled(self.sheets[-1]) <= _ALMOST_EMPTY

    def briefly(self) -> None:
        """Try a few times to do without a last sheet that is almost empty."""
        self._rounds = _BRIEF_ROUNDS
        for number in range(_BRIEF):
            if self._cancelled() or not self.may_save_a_sheet:
                return
            last = len(self.sheets) - 1
            self._pull_from(last, last - 1 - number % last)

    def _moves(self) -> list[Callable[[], bool]]:
        moves: list[Callable[[], bool]] = []
        if len(self.sheets) > 1:
            moves += [self._pull] * 3
            if self._packing.is_mixed and len(self._packing.members) > 1:
                moves += [self._swap]
        if self._packing.fillers():
            moves.append(self._add)
        return moves

    # -- the moves -----------------------------------------------------------------------------------

    def _pull(self) -> bool:
        """Take a piece from a later sheet, most often the last, onto an earlier one."""
        target = self._chance.randrange(len(self.sheets) - 1)
        if self._packing.is_mixed:
            source = (
                len(self.sheets) - 1
                if self._chance.random() < 0.6
                else self._chance.randrange(target + 1, len(self.sheets))
            )
        else:
            source = target + 1
        return self._pull_from(source, target)

    def _pull_from(self, source: int, target: int) -> bool:
        self._tries += 1
        taken = self._taken(target, source)
        if taken is None:
            return False
        index, piece = taken
        laid = self._with_one_more(target, piece)
        if laid is None:
            return False
        rest = [one for at, one in enumerate(self.sheets[source]) if at != index]
        self._take({target: laid, source: rest})
        return True

    def _taken(self, target: int, source: int) -> tuple[int, int] | None:
        """Return place and piece of what a later sheet gives: any, or the next in order."""
        loose = [(at, one.piece) for at, one in enumerate(self.sheets[source]) if not one.is_pinned]
        room = self._room_left(target)
        if self._packing.is_mixed:
            loose = [(at, piece) for at, piece in loose if self._area(piece) <= room]
            return self._chance.choice(loose) if loose else None
        first = min(loose, key=lambda one: one[1], default=None)
        return first if first is not None and self._area(first[1]) <= room else None

    def _swap(self) -> bool:
        """Exchange a piece of an earlier sheet for a larger one of a later."""
        self._tries += 1
        target = self._chance.randrange(len(self.sheets) - 1)
        source = self._chance.randrange(target + 1, len(self.sheets))
        small = [(at, one) for at, one in enumerate(self.sheets[target]) if not one.is_pinned]
        large = [(at, one) for at, one in enumerate(self.sheets[source]) if not one.is_pinned]
        pairs = [
            (a, b)
            for a, one in small
            for b, two in large
            if 1.02 * self._area(one.piece) < self._area(two.piece) <= self._area(one.piece) + self._room_left(target)
        ]
        if not pairs:
            return False
        out, into = self._chance.choice(pairs)
        given, got = self.sheets[target][out], self.sheets[source][into]
        here = [one for at, one in enumerate(self.sheets[target]) if at != out]
        there = [one for at, one in enumerate(self.sheets[source]) if at != into]
        taken = self._laid_with(there, source, given.piece)
        if taken is None:
            return False
        laid = self._laid_with(here, target, got.piece)
        if laid is None:
            return False
        self._take({target: laid, source: taken})
        return True

    def _add(self) -> bool:
        """Lay one more copy of what fills the sheets."""
        self._tries += 1
        target = self._chance.randrange(len(self.sheets))
        piece = self._chance.choice(self._packing.fillers())
        if self._area(piece) > self._room_left(target):
            return False
        laid = self._with_one_more(target, piece)
        if laid is None:
            return False
        self._take({target: laid})
        return True

    # -- what they share -----------------------------------------------------------------------------

    def _area(self, piece: int) -> float:
        return self._packing.designs[self._packing.members[piece]].area.area

    def _room_left(self, page: int) -> float:
        usable = self._packing.room.usable
        return _FULL * usable.width * usable.height - self._packing.area(self.sheets[page])

    def _with_one_more(self, page: int, piece: int) -> list[Laid] | None:
        return self._laid_with(self.sheets[page], page, piece)

    def _laid_with(self, laid: Sequence[Laid], page: int, piece: int) -> list[Laid] | None:
        """Return a sheet with one more piece; None where the search finds no room for it."""
        if (plain := self._packing.beside(laid, page, piece)) is not None:
            return plain
        grid = self._packing.grid(page)
        pinned = [one for one in laid if one.is_pinned]
        positions = [position_near(one, grid) for one in laid if not one.is_pinned]
        extra = least_deep(piece, positions, grid)
        if extra is None:
            return None
        start = [*positions, extra]
        if self._tries % 2 == 0:  # every second try starts anywhere
            start = [self._anywhere(position, grid) for position in start]
        return separate(start, grid, pinned, rounds=self._rounds, seed=self._tries, cancelled=self._cancelled)

    def _anywhere(self, position: GridPosition, grid: Grid) -> GridPosition:
        turned = self._chance.choice(grid.nofit.options[position.turned.piece])
        places = grid.allowed(turned).ravel().nonzero()[0]
        return (
            GridPosition(turned, *divmod(int(self._chance.choice(places)), grid.columns)) if len(places) else position
        )

    def _take(self, changed: dict[int, list[Laid]]) -> None:
        for page, laid in changed.items():
            self.sheets[page] = laid
        if not self._packing.pinned:  # pins name their sheets by number
            keeps_first = bool(self._packing.room.used)
            self.sheets = [laid for page, laid in enumerate(self.sheets) if laid or (page == 0 and keeps_first)]
        elif not self.sheets[-1]:
            self.sheets.pop()
        self._found([list(laid) for laid in self.sheets])
