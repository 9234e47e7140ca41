"""The outline as a fitted curve, for the eye at its station; the cut is fitted by itself."""

from __future__ import annotations

from dataclasses import dataclass

from honest_edge.core.geometry.paths import CurveRing
from honest_edge.core.outline.outline import Outline, fit_area, greatest_deviation_mm


@dataclass(frozen=True, slots=True, kw_only=True, eq=False)
class FittedOutline:
    """An outline with the curves that were fitted to it.

    Attributes:
        outline: that they were fitted to.
        curves: one for each ring.
        deviation_mm: how far they stray from the raw outline at most.
    """

    outline: Outline
    curves: tuple[CurveRing, ...]
    deviation_mm: float

    @property
    def node_count(self) -> int:
        """How many nodes all curves have."""
        return sum(curve.node_count for curve in self.curves)


def fitted_outline(outline: Outline) -> FittedOutline:
    """Return an outline's curves."""
    curves = fit_area(outline.area, outline.style)
    return FittedOutline(outline=outline, curves=curves, deviation_mm=greatest_deviation_mm(curves, outline.area))
