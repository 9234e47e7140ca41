"""Bays of an outline: places where a white part of the art may have been taken for the paper round it."""

from __future__ import annotations

import shapely

_REACH = 0.12
"""Of the art's longer side: bays whose mouths are narrower than twice that are looked at."""
_LEAST = 0.008
"""Of the art's area: smaller bays are its shape."""
_PLAIN = 0.004
_MOST = 12


def bays(area: shapely.MultiPolygon) -> list[shapely.Polygon]:
    """Return the bays of an outline, the largest first (closing by a disc, less the outline: the black top-hat)."""
    left, top, right, bottom = area.bounds
    size = max(right - left, bottom - top)
    plain = shapely.simplify(area, _PLAIN * size)
    solid = shapely.union_all([shapely.Polygon(part.exterior) for part in shapely.get_parts(plain)])
    reach = _REACH * size
    closed = shapely.buffer(shapely.buffer(solid, reach, quad_segs=6), -reach, quad_segs=6)
    between = shapely.get_parts(shapely.difference(closed, solid))
    large = [bay for bay in between if isinstance(bay, shapely.Polygon) and bay.area >= _LEAST * solid.area]
    return sorted(large, key=lambda bay: -bay.area)[:_MOST]
