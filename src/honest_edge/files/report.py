"""The report: what was prepared, in numbers, as JSON with a published schema (docs/report.schema.json)."""

from __future__ import annotations

import hashlib
from collections.abc import Collection, Mapping
from dataclasses import dataclass
from pathlib import Path

import msgspec

from honest_edge.core.values.errors import FileError
from honest_edge.core.values.measured import ErrorParts
from honest_edge.files.read_input import read_input
from honest_edge.files.read_json import parsed

REPORT_NAME = "report.json"
REPORT_VERSION = 5
_MOST_BYTES = 50_000_000


@dataclass(frozen=True, slots=True, kw_only=True)
class ReportSpot:
    """A place where the bench's error would show; millimetres in the art's frame."""

    trouble: str
    along_mm: float
    chance: float
    room_mm: float
    x_mm: float
    y_mm: float


@dataclass(frozen=True, slots=True, kw_only=True)
class ReportFinding:
    """Something that needs a look.

    Attributes:
        check: which check found it.
        station: where it is looked at and mended.
        severity: "blocks", "look" or "note".
        message, remedy: what it is, and what to do about it.
        boxes_mm: boxes round the places, left, top, right, bottom; in the art's frame for a design, else the sheet's.
    """

    check: str
    station: str
    severity: str
    message: str
    remedy: str
    boxes_mm: tuple[tuple[float, float, float, float], ...]


@dataclass(frozen=True, slots=True, kw_only=True)
class ReportDesign:
    """One design; lengths in millimetres, areas in square millimetres.

    ``width_mm`` and ``height_mm`` are those of the whole picture with what is empty round its art.
    """

    name: str
    file: str
    sha256: str
    notes: tuple[str, ...]
    width_px: int
    height_px: int
    stated_ppi: float
    size_source: str
    width_mm: float
    height_mm: float
    art_width_mm: float
    art_height_mm: float
    cut_width_mm: float
    cut_height_mm: float
    ppi: float
    background: str
    parts: int
    holes: int
    specks_dropped: int
    holes_filled: int
    art_area_mm2: float
    school: str
    corners: str
    line_kind: str
    offset_mm: float
    bleed_mm: float
    cut_length_mm: float
    cut_area_mm2: float
    cut_nodes: int
    narrowest_room_mm: float | None
    share_clean: float
    share_uncertainty: float
    spots: tuple[ReportSpot, ...]
    findings: tuple[ReportFinding, ...]
    copies: int


@dataclass(frozen=True, slots=True, kw_only=True)
class ReportPlacement:
    """One copy: the art turned clockwise, then its origin moved to x, y on the sheet."""

    design: int
    turn_deg: float
    x_mm: float
    y_mm: float


@dataclass(frozen=True, slots=True, kw_only=True)
class ReportSheet:
    """One sheet, the files that hold it, how many lines they hold, and what share of its usable area is sticker.

    ``prints`` is how often it is to be printed.
    """

    page: int
    cut_files: tuple[str, ...]
    cut_lines: int
    prints: int
    filled: float
    placements: tuple[ReportPlacement, ...]


@dataclass(frozen=True, slots=True, kw_only=True)
class ReportFile:
    """One written file."""

    name: str
    bytes: int
    sha256: str


@dataclass(frozen=True, slots=True, kw_only=True)
class Report:
    """The whole report.

    Attributes:
        assumed_drift_mm: what print and cut are assumed to keep, 19 times of 20, where nothing was measured.
        measured_sheets: that the error rests on; 0 where it is assumed or typed.
        cut_moved_by: what the cut files are moved by against the marks.
        marks_mm: boxes of the printed marks: left, top, right and bottom on the sheet.
        seal: names what of the job must not change between print and cut.
    """

    version: int
    title: str
    paper: str
    paper_width_mm: float
    paper_height_mm: float
    usable_mm: tuple[float, float, float, float]
    gap_mm: float
    assumed_drift_mm: float
    measured_sheets: int
    cut_moved_by: ErrorParts
    marks_mm: tuple[tuple[float, float, float, float], ...]
    seal: str
    is_mirrored: bool
    designs: tuple[ReportDesign, ...]
    sheets: tuple[ReportSheet, ...]
    findings: tuple[ReportFinding, ...]
    files: tuple[ReportFile, ...]


def report_json(report: Report) -> bytes:
    """Return the report as indented JSON."""
    return msgspec.json.format(msgspec.json.encode(report), indent=2) + b"\n"


def file_records(contents: Mapping[str, bytes]) -> tuple[ReportFile, ...]:
    """Return name, size and SHA-256 of each file."""
    return tuple(
        ReportFile(name=name, bytes=len(data), sha256=hashlib.sha256(data).hexdigest())
        for name, data in contents.items()
    )


class _Listing(msgspec.Struct):
    files: tuple[ReportFile, ...]


def leftovers(folder: Path, names: Collection[str]) -> list[str]:
    """Return the files of an earlier writing that still are as they were written, other than ``names``."""
    return [file.name for file in listed_before(folder, names) if _sha256(folder / file.name) == file.sha256]


def report_bytes(folder: Path) -> bytes:
    """Return a folder's report as it lies there.

    Raises:
        FileError: there is none, or it may not be read.
    """
    return read_input(folder / REPORT_NAME, _MOST_BYTES)


def listed_before(folder: Path, names: Collection[str]) -> list[ReportFile]:
    """Return the same without reading them: those that have the size that was written."""
    try:
        listed = parsed(report_bytes(folder), _Listing).files
    except FileError:
        return []
    plain = (file for file in listed if file.name not in names and Path(file.name).name == file.name)
    return [file for file in plain if _size(folder / file.name) == file.bytes]


def _size(path: Path) -> int | None:
    try:
        return path.stat().st_size
    except OSError:
        return None


def _sha256(path: Path) -> str | None:
    try:
        return hashlib.sha256(path.read_bytes()).hexdigest()
    except OSError:
        return None


def report_schema() -> bytes:
    """Return the JSON schema of the report."""
    return schema_of(Report)


def schema_of(kind: type) -> bytes:
    """Return the JSON schema (draft 2020-12) of a value type, indented."""
    schema = {"$schema": "https://json-schema.org/draft/2020-12/schema", **msgspec.json.schema(kind)}
    return msgspec.json.format(msgspec.json.encode(schema), indent=2) + b"\n"
