"""The measured bench that the demo's Book holds: a spring and a summer of targets, all made up."""

from __future__ import annotations

from collections.abc import Iterator

from honest_edge.core.values.bench_records import BenchNote, BenchSubject, kept_sheet
from honest_edge.core.values.log_event import LogEvent
from honest_edge.core.values.machine import Machine
from honest_edge.core.values.measured import ErrorParts, MeasuredPlace, MeasuredSheet, parts_of
from honest_edge.core.values.printer import Printer
from honest_edge.files.book.records import CHANGED, MEASURED

_DAY_MS = 86_400_000
_REPEAT_MM = 0.045
_SHEETS: tuple[tuple[int, float, float, float, float, float], ...] = (
    (172, 0.05, -0.04, 0.012, 0.01, 0.05),
    (150, 0.02, -0.10, 0.020, 0.00, 0.04),
    (128, 0.11, -0.07, 0.016, 0.02, 0.07),
    (104, 0.17, -0.12, 0.022, -0.01, 0.05),
    (81, 0.33, -0.13, 0.027, 0.01, 0.06),
    (55, 0.23, -0.21, 0.020, 0.02, 0.05),
    (33, 0.36, -0.11, 0.031, 0.00, 0.08),
    (12, 0.30, -0.20, 0.025, 0.01, 0.06),
)
"""Days ago; shift right and down in mm, turn in degrees, wider and longer in percent."""

_CHANGES = ((139, "new blade", "no. 2 fitted"), (93, "carriage reset", "carriage reset"))
BENCH = BenchSubject(machine=Machine().name, printer=Printer().name)


def bench_events(now_ms: int) -> Iterator[LogEvent]:
    """Yield the made-up sheets and changes, as if measured by now, in UTC milliseconds."""
    for number, (days, *parts) in enumerate(_SHEETS):
        record = kept_sheet(_sheet(number, parts_of(parts)), BENCH, f"{number + 1:030x}be")
        yield MEASURED.event(record, f"{number + 1:030x}bc", now_ms - days * _DAY_MS - 5_400_000)
    for number, (days, what, remark) in enumerate(_CHANGES):
        note = BenchNote(machine=BENCH.machine, printer=BENCH.printer, what=what, remark=remark)  # type: ignore[arg-type]
        yield CHANGED.event(note, f"{number + 1:030x}bd", now_ms - days * _DAY_MS)


def _sheet(number: int, parts: ErrorParts) -> MeasuredSheet:
    import numpy as np

    from honest_edge.core.measure.sheet_error import displaced, fitted_error
    from honest_edge.core.measure.target import target_layout
    from honest_edge.core.values.sheet import SheetSpec

    layout = target_layout(SheetSpec(), "QUWTDEMA", number=number + 1)
    points = layout.places_mm - layout.middle_mm
    moved = displaced(parts, points) + np.random.default_rng(number).normal(0.0, _REPEAT_MM, points.shape)
    places = tuple(
        MeasuredPlace(x_mm=x, y_mm=y, dx_mm=dx, dy_mm=dy)
        for (x, y), (dx, dy) in zip(points.tolist(), moved.tolist(), strict=True)
    )
    error, unsure, repeat_mm, freedom = fitted_error(places)
    return MeasuredSheet(
        picture=f"target {number + 1}, two scans", by="scan", error=error, unsure=unsure, repeat_mm=repeat_mm,
        degrees_of_freedom=freedom, places=places, sheet=f"QUWTDEMA-{number + 1}",
    )  # fmt: skip
