"""A cut file held against a sheet."""

from __future__ import annotations

from dataclasses import dataclass
from pathlib import Path

from honest_edge.app.results.overview import Overview
from honest_edge.core.geometry.paths import Floats
from honest_edge.core.sheet.line_distance import greatest_distance_mm
from honest_edge.core.values.errors import BlockedError
from honest_edge.files.read_cut import read_cut
from honest_edge.files.sheet_page import sheet_pages


@dataclass(frozen=True, slots=True, kw_only=True, eq=False)
class CutComparison:
    """A cut file over a sheet.

    Attributes:
        name: of the file.
        lines: its lines in sheet millimetres.
        page: the sheet that it lies nearest to, from 0.
        distance_mm: how far its lines and that sheet's are apart at most.
    """

    name: str
    lines: tuple[Floats, ...]
    page: int
    distance_mm: float


def compare_cut(path: Path, overview: Overview) -> CutComparison:
    """Return a cut file over the sheet that it lies nearest to.

    Raises:
        BlockedError: there is no layout.
        FileError: the file cannot be read.
    """
    if overview.plan is None:
        raise BlockedError("There is no sheet to hold it against yet")
    comparison = read_cut(path, overview.plan.height_mm)
    pages = sheet_pages(overview.plan, [result.cut for result in overview.laid], overview.job.sheet.machine)
    apart = [
        greatest_distance_mm(comparison.lines, [ring for rings in page.cuts.values() for ring in rings])
        for page in pages
    ]
    nearest = min(range(len(apart)), key=apart.__getitem__)
    return CutComparison(name=comparison.name, lines=comparison.lines, page=nearest, distance_mm=apart[nearest])
