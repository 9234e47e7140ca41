"""The edge profile: what lies across the cut, all along it, and where an error of the bench would show."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass, replace
from typing import Literal

import cv2
import numpy as np
import shapely
from numpy.typing import NDArray

from honest_edge.core.edge.art_edge import SEEN_CONTRAST, ArtEdge
from honest_edge.core.edge.bleed import PrintArt, rasterised
from honest_edge.core.edge.contour import CutLines
from honest_edge.core.edge.forecast import place_bands, place_chances
from honest_edge.core.edge.kiss import KissCuts
from honest_edge.core.edge.model import TOUCHING_MM, EdgeModel
from honest_edge.core.geometry.corners import arc_lengths, resample
from honest_edge.core.geometry.distance import DistanceField, distance_field
from honest_edge.core.geometry.paths import Floats
from honest_edge.core.values.lazy import lazy_property
from honest_edge.core.values.misregistration import Misregistration, SheetPlace

Trouble = Literal["white", "art", "kiss"]
"""Bare stock would show inside the cut; what must not be cut would be; or a kiss cut would leave what is its own."""

ALONG_STEP_MM = 0.1
ACROSS_STEP_MM = 0.05
KISS_STEP_MM = 0.4
"""Along kiss cuts, of which a sheet has many."""
REACH_MM = 4.0
"""How far across the profile looks, on either side."""

LEAST_CHANCE = 0.005
"""A place where trouble is rarer, 1 sticker in 200, is not marked."""

_MERGE_MM = 2.0


@dataclass(frozen=True, slots=True, kw_only=True)
class WeakPlace:
    """A stretch of the cut where the bench's error would show.

    Attributes:
        trouble: what would be seen.
        along_mm: place where it is likeliest, along all rings one after the other.
        start_mm, end_mm: the stretch.
        chance: share of stickers that would show it at that place.
        room_mm: how far ink reaches past the cut there, or detail lies inside it.
        x_mm, y_mm: the place in the art's frame.
    """

    trouble: Trouble
    along_mm: float
    start_mm: float
    end_mm: float
    chance: float
    room_mm: float
    x_mm: float
    y_mm: float


@dataclass(frozen=True, kw_only=True, eq=False)
class EdgeProfile:
    """Samples along every cut, one ring after the other.

    Attributes:
        along_mm: (n,) distance along the cut.
        points_mm: (n, 2) places in the art's frame.
        normals: (n, 2) unit vectors that point out of the sticker.
        outward_mm: (n,) how far ink reaches outward from the cut without a gap; negative where it ends
            inside the cut. Limited to ``REACH_MM`` either way.
        detail_mm: (n,) how far inside the cut what must not be cut begins; ``REACH_MM`` where there is none.
        shows_white: (n,) whether bare stock would be seen there if the ink ended inside the cut.
        length_mm: length of the whole cut.
        middle_mm: (2,) the middle of the cut.
        art: the printed picture.
        is_kiss: (n,) whether a place lies on the kiss cut of a sticker on the sheet; how far it may land outward and
            inward stands in ``outward_mm`` and ``detail_mm``.
    """

    along_mm: Floats
    points_mm: Floats
    normals: Floats
    outward_mm: Floats
    detail_mm: Floats
    shows_white: NDArray[np.bool_]
    length_mm: float
    middle_mm: Floats
    art: PrintArt
    is_kiss: NDArray[np.bool_]

    @lazy_property
    def strip(self) -> NDArray[np.uint8]:
        """(m, n, 4) ink colour across; row 0 lies ``REACH_MM`` outside. Sampled once it is looked at."""
        across = np.arange(REACH_MM, -REACH_MM - 1e-9, -ACROSS_STEP_MM)
        return _sample(self.art, self.points_mm, self.normals, across)

    @property
    def reach_mm(self) -> float:
        """How far across the samples look."""
        return REACH_MM

    @property
    def kiss_from_mm(self) -> float:
        """Where along the profile the kiss cuts begin; its end where there are none."""
        return float(self.along_mm[self.is_kiss.argmax()]) if self.is_kiss.any() else self.length_mm

    @property
    def typical_outward_mm(self) -> float:
        """The median of ``outward_mm``: the bleed, or minus the border."""
        return float(np.median(self.outward_mm[~self.is_kiss]))

    @property
    def white_room_mm(self) -> Floats:
        """(n,) how far the cut may land outside before bare stock shows; infinite where it never does."""
        return np.where(self.shows_white, np.maximum(self.outward_mm, 0.0), np.inf)

    @property
    def art_room_mm(self) -> Floats:
        """(n,) how far the cut may land inside before detail is cut; infinite where there is none."""
        return np.where(self.detail_mm < REACH_MM - ACROSS_STEP_MM, self.detail_mm, np.inf)

    @property
    def narrowest_mm(self) -> float:
        """The smallest displacement that reaches the end of the ink, or detail; infinite where none does."""
        return float(np.minimum(self.white_room_mm, self.art_room_mm).min())

    def band(self, error: Misregistration, place: SheetPlace) -> tuple[Floats, Floats]:
        """Return (n,) lowest and highest displacement outward that 19 of 20 stickers keep to at each place."""
        return place_bands(self.points_mm, self.normals, self.middle_mm, error, place)

    def weak_places(self, error: Misregistration, place: SheetPlace, visible_mm: float) -> tuple[WeakPlace, ...]:
        """Return the stretches where trouble is likelier than ``LEAST_CHANCE``, the likeliest first."""
        white = self._chances(self.normals, self.white_room_mm + visible_mm, error, place)
        art = self._chances(-self.normals, self.art_room_mm + visible_mm, error, place)
        chances = np.maximum(white, art)
        weak = np.flatnonzero(chances > LEAST_CHANCE)
        if len(weak) == 0:
            return ()
        breaks = np.flatnonzero(np.diff(self.along_mm[weak]) > _MERGE_MM) + 1
        weak_places = [self._weak_place(run, chances, white >= art) for run in np.split(weak, breaks)]
        return tuple(
            sorted(
                weak_places,
                key=lambda weak_place: (-round(weak_place.chance, 6), weak_place.room_mm, weak_place.along_mm),
            )
        )

    def _chances(self, normals: Floats, room_mm: Floats, error: Misregistration, place: SheetPlace) -> Floats:
        return place_chances(self.points_mm, normals, room_mm, self.middle_mm, error, place)

    def _weak_place(self, run: NDArray[np.intp], chances: Floats, is_white: NDArray[np.bool_]) -> WeakPlace:
        worst = int(run[np.argmax(chances[run])])
        room = self.white_room_mm if is_white[worst] else self.art_room_mm
        return WeakPlace(
            trouble="kiss" if self.is_kiss[worst] else "white" if is_white[worst] else "art",
            along_mm=float(self.along_mm[worst]),
            start_mm=float(self.along_mm[run[0]]),
            end_mm=float(self.along_mm[run[-1]]),
            chance=float(chances[worst]),
            room_mm=float(room[worst]),
            x_mm=float(self.points_mm[worst, 0]),
            y_mm=float(self.points_mm[worst, 1]),
        )


def profile(
    cut: CutLines, art: PrintArt, model: EdgeModel, art_edge: ArtEdge, kiss: KissCuts | None = None
) -> EdgeProfile:
    """Walk every cut and look across it along the normal; then round every sticker that lies on it."""
    rim = _rim_profile(cut, art, model, art_edge)
    return rim if kiss is None else _with_kiss_cuts(rim, kiss)


def _with_kiss_cuts(rim: EdgeProfile, kiss: KissCuts) -> EdgeProfile:
    """Return a profile that goes on round every sticker: how far its cut may land to either side."""
    walked = [_walk_ring(ring, is_hole, KISS_STEP_MM) for cut in kiss.cuts for ring, is_hole in _rings(cut)]
    points, normals = (np.vstack([one[part] for one in walked]) for part in (0, 1))
    starts = rim.length_mm + np.concatenate([[0.0], np.cumsum([one[3] for one in walked])])
    along = np.concatenate([start + one[2] for start, one in zip(starts, walked, strict=False)])
    left, top, right, bottom = kiss.room.bounds
    reach = 2 * KISS_STEP_MM
    box = (left - reach, top - reach, right + reach, bottom + reach)
    room = distance_field(kiss.room, box, reach_mm=reach, step_mm=KISS_STEP_MM / 2)  # only where it is left is asked
    outward, inward = (_first_crossing(room, points, way) for way in (normals, -normals))
    return replace(
        rim,
        along_mm=np.concatenate([rim.along_mm, along]),
        points_mm=np.vstack([rim.points_mm, points]),
        normals=np.vstack([rim.normals, normals]),
        outward_mm=np.concatenate([rim.outward_mm, outward]),
        detail_mm=np.concatenate([rim.detail_mm, inward]),
        shows_white=np.concatenate([rim.shows_white, outward < REACH_MM - ACROSS_STEP_MM]),
        length_mm=float(starts[-1]),
        is_kiss=np.concatenate([rim.is_kiss, np.ones(len(points), bool)]),
    )


def _rings(area: shapely.MultiPolygon) -> Iterator[tuple[Floats, bool]]:
    """Yield every ring of an area, open, and whether it is a hole."""
    for part in area.geoms:
        yield shapely.get_coordinates(part.exterior)[:-1], False
        for hole in part.interiors:
            yield shapely.get_coordinates(hole)[:-1], True


def _rim_profile(cut: CutLines, art: PrintArt, model: EdgeModel, art_edge: ArtEdge) -> EdgeProfile:
    points, normals, along, length = _walk(cut)
    outward = _outward(model.ink, points, normals)
    seen = art_edge.contrast_at(points + np.minimum(outward, 0.0)[:, None] * normals) >= SEEN_CONTRAST
    is_inked = outward >= -TOUCHING_MM
    detail = _inward(model, points, normals) if model.is_inked else np.maximum(-outward, 0.0)
    return EdgeProfile(
        along_mm=along,
        points_mm=points,
        normals=normals,
        outward_mm=outward,
        # a border's art of the stock's own colour cannot be seen to be cut
        detail_mm=detail if model.is_inked else np.where(seen, detail, REACH_MM),
        shows_white=is_inked & seen & model.is_inked,
        length_mm=length,
        middle_mm=model.middle,
        art=art,
        is_kiss=np.zeros(len(points), bool),
    )


def _outward(ink: DistanceField, points: Floats, normals: Floats) -> Floats:
    """Return how far ink reaches outward without a gap, negative where it starts only inside the cut."""
    ends = _first_crossing(ink, points, normals)
    starts = _first_crossing(ink, points, -normals, falling=True)
    return np.where(ink.at(points[:, 0], points[:, 1]) <= 0, ends, -starts)


def _inward(model: EdgeModel, points: Floats, normals: Floats) -> Floats:
    if model.detail.is_empty:
        return np.full(len(points), REACH_MM)
    left, top, right, bottom = model.detail.bounds
    step = model.cut.step_mm
    reach = 2 * step + ACROSS_STEP_MM  # only the crossing itself is read from it
    box = (left - reach, top - reach, right + reach, bottom + reach)
    field = distance_field(model.detail, box, reach_mm=reach, step_mm=step)
    return _first_crossing(field, points, -normals, falling=True)


def _first_crossing(field: DistanceField, points: Floats, way: Floats, *, falling: bool = False) -> Floats:
    """Return, place by place, how far along ``way`` the field first rises (or falls) through zero."""
    steps = np.arange(0.0, REACH_MM + 1e-9, ACROSS_STEP_MM)
    at = points[None] + steps[:, None, None] * way[None]
    level = field.at(at[..., 0], at[..., 1]).astype(np.float64) * (-1.0 if falling else 1.0)
    above = level > 0
    row = np.maximum(above.argmax(axis=0), 1)
    column = np.arange(level.shape[1])
    low, high = level[row - 1, column], level[row, column]
    share = np.clip(-low / np.maximum(high - low, 1e-9), 0.0, 1.0)
    distance = np.where(above[0], 0.0, (row - 1 + share) * ACROSS_STEP_MM)
    return np.where(above.any(axis=0), np.minimum(distance, REACH_MM), REACH_MM)


def _walk(cut: CutLines) -> tuple[Floats, Floats, Floats, float]:
    """Return places, outward unit normals and distances along every fitted ring, and the whole length."""
    places, normals, along, start = [], [], [], 0.0
    holes = [is_hole for part in cut.area.geoms for is_hole in (False, *(True for _ in part.interiors))]
    for curve, is_hole in zip(cut.curves, holes, strict=True):
        ring, normal, there, length = _walk_ring(curve.flattened(0.005), is_hole, ALONG_STEP_MM)
        places.append(ring)
        normals.append(normal)
        along.append(start + there)
        start += length
    return np.vstack(places), np.vstack(normals), np.concatenate(along), start


def _walk_ring(flat: Floats, is_hole: bool, step_mm: float) -> tuple[Floats, Floats, Floats, float]:
    """Return places, outward unit normals and distances along one ring, and its length."""
    ring = resample(flat, step_mm)
    length = float(arc_lengths(np.vstack([flat, flat[:1]]))[-1])
    tangent = np.roll(ring, -1, axis=0) - np.roll(ring, 1, axis=0)
    normal = np.stack([tangent[:, 1], -tangent[:, 0]], axis=1)
    normal /= np.maximum(np.hypot(normal[:, 0], normal[:, 1]), 1e-12)[:, None]
    if is_hole == (_signed_area(ring) > 0):
        normal = -normal
    return ring, np.asarray(normal), np.asarray(np.arange(len(ring)) * (length / len(ring)), float), length


def _signed_area(ring: Floats) -> float:
    x, y = ring[:, 0], ring[:, 1]
    return float(np.dot(x, np.roll(y, -1)) - np.dot(y, np.roll(x, -1))) / 2


def _sample(art: PrintArt, points: Floats, normals: Floats, across: Floats) -> NDArray[np.uint8]:
    """Return the (len(across), len(points), 4) colours of the printed picture, bilinear, clear outside."""
    start = ((points - (art.left_mm, art.top_mm)) / art.pixel_mm - 0.5).astype(np.float32)
    way, pace = (normals / art.pixel_mm).astype(np.float32), across.astype(np.float32)
    x, y = (start[:, axis] + pace[:, None] * way[:, axis] for axis in (0, 1))
    colours = _remapped(art.pixels, x, y)
    if art.ink_area is not None:
        exact = rasterised(art.ink_area, art.pixels.shape[:2], (art.left_mm, art.top_mm), art.pixel_mm)
        colours[..., 3] = np.minimum(colours[..., 3], _remapped(exact, x, y))
    return colours


def _remapped(pixels: NDArray[np.uint8], x: NDArray[np.float32], y: NDArray[np.float32]) -> NDArray[np.uint8]:
    # OpenCV's remap takes at most 32767 columns
    parts = [
        cv2.remap(
            pixels,
            np.ascontiguousarray(x[:, start : start + 30_000]),
            np.ascontiguousarray(y[:, start : start + 30_000]),
            cv2.INTER_LINEAR,
            borderMode=cv2.BORDER_CONSTANT,
            borderValue=(255, 255, 255, 0),
        )
        for start in range(0, x.shape[1], 30_000)
    ]
    return np.concatenate(parts, axis=1)
