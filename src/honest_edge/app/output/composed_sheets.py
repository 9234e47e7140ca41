"""A job's sheets put together: what every print file, cut file and printer is given."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass, replace

import numpy as np

from honest_edge.app.output.print_notes import print_notes
from honest_edge.app.results.design_result import DesignResult
from honest_edge.app.results.own_rows import row_by_row
from honest_edge.app.results.pipeline import Pipeline
from honest_edge.app.results.progress import IsCancelled, ReportProgress, never, unreported
from honest_edge.app.results.sheet_proof import refuse_what_holds, sheet_proof
from honest_edge.core.edge.bleed import PrintArt
from honest_edge.core.geometry.offset import offset_area
from honest_edge.core.geometry.paths import CurveRing
from honest_edge.core.measure.target_drawing import moved_matrix
from honest_edge.core.proof.leaving import with_reasons
from honest_edge.core.sheet.plan import Footprint, Plan
from honest_edge.core.values.errors import BlockedError, Cancelled
from honest_edge.core.values.job import Job
from honest_edge.core.values.measured import ErrorParts
from honest_edge.core.values.specs import ArtSource, LineKind
from honest_edge.files.file_kinds import drawn_kind
from honest_edge.files.sheet_page import SheetPage, sheet_pages
from honest_edge.files.write_pdf import VectorArt, print_pdf

Lines = dict[LineKind, tuple[CurveRing, ...]]
_WITHIN_MM = 0.03  # vectors end a hair inside the traced edge: past it lies carried colour, never a hairline of paper


@dataclass(frozen=True, slots=True, kw_only=True, eq=False)
class ComposedSheets:
    """All sheets of a job.

    Attributes:
        title: of the job.
        plan: where the copies lie; each row of a table is a design of its own.
        results: of the designs, in the plan's order.
        pages: the sheets as they are printed and cut.
        vectors: by design, what is printed as vectors.
    """

    title: str
    plan: Plan
    results: tuple[DesignResult, ...]
    pages: tuple[SheetPage, ...]
    vectors: dict[int, VectorArt]

    @property
    def arts(self) -> list[PrintArt]:
        """The printed picture of each design."""
        return [result.art for result in self.results]

    @property
    def printed(self) -> list[SheetPage]:
        """The sheets that are printed; of others the pieces are only cut."""
        return [page for page in self.pages if page.is_printed]

    def print_file(self, wanted: Sequence[int] | None = None) -> bytes | None:
        """Return the print file of all printed sheets, or of some, counted from 0; None where there are none."""
        pages = self.printed if wanted is None else [self.printed[number] for number in wanted]
        return print_pdf(pages, self.arts, self.title, self.vectors) if pages else None


def _refuse_unfinished(job: Job, pipeline: Pipeline, cancelled: IsCancelled) -> None:
    for design in job.designs:
        result = pipeline.result(design, job, cancelled=cancelled)
        refuse_what_holds(with_reasons(result.findings, job.left), design.name)


def composed_sheets(
    job: Job, pipeline: Pipeline, *, report: ReportProgress = unreported, cancelled: IsCancelled = never
) -> ComposedSheets:
    """Return the sheets of a job.

    Raises:
        ArtError, BlockedError: as for ``Pipeline.result`` and ``Pipeline.plan``; or a finding blocks writing.
        Cancelled: ``cancelled`` said so.
    """
    if not job.designs:
        raise BlockedError("The job has no art yet: add a picture first")
    labels = pipeline.labels(job, report=lambda share, what: report(0.8 * share, what), cancelled=cancelled)
    report(0.8, "Laying out the sheets")
    laid = pipeline.plan([_all_rows(rows) for rows in labels], job, cancelled=cancelled)
    _refuse_unfinished(job, pipeline, cancelled)
    refuse_what_holds(with_reasons(sheet_proof(laid, [rows[0] for rows in labels], job), job.left))
    copies = [[row.footprint.copies for row in rows] for rows in labels]
    plan, results = row_by_row(laid, copies), tuple(result for rows in labels for result in rows)
    notes = print_notes(plan, job.sheet, job.title, pipeline.fonts)
    pages, moved = [], _mover(job.cut_moved_by, plan)
    for page, note in zip(sheet_pages(plan, [r.cut for r in results], job.sheet.machine), notes, strict=True):
        if cancelled():
            raise Cancelled
        pages.append(replace(page, note=note, cuts=moved(page.cuts)))
        report(0.8 + 0.2 * len(pages) / len(plan.pages), f"Putting sheet {len(pages)} together")
    return ComposedSheets(
        title=job.title,
        plan=plan,
        results=results,
        pages=tuple(pages),
        vectors={
            index: vector
            for index, result in enumerate(results)
            if not job.sheet.stock.is_mirrored and (vector := _vector(result, pipeline.asset(result.design)))
        },
    )


def _mover(correction: ErrorParts, plan: Plan) -> Callable[[Lines], Lines]:
    """Return what moves a sheet's lines against the marks; sheets that are cut alike go on sharing theirs."""
    if correction.is_none:
        return lambda lines: lines
    matrix = moved_matrix(correction, np.array([plan.width_mm, plan.height_mm]) / 2)
    known: dict[int, tuple[Lines, Lines]] = {}

    def moved(lines: Lines) -> Lines:
        if id(lines) not in known:
            placed = {kind: tuple(ring.placed(matrix) for ring in rings) for kind, rings in lines.items()}
            known[id(lines)] = lines, placed
        return known[id(lines)][1]

    return moved


def _all_rows(rows: Sequence[DesignResult]) -> Footprint:
    """Return the footprint of a design with the copies of all its rows: all are cut alike."""
    return replace(rows[0].footprint, key=rows[0].design.key, copies=sum(row.footprint.copies for row in rows))


def _vector(result: DesignResult, data: bytes | None) -> VectorArt | None:
    """Return what of a PDF page is printed as vectors: all of the art that the outline keeps.

    A page of which something is left out, whitened or set upright is printed as it was drawn, in pixels.
    """
    design = result.design
    if data is None or drawn_kind(data) != "pdf" or design.source != ArtSource(page=design.source.page):
        return None
    return VectorArt(
        data=data,
        page=design.source.page,
        width_mm=result.width_mm,
        height_mm=result.height_mm,
        area=offset_area(result.outline.area, -_WITHIN_MM),
    )
