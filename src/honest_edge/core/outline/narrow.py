"""Strands and gaps of a cut that are narrower than the blade can follow."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

import shapely

from honest_edge.core.geometry.offset import buffered, without_grain
from honest_edge.core.geometry.paths import as_multipolygon

_LEAST_LENGTH = 2.0  # in widths: what is shorter is the tip of a corner
_LEAST_SHARE = 0.5  # of a width's square: what is smaller is the rounding of a corner
_QUAD_SEGS = 12


@dataclass(frozen=True, slots=True, kw_only=True)
class Narrow:
    """A strand of material, or a gap between two cuts, too narrow for the blade.

    Attributes:
        kind: which of the two.
        x_mm, y_mm: a place in it.
        length_mm: about how long it is.
    """

    kind: Literal["strand", "gap"]
    x_mm: float
    y_mm: float
    length_mm: float


def narrow_places(area: shapely.MultiPolygon, width_mm: float) -> tuple[Narrow, ...]:
    """Return where ``area`` or what it leaves free is narrower than ``width_mm``, the longest first.

    A morphological opening removes strands, a closing fills gaps (J. Serra, Image Analysis and
    Mathematical Morphology, 1982); what they change, apart from the rounding of corners, is too narrow.
    """
    if width_mm <= 0:
        return ()
    area, half = without_grain(area), width_mm / 2
    opened = _moved(_moved(area, -half), half * 1.02)
    closed = _moved(_moved(area, half), -half * 1.02)
    places = [*_long("strand", shapely.difference(area, opened), width_mm)]
    places += _long("gap", shapely.difference(closed, area), width_mm)
    return tuple(sorted(places, key=lambda narrow: -narrow.length_mm))


def _moved(area: shapely.Geometry, distance_mm: float) -> shapely.Geometry:
    return buffered(area, distance_mm, quad_segs=_QUAD_SEGS)


def _long(kind: Literal["strand", "gap"], residue: shapely.Geometry, width_mm: float) -> list[Narrow]:
    places = []
    for piece in as_multipolygon(residue).geoms:
        length_mm = piece.length / 2
        if length_mm >= _LEAST_LENGTH * width_mm and piece.area >= _LEAST_SHARE * width_mm**2:
            place = shapely.point_on_surface(piece)
            places.append(Narrow(kind=kind, x_mm=float(place.x), y_mm=float(place.y), length_mm=float(length_mm)))
    return places
