"""What ``check`` and ``rehearse`` write: findings and rehearsed sheets as JSON, with a published schema."""

from __future__ import annotations

from collections.abc import Iterable, Sequence

import msgspec

from honest_edge.core.values.findings import Finding, Place, Quantity, Severity, StationKey, Subject
from honest_edge.files.report import schema_of


class PlaceRecord(msgspec.Struct, frozen=True, kw_only=True):
    """A place: its middle and its box, in the art's millimetres or the sheet's (sheets counted from 0)."""

    frame: str
    page: int
    x_mm: float
    y_mm: float
    box_mm: tuple[float, float, float, float]


class FindingRecord(msgspec.Struct, frozen=True, kw_only=True):
    """One finding; ``fix`` is what a button of the window would do, ``left`` why it is left as it is."""

    check: str
    severity: Severity
    station: StationKey
    subject: Subject
    message: str
    remedy: str
    places: tuple[PlaceRecord, ...]
    measured: Quantity | None
    needed: Quantity | None
    fix: str | None
    left: str


class ProofRecord(msgspec.Struct, frozen=True, kw_only=True):
    """What was found, and whether something keeps files from being written."""

    blocked: bool
    findings: tuple[FindingRecord, ...]


class SheetRecord(msgspec.Struct, frozen=True, kw_only=True):
    """One rehearsed sheet: how many stickers came out good, and how many did not."""

    good: int
    spoiled: int


class RehearsalRecord(msgspec.Struct, frozen=True, kw_only=True):
    """A rehearsal; uncertainties are half the width of the range that the share lies in, 19 times of 20."""

    share_clean: float
    uncertainty: float
    forecast_share: float
    forecast_uncertainty: float
    sheets: tuple[SheetRecord, ...]


def proof_record(findings: Iterable[Finding], *, blocked: bool) -> ProofRecord:
    """Return findings as they are written."""
    return ProofRecord(blocked=blocked, findings=tuple(map(_finding, findings)))


def rehearsal_record(
    share: tuple[float, float], forecast: tuple[float, float], sheets: Sequence[tuple[int, int]]
) -> RehearsalRecord:
    """Return a rehearsal as it is written; shares come with their uncertainties."""
    return RehearsalRecord(
        share_clean=share[0],
        uncertainty=share[1],
        forecast_share=forecast[0],
        forecast_uncertainty=forecast[1],
        sheets=tuple(SheetRecord(good=good, spoiled=spoiled) for good, spoiled in sheets),
    )


def _finding(found: Finding) -> FindingRecord:
    return FindingRecord(
        check=found.check,
        severity=found.severity,
        station=found.station,
        subject=found.subject,
        message=found.message,
        remedy=found.remedy,
        places=tuple(map(_place, found.places)),
        measured=found.measured,
        needed=found.needed,
        fix=None if found.fix is None else found.fix.words,
        left=found.left,
    )


def _place(place: Place) -> PlaceRecord:
    x, y = place.middle_mm
    return PlaceRecord(frame=place.frame, page=place.page, x_mm=x, y_mm=y, box_mm=place.bounds_mm)


def as_json(record: ProofRecord | RehearsalRecord) -> bytes:
    """Return a record as the file that is written."""
    return msgspec.json.format(msgspec.json.encode(record), indent=2) + b"\n"


def proof_schema() -> bytes:
    """Return the schema of what ``check`` writes."""
    return schema_of(ProofRecord)


def rehearsal_schema() -> bytes:
    """Return the schema of what ``rehearse`` writes."""
    return schema_of(RehearsalRecord)
