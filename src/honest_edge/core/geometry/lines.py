"""Lines that a machine follows, each of a kind."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from honest_edge.core.geometry.paths import CurveRing, Floats
from honest_edge.core.values.specs import LineKind


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


def perforated(start: Floats, end: Floats, cut_mm: float, tie_mm: float) -> list[CurveRing]:
    """Return the cuts of a straight perforation; it begins and ends with half a tie, so that corners hold."""
    length = float(np.hypot(*(end - start)))
    count = max(1, round(length / (cut_mm + tie_mm)))
    period = length / count
    cut = period * cut_mm / (cut_mm + tie_mm)
    way = (end - start) / length
    firsts = [(at + 0.5) * period - cut / 2 for at in range(count)]
    return [polyline(np.array([start + way * at, start + way * (at + cut)]), closed=False) for at in firsts]
