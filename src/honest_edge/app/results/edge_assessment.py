"""What is known of the edge of one design beyond its own forecast.

Only values live here, so that a window can stand before the computing parts are loaded; they are in ``assess_edge``.
"""

from __future__ import annotations

from dataclasses import dataclass
from typing import TYPE_CHECKING

from honest_edge.core.values.specs import EdgeRecipe, School

if TYPE_CHECKING:
    from honest_edge.app.results.design_result import DesignResult
    from honest_edge.core.edge.advice import Advice


@dataclass(frozen=True, slots=True, kw_only=True, eq=False)
class EdgeChange:
    """A proposed change of one design's edge, tried before it is offered.

    Attributes:
        edge: the changed recipe.
        target: the share of clean stickers it was made for.
        share: the share that the changed recipe reached when it was tried.
        result: the design with it.
    """

    edge: EdgeRecipe
    target: float
    share: float
    result: DesignResult


@dataclass(frozen=True, slots=True, kw_only=True, eq=False)
class SchoolView:
    """One school tried on the design in hand.

    Attributes:
        result: the design under that school; None where it is impossible, with ``error`` set.
        error: why.
    """

    school: School
    result: DesignResult | None
    error: str = ""


@dataclass(frozen=True, slots=True, kw_only=True)
class SheetShares:
    """What the place on the sheet makes of one design.

    Attributes:
        nearest, farthest: share of clean stickers at the copies nearest to and farthest from the marks' middle.
        nearest_mm, farthest_mm: their distances from it.
        mean: over all copies.
    """

    nearest: float
    farthest: float
    nearest_mm: float
    farthest_mm: float
    mean: float


@dataclass(frozen=True, slots=True, kw_only=True, eq=False)
class EdgeAssessment:
    """What is known of the edge of the design in hand beyond its own forecast.

    Attributes:
        changes: the smallest changes for 95 and for 99 %, where there are any.
        views: every school tried, in the order they are offered.
        advice: the school that suits, with the reasons; None where none is possible.
        on_sheet: what the place on the sheet makes; None without a layout.
        whole_sheet: chance that every sticker of the first sheet comes out clean; None without a layout.
    """

    changes: tuple[EdgeChange, ...]
    views: tuple[SchoolView, ...]
    advice: Advice | None
    on_sheet: SheetShares | None
    whole_sheet: float | None
