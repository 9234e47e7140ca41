"""What the Book knows that speaks for or against cutting a job."""

from __future__ import annotations

from honest_edge.app.book.desk import BookDesk
from honest_edge.app.results.overview import Overview
from honest_edge.core.proof.book_checks import JobFacts, bench_findings, book_findings
from honest_edge.core.values.findings import Finding
from honest_edge.core.values.job import Job


def job_facts(desk: BookDesk, job: Job, sheets: int, now_ms: int) -> JobFacts:
    """Return what the Book knows of a job's stock, its machine, and the blade that is in use.

    Args:
        desk: the Book.
        job: the job.
        sheets: how many it prints.
        now_ms: the present, in UTC milliseconds.

    Raises:
        FileError: the Book cannot be read.
    """
    worked = desk.what_worked(job.sheet.stock.name, job.sheet.machine.name, sheets, now_ms)
    blade = next((row for row in desk.blades("", now_ms).rows if row.ended is None), None)
    has_run = worked.run is not None and worked.run.run.good > 0
    is_due = blade is not None and blade.needs_a_look
    return JobFacts(
        has_setting=has_run or (worked.setting is not None and worked.setting.record.is_safe),
        blade=blade.name if blade is not None and is_due else "",
        blade_m=blade.all_m if blade is not None else 0.0,
        blade_dull=blade.dull.likely if blade is not None and blade.dull is not None else 0.0,
        on_hand=worked.on_hand,
    )


def known_findings(overview: Overview, desk: BookDesk, now_ms: int) -> tuple[Finding, ...]:
    """Return what the bench and the Book say against a job; nothing where nothing is laid out.

    Raises:
        FileError: the Book cannot be read.
    """
    job, plan = overview.job, overview.plan
    if plan is None:
        return ()
    sheets = sum(job.prints_of(page) for page, stock in enumerate(plan.stocks) if stock is None)
    return (*bench_findings(job), *book_findings(job, job_facts(desk, job, sheets, now_ms), sheets))
