"""Sheet: better layouts while one waits, copies placed by hand, used areas, what limits, the way of the blade."""

from __future__ import annotations

import time
from collections.abc import Callable
from dataclasses import replace
from functools import cached_property
from pathlib import Path
from typing import TYPE_CHECKING, cast

from PyQt6.QtCore import Qt, QTimer, pyqtSignal
from PyQt6.QtGui import QKeyEvent
from PyQt6.QtWidgets import QGraphicsScene, QMenu

from honest_edge.core.values.errors import HonestEdgeError
from honest_edge.core.values.job import Job
from honest_edge.ui.shared.contract import Shown, Station
from honest_edge.ui.shared.host import Host
from honest_edge.ui.shared.own_labels import OwnLabels
from honest_edge.ui.shared.what_worked_words import setting_known
from honest_edge.ui.stations.sheet.panel import SheetPanel
from honest_edge.ui.stations.sheet.sheet_words import limit_words, looked_words
from honest_edge.ui.stations.sheet.state import SheetState
from honest_edge.ui.table.tool import Tool
from honest_edge.ui.widgets.dialogs import ask_cut

if TYPE_CHECKING:
    from honest_edge.app.edits.sheet_edits import SheetLimits
    from honest_edge.app.results.overview import Overview
    from honest_edge.app.results.progress import IsCancelled, ReportProgress
    from honest_edge.app.views.blade_path import BladePath
    from honest_edge.app.views.cut_comparison import CutComparison
    from honest_edge.core.sheet.plan import Plan
    from honest_edge.core.workshop.cost import PieceCost
    from honest_edge.ui.drawings.sheet_drawing import SheetHands

_SAME_MM = 0.1
_TURNS = (("Turn by a quarter", 90.0), ("Turn by 15°", 15.0))


