"""Every label of a table as it lies on its sheet: rows are dealt to copies in the order of the sheets."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace
from itertools import accumulate

from honest_edge.app.results.design_result import DesignResult
from honest_edge.app.results.overview import Overview
from honest_edge.app.results.pipeline import Pipeline
from honest_edge.app.results.progress import IsCancelled, never
from honest_edge.core.sheet.plan import Plan

Laid = tuple[Plan, tuple[DesignResult, ...]]
"""A layout, and what its numbers stand for."""


def row_by_row(plan: Plan, copies: Sequence[Sequence[int]]) -> Plan:
    """Return a plan with each row of a table as a design of its own, in the order of the sheets.

    Args:
        plan: in which all rows of a table are one design.
        copies: for each design how many of each of its rows are made; what is laid beyond them shows the first row.
    """
    first = [0, *accumulate(len(rows) for rows in copies)]
    dealt = [
        iter([at + row for row, count in enumerate(rows) for _ in range(count)])
        for at, rows in zip(first[:-1], copies, strict=True)
    ]
    pages = tuple(tuple(replace(p, design=next(dealt[p.design], first[p.design])) for p in page) for page in plan.pages)
    return replace(plan, pages=pages)


def labelled(overview: Overview, page: int, pipeline: Pipeline, *, cancelled: IsCancelled = never) -> Laid:
    """Return a layout in which the copies of one page, counted from 0, show their own rows.

    Raises:
        BlockedError: a row cannot be made, or nothing is laid out.
        Cancelled: ``cancelled`` said so.
    """
    plan, laid, job = overview.plan, overview.laid, overview.job
    assert plan is not None
    rows = [result.design.table.kept if result.design.table else (0,) for result in laid]
    each = [result.footprint.copies // len(of) for result, of in zip(laid, rows, strict=True)]
    dealt = row_by_row(plan, [[count] * len(of) for count, of in zip(each, rows, strict=True)])
    shown = {placement.design for placement in dealt.pages[page]}
    labels: list[DesignResult] = []
    for result, of in zip(laid, rows, strict=True):
        wanted = [row for number, row in enumerate(of, len(labels)) if number in shown]
        own = pipeline.row_labels(overview.results[result.design.key], wanted, job, cancelled=cancelled)
        labels += [own.get(row, result) for row in of]
    return dealt, tuple(labels)
