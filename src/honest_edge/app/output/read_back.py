"""The written set read back: whether print and cut still fit each other, and the job."""

from __future__ import annotations

import hashlib
from collections.abc import Iterator
from pathlib import Path

import numpy as np
import shapely

from honest_edge.core.proof import register
from honest_edge.core.proof.words import counted
from honest_edge.core.values.errors import FileError
from honest_edge.core.values.findings import Finding, Fix, Place, Quantity, Subject
from honest_edge.core.values.job import Job
from honest_edge.files.job_folder import belongs_to
from honest_edge.files.read_cut import SUFFIXES, read_cut
from honest_edge.files.read_json import parsed
from honest_edge.files.read_print import PrintPage, read_print
from honest_edge.files.report import REPORT_NAME, REPORT_VERSION, Report, ReportSheet, report_bytes
from honest_edge.files.seal import seal_of

_SAME_MM = 0.05
_SEEN_LEVELS = 40.0  # a mark that stands out from its paper by less is not there
_WRITE_AGAIN = Fix(words="Write them again", visit="files")
_JOB = Subject(kind="job")


def read_back(folder: Path, job: Job | None = None) -> tuple[Finding, ...] | None:
    """Return what is wrong with the files of a folder; None where no set of ours lies there.

    Args:
        folder: where the files were written.
        job: what they were written from; None leaves out whether it was changed since.

    Raises:
        FileError: the folder cannot be read.
    """
    if not (folder / REPORT_NAME).exists():
        return None
    data = report_bytes(folder)
    try:
        report = parsed(data, Report)
    except FileError:
        return (_wrong(f"{REPORT_NAME} is damaged, or of another version than {REPORT_VERSION}"),)
    findings = [*changed_since(report, job), *_unlike_listed(folder, report)]
    if not findings:
        findings += [*_of_print(folder, report), *_of_cuts(folder, report)]
    return tuple(findings)


def changed_since(report: Report, job: Job | None) -> Iterator[Finding]:
    """Yield that a job is another one than the files were written from."""
    if job is not None and seal_of(job) != report.seal:
        yield register.CHANGED.found(
            _JOB,
            "the job was changed after these files were written, so they no longer fit what it would print",
            "write them again before anything is printed, or go back to the job as it was",
            fix=_WRITE_AGAIN,
        )


def written_before(folder: Path, job: Job) -> tuple[Finding, ...]:
    """Return that files of this job lie in a folder and no longer fit it; nothing where none do."""
    try:
        report = parsed(report_bytes(folder), Report)
    except FileError:
        return ()
    return tuple(changed_since(report, job)) if belongs_to(folder, job) else ()


def _wrong(message: str, **more: object) -> Finding:
    return register.FILES.found(_JOB, message, "write them again", fix=_WRITE_AGAIN, **more)  # type: ignore[arg-type]


def _unlike_listed(folder: Path, report: Report) -> Iterator[Finding]:
    """Yield files that are not there, or not as they were written."""
    for file in report.files:
        if Path(file.name).name != file.name:
            yield _wrong(f"{REPORT_NAME} lists a file outside its folder: {file.name}")
            continue
        try:
            data = (folder / file.name).read_bytes()
        except OSError:
            yield _wrong(f"{file.name} is missing")
            continue
        if hashlib.sha256(data).hexdigest() != file.sha256:
            yield _wrong(f"{file.name} was changed after it was written")


def _of_print(folder: Path, report: Report) -> Iterator[Finding]:
    name = next((file.name for file in report.files if file.name == "print.pdf"), None)
    if name is None:
        return
    pages = read_print((folder / name).read_bytes(), report.marks_mm)
    for number, page in enumerate(pages, 1):
        yield from _of_page(name, number, page, report)


def _of_page(name: str, number: int, page: PrintPage, report: Report) -> Iterator[Finding]:
    where = f"sheet {number} of {name}"
    if not page.is_nested:
        yield _wrong(f"the page boxes of {where} do not lie within each other (ISO 32000-2, 14.11.2)")
    for side, read, wanted in (
        ("wide", page.width_mm, report.paper_width_mm),
        ("high", page.height_mm, report.paper_height_mm),
    ):
        if abs(read - wanted) > _SAME_MM:
            yield _wrong(
                f"{where} is {read:.2f} mm {side}, and its cut file {wanted:.2f} mm",
                measured=Quantity(value=read, unit="mm"),
                needed=Quantity(value=wanted, unit="mm"),
            )
    missing = [box for box, level in zip(report.marks_mm, page.mark_levels, strict=True) if level < _SEEN_LEVELS]
    if missing:
        yield _wrong(
            f"{counted(len(missing), 'bar')} of the marks not printed on {where}",
            places=[Place(frame="sheet", geometry=shapely.box(*box), page=number - 1) for box in missing],
        )


def _of_cuts(folder: Path, report: Report) -> Iterator[Finding]:
    listed = {file.name for file in report.files}
    for sheet in report.sheets:
        by_format: dict[str, list[np.ndarray]] = {}
        for name in sheet.cut_files:
            if name in listed and Path(name).suffix.lower() in SUFFIXES:
                form = name.split(str(sheet.page), 1)[1].split("-")[-1].lstrip(".")
                held = read_cut(folder / name, report.paper_height_mm)
                by_format.setdefault(form, []).extend(held.lines)
        for form, lines in by_format.items():
            yield from _of_lines(sheet, form, lines, report)


def _of_lines(sheet: ReportSheet, form: str, lines: list[np.ndarray], report: Report) -> Iterator[Finding]:
    where = f"the cut file of sheet {sheet.page} ({form})"
    shapes = np.array([shapely.LineString(points) for points in lines], dtype=object)
    outside = [line for line in shapes if not _is_on_paper(line, report)]
    if outside:
        yield _wrong(
            f"{counted(len(outside), 'line')} of {where} beyond the paper",
            places=[Place(frame="sheet", geometry=line, page=sheet.page - 1) for line in outside],
        )
    doubled = list(_doubled(shapes))
    if doubled:
        yield _wrong(
            f"{counted(len(doubled), 'line')} of {where} there twice",
            places=[Place(frame="sheet", geometry=line, page=sheet.page - 1) for line in doubled],
        )
    if len(shapes) != sheet.cut_lines:
        yield _wrong(
            f"{where} has {counted(len(shapes), 'line')}, and {sheet.cut_lines} were planned",
            measured=Quantity(value=len(shapes), unit=""),
            needed=Quantity(value=sheet.cut_lines, unit=""),
        )


def _is_on_paper(line: shapely.LineString, report: Report) -> bool:
    left, top, right, bottom = line.bounds
    return (
        left >= -_SAME_MM
        and top >= -_SAME_MM
        and right <= report.paper_width_mm + _SAME_MM
        and bottom <= report.paper_height_mm + _SAME_MM
    )


def _doubled(lines: np.ndarray) -> Iterator[shapely.LineString]:
    """Yield lines that lie on an earlier one."""
    if len(lines) < 2:
        return
    bounds = shapely.bounds(lines)
    first, second = shapely.STRtree(lines).query(lines, predicate="intersects")
    for one, other in zip(first.tolist(), second.tolist(), strict=True):
        is_alike = one < other and np.abs(bounds[one] - bounds[other]).max() < _SAME_MM
        if is_alike and shapely.hausdorff_distance(lines[one], lines[other]) < _SAME_MM:
            yield lines[other]
