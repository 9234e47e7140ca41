"""Pictures that are dropped while a sheet of stickers is in hand: they become stickers on it, in a grid."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path
from typing import TYPE_CHECKING, cast

from PyQt6.QtCore import QObject

from honest_edge.core.values.errors import Cancelled, HonestEdgeError
from honest_edge.ui.widgets.fields import counted

if TYPE_CHECKING:
    from honest_edge.app.edits.sheet_of_stickers import LaidSheet
    from honest_edge.app.results.design_result import DesignResult
    from honest_edge.app.results.progress import IsCancelled, ReportProgress
    from honest_edge.core.values.job import Job
    from honest_edge.ui.shared.host import Host

    _Laid = tuple[Job, LaidSheet, int, list[str]]
    """The job before, the sheet as it is laid, how many pictures came, and why others did not."""


class OntoSheet(QObject):
    """Reads, outlines and lays them away from the window's thread, as one step of undo."""

    def __init__(self, host: Host, files_in: Callable[[list[Path]], list[Path]]) -> None:
        """Take the window, and what returns the pictures among files and folders."""
        super().__init__(host.table)
        self._host, self._files_in = host, files_in
        self._task = host.new_task()
        self._task.done.connect(lambda found: self._on_laid(*cast("_Laid", found)))
        self._task.failed.connect(lambda words: host.say(words, tone="danger"))
        self._task.progress.connect(self._on_progress)

    @property
    def is_wanted(self) -> bool:
        """Whether a sheet of stickers is in hand."""
        design = self._host.workspace.design
        return design is not None and design.form is not None and design.form.kind == "sticker sheet"

    def take(self, paths: list[Path]) -> None:
        """Lay pictures on the sheet in hand, beside what lies there."""
        workspace, files = self._host.workspace, self._files_in(paths)
        sheet = workspace.design
        if sheet is None or not files:
            return
        job, holder, key = workspace.job, workspace.document.holder, sheet.key

        def work(*, report: ReportProgress, cancelled: IsCancelled) -> _Laid:
            from honest_edge.app.edits.job_holder import with_new
            from honest_edge.app.edits.open_art import design_from
            from honest_edge.app.edits.sheet_of_stickers import laid_in_grid
            from honest_edge.app.views.layer_view import layer_view
            from honest_edge.files.read_input import read_picture

            pipeline, refused, grown, came = self._host.pipeline(), [], job, 0
            results: dict[str, DesignResult] = {
                one: pipeline.result(job.design(one), job, cancelled=cancelled) for one in sheet.stickers
            }
            for number, path in enumerate(files):
                report(number / len(files), f"Reading {path.name}, {number + 1} of {len(files)}")
                if cancelled():
                    raise Cancelled
                try:
                    design = design_from(holder, grown, read_picture(path), path.name, cancelled=cancelled)
                    after = with_new(grown, [design])
                    results[after.designs[-1].key] = pipeline.result(after.designs[-1], after, cancelled=cancelled)
                except HonestEdgeError as error:
                    refused.append(str(error))
                    continue
                grown, came = after, came + 1
            boxes = layer_view(
                sheet, pipeline.layers, pipeline.stickers(sheet, job, cancelled=cancelled), job.kept_clear_mm
            ).boxes
            return job, laid_in_grid(grown, key, results, boxes), came, refused

        self._task.submit(work)

    def _on_progress(self, share: float, words: str) -> None:
        if share > 0:
            self._host.say(words, actions=[("Cancel", self._task.cancel)])

    def _on_laid(self, before: Job, laid: LaidSheet, came: int, refused: list[str]) -> None:
        workspace, document = self._host.workspace, self._host.workspace.document
        self._host.unsay()
        if before != workspace.job:
            self._host.say("The job was changed meanwhile, and nothing was laid on the sheet: drop them again")
            return
        document.edit(laid.job, f"lay {counted(came, 'picture')} on the sheet")
        grid = laid.grid
        size = workspace.size(grid.cell_mm, 0)
        words = f"{counted(came, 'picture')} on the sheet, {grid.columns} × {grid.rows}, each as large as {size} holds."
        more = f" {refused[0]}" if refused else ""
        self._host.say(words + more, tone="look" if refused else "", actions=[("Undo", document.undo_stack.undo)])
