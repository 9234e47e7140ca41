"""Everything the window shows of a job: results, layout, errors in words, and the state of each station.

Only values live here, so that a window can stand before the computing parts are loaded; they are in
``looking``.
"""

from __future__ import annotations

from dataclasses import dataclass
from typing import TYPE_CHECKING, Literal

from honest_edge.core.values.job import Job
from honest_edge.core.values.specs import EdgeRecipe

if TYPE_CHECKING:
    from honest_edge.app.pipeline import DesignResult
    from honest_edge.core.sheet.fit import Plan

Station = Literal["art", "outline", "edge", "sheet", "files"]
State = Literal["done", "look", "blocked", "empty"]
STATIONS: tuple[Station, ...] = ("art", "outline", "edge", "sheet", "files")

_CHECK_OF: dict[str, Station] = {
    "ppi": "art",
    "size": "art",
    "leaks": "outline",
    "parts": "outline",
    "narrow": "outline",
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
    """

    job: Job
    results: dict[str, DesignResult]
    errors: dict[str, str]
    plan: Plan | None
    plan_error: str | None

    def state(self, station: Station) -> tuple[State, str]:
        """Return a station's state and the sentence that explains it."""
        if not self.job.designs:
            return "empty", "no art yet"
        if station in ("sheet", "files"):
            return self._sheet_state()
        if self.errors:
            key, message = next(iter(self.errors.items()))
            return "blocked", f"{self.job.design(key).name}: {message}"
        for result in self.results.values():
            for finding in result.findings:
                if _CHECK_OF[finding.check] == station:
                    return "look", f"{result.design.name}: {finding.message}"
        return "done", "nothing to mend"

    def _sheet_state(self) -> tuple[State, str]:
        if self.plan is None:
            return "blocked", self.plan_error or "a design cannot be prepared yet"
        pages = len(self.plan.pages)
        copies = sum(len(page) for page in self.plan.pages)
        return "done", f"{copies} stickers on {pages} sheet{'s' if pages > 1 else ''}"


EMPTY = Overview(job=Job(), results={}, errors={}, plan=None, plan_error=None)


@dataclass(frozen=True, slots=True, kw_only=True)
class Change:
    """A proposed change of one design's edge, tried before it is offered."""

    edge: EdgeRecipe
    name: str
    before_mm: float
    after_mm: float
