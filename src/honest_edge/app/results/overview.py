"""Everything the window shows of a job: results, layout, findings, and the state of each station.

Only values live here, so that a window can stand before the computing parts are loaded; they are in
``compute_overview``.
"""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Mapping
from dataclasses import dataclass, field, replace
from typing import TYPE_CHECKING, Literal

from honest_edge.core.proof.leaving import with_reasons
from honest_edge.core.values.findings import SEVERITIES, Finding, Severity
from honest_edge.core.values.job import Job

if TYPE_CHECKING:
    from honest_edge.app.results.design_result import DesignResult
    from honest_edge.core.sheet.plan import Plan

State = Literal["done", "look", "blocked", "empty"]

_STATE_OF: dict[Severity, State] = {"blocks": "blocked", "look": "look", "note": "done"}
_OF_SHEETS = ("sheet", "proof", "files", "run")


@dataclass(frozen=True, slots=True, kw_only=True, eq=False)
class Overview:
    """What is known of a job.

    Attributes:
        job: the job it is about.
        results: by design key, where they could be computed.
        blocked: by design key, why there is no result, where there is none.
        plan: the layout; None where a finding blocks it.
        laid: what the layout's numbers stand for.
        sheet_findings: what speaks against the layout, the marks, the stock and the printer.
        bench_findings: what the bench and the Book say against it; they may come a moment later.
        is_provisional: whether a better layout is still being made.
    """

    job: Job
    results: Mapping[str, DesignResult] = field(default_factory=dict)
    blocked: Mapping[str, Finding] = field(default_factory=dict)
    plan: Plan | None = None
    laid: tuple[DesignResult, ...] = ()
    sheet_findings: tuple[Finding, ...] = ()
    bench_findings: tuple[Finding, ...] = ()
    is_provisional: bool = False

    def with_bench(self, findings: tuple[Finding, ...]) -> Overview:
        """Return it with what the bench and the Book say."""
        return replace(self, bench_findings=findings)

    @property
    def findings(self) -> tuple[Finding, ...]:
        """All that was found in what is made: of the designs in the order of the job, then of the sheets."""
        return with_reasons((*self._of_designs(), *self.sheet_findings), self.job.left)

    @property
    def every_finding(self) -> tuple[Finding, ...]:
        """The same, and what the bench and the Book say."""
        return (*self.findings, *with_reasons(self.bench_findings, self.job.left))

    def _of_designs(self) -> Iterator[Finding]:
        for design in self.job.designs:
            if design.key in self.blocked:
                yield self.blocked[design.key]
            elif design.key in self.results:
                yield from self.results[design.key].findings

    @property
    def holding(self) -> Finding | None:
        """What keeps files from being written though everything is laid out; None where nothing does."""
        return next((finding for finding in self.findings if finding.holds), None)

    def why_blocked(self, key: str | None) -> str | None:
        """Return why a design has no result; None where it has one, or is still computed."""
        why = self.blocked.get(key or "")
        return None if why is None else why.message

    @property
    def why_no_plan(self) -> str:
        """Why there is no layout, in one sentence."""
        blocks = [finding.message for finding in self.sheet_findings if finding.severity == "blocks"]
        return blocks[0] if blocks else "a design cannot be prepared yet"

    @property
    def why_unwritten(self) -> str | None:
        """Why nothing can be written or printed yet, in one sentence; None where it can."""
        if self.plan is None:
            return self.why_no_plan
        if self.holding is not None:
            return self.named(self.holding)
        return "a better layout is still being made" if self.is_provisional else None

    def state(self, station: str) -> tuple[State, str]:
        """Return a station's state and the sentence that explains it."""
        if not self.job.designs:
            return "empty", "no art yet"
        if station == "proof" and self.plan is not None:
            return self._worst(self.every_finding) or ("done", "nothing would go wrong that is known")
        if station in _OF_SHEETS:
            return self._sheet_state(station)
        if self.blocked:  # without a result there is nothing to show at any station of a design
            return "blocked", self.named(next(iter(self.blocked.values())))
        return self._worst(self._at(station)) or ("done", "nothing to mend")

    def _sheet_state(self, station: str) -> tuple[State, str]:
        if self.plan is None:
            return "blocked", self.why_no_plan
        if station in ("files", "run") and self.why_unwritten is not None:
            return ("empty" if self.holding is None else "blocked"), self.why_unwritten
        if station == "run":
            return "empty", "no run is under way"
        sheets = len(self.plan.pages)
        laid = f"{self.plan.copies} stickers on {sheets} sheet{'s' if sheets > 1 else ''}"
        return self._worst(self._at(station)) or ("done", laid)

    def _at(self, station: str) -> list[Finding]:
        return [finding for finding in self.findings if finding.station == station]

    def _worst(self, findings: Iterable[Finding]) -> tuple[State, str] | None:
        open_ones = [finding for finding in findings if not finding.left and finding.severity != "note"]
        worst = min(open_ones, key=lambda finding: SEVERITIES.index(finding.severity), default=None)
        return None if worst is None else (_STATE_OF[worst.severity], self.named(worst))

    def named(self, finding: Finding) -> str:
        """Return a finding's message, led by the name of the design that it is about."""
        names = {design.key: design.name for design in self.job.designs}
        name = names.get(finding.subject.design)
        return finding.message if name is None else f"{name}: {finding.message}"


EMPTY = Overview(job=Job())
