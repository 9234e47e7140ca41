"""What a ruler says of a printed sheet: whether it was scaled, and by what."""

from __future__ import annotations

from dataclasses import dataclass

from honest_edge.core.values.errors import UsageError
from honest_edge.core.values.run_events import PrintVerdict
from honest_edge.core.values.sheet import SheetSpec
from honest_edge.core.values.units import MM_PER_INCH

RULER_MM = 50.0
_READ_MM = 0.5
"""A ruler is read to half a millimetre: common practice, no published source."""

_ALIKE = 0.0035  # shares of the size that a reading is told apart by
_WILD = 0.25  # farther off than this is a misreading, not a print


@dataclass(frozen=True, slots=True, kw_only=True)
class PrintReading:
    """What was read, in mm; None where it was not.

    Attributes:
        across_mm, down_mm: from outer side to outer side of the marks.
        ruler_mm: the printed ruler.
    """

    across_mm: float | None = None
    down_mm: float | None = None
    ruler_mm: float | None = None


@dataclass(frozen=True, slots=True, kw_only=True)
class PrintCheck:
    """What a reading says.

    Attributes:
        verdict: the print is true to its size; was fitted to what the printer reaches; scaled; stretched one way; the
            reading was in inches; or it is none of this print.
        scale: of the print, in shares of its size.
        tolerance_mm: by how much a reading of the longer way may be off.
    """

    verdict: PrintVerdict
    scale: float
    tolerance_mm: float


def holds(verdict: str) -> bool:
    """Whether a run may go on after this."""
    return verdict in ("true", "not measured")


def expected_mm(sheet: SheetSpec) -> tuple[float, float]:
    """Return how far it is across and down, from outer side to outer side of the marks."""
    width, height = sheet.size_mm
    return width - 2 * sheet.marks.inset_mm, height - 2 * sheet.marks.inset_mm


def fitted_scale(sheet: SheetSpec) -> float:
    """Return what a page shrinks to where a dialog fits it to what the printer reaches."""
    (width, height), rims = sheet.size_mm, sheet.rims_mm
    return min((width - rims.left - rims.right) / width, (height - rims.top - rims.bottom) / height)


def tolerance_mm(length_mm: float, bears_mm: float) -> float:
    """Return by how much a length may be off: a print that grows by a share moves its ends by half of it each.

    What the edge bears at either end counts twice for the whole; below what a ruler tells nothing is asked.
    """
    return max(_READ_MM, min(2 * bears_mm, length_mm * _ALIKE))


def checked(reading: PrintReading, sheet: SheetSpec, bears_mm: float) -> PrintCheck:
    """Return what a reading says.

    Args:
        reading: what was read.
        sheet: what was printed on.
        bears_mm: by how much print and cut may disagree before it shows.

    Raises:
        UsageError: nothing was read.
    """
    across, down = expected_mm(sheet)
    pairs = [
        (read, meant)
        for read, meant in ((reading.across_mm, across), (reading.down_mm, down), (reading.ruler_mm, RULER_MM))
        if read is not None
    ]
    if not pairs:
        raise UsageError("Nothing was read: type what the ruler says from mark to mark")
    scales = [read / meant for read, meant in pairs]
    longest_mm, scale = max((meant, read / meant) for read, meant in pairs)
    allowed = tolerance_mm(longest_mm, bears_mm)
    return PrintCheck(verdict=_verdict(pairs, scales, scale, sheet, bears_mm), scale=scale, tolerance_mm=allowed)


def _verdict(
    pairs: list[tuple[float, float]], scales: list[float], scale: float, sheet: SheetSpec, bears_mm: float
) -> PrintVerdict:
    if all(abs(read * MM_PER_INCH / meant - 1) < _WILD for read, meant in pairs):
        return "in inches"
    if any(abs(one - 1) > _WILD for one in scales):
        return "misread"
    if all(abs(read - meant) <= tolerance_mm(meant, bears_mm) for read, meant in pairs):
        return "true"
    if any(abs(read - scale * meant) > _READ_MM + _ALIKE * meant for read, meant in pairs):
        return "stretched"
    return "fitted" if abs(scale - fitted_scale(sheet)) <= _ALIKE else "scaled"
