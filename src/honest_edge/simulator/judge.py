"""Whether a simulated sticker came out clean: its moved cut is laid over the ink that is really there.

White shows where the moved cut leaves the ink by more than can be seen; art is lost where it lies outside of the moved
cut by more than that. Both are questions of one area holding a place, answered exactly by polygons; no code of the
forecast is used, which asks fields of distances.
"""

from __future__ import annotations

import threading
from dataclasses import dataclass
from typing import Literal

import numpy as np
import shapely
from numpy.typing import NDArray

from honest_edge.core.geometry.paths import Floats
from honest_edge.simulator.sheets_by_chance import SheetErrors

Loss = Literal["white", "art", "ring"]
_CODES: dict[Loss, int] = {"white": 1, "art": 2, "ring": 7}
"""Their numbers among the fates of a rehearsal."""
_SEGMENTS = 32  # of a quarter circle, where an area is grown: true to a hundredth of what is visible
_FIRST_LOOK = 16  # places of each first tried, so that what is hopeless costs little
_BLOCK = 400_000  # displacements at once


@dataclass(frozen=True, slots=True, kw_only=True, eq=False)
class StickerShape:
    """What decides whether one design's sticker is clean, in the art's frame, millimetres.

    Attributes:
        cut_points: (n, 2) places of the cut where a lack of ink would be seen.
        ink: where ink lies.
        detail_points: (m, 2) places of the rim of what must not be cut.
        enclosed: what the cut encloses.
        kiss: of each sticker that lies on it, (n, 2) places of its kiss cut and the area that they have to stay within.
    """

    cut_points: Floats
    ink: shapely.MultiPolygon
    detail_points: Floats
    enclosed: shapely.MultiPolygon
    kiss: tuple[tuple[Floats, shapely.Geometry], ...] = ()


