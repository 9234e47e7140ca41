"""Everything the window shows of a job: results, layout, errors in words, and the state of each station.

Only values live here, so that a window can stand before the computing parts are loaded; they are in
``looking``.
"""

from __future__ import annotations

from dataclasses import dataclass
from typing import TYPE_CHECKING, Literal

from honest_edge.core.values.job import Job
from honest_edge.core.values.specs import EdgeRecipe, School

if TYPE_CHECKING:
    from honest_edge.app.pipeline import DesignResult
    from honest_edge.core.edge.advice import Advice
    from honest_edge.core.sheet.plan import Plan

Station = Literal["art", "outline", "edge", "sheet", "files"]
State = Literal["done", "look", "blocked", "empty"]
STATIONS: tuple[Station, ...] = ("art", "outline", "edge", "sheet", "files")

_CHECK_OF: dict[str, Station] = {
    "ppi": "art",
    "size": "art",
    "font": "art",
    "room": "art",
    "field": "art",
    "code": "art",
    "gap": "art",
    "apart": "art",
    "outside": "art",
    "ring": "edge",
    "quiet": "edge",
    "leaks": "outline",
    "parts": "outline",
    "narrow": "outline",
    "inset": "edge",
    "matte": "edge",
    "fill": "edge",
    "drift": "edge",
}


@dataclass(frozen=True, slots=True, kw_only=True, eq=False)
class Overview:
    """What is known of a job.

    Attributes:
        job: the job it is about.
        results: by design key, where they could be computed.
        errors: by design key, one sentence, where they could not.
        plan: the layout; None with ``plan_error`` set, or while a design has an error.
        plan_error: why there is no layout.
        laid: what the layout's numbers stand for.
        sheet_warnings: what speaks against marks, stock and printer.
    """

    job: Job
    results: dict[str, DesignResult]
    errors: dict[str, str]
    plan: Plan | None
    plan_error: str | None
    laid: tuple[DesignResult, ...] = ()
    sheet_warnings: tuple[str, ...] = ()

    def state(self, station: Station) -> tuple[State, str]:
        """Return a station's state and the sentence that explains it."""
        if not self.job.designs:
            return "empty", "no art yet"
        if station in ("sheet", "files"):
            return self._sheet_state(station)
        if self.errors:
            key, message = next(iter(self.errors.items()))
            return "blocked", f"{self.job.design(key).name}: {message}"
        for result in self.results.values():
            for finding in result.findings:
                if _CHECK_OF[finding.check] == station:
                    return "look", f"{result.design.name}: {finding.message}"
        return "done", "nothing to mend"

    def _sheet_state(self, station: Station) -> tuple[State, str]:
        if self.plan is None:
            return "blocked", self.plan_error or "a design cannot be prepared yet"
        if station == "sheet" and self.sheet_warnings:
            return "look", self.sheet_warnings[0]
        pages = len(self.plan.pages)
        return "done", f"{self.plan.copies} stickers on {pages} sheet{'s' if pages > 1 else ''}"


EMPTY = Overview(job=Job(), results={}, errors={}, plan=None, plan_error=None)


@dataclass(frozen=True, slots=True, kw_only=True, eq=False)
class Change:
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
class Judgement:
    """What is known of the edge of the design in hand beyond its own forecast.

    Attributes:
        changes: the smallest changes for 95 and for 99 %, where there are any.
        views: every school tried, in the order they are offered.
        advice: the school that suits, with the reasons; None where none is possible.
        on_sheet: what the place on the sheet makes; None without a layout.
        whole_sheet: chance that every sticker of the first sheet comes out clean; None without a layout.
    """

    changes: tuple[Change, ...]
    views: tuple[SchoolView, ...]
    advice: Advice | None
    on_sheet: SheetShares | None
    whole_sheet: float | None
