"""Opens the make line with the first drop, takes what is set in it, and writes as soon as all is computed."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace
from functools import partial
from typing import TYPE_CHECKING, Any, cast

from PyQt6.QtCore import QObject
from PyQt6.QtWidgets import QWidget

from honest_edge.app.edits import at_once
from honest_edge.app.edits.habits import followed_words
from honest_edge.core.values.job import Job
from honest_edge.core.values.specs import EdgeRecipe
from honest_edge.ui.shared.mender import Mender
from honest_edge.ui.shell.make_line.line import MakeLine

if TYPE_CHECKING:
    from honest_edge.app.rehearsal.at_a_glance import Glance
    from honest_edge.app.results.overview import Overview
    from honest_edge.app.results.progress import IsCancelled, ReportProgress
    from honest_edge.ui.shared.host import Host
    from honest_edge.ui.shell.station_shelf import StationShelf


class MakeKeeper(QObject):
    """The line stands above the sheet, without the cards, until somebody looks closer."""

    def __init__(self, host: Host, stations: StationShelf, cards: QWidget) -> None:
        super().__init__(host.table)
        self._host, self._stations, self._cards = host, stations, cards
        self.is_open = False
        self.is_waiting = False
        """Whether the files are written as soon as all is computed."""
        self.line = MakeLine(self, partial(host.say, tone="danger"))
        self.line.hide()
        self._mender = Mender(host, self)
        self._glance: Glance | None = None
        self._seen: Overview | None = None
        self._glancing = host.new_task()
        self._glancing.done.connect(lambda found: self._on_glance(cast("Glance", found)))
        self._glancing.failed.connect(self._on_failed)

    # -- open or shut --------------------------------------------------------------------------------

    def begin(self) -> None:
        """The first art of a job is there: show the line, unless this user goes step by step."""
        if self._host.prefs.first_drop == "line":
            self.open()

    def open(self) -> None:
        """Show the line above the sheet."""
        if not self._host.workspace.job.designs:
            self._host.say("There is nothing to make yet: drop a picture on the window first.")
            return
        self._host.go_to("sheet")
        self.is_open = True
        self._show()
        self.line.width_field.setFocus()
        self.line.width_field.selectAll()

    def shut(self) -> None:
        """Leave the line: the stations are as they were set in it."""
        if self.is_open:
            self.is_open = self.is_waiting = False
            self._show()

    def _show(self) -> None:
        self._cards.setVisible(not self.is_open)
        self.line.setVisible(self.is_open)
        self.refresh()

    # -- showing -------------------------------------------------------------------------------------

    def refresh(self) -> None:
        """Show the job as it is now."""
        if not self.is_open:
            return
        workspace = self._host.workspace
        if not workspace.job.designs:
            self.shut()
            return
        self.line.show_job(workspace)
        self.line.show_waiting(waits=self.is_waiting)
        self.line.show_habit(self._habit_words())
        overview = workspace.overview
        if not workspace.is_known:
            self._seen = None
            self.line.show_glance("Laying it out …")
        elif overview is not self._seen:
            self._seen = overview
            self._look_at(overview)

    def _look_at(self, overview: Overview) -> None:
        def work(*, report: ReportProgress, cancelled: IsCancelled) -> Glance:
            from honest_edge.app.rehearsal.at_a_glance import at_a_glance

            return at_a_glance(overview, cancelled=cancelled)

        self._glancing.submit(work)

    def _on_glance(self, found: Glance) -> None:
        if not self.is_open or self._seen is not self._host.workspace.overview:
            return
        self._glance = found
        fix = None if found.offer is None else found.offer.fix
        self.line.show_glance(
            found.words,
            fix="" if fix is None else fix.words,
            is_blocked=found.blocks is not None,
            to_look_at=found.to_look_at,
        )
        if self.is_waiting:
            self.is_waiting = False
            self.line.show_waiting(waits=False)
            if found.blocks is None:
                self._write_now()
            else:
                self._host.say(f"Nothing is written yet: {found.words}", tone="look")

    def _habit_words(self) -> str:
        workspace = self._host.workspace
        design, result = workspace.design, workspace.result
        if design is None or result is None:
            return ""
        return followed_words(design, result.artwork, self._host.habits.known)

    def _on_failed(self, words: str) -> None:
        self.is_waiting = False
        self.line.show_waiting(waits=False)
        self.line.show_glance(words)

    # -- what is set ---------------------------------------------------------------------------------

    def _edit(self, words: str, change: Callable[[Job], Job]) -> None:
        workspace = self._host.workspace
        job = workspace.build(lambda: change(workspace.job))
        if job is None:
            self.line.show_job(workspace)
            return
        workspace.document.edit(job, words)

    def set_width(self, width_mm: float) -> None:
        """Cut every design so wide."""
        fresh = self._host.workspace.fresh
        self._edit("cut width", lambda job: at_once.with_cut_width(job, width_mm, fresh))

    def set_copies(self, key: str, copies: int) -> None:
        """Make so many of one design."""
        self._edit("copies", lambda job: at_once.with_copies(job, key, copies))

    def set_filling(self, fills: bool) -> None:
        """Fill the sheets, or make a number of each."""
        self._edit("fill the sheet", lambda job: at_once.with_filled_sheet(job, fills=fills))

    def set_school(self, school: str) -> None:
        """Give every design an edge of one school."""
        self._edit("edge", lambda job: at_once.with_school_of_all(job, school))  # type: ignore[arg-type]

    def set_kind(self, kind: str) -> None:
        """Cut every design by one kind of line."""
        self._edit("kind of cut", lambda job: at_once.with_line_kind_of_all(job, kind))  # type: ignore[arg-type]

    def set_paper(self, paper: str) -> None:
        """Print on another paper."""
        self._host.workspace.edit_sheet("paper", paper=paper)

    def as_usual(self) -> None:
        """Take back what was chosen by a habit."""

        def bare(job: Job) -> Job:
            for design in job.designs:
                job = job.with_design(replace(design, wanted=None, edge=EdgeRecipe(), fills=True, copies=1))
            return job

        self._edit("begin without habits", bare)

    def choose_folder(self) -> None:
        """Choose where the files go."""
        self._files.choose_folder()
        self.refresh()

    # -- ways on -------------------------------------------------------------------------------------

    @property
    def _files(self) -> Any:
        return self._stations["files"]

    def write(self) -> None:
        """Write the files as soon as all is computed."""
        workspace = self._host.workspace
        if workspace.is_known and self._glance is not None and self._seen is workspace.overview:
            self._write_now()
            return
        self.is_waiting = not self.is_waiting  # pressed once more it is called off
        self.line.show_waiting(waits=self.is_waiting)

    def _write_now(self) -> None:
        self._files.write()

    def look_closer(self) -> None:
        """Go to the stations."""
        self.shut()
        self._host.go_to("art")

    def look(self) -> None:
        """Go where all that was found is listed."""
        self.shut()
        self._host.go_to("proof")

    def mend(self) -> None:
        """Do what is offered: mend what blocks, or make of the art what it asks for."""
        offer = None if self._glance is None else self._glance.offer
        if offer is not None and offer.fix is not None:
            self._mender.mend(offer, offer.fix)