class _Within:
    """Places that must stay within an area, however they are moved."""

    def __init__(self, points: Floats, area: shapely.Geometry, sign: float) -> None:
        points = np.asarray(points, float).reshape(-1, 2)
        shapely.prepare(area)
        rim = shapely.boundary(area)
        shapely.prepare(rim)
        inside = shapely.contains_xy(area, points)
        # a place moved by less than its distance from the rim stays where it is: distances never change faster
        room = np.where(inside, shapely.distance(shapely.points(points), rim), 0.0)
        order = np.argsort(room, kind="stable")
        self.points, self.room, self.area, self.sign = points[order], room[order], area, sign

    def leaves(self, errors: SheetErrors, repeats: Floats, matrix: Floats) -> NDArray[np.bool_]:
        """Return (s,) whether any place leaves the area under what each sheet's error does to the copy."""
        gone = np.zeros(len(errors), bool)
        if len(self.points) == 0:
            return gone
        farthest = _farthest(errors, repeats, self._box, matrix)
        risky = np.flatnonzero(farthest >= self.room[0])
        places = int(np.searchsorted(self.room, float(farthest.max(initial=0.0)), side="right"))
        step = max(1, _BLOCK // max(places, 1))
        for start in range(0, len(risky), step):
            sheets = risky[start : start + step]
            gone[sheets] = self._any(_moves(errors.some(sheets), repeats[sheets], self.points[:places], matrix))
        return gone

    @property
    def _box(self) -> Floats:
        (left, top), (right, bottom) = self.points.min(0), self.points.max(0)
        return np.array([(left, top), (right, top), (right, bottom), (left, bottom)])

    def _any(self, moves: Floats) -> NDArray[np.bool_]:
        places = moves.shape[1]
        points, room = self.points[:places], self.room[:places]
        gone, at_risk = np.zeros(len(moves), bool), np.square(moves).sum(2) >= np.square(room)
        for part in (slice(None, None, max(1, places // _FIRST_LOOK)), slice(None)):
            sheet, place = np.nonzero(at_risk[:, part] & ~gone[:, None])
            if len(sheet):
                at = points[part][place] + self.sign * moves[:, part][sheet, place]
                gone[sheet[~shapely.contains_xy(self.area, at)]] = True
        return gone

    def worst(self, moves: Floats) -> tuple[float, Floats] | None:
        """Return how far outside the farthest place lies under (n, 2) moves, and which; None where none is."""
        at = self.points + self.sign * moves
        outside = np.flatnonzero(~shapely.contains_xy(self.area, at))
        if len(outside) == 0:
            return None
        beyond = np.asarray(shapely.distance(shapely.points(at[outside]), self.area))
        worst = int(np.argmax(beyond))
        return float(beyond[worst]), self.points[outside[worst]]


class Judge:
    """Judges stickers of one design; made once, asked for every copy and sheet.

    It may be asked from several threads: GEOS reads a prepared geometry for one at a time, so they take turns.
    """

    def __init__(self, shape: StickerShape, visible_mm: float) -> None:
        """Take the shape, and what is too little to be seen."""
        grown = [shapely.buffer(area, visible_mm, quad_segs=_SEGMENTS) for area in (shape.ink, shape.enclosed)]
        self._turn = threading.Lock()
        self._white = _Within(shape.cut_points, grown[0], 1.0)
        self._art = _Within(shape.detail_points, grown[1], -1.0)
        self._kiss = [
            _Within(points, shapely.buffer(area, visible_mm, quad_segs=_SEGMENTS), 1.0) for points, area in shape.kiss
        ]

    def spoiled(self, errors: SheetErrors, repeats: Floats, matrix: Floats) -> NDArray[np.int8]:
        """Return (s,) what spoils the copy on each sheet: 0 nothing, 1 white, 2 art, 7 the ring of a sticker on it.

        Args:
            errors: of the sheets.
            repeats: (s, 2) how far this copy lies from where its sheet's error takes it, on the sheet.
            matrix: (2, 3) from the art's frame to the sheet's, counted from the marks' middle.
        """
        spoiled_by = np.zeros(len(errors), np.int8)
        with self._turn:
            self._tell(spoiled_by, errors, repeats, matrix)
        return spoiled_by

    def _tell(self, found: NDArray[np.int8], errors: SheetErrors, repeats: Floats, matrix: Floats) -> None:
        for loss, within in self._ways:
            found[within.leaves(errors, repeats, matrix)] = _CODES[loss]

    @property
    def _ways(self) -> list[tuple[Loss, _Within]]:
        """What can spoil a copy; of several the last is told: white is seen first."""
        return [*(("ring", one) for one in self._kiss), ("art", self._art), ("white", self._white)]

    def worst(self, error: SheetErrors, repeat: Floats, matrix: Floats) -> tuple[Loss, Floats, float] | None:
        """Return what one sheet's error spoils most: what, where in the art's frame, and by how much more than is seen.

        None where the copy is clean.
        """
        losses: list[tuple[float, Loss, Floats]] = []
        for loss, within in reversed(self._ways):
            if len(within.points):
                with self._turn:
                    worst = within.worst(_moves(error, repeat[None], within.points, matrix)[0])
                if worst is not None:
                    losses.append((worst[0], loss, worst[1]))
        if not losses:
            return None
        beyond, loss, place = max(losses, key=lambda one: one[0])
        return loss, place, beyond


def _farthest(errors: SheetErrors, repeats: Floats, box: Floats, matrix: Floats) -> Floats:
    """Return (s,) how far any place within a box is moved at most: moves are linear, so a corner is moved farthest."""
    return np.asarray(np.sqrt(np.square(_moves(errors, repeats, box, matrix)).sum(2)).max(1, initial=0.0))


def _moves(errors: SheetErrors, repeats: Floats, points: Floats, matrix: Floats) -> Floats:
    """Return (s, n, 2) how far the cut lands from n places of one copy, in the art's frame."""
    turn = matrix[:, :2]
    on_sheet = errors.moved(points @ turn.T + matrix[:, 2]) + repeats[:, None]
    return np.asarray(on_sheet @ turn)  # a turn's transpose turns back
