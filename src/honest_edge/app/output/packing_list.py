"""The packing list of an order: who gets which stickers from which sheet, as a table (RFC 4180)."""

from __future__ import annotations

import csv
import io
from collections import Counter
from collections.abc import Sequence

from honest_edge.app.results.design_result import DesignResult
from honest_edge.core.sheet.plan import Plan
from honest_edge.core.values.job import Job
from honest_edge.core.workshop.order_price import line_prices
from honest_edge.core.workshop.packing import PackedLine, packed, spare

PACKING_NAME = "packing-list.csv"


def laid_by_page(plan: Plan, laid: Sequence[DesignResult]) -> list[Counter[str]]:
    """Return how many of each design lie on each sheet, each print of a sheet counted once."""
    return [Counter(laid[placement.design].design.key.split("/")[0] for placement in page) for page in plan.pages]


def packed_order(job: Job, plan: Plan, laid: Sequence[DesignResult]) -> tuple[PackedLine, ...]:
    """Return the lines of a job's order with the sheets that their stickers lie on."""
    return packed(job.order, laid_by_page(plan, laid))


def order_prices(job: Job, plan: Plan, laid: Sequence[DesignResult], each: float) -> list[float]:
    """Return the price of each line of a job's order, where a piece costs ``each`` on average over its sheets."""
    counts = sum(laid_by_page(plan, laid), Counter[str]())
    areas = {result.design.key.split("/")[0]: float(result.cut.area.area) for result in laid}
    pieces = {key: (counts[key], areas.get(key, 0.0)) for key in {*counts, *(line.design for line in job.order)}}
    return line_prices(job.order, pieces, each)


def packing_csv(job: Job, plan: Plan, laid: Sequence[DesignResult]) -> bytes:
    """Return the list, sorted by whom it is for; spare stickers stand at its end."""
    names = {design.key: design.name for design in job.designs}
    out = io.StringIO(newline="")
    table = csv.writer(out)
    table.writerow(("for", "design", "quantity", "note", "sheets", "missing"))
    lines = sorted(packed_order(job, plan, laid), key=lambda one: one.line.whom.lower())
    for one in lines:
        line = one.line
        table.writerow(
            (line.whom, names.get(line.design, ""), line.quantity, line.note, sheets_words(one), one.short or "")
        )
    for design, count in spare(job.order, laid_by_page(plan, laid)).items():
        if count:
            table.writerow(("spare", names.get(design, ""), count, "", "", ""))
    return out.getvalue().encode("utf-8-sig")


def sheets_words(one: PackedLine) -> str:
    """Return which sheets a line's stickers lie on, and how many where they lie on several."""
    if len(one.sheets) == 1:
        return str(one.sheets[0][0])
    return ", ".join(f"{sheet} ({count})" for sheet, count in one.sheets)
