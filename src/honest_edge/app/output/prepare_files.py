"""All output files of a job, built in memory so that they can be written together."""

from __future__ import annotations

import math
from collections.abc import Iterator, Sequence

from honest_edge.app.output.composed_sheets import ComposedSheets, composed_sheets
from honest_edge.app.output.packing_list import PACKING_NAME, packing_csv
from honest_edge.app.output.placement import applied_of, applied_ways, placement_files, placement_name
from honest_edge.app.output.ticket_text import job_ticket
from honest_edge.app.results.design_result import DesignResult, printed_kinds
from honest_edge.app.results.pipeline import Pipeline
from honest_edge.app.results.progress import IsCancelled, ReportProgress, never, unreported
from honest_edge.core.proof.sheet_checks import sheet_findings
from honest_edge.core.sheet.plan import Placement, Plan
from honest_edge.core.values.errors import Cancelled
from honest_edge.core.values.findings import Finding
from honest_edge.core.values.job import Design, Job
from honest_edge.core.values.machine import Machine
from honest_edge.core.values.misregistration import MARKS_MIDDLE
from honest_edge.core.values.papers import is_letter
from honest_edge.core.values.specs import LineKind
from honest_edge.core.values.units import Unit
from honest_edge.files import report as reports
from honest_edge.files.cut_files import cut_files, cut_names
from honest_edge.files.handoff import handoff_files, handoff_names
from honest_edge.files.print_png import page_png
from honest_edge.files.seal import seal_of
from honest_edge.files.write_assembly import assembly_svg

PRINT_NAME, TICKET_NAME = "print.pdf", "ticket.pdf"


def assembly_name(number: int) -> str:
    """Return the name of the sheet that shows how the ``number``-th glued design is put together, from 1."""
    return f"assembly-{number}.svg"


def output_names(plan: Plan, job: Job, laid: Sequence[DesignResult]) -> tuple[str, ...]:
    """Return the names of all files that preparing this plan of what is ``laid`` writes."""
    machine = job.sheet.machine
    printed: tuple[str, ...] = ()
    if None in plan.stocks and not machine.prints_own_marks:
        printed = _print_names(plan, job)
    cuts = [name for number in range(1, len(plan.pages) + 1) for name in _sheet_names(plan, number, machine, laid)]
    glued = (assembly_name(number) for number in range(1, len(_glued(job)) + 1))
    packing = (PACKING_NAME,) if job.order else ()
    placed = (placement_name(number) for number in range(1, len(applied_ways(job, laid)) + 1))
    return (*printed, *cuts, *glued, *placed, *packing, TICKET_NAME, reports.REPORT_NAME)


def _print_names(plan: Plan, job: Job) -> tuple[str, ...]:
    if job.png_ppi is None:
        return (PRINT_NAME,)
    return tuple(png_name(number) for number in range(1, plan.stocks.count(None) + 1))


def png_name(number: int) -> str:
    """Return the name of the ``number``-th printed sheet as a picture, counted from 1."""
    return f"print-{number}.png"


def _sheet_names(plan: Plan, number: int, machine: Machine, laid: Sequence[DesignResult]) -> list[str]:
    kinds = _kinds(plan.pages[number - 1], laid)
    if machine.prints_own_marks:
        return handoff_names(number, kinds, plan.usable, is_printed=plan.stocks[number - 1] is None)
    return cut_names(number, kinds, machine)


def _kinds(page: Sequence[Placement], laid: Sequence[DesignResult]) -> set[LineKind]:
    return {path.kind for design in {p.design for p in page} for path in laid[design].cut.all_paths}


def _glued(job: Job) -> tuple[Design, ...]:
    return tuple(design for design in job.designs if any(layer.is_piece for layer in design.layers))


def prepare(
    job: Job,
    pipeline: Pipeline,
    *,
    unit: Unit = "mm",
    report: ReportProgress = unreported,
    cancelled: IsCancelled = never,
) -> dict[str, bytes]:
    """Return the contents of every output file by name; the ticket's lengths are in ``unit``.

    Raises:
        ArtError, BlockedError: as for ``composed_sheets``.
        Cancelled: ``cancelled`` said so.
    """
    sheets = composed_sheets(job, pipeline, report=lambda share, what: report(0.6 * share, what), cancelled=cancelled)
    report(0.6, "Building the print file")
    print_file, machine = sheets.print_file(), job.sheet.cutter
    contents: dict[str, bytes] = {}
    if print_file is not None and not machine.prints_own_marks:
        contents |= _printed(print_file, sheets.plan, job)
    for number, files in enumerate(_cut(sheets, machine), 1):
        contents |= files
        if cancelled():
            raise Cancelled
        report(0.8 + 0.2 * number / len(sheets.pages), f"Building the cut files of sheet {number}")
    for number, design in enumerate(_glued(job), 1):
        contents[assembly_name(number)] = assembly_svg(design.name, pipeline.assembly(design, job))
    if cancelled():
        raise Cancelled
    plan, results = sheets.plan, sheets.results
    applied = applied_of(job, pipeline, results)
    contents |= placement_files(applied, is_letter=is_letter(job.sheet.paper), unit=unit)
    if job.order:
        contents[PACKING_NAME] = packing_csv(job, plan, results)
    cut = [name for number in range(1, len(plan.pages) + 1) for name in _sheet_names(plan, number, machine, results)]
    contents[TICKET_NAME] = job_ticket(job, results, plan, sheets.pages, print_file, cut, unit)
    records = reports.file_records(contents)
    contents[reports.REPORT_NAME] = reports.report_json(_report(job, sheets, records))
    return contents


