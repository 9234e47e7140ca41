"""What speaks against a job's sheets: paper, marks and stock, and the layout as it came out."""

from __future__ import annotations

from collections.abc import Sequence

import shapely

from honest_edge.app.results.design_result import DesignResult, printed_kinds
from honest_edge.core.proof.layout_checks import LaidDesign, layout_findings
from honest_edge.core.proof.sheet_checks import sheet_findings
from honest_edge.core.sheet.plan import Plan
from honest_edge.core.values.errors import BlockedError, HeldError
from honest_edge.core.values.findings import Finding
from honest_edge.core.values.job import Job


def sheet_proof(plan: Plan, laid: Sequence[DesignResult], job: Job) -> tuple[Finding, ...]:
    """Return what speaks against the sheets of a layout; ``laid`` is what its numbers stand for."""
    designs = [
        LaidDesign(
            key=result.design.key,
            name=result.design.name,
            cut=result.cut,
            ink=shapely.MultiPolygon() if result.stock is not None else result.inked,
            reach_mm=0.0 if result.stock is not None else result.reach_mm,
        )
        for result in laid
    ]
    return (*sheet_findings(job.sheet, printed_kinds(laid)), *layout_findings(plan, designs))


def refuse_what_holds(findings: Sequence[Finding], name: str = "") -> None:
    """Refuse to write what something speaks against that was neither mended nor left.

    Raises:
        BlockedError: with the first such finding.
    """
    for finding in findings:
        if finding.holds:
            told = f"{name}: {finding.message}; {finding.remedy}" if name else f"{finding.message}; {finding.remedy}"
            raise HeldError(told, finding.check) if finding.can_be_left else BlockedError(told)
