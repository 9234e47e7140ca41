"""What the room does away from the window's thread: pictures measured, sheets kept."""

from __future__ import annotations

import secrets
import time
from collections.abc import Callable, Sequence
from pathlib import Path
from typing import TYPE_CHECKING, Any

from honest_edge.core.values.bench_records import BenchSubject
from honest_edge.core.values.errors import ArtError, Cancelled
from honest_edge.ui.station.host import Host

if TYPE_CHECKING:
    from honest_edge.app.bench.measuring import Measured, PictureLook
    from honest_edge.app.bench.straightened import Straightened
    from honest_edge.app.results.progress import IsCancelled, ReportProgress
    from honest_edge.core.values.sheet import SheetSpec

Outcome = tuple[BenchSubject, "Measured", dict[str, "Straightened"], list[str]]


def measuring_work(host: Host, bench: BenchSubject, paths: Sequence[Path]) -> Callable[..., Outcome]:
    """Return the work that measures pictures and keeps what came of it."""
    assumed_mm = host.workspace.job.drift_mm

    def work(*, report: ReportProgress, cancelled: IsCancelled) -> Outcome:
        from honest_edge.app.bench.measuring import looked_at, measured_pictures
        from honest_edge.files.read_scan import read_scan

        looks, lost = [], []
        for number, path in enumerate(paths):
            if cancelled():
                raise Cancelled
            report(number / len(paths), f"Measuring {path.name}, {number + 1} of {len(paths)}")
            try:
                looks.append(looked_at(read_scan(path)))
            except ArtError as error:
                lost.append(str(error))
        if cancelled():
            raise Cancelled
        measured = measured_pictures(looks, assumed_mm)
        return _kept(host, bench, measured, assumed_mm, _straight(looks), lost)

    return work


def practice_work(host: Host, bench: BenchSubject, sheet: SheetSpec) -> Callable[..., Outcome]:
    """Return the work that cuts a target on the practice bench and measures it."""
    assumed_mm = host.workspace.job.drift_mm

    def work(*, report: ReportProgress, cancelled: IsCancelled) -> Outcome:
        from honest_edge.app.bench.known import known_bench, unmeasured
        from honest_edge.app.bench.measuring import looked_at, measured_pictures
        from honest_edge.app.bench.practice import practised

        now_ms = time.time_ns() // 1_000_000
        found = host.desk().look_up(lambda book: [known_bench(book, bench, assumed_mm, now_ms)], "", now_ms).rows
        known = found[0] if found else unmeasured(bench)
        report(0.1, "Printing, cutting and scanning on the practice bench")
        key = "".join(secrets.choice("ABCDEFGHJKLMNPQRSTUVWXYZ23456789") for _ in range(8))
        scans = practised(sheet, key, len(known.rows) + 1, correction=known.correction)
        looks = [looked_at(scan) for scan in scans]
        if cancelled():
            raise Cancelled
        return _kept(
            host, bench, measured_pictures(looks, assumed_mm), assumed_mm, _straight(looks), [], simulated=True
        )

    return work


def kept(
    host: Host, bench: BenchSubject, measured: Measured, *, report: ReportProgress, cancelled: IsCancelled
) -> Outcome:
    """Keep sheets that were read by eye."""
    return _kept(host, bench, measured, host.workspace.job.drift_mm, {}, [])


def _straight(looks: Sequence[PictureLook]) -> dict[str, Straightened]:
    from honest_edge.app.bench.straightened import straightened

    found: dict[str, Straightened] = {}
    for look in looks:
        made = straightened(look)
        if made is not None and look.found is not None:
            found.setdefault(f"{look.found.layout.key}-{look.found.layout.sheet}", made)
    return found


def _kept(
    host: Host,
    bench: BenchSubject,
    measured: Measured,
    assumed_mm: float,
    pictures: dict[str, Straightened],
    lost: Sequence[str],
    *,
    simulated: bool = False,
) -> Outcome:
    from honest_edge.app.bench.keeping import to_keep
    from honest_edge.app.bench.known import known_bench, unmeasured

    if not measured.sheets:
        return bench, measured, pictures, list(lost)
    now_ms, desk = time.time_ns() // 1_000_000, host.desk()
    found: Sequence[Any] = desk.look_up(lambda book: [known_bench(book, bench, assumed_mm, now_ms)], "", now_ms).rows
    records, said = to_keep(found[0] if found else unmeasured(bench), measured.sheets, assumed_mm, simulated=simulated)
    desk.note(records, now_ms)
    return bench, measured, pictures, [*lost, *said]
