"""A job sealed for its run: what is printed and cut from now on comes from here, not from the job."""

from __future__ import annotations

import hashlib
import math
from collections.abc import Sequence
from dataclasses import dataclass, replace

import numpy as np
import shapely

from honest_edge.app.output.composed_sheets import ComposedSheets, composed_sheets
from honest_edge.app.output.placement import applied_of
from honest_edge.app.output.print_notes import sign_box, strip_box
from honest_edge.app.results.overview import Overview
from honest_edge.app.results.pipeline import Pipeline
from honest_edge.app.results.progress import IsCancelled, ReportProgress, never, unreported
from honest_edge.core.geometry.paths import CurveRing, Floats, as_multipolygon
from honest_edge.core.measure.target_drawing import moved_matrix
from honest_edge.core.sheet.costs import cut_seconds
from honest_edge.core.sheet.free_room import free_boxes
from honest_edge.core.sheet.plan import Placement
from honest_edge.core.values.errors import BlockedError
from honest_edge.core.values.job import Job
from honest_edge.core.values.recipe import LineSettings
from honest_edge.core.values.run_seal import (
    SealedCopy,
    SealedDesign,
    SealedLine,
    SealedOrderLine,
    SealedPage,
    SealedPass,
    SealedRun,
)
from honest_edge.core.values.specs import LineKind
from honest_edge.core.values.stock import PLAIN_PAPER
from honest_edge.core.workshop.ladder import MOST_LOOKS, SQUARES
from honest_edge.core.workshop.ladder_sheet import SMALL_MM, ladder_sheet
from honest_edge.files.cut_files import passes_of
from honest_edge.files.seal import parts_of
from honest_edge.files.sheet_page import HOME_MM, SheetPage, copy_lines, proof_order

_PLAIN_DRIES_S = 120.0  # common practice, no published source
_ROUND_COPY_MM = 2.0
_DIGITS = 6  # of a millimetre: a nanometre
_LEAST_BORNE_MM, _MOST_BORNE_MM = 0.1, 3.0


@dataclass(frozen=True, slots=True, kw_only=True)
class Circumstances:
    """What a run is sealed with beside its job.

    Attributes:
        run: names it: 32 hexadecimal digits.
        sealed_at: when, ISO 8601 in UTC.
        drying_s: that ink needs on this stock.
        is_laminated: whether sheets are laminated.
        is_practice: whether it is run on the simulated bench.
        assurance: share of runs with enough good ones from so many sheets.
        is_trial: one sheet on plain paper, before the stock that is meant.
    """

    run: str
    sealed_at: str
    drying_s: float
    is_laminated: bool = False
    is_practice: bool = False
    assurance: float | None = None
    is_trial: bool = False


@dataclass(frozen=True, slots=True, kw_only=True, eq=False)
class Sealing:
    """A sealed run, and its print file without the sheets' signs; None where nothing of ours is printed."""

    seal: SealedRun
    print_file: bytes | None


