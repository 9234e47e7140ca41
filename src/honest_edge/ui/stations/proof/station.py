"""Proof: walks through what was found, tries what would mend it, and rehearses the job."""

from __future__ import annotations

import time
from functools import cached_property
from typing import TYPE_CHECKING, cast

from PyQt6.QtCore import QPointF, Qt
from PyQt6.QtGui import QKeyEvent
from PyQt6.QtWidgets import QGraphicsScene, QInputDialog

from honest_edge.core.values.errors import HonestEdgeError
from honest_edge.core.values.findings import MOST_REASON, Finding, Fix
from honest_edge.ui.shared.contract import Shown, Station
from honest_edge.ui.shared.host import Host
from honest_edge.ui.shared.mender import Mender
from honest_edge.ui.shared.own_labels import OwnLabels
from honest_edge.ui.stations.proof.panel import ProofPanel
from honest_edge.ui.stations.proof.rehearsing import Rehearsing
from honest_edge.ui.stations.proof.state import PrintAdviceShown, ProofState, finding_key, tried_key
from honest_edge.ui.stations.proof.trying import Trying

if TYPE_CHECKING:
    from PyQt6.QtWidgets import QWidget

    from honest_edge.app.rehearsal.print_count import PagePrints
    from honest_edge.app.results.progress import IsCancelled, ReportProgress
    from honest_edge.app.views.proof_view import ListedFinding, ProofView

_CAPTION = "F8: next    Shift+F8: previous    Enter: go where it is mended    0: show all"


