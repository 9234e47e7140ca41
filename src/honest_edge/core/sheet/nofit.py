"""Where one shape may not lie beside another: no-fit maps on a grid, found by Fourier transform.

The map of two shapes says, for every displacement of the second against the first, how deep it lies inside
what is forbidden: an overlap, or less than the gap between them. Displacements at which two rasters share a
cell are their correlation (the no-fit polygon of cutting and packing, as pixels).
"""

from __future__ import annotations

import math
from collections.abc import Callable, Iterable, Iterator, Sequence
from concurrent.futures import ThreadPoolExecutor
from dataclasses import dataclass
from functools import partial
from typing import NamedTuple, TypeVar

import cv2
import numpy as np
import shapely
from numpy.typing import NDArray

from honest_edge.core.geometry.paths import Floats, as_multipolygon, cos_sin
from honest_edge.core.sheet.spectra import Spectra, Spectrum, correlation, fast_side, spectrum

Depths = NDArray[np.float32]
Mask = NDArray[np.bool_]
S = TypeVar("S")
T = TypeVar("T")

_SIMPLE_MM = 0.05
"""How far an outline is simplified; it is grown by as much first, so that nothing of it is lost."""
_FINE_MM = 0.01
_FEW_CORNERS = 100
_AT_ONCE = ThreadPoolExecutor(2, thread_name_prefix="no-fit maps")
"""OpenCV and GEOS let the other core work meanwhile; more threads only hold more spectra in memory."""
_SUBPIXEL = 4  # bits of OpenCV's fixed-point corners
_RASTER_GROWTH = 0.45  # OpenCV fills every cell that the outline touches: half a cell more, measured


class Turned(NamedTuple):
    """A piece under one of its turns below a quarter, then turned clockwise by quarters."""

    piece: int
    step: int
    quarters: int


@dataclass(frozen=True, slots=True, eq=False)
class NestPiece:
    """What the search knows of a design, or of a copy that is pinned.

    Attributes:
        design: index of the design.
        polygon: its cut without holes, about the middle of its box, never inside the true one.
        middle: that middle in the art's frame.
        reach_mm: how far ink reaches past the cut at most.
        turns_deg: the turns below a quarter that are tried, each with all that quarters make of it.
        quarters: the quarters that are tried.
    """

    design: int
    polygon: shapely.Polygon | shapely.MultiPolygon
    middle: tuple[float, float]
    reach_mm: float
    turns_deg: tuple[float, ...] = (0.0,)
    quarters: tuple[int, ...] = (0,)

    def options(self, piece: int) -> list[Turned]:
        """Return every turn of the ``piece``-th piece that is tried, upright first."""
        return [Turned(piece, step, quarter) for step in range(len(self.turns_deg)) for quarter in self.quarters]

    def degrees(self, turned: Turned) -> float:
        """Return a turn in degrees, clockwise."""
        return self.turns_deg[turned.step] + 90.0 * turned.quarters


def simple_outline(area: shapely.MultiPolygon, middle: tuple[float, float]) -> shapely.MultiPolygon:
    """Return an area without its holes about ``middle``, with fewer corners, nowhere inside the true one."""
    solid = shapely.union_all([shapely.Polygon(part.exterior) for part in area.geoms])
    if shapely.get_num_coordinates(solid) <= _FEW_CORNERS:
        return as_multipolygon(shapely.transform(solid, lambda points: points - np.array(middle)))
    fewer = shapely.simplify(solid, _FINE_MM)  # a buffer's time grows with the square of the corners
    grown = shapely.simplify(shapely.buffer(fewer, _SIMPLE_MM + _FINE_MM, quad_segs=4), _SIMPLE_MM)
    moved = shapely.transform(grown, lambda points: points - np.array(middle))
    return shapely.MultiPolygon([shapely.Polygon(part.exterior) for part in shapely.get_parts(moved)])


def turned_polygon(polygon: shapely.Geometry, degrees: float) -> shapely.Geometry:
    """Return a polygon turned clockwise on paper about the origin."""
    cos, sin = cos_sin(degrees)
    matrix = np.array([[cos, sin], [-sin, cos]])
    return shapely.transform(polygon, lambda points: points @ matrix)