def sealed(
    overview: Overview,
    pipeline: Pipeline,
    found: Circumstances,
    *,
    report: ReportProgress = unreported,
    cancelled: IsCancelled = never,
) -> Sealing:
    """Return a job sealed as it is.

    Raises:
        ArtError, BlockedError: as for ``composed_sheets``; or a better layout is still being made.
        Cancelled: ``cancelled`` said so.
    """
    job = overview.job
    if overview.why_unwritten is not None:
        raise BlockedError(f"The run cannot begin yet: {overview.why_unwritten}")
    composed = composed_sheets(job, pipeline, report=lambda share, what: report(0.8 * share, what), cancelled=cancelled)
    report(0.8, "Sealing")
    plan, machine = composed.plan, job.sheet.machine
    print_file = None if machine.prints_own_marks else composed.print_file()
    marks = () if machine.prints_own_marks else plan.marks
    sign = None if print_file is None else sign_box(plan, job.sheet.rims_mm.bottom)
    strip = None if print_file is None else strip_box(plan, job.sheet.rims_mm.top)
    bench = job.measured_bench
    seal = SealedRun(
        run=found.run,
        title=job.title,
        sealed_at=found.sealed_at,
        job_parts=parts_of(job),
        sheet=job.sheet,
        pages=_pages(composed, job),
        designs=tuple(
            SealedDesign(
                name=result.design.name,
                wanted=result.footprint.copies,
                forecast=round(result.forecast.share_clean, _DIGITS),
                uncertainty=round(result.forecast.uncertainty, _DIGITS),
            )
            for result in composed.results
        ),
        sheets=tuple(page for page in range(len(plan.pages)) for _ in range(job.prints_of(page))),
        print_sha256="" if print_file is None else hashlib.sha256(print_file).hexdigest(),
        sign_box_mm=None if sign is None else tuple(round(edge, _DIGITS) for edge in sign),  # type: ignore[arg-type]
        strip_box_mm=None if strip is None else tuple(round(edge, _DIGITS) for edge in strip),  # type: ignore[arg-type]
        mark_names=tuple(mark.name for mark in marks),
        mark_middles_mm=tuple(_middle(mark.keep_outs) for mark in marks),
        drying_s=found.drying_s,
        is_laminated=found.is_laminated,
        bears_mm=_borne_mm(composed, job),
        measured_sheets=0 if bench is None else bench.sheets,
        is_practice=found.is_practice,
        assurance=found.assurance,
        order=_order(composed, job),
        applied=applied_of(job, pipeline, composed.results),
    )
    report(1.0, "Sealed")
    return Sealing(seal=_on_plain_paper(seal) if found.is_trial else seal, print_file=print_file)


def _on_plain_paper(seal: SealedRun) -> SealedRun:
    """Return a run of one printed sheet alone, that with the most stickers to be measured, on plain paper.

    Raises:
        BlockedError: nothing is printed, so plain paper would tell nothing.
    """
    printed = [page for page in dict.fromkeys(seal.sheets) if seal.pages[page].print_page is not None]
    page = max(printed, key=lambda page: len(seal.pages[page].copies), default=None)
    if page is None or not seal.print_sha256:
        raise BlockedError("Nothing of this job is printed from here: plain paper would tell nothing")
    return replace(
        seal,
        title=f"{seal.title}, on plain paper",
        sheet=replace(seal.sheet, stock=PLAIN_PAPER, settings=LineSettings()),
        sheets=(page,),
        designs=tuple(
            replace(design, wanted=sum(copy.design == number for copy in seal.pages[page].copies))
            for number, design in enumerate(seal.designs)
        ),
        drying_s=min(seal.drying_s, _PLAIN_DRIES_S),
        is_laminated=False,
        assurance=None,
        order=(),
        applied=(),
        trial_for=seal.sheet.stock.name,
    )


def _order(made: ComposedSheets, job: Job) -> tuple[SealedOrderLine, ...]:
    """Return the lines of a job's order whose designs lie on its sheets."""
    keys = [result.design.key.split("/")[0] for result in made.results]
    return tuple(
        SealedOrderLine(
            designs=tuple(number for number, key in enumerate(keys) if key == line.design),
            quantity=line.quantity,
            whom=line.whom,
            note=line.note,
        )
        for line in job.order
        if line.design in keys
    )


def _middle(boxes: tuple[tuple[float, float, float, float], ...]) -> tuple[float, float]:
    left, top, right, bottom = np.array(boxes).T
    x, y = (left.min() + right.max()) / 2, (top.min() + bottom.max()) / 2
    return round(float(x), _DIGITS), round(float(y), _DIGITS)


def _borne_mm(made: ComposedSheets, job: Job) -> float:
    """Return by how much print and cut may disagree before it shows on the design that bears the least."""
    rooms = [result.edge.narrowest_mm for result in made.results if result.stock is None]
    least = min((room for room in rooms if math.isfinite(room)), default=_MOST_BORNE_MM)
    return round(min(_MOST_BORNE_MM, max(_LEAST_BORNE_MM, least + job.visible_mm)), _DIGITS)


