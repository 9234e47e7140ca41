"""A sheet on plain paper first: measured by its own stickers, and what follows for the stock that is meant."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace

from honest_edge.app.bench.bench_history import BenchHistory, bench_history, unmeasured
from honest_edge.app.bench.keeping import to_keep
from honest_edge.app.bench.sticker_sheets import measured_by_stickers, planned_sheet
from honest_edge.app.book.desk import BookDesk
from honest_edge.app.book.run_of_job import expected_clean
from honest_edge.app.output.composed_sheets import composed_sheets
from honest_edge.app.results.compute_overview import compute_overview
from honest_edge.app.results.overview import Overview
from honest_edge.app.results.pipeline import Pipeline
from honest_edge.app.results.progress import IsCancelled, never
from honest_edge.core.values.bench_records import BenchSubject
from honest_edge.core.values.errors import BlockedError
from honest_edge.core.values.job import Job
from honest_edge.core.values.measured import MeasuredSheet
from honest_edge.files.read_scan import Scan


@dataclass(frozen=True, slots=True, kw_only=True)
class TrialTold:
    """What a sheet on plain paper told.

    Attributes:
        sheet: as it was measured.
        sheets: on how many the bench is measured by now.
        before, after: share of the job's stickers that is expected clean, without and with this sheet.
        said: what else is to be said.
        job: with the bench as it is known now.
    """

    sheet: MeasuredSheet
    sheets: int
    before: float
    after: float
    said: tuple[str, ...]
    job: Job


def trial_told(
    overview: Overview,
    pipeline: Pipeline,
    desk: BookDesk,
    scans: Sequence[Scan],
    page: int,
    now_ms: int,
    *,
    simulated: bool = False,
    cancelled: IsCancelled = never,
) -> TrialTold:
    """Measure pictures of a plain sheet, keep that for the bench, and say what is expected of the job now.

    Args:
        overview: of the job as it was sealed.
        pipeline: that computed it.
        desk: the Book.
        scans: pictures of the one sheet, its waste lifted off.
        page: which printed sheet of the layout it is, from 0.
        now_ms: the present, in UTC milliseconds.
        simulated: whether the practice bench cut it.
        cancelled: says when to leave it.

    Raises:
        BlockedError: nothing can be measured in the pictures; says why.
        FileError: the Book cannot be read or written.
        Cancelled: ``cancelled`` said so.
    """
    job = overview.job
    sheets = composed_sheets(job, pipeline, cancelled=cancelled)
    print_file = sheets.print_file()
    if print_file is None:
        raise BlockedError("The job prints nothing that a picture could be laid over")
    planned = planned_sheet(sheets.plan, sheets.results, print_file, page, job.cut_moved_by)
    measured = measured_by_stickers(scans, planned, job.drift_mm)
    if not measured.sheets:
        raise BlockedError(". ".join(measured.warnings))
    bench = BenchSubject(machine=job.sheet.machine.name, printer=job.sheet.printer.name)
    records, said = to_keep(_history(desk, bench, job, now_ms), measured.sheets, job.drift_mm, simulated=simulated)
    desk.note(records, now_ms)
    copy = _history(desk, bench, job, now_ms).copy
    told_by = replace(job, measured=copy)
    after = compute_overview(told_by, pipeline, cancelled=cancelled)
    return TrialTold(
        sheet=measured.sheets[0],
        sheets=0 if copy is None else copy.sheets,
        before=expected_clean(overview) or 0.0,
        after=expected_clean(after) or 0.0,
        said=(*measured.warnings, *said),
        job=told_by,
    )


def _history(desk: BookDesk, bench: BenchSubject, job: Job, now_ms: int) -> BenchHistory:
    rows = desk.look_up(lambda book: [bench_history(book, bench, job.drift_mm, now_ms)], "", now_ms).rows
    return rows[0] if rows else unmeasured(bench)


def trial_words(told: TrialTold, stock: str) -> str:
    """Return what a sheet on plain paper told, and what it cannot tell."""
    across, down = told.sheet.error.shift_x_mm, told.sheet.error.shift_y_mm
    sides = "right" if across > 0 else "left", "down" if down > 0 else "up"
    shift = f"{abs(across):.2f} mm {sides[0]} and {abs(down):.2f} mm {sides[1]}"
    if told.sheets == 1:
        more = "One sheet tells the steady part, not how much the next differs."
    else:
        more = f"The bench is measured on {told.sheets} sheets now."
    return (
        f"The cut lies {shift} of the print, turned by {told.sheet.error.rotation_deg:+.2f}°. On {stock} "
        f"{100 * told.after:.0f} % are expected clean with what is known now; {100 * told.before:.0f} % were before. "
        f"{more} Plain paper does not tell how ink lies and dries on {stock}, what cuts it clean, nor how it holds to "
        "its carrier."
    )
