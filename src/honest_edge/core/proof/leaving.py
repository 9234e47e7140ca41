"""What was found and is left as it is, for a reason."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import replace

from honest_edge.core.values.findings import Finding, Leaving


def with_reasons(findings: Iterable[Finding], left: Iterable[Leaving]) -> tuple[Finding, ...]:
    """Return findings, those that are left with the reason why; what says something new by now is not left."""
    reasons = tuple(left)

    def one(finding: Finding) -> Finding:
        why = next((leaving.reason for leaving in reasons if leaving.holds_for(finding)), "")
        return replace(finding, left=why) if why and finding.can_be_left else finding

    return tuple(map(one, findings)) if reasons else tuple(findings)