class NoFit:
    """No-fit maps of all pairs of pieces, each found when it is first asked for."""

    def __init__(self, pieces: Sequence[NestPiece], gap_mm: float, *, pitch_mm: float, finer: int) -> None:
        """Take the pieces and the least gap between cuts; maps have ``pitch_mm``, rasters are ``finer``."""
        self.pieces = tuple(pieces)
        self.gap_mm, self.pitch_mm, self.finer = gap_mm, pitch_mm, finer
        self.options = [piece.options(index) for index, piece in enumerate(pieces)]
        self.cell_mm = pitch_mm / finer
        self._radii = [_radius(piece) for piece in pieces]
        self._bounds: dict[Turned, tuple[float, float, float, float]] = {}
        self._still = Spectra[tuple[Turned, float, int]]()
        self._moved = Spectra[tuple[Turned, int]]()
        self._maps: dict[tuple[int, int, int, int, int], Depths] = {}
        self._turned: dict[tuple[Turned, Turned], Depths] = {}

    def gap_between(self, one: int, two: int) -> float:
        """Return how far apart two designs' cuts stay: the gap, and at least both bleeds."""
        return float(self.gap_of(self.pieces[one].reach_mm, self.pieces[two].reach_mm))

    def gap_of(self, one_mm: Floats | float, two_mm: Floats | float) -> Floats:
        """Return the same for pieces whose ink reaches so far past their cuts."""
        return np.maximum(self.gap_mm, np.add(one_mm, two_mm))

    def polygon(self, turned: Turned) -> shapely.Geometry:
        """Return a piece's polygon under a turn, about the origin."""
        return turned_polygon(self.pieces[turned.piece].polygon, self.pieces[turned.piece].degrees(turned))

    def bounds(self, turned: Turned) -> tuple[float, float, float, float]:
        """Return the box of a piece under a turn, about the origin."""
        box = self._bounds.get(turned)
        if box is None:
            box = self._bounds[turned] = bounds_of(self.polygon(turned))
        return box

    def depth(self, still: Turned, moved: Turned) -> Depths:
        """Return the map of ``moved`` about ``still``: an odd square, no displacement at its middle, mm deep."""
        depths = self._turned.get((still, moved))
        if depths is None:
            depths = self._turned[still, moved] = self._found(still, moved)
        return depths

    def find(self, pairs: Iterable[tuple[Turned, Turned]]) -> None:
        """Find the maps of pairs that are not known yet, several at once."""
        wanted = {self._key(still, moved): None for still, moved in pairs if not self.knows(still, moved)}
        ends = [self._ends(key) for key in wanted]
        if len(ends) < 2:
            return
        spectra: dict[object, Callable[[], Spectrum]] = {}
        for still, moved in ends:
            gap, side = self._gap_and_side(still, moved)[:2]
            spectra[still, gap, side] = partial(self._still_spectrum, still, gap, side)
            spectra[moved, side] = partial(self._moved_spectrum, moved, side)
        at_once(lambda make: make(), list(spectra.values()))
        for key, no_fit in zip(wanted, at_once(lambda two: self._map(*two), ends), strict=True):
            self._maps[key] = no_fit

    @staticmethod
    def _ends(key: tuple[int, int, int, int, int]) -> tuple[Turned, Turned]:
        return Turned(key[0], key[1], 0), Turned(key[2], key[3], key[4])

    def _found(self, still: Turned, moved: Turned) -> Depths:
        first, second = (still.piece, still.step), (moved.piece, moved.step)
        if first > second:  # what keeps B from A keeps A from B, the other way round
            return self.depth(moved, still)[::-1, ::-1]
        key = self._key(still, moved)
        upright = self._maps.get(key)
        if upright is None:
            upright = self._maps[key] = self._map(*self._ends(key))
        return np.rot90(upright, -still.quarters)

    def _map(self, still: Turned, moved: Turned) -> Depths:
        gap, side, cells = self._gap_and_side(still, moved)
        shared = correlation(self._still_spectrum(still, gap, side), self._moved_spectrum(moved, side))
        at = slice(side // 2 - cells, side // 2 + cells + 1)
        depth = cv2.distanceTransform((shared[at, at] > 0.5).astype(np.uint8), cv2.DIST_L2, 3)
        return np.ascontiguousarray(depth[:: self.finer, :: self.finer] * np.float32(self.cell_mm))

    def _gap_and_side(self, still: Turned, moved: Turned) -> tuple[float, int, int]:
        """Return the gap of two pieces, the cells along a side of their map's square, and those of its half."""
        gap = self.gap_between(still.piece, moved.piece)
        reach = self._radii[still.piece] + self._radii[moved.piece] + gap
        cells = (math.ceil(reach / self.pitch_mm) + 1) * self.finer
        return gap, next(side for side in _sides() if side > 2 * cells + 2), cells

    def _still_spectrum(self, turned: Turned, gap_mm: float, side: int) -> Spectrum:
        """Return the spectrum of a shape grown by its gap, about the middle of a square."""

        def make() -> Spectrum:
            return spectrum(self._raster(self.grown(turned, gap_mm), side))

        return self._still.get((turned, gap_mm, side), make)

    def _moved_spectrum(self, turned: Turned, side: int) -> Spectrum:
        """Return the spectrum of a shape about the corner of a square."""

        def make() -> Spectrum:
            raster = np.roll(self._raster(self.polygon(turned), side), (-(side // 2),) * 2, axis=(0, 1))
            return spectrum(raster)

        return self._moved.get((turned, side), make)

    def _raster(self, area: shapely.Geometry, side: int) -> Depths:
        corner = -(side // 2) * self.cell_mm
        return fill(area, self.cell_mm, (corner, corner), (side, side))

    def grown(self, turned: Turned, by_mm: float) -> shapely.Geometry:
        """Return a piece's polygon grown by a gap, less what a raster adds of itself."""
        least = by_mm if by_mm >= 1.0 else by_mm + 1.6 * self.cell_mm  # thin gaps must not vanish in a cell
        return shapely.buffer(self.polygon(turned), max(least - 2 * _RASTER_GROWTH * self.cell_mm, 0.01), quad_segs=6)

    def knows(self, still: Turned, moved: Turned) -> bool:
        """Whether the map of two pieces is there already."""
        return (still, moved) in self._turned or self._key(still, moved) in self._maps

    def _key(self, still: Turned, moved: Turned) -> tuple[int, int, int, int, int]:
        if still[:2] > moved[:2]:
            still, moved = moved, still
        return (*still[:2], *moved[:2], (moved.quarters - still.quarters) % 4)


def at_once(work: Callable[[S], T], values: Sequence[S]) -> list[T]:
    """Return ``work`` of each value, in their order; none of it may call this again."""
    return list(_AT_ONCE.map(work, values)) if len(values) > 1 else [work(value) for value in values]


def _sides() -> Iterator[int]:
    """Return lengths that transform fast, each about a third more than the one before."""
    side = 48
    while True:
        yield fast_side(side)
        side = side * 4 // 3


def fill(area: shapely.Geometry, cell_mm: float, corner: tuple[float, float], shape: tuple[int, int]) -> Depths:
    """Return a raster whose cell [0, 0] has its middle at ``corner``; cells that the area touches are 1."""
    raster = np.zeros(shape, np.float32)
    fill_onto(raster, area, cell_mm, corner)
    return raster


def fill_onto(raster: Depths, area: shapely.Geometry, cell_mm: float, corner: tuple[float, float]) -> None:
    """Set the cells that an area touches to 1; cell [0, 0] has its middle at ``corner``."""
    scale = 2**_SUBPIXEL / cell_mm
    for part in shapely.get_parts(area):
        points: Floats = (shapely.get_coordinates(part.exterior) - np.array(corner)) * scale
        cv2.fillPoly(raster, [np.round(points).astype(np.int32)], 1.0, shift=_SUBPIXEL)


def bounds_of(area: shapely.Geometry) -> tuple[float, float, float, float]:
    """Return left, top, right and bottom of an area."""
    left, top, right, bottom = shapely.bounds(area).tolist()
    return left, top, right, bottom


def _radius(piece: NestPiece) -> float:
    """Return how far a piece reaches along an axis under any of its turns."""
    if len(piece.turns_deg) == 1:
        return max(abs(value) for value in bounds_of(turned_polygon(piece.polygon, piece.turns_deg[0])))
    points = shapely.get_coordinates(piece.polygon)
    return float(np.hypot(points[:, 0], points[:, 1]).max())
