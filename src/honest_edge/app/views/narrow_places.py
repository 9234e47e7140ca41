"""Lines with narrow places on all sheets of a layout, and what cutting them slower costs."""

from __future__ import annotations

from honest_edge.app.results.overview import Overview
from honest_edge.core.sheet.costs import NarrowLines, narrow_lines
from honest_edge.files.sheet_page import sheet_pages


def narrow_places(overview: Overview) -> NarrowLines | None:
    """Return what a layout has of them; None where there is no layout."""
    if overview.plan is None:
        return None
    sheet = overview.job.sheet
    pages = list(sheet_pages(overview.plan, [result.cut for result in overview.laid], sheet.machine))
    known = {id(page.cuts): narrow_lines(page.cuts, sheet.cutter) for page in pages}  # alike sheets share them
    every = [known[id(page.cuts)] for page in pages]
    return NarrowLines(
        narrow=sum(one.narrow for one in every),
        lines=sum(one.lines for one in every),
        more_s=sum(one.more_s for one in every),
    )