def _cut(sheets: ComposedSheets, machine: Machine) -> Iterator[dict[str, bytes]]:
    """Yield the files that the machine takes, sheet by sheet."""
    if not machine.prints_own_marks:
        yield from map(dict, cut_files(sheets.pages, machine))
        return
    for number, page in enumerate(sheets.pages, 1):
        yield dict(handoff_files(page, number, sheets.plan.usable, machine, sheets.arts, sheets.vectors))


def _printed(print_file: bytes, plan: Plan, job: Job) -> dict[str, bytes]:
    if job.png_ppi is None:
        return {PRINT_NAME: print_file}
    return {
        png_name(number): page_png(print_file, number - 1, job.png_ppi)
        for number in range(1, plan.stocks.count(None) + 1)
    }


def _report(job: Job, made: ComposedSheets, files: tuple[reports.ReportFile, ...]) -> reports.Report:
    results, plan = made.results, made.plan
    return reports.Report(
        version=reports.REPORT_VERSION,
        title=job.title,
        paper=job.sheet.paper,
        paper_width_mm=plan.width_mm,
        paper_height_mm=plan.height_mm,
        usable_mm=(plan.usable.left, plan.usable.top, plan.usable.right, plan.usable.bottom),
        gap_mm=job.sheet.gap_mm,
        is_mirrored=job.sheet.stock.is_mirrored,
        assumed_drift_mm=job.drift_mm,
        measured_sheets=0 if job.measured_bench is None else job.measured_bench.sheets,
        cut_moved_by=job.cut_moved_by,
        designs=tuple(_design(result, job) for result in results),
        marks_mm=() if job.sheet.machine.prints_own_marks else tuple(_mark_boxes(plan)),
        seal=seal_of(job),
        sheets=tuple(_sheet(made, number, job) for number in range(1, len(plan.pages) + 1)),
        findings=tuple(map(_finding, sheet_findings(job.sheet, printed_kinds(results)))),
        files=files,
    )


def _finding(found: Finding) -> reports.ReportFinding:
    return reports.ReportFinding(
        check=found.check,
        station=found.station,
        severity=found.severity,
        message=found.message,
        remedy=found.remedy,
        boxes_mm=tuple(place.bounds_mm for place in found.places),
    )


def _mark_boxes(plan: Plan) -> Iterator[tuple[float, float, float, float]]:
    for mark in plan.marks:
        yield from mark.bars
        if mark.disc is not None:
            x, y, radius = mark.disc
            inner = radius / math.sqrt(2)
            yield x - inner, y - inner, x + inner, y + inner


def _sheet(made: ComposedSheets, number: int, job: Job) -> reports.ReportSheet:
    plan, results = made.plan, made.results
    return reports.ReportSheet(
        page=number,
        cut_files=tuple(_sheet_names(plan, number, job.sheet.machine, results)),
        cut_lines=sum(map(len, made.pages[number - 1].cuts.values())),
        prints=job.prints_of(number - 1),
        filled=plan.filled[number - 1],
        placements=tuple(
            reports.ReportPlacement(design=p.design, turn_deg=p.turn_deg, x_mm=p.x_mm, y_mm=p.y_mm)
            for p in plan.pages[number - 1]
        ),
    )


def _design(result: DesignResult, job: Job) -> reports.ReportDesign:
    design, outline, edge = result.design, result.outline, result.edge
    return reports.ReportDesign(
        name=design.name,
        file=design.file_name,
        sha256=design.asset,
        notes=result.artwork.notes,
        width_px=result.artwork.width_px,
        height_px=result.artwork.height_px,
        stated_ppi=result.artwork.stated_ppi,
        size_source=result.artwork.size_source,
        width_mm=result.width_mm,
        height_mm=result.height_mm,
        art_width_mm=result.art_size_mm[0],
        art_height_mm=result.art_size_mm[1],
        cut_width_mm=result.cut_size_mm[0],
        cut_height_mm=result.cut_size_mm[1],
        ppi=result.ppi,
        background=result.subject.method,
        parts=outline.part_count,
        holes=outline.hole_count,
        specks_dropped=outline.dropped_specks,
        holes_filled=outline.filled_holes,
        art_area_mm2=outline.area.area,
        school=design.edge.school,
        corners=design.edge.corners,
        line_kind=design.edge.line_kind,
        offset_mm=design.edge.offset_mm,
        bleed_mm=design.edge.bleed_mm,
        cut_length_mm=edge.length_mm,
        cut_area_mm2=result.cut.area.area,
        cut_nodes=result.cut.node_count,
        narrowest_room_mm=edge.narrowest_mm if math.isfinite(edge.narrowest_mm) else None,
        share_clean=result.forecast.share_clean,
        share_uncertainty=result.forecast.uncertainty,
        spots=tuple(
            reports.ReportSpot(
                trouble=s.trouble, along_mm=s.along_mm, chance=s.chance, room_mm=s.room_mm, x_mm=s.x_mm, y_mm=s.y_mm
            )
            for s in edge.weak_places(job.misregistration, MARKS_MIDDLE, job.visible_mm)
        ),
        findings=tuple(map(_finding, result.findings)),
        copies=design.copies,
    )
