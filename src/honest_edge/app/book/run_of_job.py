"""What the Book keeps of a job that was cut."""

from __future__ import annotations

import secrets
from dataclasses import asdict

from honest_edge.app.book.material import cut_m, ink_cm2
from honest_edge.app.results.overview import Overview
from honest_edge.core.values.log_event import LogEvent, RunRecord
from honest_edge.files.book.store import RUN


def run_of(
    overview: Overview,
    *,
    sheets: int,
    good: int,
    bad: int,
    reason: str = "",
    blade: str = "",
    minutes: float | None = None,
    setting: str = "",
) -> RunRecord:
    """Return a run of the job that an overview is about.

    Args:
        overview: the job and what was expected of it.
        sheets: that were used.
        good: pieces that came out well.
        bad: pieces that did not.
        reason: why some were bad.
        blade: its name.
        minutes: of hands at work.
        setting: what the machine was set to.

    Raises:
        UsageError: a figure is impossible.
    """
    sheet, plan = overview.job.sheet, overview.plan
    planned = 0 if plan is None else plan.stocks.count(None)
    share = sheets / planned if planned else 0.0  # of what is planned, that was really printed and cut
    return RunRecord(
        title=overview.job.title,
        stock=sheet.stock.name,
        machine=sheet.machine.name,
        printer=sheet.printer.name,
        sheets=sheets,
        good=good,
        bad=bad,
        reason=reason.strip(),
        forecast=expected_clean(overview),
        sheet_price=sheet.stock.price,
        blade=blade.strip(),
        cut_m=cut_m(overview) * share if planned else None,
        ink_cm2=ink_cm2(overview) * share if planned else None,
        minutes=minutes,
        setting=setting.strip(),
    )


def planned_run(overview: Overview) -> RunRecord | None:
    """Return the run that a job will be if every piece comes out good; None where nothing is laid out."""
    plan = overview.plan
    if plan is None:
        return None
    pieces = sum(overview.laid[p.design].stock is None for page in plan.pages for p in page)
    return run_of(overview, sheets=plan.stocks.count(None), good=pieces, bad=0) if pieces else None


def expected_clean(overview: Overview) -> float | None:
    """Return the share of the copies that are expected clean; None where nothing is laid out."""
    if overview.plan is None:
        return None
    laid = [(result, len([1 for page in overview.plan.pages for p in page if p.design == index]))
            for index, result in enumerate(overview.laid) if result.stock is None]  # fmt: skip
    copies = sum(count for _, count in laid)
    return None if not copies else sum(result.forecast.share_clean * count for result, count in laid) / copies


def run_event(run: RunRecord, now_ms: int) -> LogEvent:
    """Return the event of a run that ended now, in UTC milliseconds."""
    return LogEvent(key=secrets.token_hex(16), at_ms=now_ms, kind=RUN, data=asdict(run))
