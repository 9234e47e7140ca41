"""What the room does away from the window's thread: pictures measured, sheets kept."""

from __future__ import annotations

import secrets
import time
from collections.abc import Callable, Sequence
from pathlib import Path
from typing import TYPE_CHECKING, Any

from honest_edge.core.values.bench_records import BenchSubject
from honest_edge.core.values.errors import ArtError, BlockedError, Cancelled
from honest_edge.ui.shared.host import Host

if TYPE_CHECKING:
    from honest_edge.app.bench.measuring import Measured, PictureLook
    from honest_edge.app.bench.straightened import Straightened
    from honest_edge.app.book.desk import BookDesk
    from honest_edge.app.results.progress import IsCancelled, ReportProgress
    from honest_edge.core.values.job import Job
    from honest_edge.core.values.sheet import SheetSpec
    from honest_edge.files.read_scan import Scan

Outcome = tuple[BenchSubject, "Measured", dict[str, "Straightened"], list[str]]


def measuring_work(host: Host, bench: BenchSubject, paths: Sequence[Path]) -> Callable[..., Outcome]:
    """Return the work that measures pictures and keeps what came of it."""
    assumed_mm, job, page = host.workspace.job.drift_mm, host.workspace.job, host.workspace.page
    desk = host.desk()

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
        others = [look for look in looks if look.shows_no_target]
        if job.designs and others and len(others) == len(looks):
            report(0.9, f"No target is in it: looking for the stickers of sheet {page + 1}")
            measured = _by_stickers(host, job, page, [look.scan for look in others], assumed_mm)
        else:
            measured = measured_pictures(looks, assumed_mm)
        return _kept(desk(), bench, measured, assumed_mm, _straight(looks), lost)

    return work


def _by_stickers(host: Host, job: Job, page: int, scans: Sequence[Scan], assumed_mm: float) -> Measured:
    """Measure weeded stickers of one sheet of the job."""
    from honest_edge.app.bench.measuring import Measured
    from honest_edge.app.bench.sticker_sheets import measured_by_stickers, planned_sheet
    from honest_edge.app.output.composed_sheets import composed_sheets

    try:
        sheets = composed_sheets(job, host.pipeline())
        print_file = sheets.print_file()
        if print_file is None:
            raise BlockedError("The job prints nothing that a picture could be laid over")
        planned = planned_sheet(sheets.plan, sheets.results, print_file, page, job.cut_moved_by)
    except BlockedError as error:
        return Measured(sheets=(), warnings=(str(error),))
    return measured_by_stickers(scans, planned, assumed_mm)


def practice_work(host: Host, bench: BenchSubject, sheet: SheetSpec) -> Callable[..., Outcome]:
    """Return the work that cuts a target on the practice bench and measures it."""
    assumed_mm, desk = host.workspace.job.drift_mm, host.desk()

    def work(*, report: ReportProgress, cancelled: IsCancelled) -> Outcome:
        from honest_edge.app.bench.bench_history import bench_history, unmeasured
        from honest_edge.app.bench.measuring import looked_at, measured_pictures
        from honest_edge.app.bench.practice import practised

        now_ms = time.time_ns() // 1_000_000
        history = desk().look_up(lambda book: [bench_history(book, bench, assumed_mm, now_ms)], "", now_ms).rows
        known = history[0] if history else unmeasured(bench)
        report(0.1, "Printing, cutting and scanning on the practice bench")
        key = "".join(secrets.choice("ABCDEFGHJKLMNPQRSTUVWXYZ23456789") for _ in range(8))
        scans = practised(sheet, key, len(known.rows) + 1, correction=known.correction)
        looks = [looked_at(scan) for scan in scans]
        if cancelled():
            raise Cancelled
        return _kept(
            desk(), bench, measured_pictures(looks, assumed_mm), assumed_mm, _straight(looks), [], simulated=True
        )

    return work


def keeping_work(host: Host, bench: BenchSubject, measured: Measured) -> Callable[..., Outcome]:
    """Return the work that keeps sheets that were read by eye."""
    assumed_mm, desk = host.workspace.job.drift_mm, host.desk()
    return lambda **_how: _kept(desk(), bench, measured, assumed_mm, {}, [])


def _straight(looks: Sequence[PictureLook]) -> dict[str, Straightened]:
    from honest_edge.app.bench.straightened import straightened

    straighteneds: dict[str, Straightened] = {}
    for look in looks:
        straight = straightened(look)
        if straight is not None and look.found is not None:
            straighteneds.setdefault(f"{look.found.layout.key}-{look.found.layout.sheet}", straight)
    return straighteneds


def _kept(
    desk: BookDesk,
    bench: BenchSubject,
    measured: Measured,
    assumed_mm: float,
    pictures: dict[str, Straightened],
    lost: Sequence[str],
    *,
    simulated: bool = False,
) -> Outcome:
    from honest_edge.app.bench.bench_history import bench_history, unmeasured
    from honest_edge.app.bench.keeping import to_keep

    if not measured.sheets:
        return bench, measured, pictures, list(lost)
    now_ms = time.time_ns() // 1_000_000
    history: Sequence[Any] = desk.look_up(
        lambda book: [bench_history(book, bench, assumed_mm, now_ms)], "", now_ms
    ).rows
    records, said = to_keep(
        history[0] if history else unmeasured(bench), measured.sheets, assumed_mm, simulated=simulated
    )
    desk.note(records, now_ms)
    return bench, measured, pictures, [*lost, *said]
