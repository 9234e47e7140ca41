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
    ) -> Finding:
        """Return a finding of this check."""
        return Finding(
            check=self.name,
            station=self.station,
            severity=self.severity,
            subject=subject,
            message=message,
            remedy=remedy,
            places=tuple(places),
            measured=measured,
            needed=needed,
            fix=fix,
            others=others,
        )


PPI = Check("ppi", "art", "look")
STATED_SIZES = Check("size", "art", "look")
FONT = Check("font", "art", "look")
ROOM = Check("room", "art", "look")
SHRUNK = Check("shrunk", "art", "note")
FIELD = Check("field", "art", "look")
CODE = Check("code", "art", "look")
SEE_THROUGH = Check("gap", "art", "look")
CUT_APART = Check("apart", "art", "look")
CLASH = Check("clash", "art", "look")
CLEAR = Check("clear", "art", "look")
PLACEHOLDER = Check("placeholder", "art", "blocks")
OFF_THE_FORM = Check("outside", "art", "look")
LAYER_GROUND = Check("layer ground", "art", "note")
ART = Check("art", "art", "blocks")
GROUND = Check("ground", "outline", "note")
LEAKS = Check("leaks", "outline", "look")
PARTS = Check("parts", "outline", "look")
NARROW = Check("narrow", "outline", "look")
SLIT = Check("slit", "outline", "look")
NODES = Check("nodes", "outline", "look")
INSET = Check("inset", "edge", "look")
MATTE = Check("matte", "edge", "look")
MIRROR = Check("fill", "edge", "look")
CLOTH = Check("cloth", "edge", "look")
DRIFT = Check("drift", "edge", "look")
RING = Check("ring", "edge", "look")
QUIET = Check("quiet", "edge", "look")
LINER = Check("liner", "sheet", "look")
INK = Check("ink", "sheet", "look")
PAPER = Check("paper", "sheet", "look")
PRINTER_SCALE = Check("printer scale", "sheet", "look")
MARK_CONTRAST = Check("mark contrast", "sheet", "look")
CLEAR_FILM = Check("clear film", "sheet", "look")
GLOSS = Check("gloss", "sheet", "look")
MARK_REACH = Check("mark reach", "sheet", "look")
LAYOUT = Check("layout", "sheet", "blocks")

CHECKS: tuple[Check, ...] = tuple(value for value in globals().copy().values() if isinstance(value, Check))
"""All of them, in the order of work."""
