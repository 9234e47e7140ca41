"""What the Proof station remembers while it is looked at, and what its parts ask of it."""

from __future__ import annotations

from dataclasses import dataclass, field
from typing import TYPE_CHECKING, Protocol

if TYPE_CHECKING:
    from honest_edge.app.edits.tried import TriedFix
    from honest_edge.app.rehearsal.expected import Expected
    from honest_edge.app.rehearsal.print_count import PagePrints
    from honest_edge.app.rehearsal.stage import Staged
    from honest_edge.app.results.overview import Overview
    from honest_edge.app.views.proof_view import ListedFinding
    from honest_edge.core.values.findings import Finding, Fix
    from honest_edge.simulator.faults import FaultKey
    from honest_edge.simulator.rehearsal import RehearsedSheet

FindingKey = tuple[str, str, str]
TriedKey = tuple[FindingKey, str]


def finding_key(finding: Finding) -> FindingKey:
    """Return what tells a finding from others of a job."""
    return finding.check, repr(finding.subject), finding.message


def tried_key(finding: Finding, fix: Fix) -> TriedKey:
    """Return what tells one tried fix of a job from another."""
    return finding_key(finding), fix.words


@dataclass(slots=True)
class PrintAdviceShown:
    """How many sheets to print.

    Attributes:
        now: printed sheets as the job stands, and the share of runs in which that is enough.
        needed: for each assurance that is offered, how many it takes; a sentence where none would do.
        findings: that too few are printed, where they are.
    """

    now: tuple[int, float]
    needed: tuple[tuple[float, PagePrints | str], ...]
    findings: tuple[Finding, ...] = ()


@dataclass(slots=True)
class Rehearsed:
    """A rehearsal as far as it has come.

    Attributes:
        overview: the job as it was rehearsed.
        staged: what was rehearsed.
        sheets: as they came.
        expected: what the forecast says; None until it is there.
        shown: number of the sheet that is looked at.
        is_whole: whether no more sheets come.
    """

    overview: Overview
    staged: Staged
    sheets: list[RehearsedSheet] = field(default_factory=list)
    expected: Expected | None = None
    shown: int = 0
    is_whole: bool = False


@dataclass(slots=True)
class ProofState:
    """What is looked at.

    Attributes:
        selected: what tells the finding in hand from others; None for none.
        tried: what fixes of the job in hand would do.
        trying: those that are tried just now.
        opened: checks of which all findings are listed.
        rehearsal: None while places are shown.
        faults: what is switched on to go wrong.
        advice: how many to print; None until it is known.
        known: what the Book says.
    """

    selected: FindingKey | None = None
    tried: dict[TriedKey, TriedFix] = field(default_factory=dict)
    trying: set[TriedKey] = field(default_factory=set)
    opened: set[str] = field(default_factory=set)
    rehearsal: Rehearsed | None = None
    faults: frozenset[FaultKey] = frozenset()
    advice: PrintAdviceShown | str | None = None
    known: tuple[Finding, ...] = ()


class ProofActs(Protocol):
    """What the panel and its rows ask for."""

    def select(self, row: ListedFinding) -> None:
        """Take a finding in hand."""

    def mend(self, finding: Finding, fix: Fix) -> None:
        """Use a fix, or go where it is mended by hand."""

    def mend_all(self, check: str) -> None:
        """Use the first fix of every finding of one check."""

    def leave(self, finding: Finding) -> None:
        """Ask why it is left, and leave it."""

    def take_up(self, finding: Finding) -> None:
        """Look at a finding again that was left."""

    def visit(self, finding: Finding) -> None:
        """Go to the station where it is mended."""

    def open_kind(self, check: str) -> None:
        """List all findings of a check."""

    def print_so_often(self, prints: PagePrints) -> None:
        """Set how often each sheet is printed."""

    def rehearse(self) -> None:
        """Begin a rehearsal."""
