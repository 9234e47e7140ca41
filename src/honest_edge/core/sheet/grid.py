"""One sheet as a grid of places: where a piece may lie at all, and where it may lie beside what lies there."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass, field

import numpy as np
import shapely

from honest_edge.core.sheet.media import Box
from honest_edge.core.sheet.nofit import Depths, Mask, NoFit, Turned, at_once, fill, fill_onto
from honest_edge.core.sheet.spectra import Spectra, Spectrum, correlation, fast_side, spectrum

_MANY_MAPS = 3
"""From so many unknown maps on, one correlation with the whole sheet is quicker."""
_RIM = 4
_NOTHING_MM = 1e-6
"""A buffer by less is lost in rounding, and everything with it."""
_SLACK = 0.3
"""How many steps of the grid a piece may stick out of the usable area: the exact push brings it back."""


@dataclass(frozen=True, slots=True)
class GridPosition:
    """A piece on a grid: its turn, and the row and column of its middle."""

    turned: Turned
    row: int
    column: int


class Grid:
    """The places of one kind of sheet, all pieces' middles on one grid from the usable area's corner."""

    def __init__(self, usable: Box, blocked: Sequence[shapely.Geometry], nofit: NoFit) -> None:
        """Take the box and the areas in it that stay free of ink and cuts."""
        self.usable, self.nofit = usable, nofit
        self.blocked = tuple(blocked)
        step = nofit.pitch_mm
        self.rows = math.floor(usable.height / step) + 1
        self.columns = math.floor(usable.width / step) + 1
        self._allowed: dict[Turned, Mask] = {}
        self._blocked_spectra: dict[float, Spectrum] = {}
        self._piece_spectra = Spectra[Turned]()
        # what would come in on the other side is not allowed to stick out in the first place
        self._sides = (fast_side(self.raster_shape[0]), fast_side(self.raster_shape[1]))

    def allowed(self, turned: Turned) -> Mask:
        """Return where a piece lies inside the usable area and off everything that is blocked."""
        free = self._allowed.get(turned)
        if free is None:
            free = self._allowed[turned] = self._inside(turned) & ~self._on_blocked(turned)
        return free

    def place(self, position: GridPosition) -> tuple[float, float]:
        """Return a position in sheet millimetres."""
        step = self.nofit.pitch_mm
        return self.usable.left + position.column * step, self.usable.top + position.row * step

    def slices(self, position: GridPosition, half: int) -> tuple[tuple[slice, slice], tuple[slice, slice]]:
        """Return the part of the grid that a map about a position covers, and the part of the map it is."""
        top, left = max(0, position.row - half), max(0, position.column - half)
        bottom, right = min(self.rows, position.row + half + 1), min(self.columns, position.column + half + 1)
        up, across = half - position.row, half - position.column
        grid = (slice(top, bottom), slice(left, right))
        return grid, (slice(top + up, bottom + up), slice(left + across, right + across))

    def _inside(self, turned: Turned) -> Mask:
        reach = self.nofit.pieces[turned.piece].reach_mm
        left, top, right, bottom = self.nofit.bounds(turned)
        step = self.nofit.pitch_mm
        across, down = np.arange(self.columns) * step, np.arange(self.rows) * step
        slack = _SLACK * step
        fits_x = (across + left - reach >= -slack) & (across + right + reach <= self.usable.width + slack)
        fits_y = (down + top - reach >= -slack) & (down + bottom + reach <= self.usable.height + slack)
        return np.asarray(fits_y[:, None] & fits_x[None, :])

    def _on_blocked(self, turned: Turned) -> Mask:
        if not self.blocked:
            return np.zeros((self.rows, self.columns), bool)
        reach = self.nofit.pieces[turned.piece].reach_mm
        blocked = self._blocked_spectra.get(reach)
        if blocked is None:
            raster = np.zeros(self.raster_shape, np.float32)
            for area in self.blocked:
                room = shapely.buffer(area, reach, quad_segs=6) if reach > _NOTHING_MM else area
                fill_onto(raster, room, self.nofit.cell_mm, self._corner)
            blocked = self._blocked_spectra[reach] = self.spectrum(raster)
        return ~self.misses(blocked, turned)

    # -- correlating with the whole sheet ------------------------------------------------------------

    @property
    def raster_shape(self) -> tuple[int, int]:
        """Rows and columns of a raster of the sheet: the grid in finer cells, and room to stick out."""
        finer = self.nofit.finer
        return (self.rows - 1) * finer + 1 + 2 * _RIM, (self.columns - 1) * finer + 1 + 2 * _RIM

    @property
    def _corner(self) -> tuple[float, float]:
        away = _RIM * self.nofit.cell_mm
        return self.usable.left - away, self.usable.top - away

    def draw(self, raster: Depths, position: GridPosition, grown_mm: float) -> None:
        """Draw a piece with room around it into a raster of the sheet."""
        x, y = self.place(position)
        left, top = self._corner
        fill_onto(raster, self.nofit.grown(position.turned, grown_mm), self.nofit.cell_mm, (left - x, top - y))

    def spectrum(self, raster: Depths) -> Spectrum:
        """Return the spectrum of a raster of the sheet."""
        wide = np.zeros(self._sides, np.float32)
        wide[: raster.shape[0], : raster.shape[1]] = raster
        return spectrum(wide)

    def misses(self, held: Spectrum, turned: Turned) -> Mask:
        """Return at which places a piece shares no cell with what a spectrum holds."""
        shared = correlation(held, self._piece_spectrum(turned))
        finer = self.nofit.finer
        rows, columns = (self.rows - 1) * finer + 1, (self.columns - 1) * finer + 1
        return np.asarray(shared[_RIM : _RIM + rows : finer, _RIM : _RIM + columns : finer] < 0.5)

    def _piece_spectrum(self, turned: Turned) -> Spectrum:
        """Return the spectrum of a piece about the corner of the sheet."""

        def make() -> Spectrum:
            cell = self.nofit.cell_mm
            half = math.ceil(max(abs(value) for value in self.nofit.bounds(turned)) / cell) + 1
            shape = fill(self.nofit.polygon(turned), cell, (-half * cell, -half * cell), (2 * half + 1, 2 * half + 1))
            raster = np.zeros(self._sides, np.float32)
            at = np.arange(-half, half + 1)
            np.add.at(raster, np.ix_(at % self._sides[0], at % self._sides[1]), shape)
            return spectrum(raster)

        return self._piece_spectra.get(turned, make)


@dataclass(slots=True)
class Filling:
    """One sheet being filled: what lies on it and where each piece may still go."""

    grid: Grid
    positions: list[GridPosition] = field(default_factory=list)
    _free: dict[Turned, tuple[Mask, int]] = field(default_factory=dict)
    _inked: dict[float, tuple[Depths, int]] = field(default_factory=dict)
    _spectra: dict[float, tuple[Spectrum, int]] = field(default_factory=dict)

    def free(self, turned: Turned) -> Mask:
        """Return where one more piece may lie; kept up as the sheet fills."""
        mask, seen = self._free.get(turned, (None, 0))
        if mask is None:
            mask = self.grid.allowed(turned).copy()
        if mask.any():
            nofit, fresh = self.grid.nofit, self.positions[seen:]
            if len(self._unknown(turned, seen)) > _MANY_MAPS:
                mask &= self._beside_all(turned)
                fresh = []
            for position in fresh:
                near = nofit.depth(position.turned, turned)
                here, there = self.grid.slices(position, len(near) // 2)
                mask[here] &= near[there] <= 0
        self._free[turned] = mask, len(self.positions)
        return mask

    def look_ahead(self, turns: Sequence[Turned]) -> None:
        """Find at once what ``free`` will ask for each of these turns."""
        at_once(self.grid.allowed, [turned for turned in turns if turned not in self._free])
        pairs: list[tuple[Turned, Turned]] = []
        for turned in turns:
            mask, seen = self._free.get(turned, (None, 0))
            unknown = self._unknown(turned, seen) if mask is None or mask.any() else set()
            pairs += unknown if len(unknown) <= _MANY_MAPS else ()
        self.grid.nofit.find(pairs)

    def _unknown(self, turned: Turned, seen: int) -> set[tuple[Turned, Turned]]:
        """Return the pairs of a turn and what lies here since ``seen`` whose maps are not known."""
        knows = self.grid.nofit.knows
        return {(one.turned, turned) for one in self.positions[seen:] if not knows(one.turned, turned)}

    def lay(self, position: GridPosition) -> None:
        """Put a piece down."""
        self.positions.append(position)

    def _beside_all(self, turned: Turned) -> Mask:
        """Return where a piece keeps its gap to all that lies here, by one correlation with the whole sheet."""
        grid = self.grid
        reach = grid.nofit.pieces[turned.piece].reach_mm
        of_sheet = self._spectra.get(reach)
        if of_sheet is None or of_sheet[1] < len(self.positions):
            of_sheet = self._spectra[reach] = grid.spectrum(self._raster(turned.piece, reach)), len(self.positions)
        return grid.misses(of_sheet[0], turned)

    def _raster(self, piece: int, reach: float) -> Depths:
        """Return the sheet with all that lies on it, each grown by its gap to a piece of this reach."""
        grid = self.grid
        raster, seen = self._inked.get(reach, (None, 0))
        if raster is None:
            raster = np.zeros(grid.raster_shape, np.float32)
        for position in self.positions[seen:]:
            grid.draw(raster, position, grid.nofit.gap_between(position.turned.piece, piece))
        self._inked[reach] = raster, len(self.positions)
        return raster


def depth_field(grid: Grid, turned: Turned, others: Sequence[GridPosition], weights: Sequence[float]) -> Depths:
    """Return for every place how deep a piece would lie in the others, each weighed."""
    total = np.zeros((grid.rows, grid.columns), np.float32)
    for position, weight in zip(others, weights, strict=True):
        near = grid.nofit.depth(position.turned, turned)
        here, there = grid.slices(position, len(near) // 2)
        total[here] += near[there] * np.float32(weight)
    return total
