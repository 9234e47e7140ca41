"""Kiss cuts of the stickers on a sheet: where each may run so that it takes along nothing that is not its own."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace

import numpy as np
import shapely

from honest_edge.core.geometry.paths import Floats, as_multipolygon, rings_of
from honest_edge.core.values.lazy import lazy_property

_MOST_POINTS = 2400
_SPACING_MM = (0.3, 2.0)
_SEGMENTS = 24
_ROUGH_MM = 0.03


@dataclass(frozen=True, slots=True, kw_only=True, eq=False)
class KissCut:
    """One sticker on a sheet, in the sheet's frame, millimetres.

    Attributes:
        cut: what its kiss cut encloses.
        ring_mm: how far the sheet's colour keeps off it.
        is_cleared: whether it keeps off it at all, be the ring ever so narrow.
        detail: what of its art must not be cut.
        ink: its own print, which its cut must not leave; None where bare stock runs round its art as a border.
    """

    cut: shapely.MultiPolygon
    ring_mm: float
    is_cleared: bool
    detail: shapely.MultiPolygon
    ink: shapely.MultiPolygon | None


@dataclass(frozen=True, kw_only=True, eq=False)
class KissCuts:
    """All stickers of a sheet.

    Attributes:
        form: the sheet.
        printed: what is printed on it besides the stickers and can be seen, under their rings too.
        stickers: what lies on it.
        points: (n, 2) places of their cuts.
        room: where such a place may come to lie.
    """

    form: shapely.MultiPolygon
    printed: shapely.Geometry
    stickers: tuple[KissCut, ...]
    points: Floats
    room: shapely.MultiPolygon

    @property
    def cuts(self) -> tuple[shapely.MultiPolygon, ...]:
        """What each sticker's cut encloses."""
        return tuple(one.cut for one in self.stickers)

    @property
    def ring_mm(self) -> float:
        """The narrowest of their rings."""
        return min(one.ring_mm for one in self.stickers)

    @lazy_property
    def rough(self) -> KissCuts:
        """The same to some hundredths of a millimetre: for rings that a hand moves."""
        stickers = [
            replace(
                one, cut=_rough(one.cut), detail=_rough(one.detail), ink=None if one.ink is None else _rough(one.ink)
            )
            for one in self.stickers
        ]
        return kiss_cuts(self.form, _rough(self.printed), stickers)

    def with_rings(self, ring_mm: float) -> KissCuts:
        """Return the same with rings of one width round stickers that have one."""
        stickers = [replace(one, ring_mm=ring_mm) if one.is_cleared else one for one in self.stickers]
        return kiss_cuts(self.form, self.printed, stickers)


def kiss_cuts(form: shapely.MultiPolygon, printed: shapely.Geometry, stickers: Sequence[KissCut]) -> KissCuts:
    """Return where the kiss cuts of a sheet run and may run.

    A sticker is clean when its moved cut takes along no colour of the sheet and no printed word, touches no
    neighbour's ring, cuts none of its own art and, where its own colour reaches the cut, shows no white.

    Args:
        form: the sheet.
        printed: what is printed on it besides the stickers and can be seen: its colour, under rings too, and titles.
        stickers: what lies on it.
    """
    rings = [shapely.buffer(one.cut, one.ring_mm, quad_segs=_SEGMENTS) for one in stickers]
    own = shapely.union_all(rings)
    taken: list[shapely.Geometry] = [shapely.difference(printed, own)]
    tree = shapely.STRtree(rings)
    for first, second in zip(*tree.query(rings, predicate="intersects"), strict=True):
        if first < second:
            taken.append(shapely.intersection(rings[first], rings[second]))
    for one, ring in zip(stickers, rings, strict=True):
        taken.append(one.detail)
        if one.ink is not None:
            taken.append(shapely.difference(ring, one.ink))
    room = shapely.difference(form, shapely.union_all(taken))
    return KissCuts(
        form=form,
        printed=printed,
        stickers=tuple(stickers),
        points=_points([one.cut for one in stickers]),
        room=as_multipolygon(room),
    )


def _rough(area: shapely.Geometry) -> shapely.MultiPolygon:
    return as_multipolygon(shapely.simplify(area, _ROUGH_MM))


def _points(cuts: Sequence[shapely.MultiPolygon]) -> Floats:
    """Return even places along all cuts, closer where they are few."""
    length = float(sum(shapely.length(cut) for cut in cuts))
    spacing = min(max(_SPACING_MM[0], length / _MOST_POINTS), _SPACING_MM[1])
    rings = [ring for cut in cuts for ring in rings_of(cut)]
    lines = shapely.segmentize(np.array([shapely.linearrings(ring) for ring in rings]), spacing)
    points = np.concatenate([shapely.get_coordinates(line)[:-1] for line in lines])
    return points[:: max(1, len(points) // (2 * _MOST_POINTS))]
