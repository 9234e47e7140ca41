"""The target for the eye: at each place a comb across and a comb down, read like a vernier (P. Vernier, 1631).

Printed ticks stand 2.0 mm apart, cut teeth 1.9 mm: where tick and tooth line up, the number there says how many tenths
of a millimetre the cut lies off. Each comb is cut as one toothed piece that peels in one pull.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
import shapely

from honest_edge.core.geometry.paths import CurveRing, Floats, as_multipolygon
from honest_edge.core.sheet.media import Box
from honest_edge.core.sheet.space import SheetSpace, space_of
from honest_edge.core.values.errors import BlockedError, UsageError
from honest_edge.core.values.sheet import SheetSpec

TICK_MM, TOOTH_MM = 2.0, 1.9
STEP_MM = TICK_MM - TOOTH_MM
"""What one number is worth."""

MOST_READ = 8
"""Numbers run from minus this to this."""

LEAST_EYE_PLACES, MOST_EYE_PLACES = 5, 9
_BAR_MM, _HALF_BAR_MM, _BASE_MM = 36.0, 3.0, 4.0
_TICK_WIDE_MM, _TOOTH_WIDE_MM, _LONGER_MM = 0.4, 0.8, 1.2
_DIGITS_MM, _DIGITS_AWAY_MM = 2.6, 2.4
_LABELLED = (-8, -4, 0, 4, 8)
_BLOCK_MM = (56.0, 42.0)
_AIR_MM = 1.0
_COMB_AT = np.array([-8.0, -3.0]), np.array([18.0, 0.0])
"""Middles of the comb across and of the comb down, from the middle of their place."""

_GRIDS: dict[int, tuple[int, int]] = {9: (3, 3), 8: (2, 4), 6: (2, 3), 5: (2, 2)}


@dataclass(frozen=True, slots=True, kw_only=True)
class CombPlaces:
    """Where the combs stand.

    Attributes:
        width_mm, height_mm: of the paper.
        places_mm: middles of the places on the sheet, in reading order.
    """

    width_mm: float
    height_mm: float
    places_mm: tuple[tuple[float, float], ...]

    @property
    def from_middle(self) -> Floats:
        """(n, 2) places from the middle of the marks."""
        return np.array(self.places_mm) - np.array([self.width_mm, self.height_mm]) / 2


@dataclass(frozen=True, slots=True, kw_only=True)
class Label:
    """A word of the print.

    Attributes:
        text: what it says.
        x_mm, y_mm: its middle on the sheet.
        size_mm: height of its capitals.
    """

    text: str
    x_mm: float
    y_mm: float
    size_mm: float


def comb_places(sheet: SheetSpec, places: int = MOST_EYE_PLACES) -> CombPlaces:
    """Return where combs stand on a sheet; as many as fit where fewer do, and never more than asked for.

    Raises:
        BlockedError: not even the fewest have room.
        UsageError: too few places, or too many.
    """
    if not LEAST_EYE_PLACES <= places <= MOST_EYE_PLACES:
        raise UsageError(
            f"A target for the eye has {LEAST_EYE_PLACES} to {MOST_EYE_PLACES} places; {places} were asked for"
        )
    room = space_of(sheet)
    width, height = sheet.size_mm
    for count, (columns, rows) in _GRIDS.items():
        grid = None if count > places else _laid(room, columns, rows, with_middle=count == 5)
        if grid is not None:
            middles = tuple((round(x, 3), round(y, 3)) for x, y in grid.tolist())
            return CombPlaces(width_mm=width, height_mm=height, places_mm=middles)
    raise BlockedError(f"A target for the eye does not fit {sheet.paper_title} with these marks: take a larger paper")


def _laid(room: SheetSpace, columns: int, rows: int, *, with_middle: bool) -> Floats | None:
    half = np.array(_BLOCK_MM) / 2 + _AIR_MM
    inner = Box(
        room.usable.left + half[0], room.usable.top + half[1], room.usable.right - half[0], room.usable.bottom - half[1]
    )
    if inner.width < 0 or inner.height < 0:
        return None
    for corner in np.arange(0.0, inner.height / (2 * rows), 1.0):
        x, y = np.meshgrid(np.linspace(inner.left, inner.right, columns), np.linspace(inner.top, inner.bottom, rows))
        y[0, [0, -1]] += corner
        y[-1, [0, -1]] -= corner
        grid = np.stack([x.ravel(), y.ravel()], 1)
        if with_middle:
            grid = np.array([*grid[:2], inner.middle, *grid[2:]])
        boxes = [Box(*(place - half), *(place + half)) for place in grid]
        if not any(a.overlaps(b) for n, a in enumerate(boxes) for b in (*boxes[:n], *room.keep_outs)):
            return grid
    return None


def comb_dark(places: CombPlaces) -> shapely.MultiPolygon:
    """Return the bars with their ticks left out."""
    return as_multipolygon(
        shapely.union_all([_placed(_bar(), place, way) for place in places.places_mm for way in (0, 1)])
    )


def comb_cuts(places: CombPlaces) -> tuple[CurveRing, ...]:
    """Return the toothed pieces, place by place, across before down."""
    return tuple(_ring(_placed(_piece(), place, way)) for place in places.places_mm for way in (0, 1))


def comb_labels(places: CombPlaces) -> tuple[Label, ...]:
    """Return the numbers along the combs, and the number of each place."""
    labels = []
    for number, place in enumerate(places.places_mm, 1):
        for way in (0, 1):
            for value in _LABELLED:
                at = _turned(np.array([[value * TICK_MM, -_HALF_BAR_MM - _DIGITS_AWAY_MM]]), place, way)[0]
                labels.append(Label(text=f"{value:+d}".replace("+0", "0").replace("-", "\N{MINUS SIGN}"),
                                   x_mm=float(at[0]), y_mm=float(at[1]), size_mm=_DIGITS_MM))  # fmt: skip
        labels.append(Label(text=str(number), x_mm=place[0] - 25.0, y_mm=place[1] + 12.0, size_mm=5.0))
    return tuple(labels)


def _bar() -> shapely.Geometry:
    """A dark bar; ticks from its upper edge to its middle are left white."""
    half = _BAR_MM / 2
    ticks = [
        shapely.box(
            n * TICK_MM - _TICK_WIDE_MM / 2, -_HALF_BAR_MM - 0.1, n * TICK_MM + _TICK_WIDE_MM / 2, 0.0
        )
        for n in range(-MOST_READ, MOST_READ + 1)
    ]  # fmt: skip
    return shapely.box(-half, -_HALF_BAR_MM, half, _HALF_BAR_MM).difference(shapely.union_all(ticks))


def _piece() -> shapely.Geometry:
    """A strip below the bar whose teeth reach up to the bar's middle; the middle tooth reaches on a little."""
    half, low = _BAR_MM / 2, _HALF_BAR_MM + 1
    teeth = [
        shapely.box(
            n * TOOTH_MM - _TOOTH_WIDE_MM / 2, 0.0 if n else -_LONGER_MM, n * TOOTH_MM + _TOOTH_WIDE_MM / 2, low
        )
        for n in range(-MOST_READ, MOST_READ + 1)
    ]  # fmt: skip
    return shapely.union_all([shapely.box(-half, _HALF_BAR_MM, half, _HALF_BAR_MM + _BASE_MM), *teeth])


def _placed(area: shapely.Geometry, place: tuple[float, float], way: int) -> shapely.Geometry:
    return shapely.transform(area, lambda points: _turned(points, place, way))


def _turned(points: Floats, place: tuple[float, float], way: int) -> Floats:
    """Return points of a comb laid across (0) or down (1), numbers rising to the right or downward."""
    along, beside = points[:, 0], points[:, 1]
    turned = points if way == 0 else np.stack([-beside, along], 1)
    return np.asarray(turned + _COMB_AT[way] + np.array(place))


def _ring(area: shapely.Geometry) -> CurveRing:
    corners = np.asarray(shapely.get_coordinates(shapely.get_exterior_ring(area)))[:-1]
    after = np.roll(corners, -1, axis=0)
    shares = np.array([0.0, 1 / 3, 2 / 3, 1.0])[None, :, None]
    return CurveRing(corners[:, None] * (1 - shares) + after[:, None] * shares, np.ones(len(corners), bool))
