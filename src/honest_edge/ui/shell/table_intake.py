"""A table that is dropped anywhere: a form in hand takes it, else labels are made of it."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path
from typing import TYPE_CHECKING, cast

from PyQt6.QtCore import QObject

from honest_edge.core.values.forms import PRESETS
from honest_edge.core.values.job import Design

if TYPE_CHECKING:
    from honest_edge.app.results.progress import IsCancelled, ReportProgress
    from honest_edge.core.values.job import Job
    from honest_edge.core.values.layers import Picture
    from honest_edge.core.values.tables import Table
    from honest_edge.ui.shared.host import Host

    _Made = tuple[Job, Job, str, str]
    """The job before and with the table, what to say, and where to go then: a station, or "new" designs."""

TABLE_SUFFIXES = (".csv", ".tsv")
_LABEL = next(preset for preset in PRESETS if preset.name == "Square label")


class TableIntake(QObject):
    """Reads the table, and pictures that it names, away from the window's thread."""

    def __init__(self, host: Host, show_design: Callable[[Design, bool], object]) -> None:
        """Take the window, and what takes a design in hand and is told whether it was made from nothing."""
        super().__init__(host.table)
        self._host, self._show_design = host, show_design
        self._task = host.new_task()
        self._task.done.connect(lambda found: self._on_made(*cast("_Made", found)))
        self._task.failed.connect(lambda words: host.say(words, tone="danger"))

    def take(self, path: Path) -> None:
        """Fill the form in hand with a table, or make labels of it."""
        workspace = self._host.workspace
        job, design, holder = workspace.job, workspace.design, workspace.document.holder
        is_form = design is not None and design.form is not None and design.form.kind != "sticker sheet"

        def picture_of(cell: str) -> Picture | None:
            from honest_edge.app.edits.open_art import picture_from
            from honest_edge.files.read_input import read_picture

            file = path.parent / Path(cell.strip()).name  # beside the table, and nowhere else
            return picture_from(holder, read_picture(file), file.name) if file.is_file() else None

        def work(*, report: ReportProgress, cancelled: IsCancelled) -> _Made:
            from honest_edge.app.edits.job_holder import with_new
            from honest_edge.app.edits.orders import is_order, ordered_by_table
            from honest_edge.app.edits.table_roles import roles_of
            from honest_edge.app.edits.tabled import pictured_designs, table_words, tabled_design, with_table
            from honest_edge.files.read_input import read_input
            from honest_edge.files.read_table import MOST_TABLE_BYTES, read_table

            table = read_table(read_input(path, MOST_TABLE_BYTES), path.name)
            if is_order(table, job):
                grown = ordered_by_table(job, table)
                words = f"{table.file_name}: an order of {len(grown.order)} lines; who gets what is at Sheet."
                return job, grown, words, "sheet"
            if design is not None and is_form and roles_of(table).first("picture") is None:
                filled = with_table(design, table)
                return job, job.with_design(filled), table_words(table, (filled,)), ""
            designs: tuple[Design, ...]
            if roles_of(table).first("picture") is None:
                designs = (tabled_design(job, _LABEL, table),)
            else:
                designs = pictured_designs(job, _LABEL, table, picture_of)
            return job, with_new(job, designs), f"{table_words(table, designs)}{_missing(table, path)}", "new"

        self._task.submit(work)

    def _on_made(self, before: Job, grown: Job, words: str, then: str) -> None:
        workspace, document = self._host.workspace, self._host.workspace.document
        if before != workspace.job:
            self._host.say("The job was changed meanwhile, and the table was not taken: drop it again")
            return
        document.edit(grown, "take a table")
        if then == "new":
            self._show_design(grown.designs[len(before.designs)], False)
        elif then:
            self._host.go_to(then)
        self._host.say(words, actions=[("Undo", document.undo_stack.undo)])


def _missing(table: Table, path: Path) -> str:
    """Return which pictures of a table do not lie beside it, as a sentence."""
    from honest_edge.app.edits.table_roles import roles_of

    column = roles_of(table).first("picture")
    cells = [] if column is None else [table.row(number)[column].strip() for number in range(len(table.rows))]
    gone = [cell for cell in dict.fromkeys(cells) if cell and not (path.parent / Path(cell).name).is_file()]
    if not gone:
        return ""
    more = f" and {len(gone) - 1} more" if len(gone) > 1 else ""
    return f" {gone[0]}{more} does not lie beside it: those labels have no picture."
