"""Writes a job's files together, in the background."""

from __future__ import annotations

from collections.abc import Sequence
from pathlib import Path
from typing import TYPE_CHECKING

from PyQt6.QtWidgets import QMessageBox, QWidget

from honest_edge.core.values.errors import BlockedError, Cancelled

if TYPE_CHECKING:
    from honest_edge.app.results.overview import Overview
    from honest_edge.app.results.pipeline import Pipeline
    from honest_edge.app.results.progress import IsCancelled, ReportProgress
    from honest_edge.core.values.findings import Finding
    from honest_edge.core.values.job import Job
    from honest_edge.core.values.units import Unit
    from honest_edge.ui.shared.tasks import LatestOnly

_MOST_NAMED = 4


def start_writing(
    parent: QWidget, folder: Path, job: Job, overview: Overview, pipeline: Pipeline, task: LatestOnly, unit: Unit
) -> bool:
    """Ask before files are replaced, then write in a task, which is done with the folder and the number of files.

    Returns:
        Whether writing was started.
    """
    from honest_edge.app.output.prepare_files import output_names, prepare  # loaded by now: there is a plan
    from honest_edge.files.atomic_write import existing, write_set
    from honest_edge.files.report import leftovers, listed_before

    assert overview.plan is not None
    names = output_names(overview.plan, job, overview.laid)
    taken, stale = existing(folder, names), [file.name for file in listed_before(folder, names)]
    if taken and not ask_to_replace(parent, folder, taken, stale):
        return False

    def work(*, report: ReportProgress, cancelled: IsCancelled) -> tuple[Path, int, tuple[Finding, ...]]:
        from honest_edge.app.output.read_back import read_back

        contents = prepare(job, pipeline, unit=unit, report=report, cancelled=cancelled)
        if cancelled():
            raise Cancelled
        if set(contents) != set(names):  # what was asked about was the layout before the last change
            raise BlockedError("The job changed meanwhile and needs other files now: nothing was written, try again")
        write_set(folder, contents, replace=True, stale=leftovers(folder, names))
        report(1.0, "Reading them back")
        return folder, len(contents), read_back(folder, job) or ()

    task.submit(work)
    return True


def ask_to_replace(parent: QWidget, folder: Path, taken: Sequence[str], stale: Sequence[str] = ()) -> bool:
    """Ask before files are replaced, and those of an earlier writing that are no part of this one go."""
    words = f"{folder} already holds {_listed(taken)} of this job. Replace {'them' if len(taken) > 1 else 'it'}?"
    if stale:
        words += f"\n\nTaken away, as no part of it any more: {_listed(stale)}."
    both, safe = QMessageBox.StandardButton.Yes | QMessageBox.StandardButton.No, QMessageBox.StandardButton.No
    answer = QMessageBox.question(parent, "Replace files?", words, both, safe)
    return answer == QMessageBox.StandardButton.Yes


def _listed(names: Sequence[str]) -> str:
    """Return up to four names, and how many more there are."""
    more = len(names) - _MOST_NAMED
    return ", ".join(names[:_MOST_NAMED]) + (f" and {more} more" if more > 0 else "")
