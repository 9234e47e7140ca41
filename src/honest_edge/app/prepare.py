"""All output files of a job, built in memory so that they can be written together."""

from __future__ import annotations

import math
from collections.abc import Sequence

from honest_edge.app.pipeline import (
    DesignResult,
    IsCancelled,
    Pipeline,
    Report,
    never,
    plan_of,
    unreported,
)
from honest_edge.core.geometry.offset import offset_area
from honest_edge.core.sheet.fit import Plan
from honest_edge.core.values.bench import MARKS_MIDDLE
from honest_edge.core.values.errors import BlockedError, Cancelled
from honest_edge.core.values.job import Design, Job
from honest_edge.files import report as reports
from honest_edge.files.kinds import drawn_kind
from honest_edge.files.sheet_page import sheet_pages
from honest_edge.files.write_assembly import assembly_svg
from honest_edge.files.write_dxf import cut_dxf
from honest_edge.files.write_pdf import VectorArt, print_pdf
from honest_edge.files.write_svg import cut_svg

_WITHIN_MM = 0.03  # vectors end a hair inside the traced edge: past it lies carried colour, never a hairline of paper
PRINT_NAME, REPORT_NAME = "print.pdf", "report.json"


def cut_name(page: int, kind: str) -> str:
    """Return the name of the cut file of sheet ``page``, counted from 1."""
    return f"cut-{page}.{kind}"


def assembly_name(number: int) -> str:
    """Return the name of the sheet that shows how the ``number``-th glued design is put together, from 1."""
    return f"assembly-{number}.svg"


def output_names(plan: Plan, job: Job) -> tuple[str, ...]:
    """Return the names of all files that preparing this plan writes."""
    pages = range(1, len(plan.pages) + 1)
    printed = (PRINT_NAME,) if None in plan.stocks else ()
    cuts = (cut_name(page, kind) for page in pages for kind in ("svg", "dxf"))
    glued = (assembly_name(number) for number in range(1, len(_glued(job)) + 1))
    return (*printed, *cuts, *glued, REPORT_NAME)


def _glued(job: Job) -> tuple[Design, ...]:
    return tuple(design for design in job.designs if any(layer.is_piece for layer in design.layers))


def prepare(
    job: Job, pipeline: Pipeline, *, report: Report = unreported, cancelled: IsCancelled = never
) -> dict[str, bytes]:
    """Return the contents of every output file by name.

    Raises:
        ArtError, BlockedError: as for ``Pipeline.result`` and ``plan_of``.
        Cancelled: ``cancelled`` said so.
    """
    if not job.designs:
        raise BlockedError("The job has no art yet: add a picture first")
    results = pipeline.results(job, report=lambda share, what: report(0.6 * share, what), cancelled=cancelled)
    plan = plan_of(results, job.sheet)
    pages = sheet_pages(plan, [result.cut for result in results])
    report(0.6, "Building the print file")
    vectors = {
        index: vector
        for index, result in enumerate(results)
        if (vector := _vector(result, pipeline.asset(result.design)))
    }
    contents = {}
    if any(page.is_printed for page in pages):
        contents[PRINT_NAME] = print_pdf(pages, [result.art for result in results], job.title, vectors)
    for number, page in enumerate(pages, 1):
        if cancelled():
            raise Cancelled
        report(0.8 + 0.2 * number / len(pages), f"Building the cut files of sheet {number}")
        contents[cut_name(number, "svg")] = cut_svg(page)
        contents[cut_name(number, "dxf")] = cut_dxf(page)
    for number, design in enumerate(_glued(job), 1):
        contents[assembly_name(number)] = assembly_svg(design.name, pipeline.assembly(design, job))
    records = reports.file_records(contents)
    contents[REPORT_NAME] = reports.report_json(_report(job, results, plan, records))
    return contents


def _vector(result: DesignResult, data: bytes | None) -> VectorArt | None:
    """Return what of a PDF page is printed as vectors: all of the art that the outline keeps."""
    design = result.design
    if data is None or drawn_kind(data) != "pdf" or design.source.region is not None:
        return None
    return VectorArt(
        data=data,
        page=design.source.page,
        width_mm=result.width_mm,
        height_mm=result.height_mm,
        area=offset_area(result.outline.area, -_WITHIN_MM),
    )


def _report(
    job: Job, results: Sequence[DesignResult], plan: Plan, files: tuple[reports.ReportFile, ...]
) -> reports.Report:
    return reports.Report(
        version=reports.REPORT_VERSION,
        title=job.title,
        paper=job.sheet.paper,
        paper_width_mm=plan.width_mm,
        paper_height_mm=plan.height_mm,
        usable_mm=(plan.usable.left, plan.usable.top, plan.usable.right, plan.usable.bottom),
        gap_mm=job.sheet.gap_mm,
        assumed_drift_mm=job.drift_mm,
        designs=tuple(_design(result, job) for result in results),
        sheets=tuple(_sheet(plan, number) for number in range(1, len(plan.pages) + 1)),
        files=files,
    )


def _sheet(plan: Plan, number: int) -> reports.ReportSheet:
    return reports.ReportSheet(
        page=number,
        cut_svg=cut_name(number, "svg"),
        cut_dxf=cut_name(number, "dxf"),
        placements=tuple(
            reports.ReportPlacement(design=p.design, quarters=p.quarters, x_mm=p.x_mm, y_mm=p.y_mm)
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
            for s in edge.spots(job.bench_error, MARKS_MIDDLE, job.visible_mm)
        ),
        findings=tuple(
            reports.ReportFinding(check=f.check, message=f.message, remedy=f.remedy) for f in result.findings
        ),
        copies=design.copies,
    )
