"""The practice bench: a target printed, cut and scanned on the simulated bench, then measured like any other."""

from __future__ import annotations

import numpy as np

from honest_edge.core.geometry.paths import rings_of
from honest_edge.core.measure.mark_reading import marks_middles
from honest_edge.core.measure.sheet_error import displaced
from honest_edge.core.measure.target import PRINTED_RADIUS_MM, target_layout
from honest_edge.core.measure.target_drawing import dark_area
from honest_edge.core.values.errors import BlockedError
from honest_edge.core.values.measured import ErrorParts
from honest_edge.core.values.sheet import SheetSpec
from honest_edge.files.read_scan import Scan
from honest_edge.simulator.camera import CutTarget, scan
from honest_edge.simulator.nature import BenchNature
from honest_edge.simulator.practice_bench import PracticeBench

_PPI = 200.0
_NONE = ErrorParts()


def practised(
    sheet: SheetSpec, key: str, seed: int, *, nature: BenchNature | None = None, correction: ErrorParts = _NONE
) -> tuple[Scan, Scan]:
    """Return two scans of one target from the simulated bench, the second turned by half a turn.

    Args:
        sheet: paper and marks.
        key: names the sheet of paper.
        seed: of everything that chance decides.
        nature: of the bench; None takes the usual assumptions.
        correction: what the cut is moved by.

    Raises:
        BlockedError: the target has no room, or a mark was missed and nothing was cut.
    """
    layout = target_layout(sheet, key, correction=correction)
    planned = layout.places_mm - layout.middle_mm
    nature = nature or BenchNature()
    bench = PracticeBench(nature, seed, size_mm=sheet.size_mm, marks_mm=marks_middles(sheet))
    marks = sheet.marks
    bench.with_marks(marks.length_mm, marks.thickness_mm, is_frame=marks.kind == "frame")
    printed = bench.print_sheet()
    read = bench.read_marks(printed)
    if read.matrix is None:
        raise BlockedError("The practice bench missed a mark and cut nothing: make the marks longer or thicker")
    moved = bench.cut(printed, read, planned) + displaced(correction, planned)
    target = CutTarget(
        size_mm=sheet.size_mm,
        dark=tuple(np.asarray(ring) for ring in rings_of(dark_area(layout))),
        printed_mm=layout.places_mm,
        cut_mm=layout.places_mm + moved,
        printed_radius_mm=PRINTED_RADIUS_MM + nature.printer.dot_gain_mm,
        ragged_mm=nature.printer.ragged_mm,
    )
    return (
        Scan(name=f"practice sheet {seed}", grey=scan(target, _PPI, seed), ppi=_PPI),
        Scan(name="the same, turned", grey=scan(target, _PPI, seed + 1, turn_deg=180.0), ppi=_PPI),
    )
