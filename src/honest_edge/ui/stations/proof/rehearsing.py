"""The rehearsal: made away from the window's thread, shown as it comes; and how many sheets it takes."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace
from functools import cached_property
from typing import TYPE_CHECKING, Protocol, cast

from PyQt6.QtCore import QObject, pyqtSignal
from PyQt6.QtWidgets import QGraphicsScene

from honest_edge.core.values.errors import BlockedError
from honest_edge.ui.shared.contract import Shown
from honest_edge.ui.shared.host import Host
from honest_edge.ui.shared.own_labels import OwnLabels
from honest_edge.ui.stations.proof.rehearsal_strip import RehearsalStrip
from honest_edge.ui.stations.proof.state import PrintAdviceShown, ProofState, Rehearsed

if TYPE_CHECKING:
    from honest_edge.app.rehearsal.expected import Expected
    from honest_edge.app.results.progress import IsCancelled, ReportProgress
    from honest_edge.core.values.job import Job
    from honest_edge.simulator.faults import FaultKey
    from honest_edge.simulator.rehearsal import RehearsedSheet

SHEETS = 200
_SEED = 1
_AT_ONCE = 20  # sheets that are handed over together, once the first is there


class Told(Protocol):
    """What is told that there is more to show."""

    def __call__(self, *, is_new: bool) -> None:
        """Show it."""


class Rehearsing(QObject):
    """Rehearses the job in hand."""

    came = pyqtSignal(object, object)
    expects = pyqtSignal(object, object)

    def __init__(
        self, host: Host, state: ProofState, told: Told, counted_anew: Callable[[], None], parent: QObject
    ) -> None:
        """Take the window, where the rehearsal is kept, and what is told of more of it, and of another count."""
        super().__init__(parent)
        self._host, self._state, self._told, self._counted_anew = host, state, told, counted_anew
        self._task, self._counting = host.new_task(), host.new_task()
        self._counted: Job | None = None
        self.labels = OwnLabels(host)
        self.came.connect(self._take)
        self.expects.connect(self._take_expected)
        self._task.done.connect(lambda _made: self._finish())
        self._task.failed.connect(self._refuse)
        self._counting.done.connect(lambda made: self._take_advice(cast("tuple[Job, PrintAdviceShown | str]", made)))
        self._counting.failed.connect(lambda words: host.say(words, tone="danger"))

    @cached_property
    def strip(self) -> RehearsalStrip:
        """What stands below the table."""
        below = RehearsalStrip(self._host.tokens, typical=self._show_typical, worst=self._show_worst, end=self.end)
        below.sheet_chosen.connect(self.show_sheet)
        below.faults_chosen.connect(self._let_go_wrong)
        return below

    def look_changed(self) -> None:
        """Take the theme's colours."""
        if "strip" in self.__dict__:
            self.strip.set_tokens(self._host.tokens)

    # -- rehearsing ----------------------------------------------------------------------------------

    def begin(self) -> None:
        """Rehearse the job as it is."""
        from honest_edge.app.rehearsal.stage import staged

        overview = self._host.workspace.overview
        if not self._host.workspace.is_known:
            self._host.say("The job is still being computed: rehearse it in a moment")
            return
        try:
            stage = staged(overview)
        except BlockedError as error:
            self._host.say(str(error), tone="danger")
            return
        rehearsed = self._state.rehearsal = Rehearsed(overview=overview, staged=stage)
        faults = self._state.faults

        def work(*, report: ReportProgress, cancelled: IsCancelled) -> None:
            from honest_edge.app.rehearsal.expected import expected_share
            from honest_edge.simulator.rehearsal import rehearsed as sheets_of

            waiting: list[RehearsedSheet] = []
            error = overview.job.misregistration
            for sheet in sheets_of(stage.stage, error, sheets=SHEETS, seed=_SEED, faults=faults):
                if cancelled():
                    return
                waiting.append(sheet)
                if sheet.number == 0 or len(waiting) == _AT_ONCE:
                    self.came.emit(rehearsed, waiting)
                    waiting = []
            self.came.emit(rehearsed, waiting)
            self.expects.emit(rehearsed, expected_share(overview, stage, cancelled=cancelled))

        self._told(is_new=True)
        self._task.submit(work)

    def _take(self, rehearsed: Rehearsed, sheets: list[RehearsedSheet]) -> None:
        if rehearsed is self._state.rehearsal and sheets:
            is_first = not rehearsed.sheets
            rehearsed.sheets += sheets
            self._told(is_new=is_first)

    def _take_expected(self, rehearsed: Rehearsed, expected: Expected) -> None:
        if rehearsed is self._state.rehearsal:
            rehearsed.expected = expected
            self._told(is_new=False)

    def _finish(self) -> None:
        if self._state.rehearsal is not None:
            self._state.rehearsal.is_whole = True
            self._told(is_new=False)

    def _refuse(self, words: str) -> None:
        self._host.say(words, tone="danger")
        self.end()

    def end(self) -> None:
        """Go back to the places."""
        self._task.cancel()
        if self._state.rehearsal is not None:
            self._state.rehearsal = None
            self._told(is_new=True)

    def _let_go_wrong(self, faults: frozenset[FaultKey]) -> None:
        self._state.faults = faults
        self.begin()

    # -- running through it --------------------------------------------------------------------------

    def show_sheet(self, number: int) -> None:
        """Look at another sheet."""
        rehearsed = self._state.rehearsal
        if rehearsed is not None and 0 <= number < len(rehearsed.sheets) and number != rehearsed.shown:
            rehearsed.shown = number
            self._told(is_new=False)

    def step(self, step: int) -> None:
        """Look at the next sheet, or the one before."""
        if self._state.rehearsal is not None:
            self.show_sheet(self._state.rehearsal.shown + step)

    def _show_typical(self) -> None:
        from honest_edge.app.rehearsal.shares import typical_sheet

        if self._state.rehearsal is not None and self._state.rehearsal.sheets:
            self.show_sheet(typical_sheet(self._state.rehearsal.sheets))

    def _show_worst(self) -> None:
        from honest_edge.app.rehearsal.shares import worst_sheet

        if self._state.rehearsal is not None and self._state.rehearsal.sheets:
            self.show_sheet(worst_sheet(self._state.rehearsal.sheets))

    def show(self) -> None:
        """Show how far it has come."""
        if self._state.rehearsal is not None:
            self.strip.show_rehearsed(self._state.rehearsal, self._state.faults, SHEETS)

    def draw(self, scene: QGraphicsScene) -> Shown | None:
        """Draw the sheet that is looked at."""
        rehearsed = self._state.rehearsal
        if rehearsed is None or rehearsed.shown >= len(rehearsed.sheets):
            return None
        from honest_edge.app.rehearsal.drawn import drawn_copies
        from honest_edge.simulator.rehearsal import roller_tracks
        from honest_edge.ui.drawings.rehearsed_drawing import draw_rehearsed

        sheet = rehearsed.sheets[rehearsed.shown]
        plan, laid = self.labels.of(rehearsed.overview, rehearsed.staged.pages[sheet.page])
        shown = replace(rehearsed.overview, plan=plan, laid=laid)
        copies = drawn_copies(shown, rehearsed.staged, sheet)
        tracks = roller_tracks(rehearsed.staged.stage) if "wet" in self._state.faults else ()
        content = draw_rehearsed(scene, shown, copies, tracks, self._host.tokens)
        told = f"rehearsed sheet {sheet.number + 1}: {sheet.good} good, {sheet.spoiled} spoiled"
        return Shown(content=content, caption=f"{told}    ← →: other sheets    Esc: back to the places", air=0.04)

    # -- how many to print ---------------------------------------------------------------------------

    def count_prints(self) -> None:
        """Say how many sheets it takes, where that is not known of this job."""
        overview = self._host.workspace.overview
        if overview.plan is None or (overview.job == self._counted and self._state.advice is not None):
            return
        self._counted = overview.job

        def work(*, report: ReportProgress, cancelled: IsCancelled) -> tuple[Job, PrintAdviceShown | str]:
            from honest_edge.app.rehearsal.print_count import ASSURANCES, PagePrints, PrintAdvice, spares_findings
            from honest_edge.app.rehearsal.stage import staged

            try:
                advice = PrintAdvice(overview, staged(overview), cancelled=cancelled)
            except BlockedError as error:
                return overview.job, str(error)

            def needed(assurance: float) -> PagePrints | str:
                try:
                    return advice.needed(assurance)
                except BlockedError as error:
                    return str(error)

            return overview.job, PrintAdviceShown(
                now=(advice.printed, advice.now()),
                needed=tuple((assurance, needed(assurance)) for assurance in ASSURANCES),
                findings=spares_findings(advice),
            )

        self._counting.submit(work)

    def _take_advice(self, made: tuple[Job, PrintAdviceShown | str]) -> None:
        job, advice = made
        if job == self._host.workspace.job:
            self._state.advice = advice
            self._counted_anew()
