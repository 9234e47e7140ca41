"""What the job ticket says, from the job and what was computed of it."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace
from typing import get_args

from honest_edge.app.output.placement import applied_ways, placement_name
from honest_edge.app.output.print_notes import RULER_MM
from honest_edge.app.results.design_result import DesignResult, printed_kinds
from honest_edge.app.results.stock_pieces import assembly_order
from honest_edge.core.proof.leaving import with_reasons
from honest_edge.core.proof.sheet_checks import sheet_findings
from honest_edge.core.sheet.costs import cut_seconds, stock_cost
from honest_edge.core.sheet.plan import Plan
from honest_edge.core.values.cautions import of_job
from honest_edge.core.values.findings import Finding
from honest_edge.core.values.job import Job
from honest_edge.core.values.papers import is_letter
from honest_edge.core.values.specs import LineKind
from honest_edge.core.values.units import Unit, duration, in_unit
from honest_edge.core.workshop.applying import TAPE_LIFTS_INK
from honest_edge.core.workshop.setting_words import setting_words
from honest_edge.files.job_ticket import MOST_PICTURES, TicketSection, sheet_picture, ticket_pdf
from honest_edge.files.sheet_page import HOME_MM, SheetPage

_MOST_CAUTIONS = 8
_DONE: dict[LineKind, str] = {
    "kiss": "kiss cut: through the stock, not through its liner",
    "crease": "crease: pressed, not cut",
    "perforate": "perforation: cut with ties left",
    "through": "through cut: all the way",
}


def job_ticket(
    job: Job,
    results: Sequence[DesignResult],
    plan: Plan,
    pages: Sequence[SheetPage],
    print_file: bytes | None,
    cut_names: Sequence[str],
    unit: Unit = "mm",
) -> bytes:
    """Return the ticket of a job.

    Args:
        job: the job.
        results: what the layout's numbers stand for.
        plan: the layout.
        pages: its sheets.
        print_file: the print as PDF; None where nothing is printed.
        cut_names: the files that the machine takes.
        unit: in which its lengths are told.
    """
    machine = job.sheet.machine
    printed = [sum(stock is None for stock in plan.stocks[:number]) for number in range(len(pages))]
    shown = list(zip(pages, printed, strict=True))[:MOST_PICTURES]
    pictures = [sheet_picture(page, print_file, number, machine) for page, number in shown]
    sheets = f"{len(pages)} sheet{'s' if len(pages) != 1 else ''}"
    size = f"{plan.width_mm:.1f} × {plan.height_mm:.1f} mm"
    return ticket_pdf(
        job.title,
        in_unit(f"{plan.copies} stickers on {sheets} of {job.sheet.paper_title} ({size})", unit),
        pictures,
        [
            replace(section, lines=tuple(in_unit(line, unit) for line in section.lines))
            for section in _sections(job, results, plan, pages, cut_names)
            if section.lines
        ],
        unshown=len(pages) - len(shown),
        is_letter=is_letter(job.sheet.paper),
    )


def _sections(
    job: Job, results: Sequence[DesignResult], plan: Plan, pages: Sequence[SheetPage], cut_names: Sequence[str]
) -> list[TicketSection]:
    return [
        TicketSection(heading="What is made", lines=tuple(_counts(results, plan))),
        TicketSection(heading="Print", lines=_print_lines(job, plan)),
        TicketSection(heading="Measure with a ruler before cutting", lines=tuple(_check_lines(job, plan))),
        TicketSection(heading="Cut", lines=tuple(_cut_lines(job, pages, cut_names))),
        TicketSection(heading="Glue, back to front", lines=tuple(_glue_lines(job))),
        TicketSection(heading="Put it on", lines=tuple(_applied_lines(job, results))),
        TicketSection(heading="Look out", lines=tuple(cautions(job, results))),
        TicketSection(heading="Be careful", lines=tuple(f"{what}. {how}" for what, how in of_job(job.sheet.stock))),
    ]


def _counts(results: Sequence[DesignResult], plan: Plan) -> list[str]:
    lines = []
    for number, result in enumerate(results):
        if plan.count(number):
            left, top, right, bottom = result.cut.area.bounds
            lines.append(f"{plan.count(number)} × {result.design.name}, {right - left:.1f} × {bottom - top:.1f} mm")
    return lines


_MIRRORED = "Print and cut are mirrored already, as this stock is seen from behind: words read backwards."


def _print_lines(job: Job, plan: Plan) -> tuple[str, ...]:
    if None not in plan.stocks:
        return ("Nothing is printed: all is cut from coloured stock.",)
    machine, box, mirrored = job.sheet.machine, plan.usable, job.sheet.stock.is_mirrored
    if machine.prints_own_marks:
        size = f"{box.width:.1f} × {box.height:.1f} mm"
        how = f"By the machine’s own program, which adds the marks: type in {size} for every part."
    else:
        how = "At 100 %, no scaling, never “fit to page”, at best quality. The driver turns sRGB into its inks."
    return (
        f"{job.sheet.printer.name}, {job.sheet.paper_title}, {job.sheet.stock.name}{_priced(plan, job)}.",
        how,
        *((_MIRRORED,) if mirrored else ()),
        *_often_lines(job, plan),
        "Let the ink dry. After printing change nothing in the job: print and cut must match.",
    )


def _often_lines(job: Job, plan: Plan) -> list[str]:
    """Return which sheets are printed more than once, so that enough stickers come out good."""
    often = [
        f"sheet {page + 1} {job.prints_of(page)} times"
        for page, stock in enumerate(plan.stocks)
        if stock is None and job.prints_of(page) > 1
    ]
    return [f"Print {', '.join(often)}: what fails on one sheet is on the next."] if often else []


def _priced(plan: Plan, job: Job) -> str:
    cost = stock_cost(plan, job.sheet)
    return "" if cost is None else f"; stock for {cost:.2f}"


def _check_lines(job: Job, plan: Plan) -> list[str]:
    if None not in plan.stocks or job.sheet.machine.prints_own_marks:
        return []
    inset = job.sheet.marks.inset_mm
    across, down = plan.width_mm - 2 * inset, plan.height_mm - 2 * inset
    return [
        f"The ruler below the art: {RULER_MM:g} mm.",
        f"Marks, from outer side to outer side: {across:.1f} mm across, {down:.1f} mm down.",
    ]


def _cut_lines(job: Job, pages: Sequence[SheetPage], cut_names: Sequence[str]) -> list[str]:
    machine = job.sheet.cutter
    lines = [f"{machine.name}; the {machine.feed_side} edge goes in first. Files: {', '.join(cut_names)}."]
    seconds = {id(page.cuts): cut_seconds(page.cuts, machine, HOME_MM) for page in pages}  # alike sheets share them
    total = sum(seconds[id(page.cuts)] for page in pages)
    lines.append(f"At {machine.speed_mm_s:g} mm/s all sheets take {duration(total)} at least, all passes counted.")
    there = {kind for page in pages for kind, rings in page.cuts.items() if rings}
    for kind in (kind for kind in get_args(LineKind) if kind in there):
        passes = machine.lines[kind].passes
        depth = f" ({job.sheet.stock.thickness_mm:g} mm)" if kind in ("kiss", "through") else ""
        setting = job.sheet.settings[kind]
        set_to = "" if setting is None else setting_words(replace(setting, passes=None))
        said = f"; set to {set_to}" if set_to else ""
        lines.append(f"{_DONE[kind].capitalize()}{depth}{said}; {passes} pass{'es' if passes > 1 else ''}.")
    if machine.compensates:
        lines.append(
            f"The files lead a tip that trails by {machine.blade_offset_mm:g} mm: switch that off in the machine."
        )
    if machine.overcut_mm:
        lines.append(f"Cuts run {machine.overcut_mm:g} mm past their start.")
    lines += _moved_lines(job)
    if not machine.prints_own_marks:
        lines.append("The sticker farthest from the marks is cut first: look at it before the rest is cut.")
    return lines


def _moved_lines(job: Job) -> list[str]:
    """Return that the cut was moved for the bench, and by what: whoever measures by hand would wonder."""
    moved = job.cut_moved_by
    if moved.is_none:
        return []
    shift = f"{moved.shift_x_mm:+.2f} mm across, {moved.shift_y_mm:+.2f} mm down"
    wider, longer = moved.scale_x_percent, moved.scale_y_percent
    rest = f"turned {moved.rotation_deg:+.3f}°, {wider:+.3f} % wider, {longer:+.3f} % longer"
    return [f"The cut is moved against the marks for this bench, as it was measured: {shift}, {rest}."]


def _glue_lines(job: Job) -> list[str]:
    return [
        f"{design.name}: " + ", ".join(f"{number} {name}" for number, (_, name) in enumerate(assembly_order(design), 1))
        for design in job.designs
        if any(layer.is_piece for layer in design.layers)
    ]


def _applied_lines(job: Job, results: Sequence[DesignResult]) -> list[str]:
    """Return which placement sheet belongs to which design."""
    ways = applied_ways(job, results)
    lines = [f"{design.name}: {placement_name(number)}" for number, (design, _, _) in enumerate(ways, 1)]
    return [*lines, TAPE_LIFTS_INK] if any(way == "parts" for _, way, _ in ways) else lines


def cautions(job: Job, results: Sequence[DesignResult]) -> list[str]:
    """Return what to look out for, and what was left for a reason."""
    of_sheets = with_reasons(sheet_findings(job.sheet, printed_kinds(results)), job.left)
    cautions_said = [_with_reason(finding.advice, finding) for finding in of_sheets]
    for result in results:
        of_design = with_reasons(result.findings, job.left)
        cautions_said += [_with_reason(f"{result.design.name}: {finding.words}", finding) for finding in of_design]
    more = len(cautions_said) - _MOST_CAUTIONS
    return cautions_said if more <= 0 else [*cautions_said[:_MOST_CAUTIONS], f"and {more} more, see report.json"]


def _with_reason(words: str, finding: Finding) -> str:
    return f"{words} Left as it is: {finding.left}." if finding.left else words
