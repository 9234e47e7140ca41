"""Every check: its name, the station where it is looked at, and how much it matters.

A new check is one line here and one call of ``found`` where the trouble is found (docs/architecture.md).
"""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass

from honest_edge.core.values.findings import Finding, Fix, Place, Quantity, Severity, StationKey, Subject


@dataclass(frozen=True, slots=True)
class Check:
    """One kind of trouble."""

    name: str
    station: StationKey
    severity: Severity
    can_be_left: bool = True

    def is_of(self, finding: Finding) -> bool:
        """Whether a finding is of this check."""
        return finding.check == self.name

    def found(
        self,
        subject: Subject,
        message: str,
        remedy: str = "",
        *,
        places: Iterable[Place] = (),
        measured: Quantity | None = None,
        needed: Quantity | None = None,
        fix: Fix | None = None,
        others: tuple[Fix, ...] = (),
        severity: Severity | None = None,
    ) -> Finding:
        """Return a finding of this check."""
        return Finding(
            check=self.name,
            station=self.station,
            severity=severity or self.severity,
            subject=subject,
            message=message,
            remedy=remedy,
            places=tuple(places),
            measured=measured,
            needed=needed,
            fix=fix,
            others=others,
            can_be_left=self.can_be_left,
        )


PPI = Check("ppi", "art", "look")
STATED_SIZES = Check("size", "art", "look")
FONT = Check("font", "art", "look")
WORDS_FIT = Check("room", "art", "look")
SHRUNK = Check("shrunk", "art", "note")
FIELD = Check("field", "art", "look")
CODE = Check("code", "art", "look")
BLANK_ROWS = Check("blank rows", "art", "blocks")
SEE_THROUGH = Check("gap", "art", "look")
CUT_APART = Check("apart", "art", "look")
CLASH = Check("clash", "art", "look")
CLEAR = Check("clear", "art", "look")
PLACEHOLDER = Check("placeholder", "art", "blocks")
OFF_THE_FORM = Check("outside", "art", "look")
CLEAR_ANYWAY, CUT_OUT = "Clear its ground anyway", "Cut out the subject"
"""What can be done about a picture that kept its ground; a photograph has a subject."""

CUT_LINES = Check("cut lines", "art", "blocks")
LAYER_CUT_LINES = Check("layer cut lines", "art", "blocks")
ASLANT = Check("page aslant", "art", "note")
SHADED = Check("shaded paper", "art", "note")
LAYER_GROUND = Check("layer ground", "art", "note")
ART = Check("art", "art", "blocks", can_be_left=False)
GROUND = Check("ground", "outline", "note")
LEAKS = Check("leaks", "outline", "look")
BAYS = Check("bays", "outline", "note")
SPECKS = Check("specks", "outline", "note")
KEPT_GROUND = Check("cleared", "outline", "note")
ISLAND = Check("island", "outline", "look")
PARTS = Check("parts", "outline", "look")
NARROW = Check("narrow", "outline", "look")
SLIT = Check("slit", "outline", "look")
NODES = Check("nodes", "outline", "look")
DOUBLE = Check("double", "outline", "blocks")
NESTED = Check("nested", "outline", "blocks")
TWICE = Check("twice", "sheet", "blocks")
OPEN = Check("open", "outline", "blocks")
CROSSING = Check("crossing", "outline", "blocks")
TIGHT = Check("tight", "outline", "look")
INSET = Check("inset", "edge", "look")
MATTE = Check("matte", "edge", "look")
MIRROR = Check("fill", "edge", "look")
CLOTH = Check("cloth", "edge", "look")
DRIFT = Check("drift", "edge", "look")
RING = Check("ring", "edge", "look")
WHITE = Check("white", "edge", "look")
QUIET = Check("quiet", "edge", "look")
LINER = Check("liner", "sheet", "look")
INK = Check("ink", "sheet", "look")
PAPER = Check("paper", "sheet", "look")
PRINTER_SCALE = Check("printer scale", "sheet", "look")
MARK_CONTRAST = Check("mark contrast", "sheet", "look")
CLEAR_FILM = Check("clear film", "sheet", "look")
GLOSS = Check("gloss", "sheet", "look")
MARK_SIZE = Check("mark size", "sheet", "look")
MARK_RIM = Check("mark rim", "sheet", "blocks", can_be_left=False)
KEEP_OUT = Check("keep-out", "sheet", "blocks")
CLOSE = Check("close", "sheet", "blocks")
TOOLS = Check("tools", "sheet", "look")
ORDER = Check("order", "sheet", "look")
EMPTY = Check("empty", "sheet", "note")
ASSUMED = Check("assumed", "proof", "note")
SETTING = Check("setting", "proof", "look")
BLADE = Check("blade", "proof", "look")
STOCK = Check("stock", "proof", "look")
SPARES = Check("spares", "proof", "look")
FILES = Check("files", "files", "blocks", can_be_left=False)
CHANGED = Check("changed", "files", "blocks")
MARK_REACH = Check("mark reach", "sheet", "look")
LAYOUT = Check("layout", "sheet", "blocks", can_be_left=False)

CHECKS: tuple[Check, ...] = tuple(value for value in globals().copy().values() if isinstance(value, Check))
"""All of them, in the order of work."""


def of_checks(findings: Iterable[Finding], *checks: Check) -> list[Finding]:
    """Return those findings that are of any of some checks."""
    return [finding for finding in findings if any(check.is_of(finding) for check in checks)]