class ProofStation(Station):
    """Shows every place at once and leads from one to the next."""

    def __init__(self, host: Host, question: str) -> None:
        super().__init__(host)
        self._question = question
        self.state, self.labels = ProofState(), OwnLabels(host)
        self.trying = Trying(host, self.state, self._on_tried, self)
        self.rehearsing = Rehearsing(host, self.state, self._on_rehearsed, self._show_known, self)
        self._mender = Mender(host, self)
        self._asking = host.new_task()
        self._asking.done.connect(lambda found: self._on_known(cast("tuple[Finding, ...]", found)))
        self._asking.failed.connect(lambda words: host.say(words, tone="danger"))

    @cached_property
    def panel(self) -> ProofPanel:
        """The list, and how many to print."""
        return ProofPanel(self.host, self._question, self.state, self)

    def strip(self) -> QWidget | None:
        return self.rehearsing.strip if self.state.rehearsal is not None else None

    def refresh(self) -> None:
        self.panel.refresh()
        self.rehearsing.show()

    def look_changed(self) -> None:
        self.rehearsing.look_changed()

    # -- drawing -------------------------------------------------------------------------------------

    def drawn_from(self) -> tuple[object, ...]:
        workspace, rehearsal = self.workspace, self.state.rehearsal
        if rehearsal is not None:
            is_there = len(rehearsal.sheets) > rehearsal.shown
            return "rehearsal", rehearsal.overview, rehearsal.shown, is_there, self.rehearsing.labels.version
        shown = workspace.result if workspace.overview.plan is None else None
        return workspace.overview, workspace.page, self.state.selected, shown, self.labels.version

    def draw(self, scene: QGraphicsScene) -> Shown | None:
        if self.state.rehearsal is not None:
            return self.rehearsing.draw(scene)
        overview, view = self.workspace.overview, self._view
        if view is None:
            return None
        from honest_edge.app.views.proof_view import design_places, shown_places
        from honest_edge.ui.drawings.sheet_drawing import draw_sheet
        from honest_edge.ui.stations.proof.drawing import draw_design, draw_places

        selected = self._selected
        number = None if selected is None else selected.number
        if overview.plan is None or not overview.plan.pages:
            result = self.workspace.result
            if result is None:
                return None
            content = draw_design(scene, result, overview)
            draw_places(scene, design_places(overview, view, result.design.key), number)
            return Shown(content=content, caption=_CAPTION)
        count = len(overview.plan.pages)
        page = min(self.workspace.page, count - 1)
        content = draw_sheet(scene, page, *self.labels.of(overview, page), overview.job.sheet)
        draw_places(scene, shown_places(overview, view, page), number)
        sheets = f"sheet {page + 1} of {count} (Page Up, Page Down)    " if count > 1 else ""
        return Shown(content=content, caption=sheets + _CAPTION, air=0.05)

    def why_empty(self) -> str:
        return self.workspace.error or self.workspace.overview.state("sheet")[1]

    @property
    def _view(self) -> ProofView | None:
        _ = self.panel  # which lists it
        return self.panel.view

    # -- what it is told -----------------------------------------------------------------------------

    def subject_changed(self) -> None:
        self.trying.stop()
        if self.workspace.overview.job != self.workspace.job:
            self.rehearsing.end()
            self.state.advice = None

    def left(self) -> None:
        self.trying.stop()

    def look_closer(self) -> None:
        """Try fixes, and count sheets; only where they are looked at, for it is much work."""
        if not self.workspace.is_known:
            return
        view = self._view
        if view is not None:
            self.trying.begin(view)
        self.rehearsing.count_prints()
        self._ask_book()

    def _ask_book(self) -> None:
        """Look up what the Book says by now; the list is shown anew only where that is something else."""
        overview, desk = self.workspace.overview, self.host.desk()

        def work(*, report: ReportProgress, cancelled: IsCancelled) -> tuple[Finding, ...]:
            from honest_edge.app.book.job_facts import known_findings

            return known_findings(overview, desk(), time.time_ns() // 1_000_000)

        self._asking.submit(work)

    def _on_known(self, findings: tuple[Finding, ...]) -> None:
        self.state.known = findings
        self._show_known()

    def _show_known(self) -> None:
        """Show what the Book says and whether too few sheets are printed, where that is something new."""
        advice = self.state.advice
        spares = advice.findings if isinstance(advice, PrintAdviceShown) else ()
        findings = (*self.state.known, *spares)
        if self.workspace.is_known and findings != self.workspace.overview.bench_findings:
            self.host.show_known(findings)
        elif self.is_shown:
            self.panel.refresh()

    # -- walking -------------------------------------------------------------------------------------

    @property
    def _selected(self) -> ListedFinding | None:
        view = self.panel.view
        rows = () if view is None else view.rows
        return next((listed for listed in rows if finding_key(listed.finding) == self.state.selected), None)

    def walk(self, step: int) -> None:
        """Take the next finding in hand, or the one before."""
        if not self.is_shown:
            self.host.go_to("proof")
        view = self._view
        if view is None or not view.rows:
            self.host.say("Nothing was found that needs a look.", tone="fine")
            return
        rows, here = view.rows, self._selected
        at = (rows.index(here) + step) % len(rows) if here is not None else (0 if step > 0 else len(rows) - 1)
        self.select(rows[at])

    def select(self, row: ListedFinding) -> None:
        """Take a finding in hand: its place comes to the middle of the table."""
        from honest_edge.app.views.proof_view import page_of

        if self.state.rehearsal is not None:
            self.rehearsing.end()
        self.state.selected = finding_key(row.finding)
        overview = self.workspace.overview
        page = page_of(overview, row.finding)
        if page is not None:
            self.workspace.page = page
        if row.finding.subject.design:
            self.host.take(row.finding.subject.design)
        if self.panel.view is not None and self.workspace.is_known:
            self.trying.begin(self.panel.view)
        self.panel.refresh()
        self.panel.bring_up(row)
        self.host.redraw()
        self._show_place(row)

    def _show_place(self, row: ListedFinding) -> None:
        view = self.panel.view
        if view is None:
            return
        from honest_edge.app.views.proof_view import design_places, shown_places

        overview = self.workspace.overview
        if overview.plan is None:
            places = design_places(overview, view, row.finding.subject.design)
        else:
            places = shown_places(overview, view, self.workspace.page)
        seen = next((place for place in places if place.row.number == row.number), None)
        if seen is not None:
            self.host.table.go_to_box(*seen.geometry.bounds)  # type: ignore[attr-defined]

    def table_clicked(self, x_mm: float, y_mm: float) -> None:
        """Take the finding in hand whose number or place was clicked."""
        if self.state.rehearsal is not None or self.panel.view is None:
            return
        at = self.host.table.mapFromScene(QPointF(x_mm, y_mm))
        numbers = [item.data(2) for item in self.host.table.items(at) if item.data(2) is not None]
        for listed in self.panel.view.rows:
            if numbers and listed.number == numbers[0]:
                self.select(listed)
                return

    def key_pressed(self, event: QKeyEvent) -> None:
        key = event.key()
        if key == Qt.Key.Key_Escape and self.state.rehearsal is not None:
            self.rehearsing.end()
        elif key in (Qt.Key.Key_Return, Qt.Key.Key_Enter) and self._selected is not None:
            self.visit(self._selected.finding)
        elif key in (Qt.Key.Key_PageDown, Qt.Key.Key_PageUp):
            self._turn_page(1 if key == Qt.Key.Key_PageDown else -1)
        elif key in (Qt.Key.Key_Left, Qt.Key.Key_Right) and self.state.rehearsal is not None:
            self.rehearsing.step(1 if key == Qt.Key.Key_Right else -1)

    def _turn_page(self, step: int) -> None:
        plan = self.workspace.overview.plan
        if plan is not None and plan.pages:
            self.workspace.page = max(0, min(self.workspace.page + step, len(plan.pages) - 1))
            self.host.redraw(refit=True)

    def visit(self, finding: Finding) -> None:
        """Go to the station where it is mended, with its design in hand and its place in the middle."""
        if finding.subject.design:
            self.host.take(finding.subject.design)
        if finding.station != "proof":
            self.host.go_to(finding.station)
            if finding.places:
                self.host.table.go_to(*finding.places[0].middle_mm)

    # -- mending -------------------------------------------------------------------------------------

    def _on_tried(self) -> None:
        if self.is_shown:
            self.panel.refresh()

    def mend(self, finding: Finding, fix: Fix) -> None:
        """Use a fix that was tried; one that makes something else worse asks first."""
        trial = self.state.tried.get(tried_key(finding, fix))
        if fix.visit or trial is None or finding.severity == "note" or not self.workspace.is_known:
            self._mender.mend(finding, fix)
            return
        self._mender.use(trial, fix.words)

    def mend_all(self, check: str) -> None:
        """Try all fixes of one check together, then use them as one step."""
        if self.workspace.is_known:
            self.trying.all_of(check, self._mender.use)
        else:
            self.host.say("This is still being computed: press again in a moment")

    def leave(self, finding: Finding) -> None:
        """Ask why it is left, and leave it."""
        dialog = QInputDialog(self.host.table.window())
        dialog.setWindowTitle("Leave it")
        dialog.setLabelText("Why may it stay as it is? The ticket says so.")
        dialog.setInputMode(QInputDialog.InputMode.TextInput)
        dialog.setOkButtonText("Leave it")
        if dialog.exec():
            self.leave_for(finding, dialog.textValue()[:MOST_REASON])

    def leave_for(self, finding: Finding, reason: str) -> None:
        """Leave a finding as it is, for a reason."""
        from honest_edge.app.edits.tried import with_left

        try:
            job = with_left(self.workspace.job, [finding], reason)
        except HonestEdgeError as error:
            self.host.say(str(error), tone="danger")
            return
        self.workspace.document.edit(job, "leave it as it is")

    def take_up(self, finding: Finding) -> None:
        """Look again at a finding that was left."""
        from honest_edge.app.edits.tried import without_left

        self.workspace.document.edit(without_left(self.workspace.job, finding), "take it up again")

    def open_kind(self, check: str) -> None:
        """List all findings of a check."""
        self.state.opened.add(check)
        self.panel.refresh()

    def print_so_often(self, prints: PagePrints) -> None:
        """Set how often each sheet is printed."""
        from honest_edge.app.rehearsal.print_count import as_job_prints

        self.workspace.edit_job("number of sheets", prints=as_job_prints(prints.prints))

    # -- rehearsing ----------------------------------------------------------------------------------

    def rehearse(self) -> None:
        """Print, read and cut the job on the simulated bench."""
        if not self.is_shown:
            self.host.go_to("proof")
        self.rehearsing.begin()

    def _on_rehearsed(self, *, is_new: bool) -> None:
        if self.is_shown:
            if is_new:
                self.host.refresh()
                self.host.redraw(refit=True)
            else:
                self.rehearsing.show()
                self.host.redraw()