def _pages(made: ComposedSheets, job: Job) -> tuple[SealedPage, ...]:
    plan, cuts = made.plan, [result.cut for result in made.results]
    correction = job.cut_moved_by
    moved = None if correction.is_none else moved_matrix(correction, np.array([plan.width_mm, plan.height_mm]) / 2)
    printed = 0
    pages = []
    for page, placements in zip(made.pages, plan.pages, strict=True):
        copies = []
        for placement in placements:
            lines = copy_lines(placement, cuts[placement.design])
            if moved is not None:
                lines = [(kind, ring.placed(moved)) for kind, ring in lines]
            copies.append(
                SealedCopy(
                    design=placement.design,
                    turn_deg=placement.turn_deg,
                    x_mm=placement.x_mm,
                    y_mm=placement.y_mm,
                    lines=tuple(_line(kind, ring) for kind, ring in lines),
                )
            )
        pages.append(
            SealedPage(
                print_page=printed if page.is_printed else None,
                copies=tuple(copies),
                passes=_passes(page, job),
                proof_order=tuple(proof_order(plan, placements, cuts)),
                corners_mm=_corners(made, placements),
            )
        )
        printed += page.is_printed
    return tuple(pages)


def _corners(made: ComposedSheets, placements: Sequence[Placement]) -> tuple[tuple[float, float, float, float], ...]:
    """Return where a ladder of small squares finds room between the copies of a sheet."""
    clear: list[shapely.Geometry] = [shapely.box(*box) for mark in made.plan.marks for box in mark.keep_outs]
    for placement in placements:
        result = made.results[placement.design]
        around_mm = _ROUND_COPY_MM + result.design.edge.bleed_mm
        outline = shapely.buffer(result.cut.area, around_mm, quad_segs=4)
        clear.append(_on_sheet(outline, placement.matrix))
    taken = as_multipolygon(shapely.union_all(clear)) if clear else shapely.MultiPolygon()
    ladder = ladder_sheet(range(1, SQUARES + 1), SMALL_MM)
    boxes = free_boxes((ladder.width_mm, ladder.height_mm), made.plan.usable, taken, MOST_LOOKS)
    return tuple(tuple(round(side, _DIGITS) for side in box) for box in boxes)  # type: ignore[misc]


def _on_sheet(area: shapely.Geometry, matrix: Floats) -> shapely.Geometry:
    return shapely.transform(area, lambda points: points @ matrix[:, :2].T + matrix[:, 2])


def _line(kind: LineKind, ring: CurveRing) -> SealedLine:
    return SealedLine(
        kind=kind,
        cubics=tuple(np.round(ring.cubics.ravel(), _DIGITS).tolist()),
        straight="".join("01"[bool(flag)] for flag in ring.straight),
        closed=ring.closed,
    )


def ring_of(line: SealedLine) -> CurveRing:
    """Return a sealed line as a ring."""
    straight = np.array([flag == "1" for flag in line.straight], bool)
    return CurveRing(np.array(line.cubics, float).reshape(-1, 4, 2), straight, line.closed)


def _passes(page: SheetPage, job: Job) -> tuple[SealedPass, ...]:
    machine = job.sheet.cutter
    there = [kind for kind, rings in page.cuts.items() if rings]
    return tuple(
        SealedPass(
            suffix=suffix,
            kinds=kinds,
            seconds=round(cut_seconds({kind: page.cuts[kind] for kind in kinds}, machine, HOME_MM), 3),
        )
        for suffix, kinds in passes_of(there, machine)
        if kinds
    )


def machine_now(seal: SealedRun, job: Job) -> SealedRun:
    """Return a run with what may still change of its machine as the job has it.

    That is lead, overcut, formats, speeds, passes, settings, reader. Another machine changes nothing.
    """
    now, sealed_machine = job.sheet.machine, seal.sheet.machine
    if now.name != sealed_machine.name:
        return seal
    machine = replace(
        sealed_machine,
        speed_mm_s=now.speed_mm_s,
        travel_mm_s=now.travel_mm_s,
        lines=now.lines if _same_files(now.lines, sealed_machine.lines) else sealed_machine.lines,
        formats=now.formats,
        overcut_mm=now.overcut_mm,
        blade_offset_mm=now.blade_offset_mm,
        compensates=now.compensates,
        finds_marks=now.finds_marks,
    )
    settings = seal.sheet.settings if seal.trial_for else job.sheet.settings
    return replace(seal, sheet=replace(seal.sheet, machine=machine, settings=settings))


def _same_files(one: object, two: object) -> bool:
    kinds: tuple[LineKind, ...] = ("kiss", "crease", "perforate", "through")
    return all(one[kind].alone == two[kind].alone for kind in kinds)  # type: ignore[index]