class SheetStation(Station):
    """Shows the sheets and takes what hands do to them."""

    better = pyqtSignal(object)
    """A better layout, as soon as it is there."""

    def __init__(self, host: Host, question: str) -> None:
        super().__init__(host)
        self._question = question
        self.state, self.labels = SheetState(), OwnLabels(host)
        self._searched: Overview | None = None
        """What a search for better layouts began with; None while none is made."""
        self._looked_from = 0.0
        self._searching, self._limiting = host.new_task(), host.new_task()
        self._comparing, self._following = host.new_task(), host.new_task()
        self.better.connect(self._on_better)
        self._searching.done.connect(lambda _plan: self.stop_looking())
        self._searching.failed.connect(self._on_search_failed)
        self._limiting.done.connect(lambda found: self._on_limits(cast("SheetLimits | None", found)))
        self._comparing.done.connect(lambda found: self._on_compared(cast("CutComparison", found)))
        self._comparing.failed.connect(self._refuse)
        self._following.done.connect(lambda way: self._on_blade(cast("BladePath", way)))
        self._costing = host.new_task()
        self._costing.done.connect(lambda found: self._on_known(*cast("tuple[PieceCost | None, str]", found)))
        self._costing.failed.connect(lambda _words: self._on_known(None, ""))  # the Book says why

    @cached_property
    def panel(self) -> SheetPanel:
        """Copies, paper, marks, machine, blade."""
        return SheetPanel(self.host, self._question, self.state, self)

    @cached_property
    def hands(self) -> SheetHands:
        """What hands do to copies on the table."""
        from honest_edge.ui.drawings.sheet_drawing import SheetHands

        sheet_hands = SheetHands(self)
        # the copy's item is drawn anew, so its own event has to end first
        sheet_hands.moved.connect(lambda *way: QTimer.singleShot(0, lambda: self._on_moved(*way)))
        sheet_hands.menu_wanted.connect(lambda number, at: self.menu(number).exec(at))
        return sheet_hands

    def _refuse(self, text: str) -> None:
        self.host.say(text, tone="danger")

    def _refresh(self) -> None:
        if self.is_shown:
            self.host.refresh()

    # -- drawing -------------------------------------------------------------------------------------

    def drawn_from(self) -> tuple[object, ...]:
        workspace = self.workspace
        return (
            workspace.overview.plan,
            workspace.page,
            workspace.result,
            workspace.job.sheet.stock,
            self.state.comparison,
            self._shown_blade,
            self.labels.version,
            workspace.sketch,
        )

    @property
    def _shown_blade(self) -> BladePath | None:
        """The blade's way where it is wanted and is that of the sheet shown."""
        way = self.state.blade
        return way if way is not None and self.state.follows_blade and way.page == self.workspace.page else None

    def draw(self, scene: QGraphicsScene) -> Shown | None:
        overview, page = self.workspace.overview, self.workspace.page
        if overview.plan is None or not overview.plan.pages:
            return self._first_look(scene)
        from honest_edge.ui.drawings.sheet_drawing import draw_sheet
        from honest_edge.ui.stations.sheet.drawing import draw_blade_path, draw_comparison

        count = len(overview.plan.pages)
        page = min(page, count - 1)
        content = draw_sheet(scene, page, *self.labels.of(overview, page), overview.job.sheet, self.hands)
        if self.state.comparison is not None and self.state.comparison.page == page:
            draw_comparison(scene, self.state.comparison)
        if self._shown_blade is not None:
            draw_blade_path(scene, self._shown_blade)
        caption = f"sheet {page + 1} of {count}    drag a copy to place it by hand    M: caliper    0: show all"
        return Shown(content=content, caption=caption, air=0.05)

    def _first_look(self, scene: QGraphicsScene) -> Shown | None:
        """Draw a picture that was just dropped on the bare paper, before any of it is computed."""
        workspace = self.workspace
        sketch, design = workspace.sketch, workspace.design
        if sketch is None or design is None or len(workspace.job.designs) > 1:
            return None
        from honest_edge.ui.drawings.sheet_drawing import draw_first_look

        content = draw_first_look(scene, sketch.pixels, design.width_mm, workspace.job.sheet)
        return Shown(content=content, caption="Laying it out …", air=0.05)

    def why_empty(self) -> str:
        return self.workspace.overview.state("sheet")[1]

    # -- what is known of the sheets -----------------------------------------------------------------

    def subject_changed(self) -> None:
        """Let go of a search, limits and a cut file that are about an older job."""
        self.state.limits = self.state.comparison = self.state.blade = None
        self._limiting.cancel()
        self._following.cancel()
        if self._searched is not None:
            self._searching.cancel()
            self._searched, self.state.better_found = None, None

    def look_closer(self) -> None:
        """Work out what a piece costs, where the blade goes and what limits the sheets, where that is shown."""
        if not self.panel.isVisible():
            return  # the make line stands in its place
        self._look_at_cost()
        self._look_at_limits()

    def _look_at_cost(self) -> None:
        overview, opened = self.workspace.overview, self.host.desk()

        def work(*, report: ReportProgress, cancelled: IsCancelled) -> tuple[PieceCost | None, str]:
            from honest_edge.app.book.run_of_job import planned_run

            run, desk, now_ms = planned_run(overview), opened(), time.time_ns() // 1_000_000
            stock, machine = overview.job.sheet.stock.name, overview.job.sheet.machine.name
            words = setting_known(desk.setting_for(stock, machine, now_ms), stock, now_ms)
            return (None if run is None else desk.cost_of(run, now_ms)), words

        if overview.plan is not None and not overview.is_provisional:
            self._costing.submit(work)

    def _on_known(self, cost: PieceCost | None, words: str) -> None:
        self.panel.cost.show_cost(cost)
        self.panel.order.show_cost(cost)
        self.panel.profiles.show_known(words)

    def _look_at_limits(self) -> None:
        """Find what limits the design in hand; only where it is looked at, for it takes many fits."""
        self._follow()
        overview, key, limits = self.workspace.overview, self.workspace.current, self.state.limits
        if key is None or overview.plan is None or not self.workspace.is_known or self._searched is not None:
            return
        if limits is not None and limits.key == key:
            return

        def work(*, report: ReportProgress, cancelled: IsCancelled) -> SheetLimits | None:
            from honest_edge.app.edits.sheet_edits import sheet_limits

            return sheet_limits(overview, key, cancelled=cancelled)

        self._limiting.submit(work)

    def _on_limits(self, found: SheetLimits | None) -> None:
        self.state.limits = found
        self._refresh()

    def key_pressed(self, event: QKeyEvent) -> None:
        """Take the tool of a card that may be folded: its own key is not heard there."""
        if event.key() == Qt.Key.Key_U and not self.panel.by_hand.toolbox.isVisible():
            self.panel.by_hand.open()
            self.panel.by_hand.toolbox.buttons["used"].click()

    def turn_page(self, step: int) -> None:
        """Take another sheet in hand."""
        self.workspace.page += step
        self.host.refresh()
        self._follow()

    def follow_blade(self, on: bool) -> None:
        """Show the way of the blade, or no more."""
        self.state.follows_blade = on
        self._follow()
        self.host.refresh()

    def _follow(self) -> None:
        """Find the blade's way over the sheet that is shown, where it is wanted and not there yet."""
        overview, page, way = self.workspace.overview, self.workspace.page, self.state.blade
        is_known = overview.plan is not None and self.workspace.is_known and self._searched is None
        if not self.state.follows_blade or not is_known or (way is not None and way.page == page):
            return

        def work(*, report: ReportProgress, cancelled: IsCancelled) -> BladePath:
            from honest_edge.app.views.blade_path import blade_path

            return blade_path(overview, page)

        self._following.submit(work)

    def _on_blade(self, way: BladePath) -> None:
        self.state.blade = way
        self._refresh()

    # -- better while one waits ----------------------------------------------------------------------

    def look_for_better(self) -> None:
        """Look for better layouts until stopped."""
        overview = self.workspace.overview
        if overview.plan is None or not self.workspace.is_known or self._searched is not None:
            return
        self._limiting.cancel()
        self._searched, self.state.better_found, self._looked_from = overview, 0, time.monotonic()

        def work(*, report: ReportProgress, cancelled: IsCancelled) -> Plan:
            from honest_edge.app.edits.sheet_edits import improved

            def found(plan: Plan) -> None:
                if not cancelled():
                    self.better.emit(plan)

            return improved(overview, found=found, cancelled=cancelled)

        self._searching.submit(work)
        self._refresh()

    def _on_better(self, plan: Plan) -> None:
        if self._searched is None:
            return
        self.state.better_found = (self.state.better_found or 0) + 1
        self.state.blade = None
        self.workspace.overview = replace(self.workspace.overview, plan=plan)
        self._refresh()

    def stop_looking(self) -> None:
        """Keep the best so far, whether the search ended by itself or was stopped."""
        start, best, better = self._searched, self.workspace.overview.plan, self.state.better_found
        self._searching.cancel()
        self._searched, self.state.better_found = None, None
        if start is not None and best is not None and best != start.plan and start.job == self.workspace.job:
            from honest_edge.app.edits.sheet_edits import with_layout

            self.workspace.document.edit(with_layout(start, best), "better layout")
            self._say_looked(start, best, better or 0)
        else:
            if start is not None and best is not None and start.job == self.workspace.job:
                self._say_looked(start, best, 0)
            self._follow()
            self._refresh()

    def _say_looked(self, start: Overview, best: Plan, found: int) -> None:
        """Say what the search did, whatever came of it."""
        limits, design, seconds = self.state.limits, self.workspace.design, time.monotonic() - self._looked_from
        why = [] if limits is None or design is None else limit_words(limits, design.name, 1, self.workspace.length)
        before = 0 if start.plan is None else len(start.plan.pages)
        self.host.say(looked_words(seconds, found, (before, len(best.pages)), why), tone="fine")

    def _on_search_failed(self, text: str) -> None:
        self.stop_looking()
        self._refuse(text)

    # -- a cut file held against it ------------------------------------------------------------------

    def choose_cut_file(self) -> None:
        """Ask for a cut file and show it over the sheet that it lies nearest to."""
        path = ask_cut(self.host.table, self.workspace.place.folder)
        if path is not None:
            self.take_file(path)

    def take_file(self, path: Path) -> None:
        overview = self.workspace.overview

        def work(*, report: ReportProgress, cancelled: IsCancelled) -> CutComparison:
            from honest_edge.app.views.cut_comparison import compare_cut

            return compare_cut(path, overview)

        self._comparing.submit(work)

    def _on_compared(self, found: CutComparison) -> None:
        self.state.comparison, self.workspace.page = found, found.page
        self.host.go_to("sheet")
        apart = self.workspace.length(found.distance_mm, 2)
        self.host.say(
            f"{found.name} lies over sheet {found.page + 1}: its lines and the sheet’s are {apart} apart at most.",
            tone="danger" if found.distance_mm > _SAME_MM else "",
            actions=[("Take it away", self._end_comparison)],
        )

    def _end_comparison(self) -> None:
        self.state.comparison = None
        self._refresh()

    # -- by hand -------------------------------------------------------------------------------------

    def _on_moved(self, number: int, dx_mm: float, dy_mm: float) -> None:
        from honest_edge.app.edits.sheet_edits import with_pin

        overview, page = self.workspace.overview, self.workspace.page
        self._try(lambda: with_pin(overview, page, number, dx_mm=dx_mm, dy_mm=dy_mm), "place by hand")

    def menu(self, number: int) -> QMenu:
        """Return what can be done with one copy of the sheet in hand."""
        from honest_edge.app.edits.sheet_edits import with_pin, without_pin

        overview, page = self.workspace.overview, self.workspace.page
        menu = QMenu()
        for name, degrees in _TURNS:
            turn = menu.addAction(name)
            if turn is not None:
                turn.triggered.connect(
                    lambda _on, by=degrees: self._try(
                        lambda: with_pin(overview, page, number, dx_mm=0.0, dy_mm=0.0, turn_deg=by), "turn by hand"
                    )
                )
        if overview.plan is not None and overview.plan.pages[page][number].is_pinned:
            release = menu.addAction("Let the fit place it")
            if release is not None:
                release.triggered.connect(lambda _on: self._try(lambda: without_pin(overview, page, number), "release"))
        return menu

    def release_pins(self) -> None:
        """Let the fit place all copies."""
        self.workspace.edit_job("release what was placed by hand", pins=())

    def keep_as_used(self) -> None:
        """Keep the sheet in hand as partly used."""
        from honest_edge.app.edits.sheet_edits import with_used

        overview, page = self.workspace.overview, self.workspace.page
        self._try(lambda: with_used(overview, page), "keep the sheet as used")

    def start_fresh(self) -> None:
        """Forget what is used of the first sheet."""
        self.workspace.edit_sheet("forget used areas", used=())

    def lay_tool_down(self) -> None:
        self.panel.toolbox.take(None)

    def stroke_drawn(self, tool: Tool, points_mm: list[tuple[float, float]]) -> None:
        """Take a box drawn on the table as used."""
        self.panel.toolbox.take(None)
        xs, ys = [x for x, _ in points_mm], [y for _, y in points_mm]
        box = (min(xs), min(ys), max(xs), max(ys))
        if box[2] - box[0] < 1 or box[3] - box[1] < 1:
            self._refuse("A used area needs some size: drag from one of its corners to the opposite one")
            return
        self.workspace.edit_sheet("used area", used=(*self.workspace.job.sheet.used, box))

    def _try(self, make: Callable[[], Job], words: str) -> None:
        """Edit the job, or say why not and put everything back where it was."""
        if not self.workspace.is_known:
            self.host.redraw()  # what is shown is older than the job
            return
        try:
            job = make()
        except HonestEdgeError as error:
            self._refuse(str(error))
            self.host.redraw()
            return
        self.workspace.document.edit(job, words)
