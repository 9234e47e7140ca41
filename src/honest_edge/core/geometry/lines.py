"""Lines that a machine follows, each of a kind."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from honest_edge.core.geometry.corners import arc_lengths
from honest_edge.core.geometry.paths import CurveRing, Floats
from honest_edge.core.values.specs import LineKind

_FLAT_MM = 0.01


@dataclass(frozen=True, slots=True, kw_only=True, eq=False)
class CutPath:
    """One line and what is done along it."""

    kind: LineKind
    curve: CurveRing

    def placed(self, matrix: Floats) -> CutPath:
        """Return the line under a (2, 3) matrix."""
        return CutPath(kind=self.kind, curve=self.curve.placed(matrix))


def polyline(points: Floats, *, closed: bool) -> CurveRing:
    """Return straight segments through (n, 2) points."""
    ends = np.roll(points, -1, axis=0) if closed else points[1:]
    starts = points if closed else points[:-1]
    cubics = np.stack([starts, starts + (ends - starts) / 3, ends - (ends - starts) / 3, ends], axis=1)
    return CurveRing(cubics, np.ones(len(cubics), bool), closed)


def perforated(points: Floats, *, closed: bool, cut_mm: float, tie_mm: float) -> list[CurveRing]:
    """Return the cuts of a perforation along (n, 2) points; an open one begins and ends with half a tie.

    Cuts and ties are stretched alike, so that a whole number fits.
    """
    whole = np.vstack([points, points[:1]]) if closed else points
    at = arc_lengths(whole)
    count = max(1, round(float(at[-1]) / (cut_mm + tie_mm)))
    period = float(at[-1]) / count
    cut = period * cut_mm / (cut_mm + tie_mm)
    rings = []
    for number in range(count):
        first, last = (number + 0.5) * period - cut / 2, (number + 0.5) * period + cut / 2
        inner = at[(at > first + 1e-9) & (at < last - 1e-9)]
        stops = np.concatenate([[first], inner, [last]])
        path = np.stack([np.interp(stops, at, whole[:, 0]), np.interp(stops, at, whole[:, 1])], axis=1)
        rings.append(polyline(path, closed=False))
    return rings


def paths_along(kind: LineKind, curve: CurveRing, *, cut_mm: float, tie_mm: float) -> tuple[CutPath, ...]:
    """Return what is done along a line: the line itself, or the cuts of its perforation."""
    if kind != "perforate":
        return (CutPath(kind=kind, curve=curve),)
    cuts = perforated(curve.flattened(_FLAT_MM), closed=curve.closed, cut_mm=cut_mm, tie_mm=tie_mm)
    return tuple(CutPath(kind=kind, curve=cut) for cut in cuts)
