"""Sheets in the window: a better layout while one waits, copies placed by hand, used areas, what limits."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import replace
from pathlib import Path
from typing import TYPE_CHECKING, cast

from PyQt6.QtCore import QObject, QPoint, QTimer, pyqtSignal
from PyQt6.QtWidgets import QMenu

from honest_edge.app.overview import Overview
from honest_edge.core.values.errors import HonestEdgeError
from honest_edge.core.values.job import Job
from honest_edge.ui.background import Background
from honest_edge.ui.desk import Desk

if TYPE_CHECKING:
    from honest_edge.app.blade_way import BladeWay
    from honest_edge.app.holding import Held
    from honest_edge.app.sheet_edits import SheetLimits
    from honest_edge.core.sheet.plan import Plan
    from honest_edge.ui.sheet_scene import SheetHands


class SheetWork(QObject):
    """What the window does for the sheets of a job."""

    changed = pyqtSignal()
    held = pyqtSignal(object)

    def __init__(self, desk: Desk, background: Background, parent: QObject) -> None:
        super().__init__(parent)
        self._desk, self._background = desk, background
        self._hands: SheetHands | None = None
        self._start: Overview | None = None
        background.better.connect(self._on_better)
        background.fitting.done.connect(lambda _plan: self._end())
        background.fitting.failed.connect(self._on_failed)
        background.limiting.done.connect(lambda found: self._on_limits(cast("SheetLimits", found)))
        background.holding.done.connect(lambda held: self._on_held(cast("Held", held)))
        background.holding.failed.connect(desk.said)
        background.following.done.connect(lambda way: self._on_blade(cast("BladeWay", way)))
        desk.sheet_wanted.connect(self._obey)

    @property
    def hands(self) -> SheetHands:
        """What hands do to copies on the table."""
        if self._hands is None:
            from honest_edge.ui.sheet_scene import SheetHands

            self._hands = SheetHands(self)
            # the copy's item is drawn anew, so its own event has to end first
            self._hands.moved.connect(lambda *way: QTimer.singleShot(0, lambda: self._on_moved(*way)))
            self._hands.menu_wanted.connect(self._show_menu)
        return self._hands

    def forget(self) -> None:
        """Let go of a search, limits and a cut file that are about an older job."""
        self._desk.limits = self._desk.held = self._desk.blade = None
        self._background.limiting.cancel()
        self._background.following.cancel()
        if self._start is not None:
            self._background.fitting.cancel()
            self._start, self._desk.better_found = None, None

    def learn(self) -> None:
        """Find what limits the design in hand; only where it is looked at, for it takes many fits."""
        self._follow()
        seen, key = self._desk.seen, self._desk.current
        if key is None or seen.plan is None or seen.job != self._desk.job or self._start is not None:
            return
        if self._desk.limits is None or self._desk.limits.key != key:
            self._background.limit(seen, key)

    def _follow(self) -> None:
        """Find the blade's way over the sheet that is shown, where it is wanted and not there yet."""
        desk, way = self._desk, self._desk.blade
        is_known = desk.seen.plan is not None and desk.seen.job == desk.job and self._start is None
        if desk.follows_blade and is_known and (way is None or way.page != desk.page):
            self._background.follow_blade(desk.seen, desk.page)

    def _on_blade(self, way: BladeWay) -> None:
        self._desk.blade = way
        self.changed.emit()

    def _on_limits(self, found: SheetLimits) -> None:
        self._desk.limits = found
        self.changed.emit()

    # -- better while one waits ----------------------------------------------------------------------

    def _obey(self, wanted: str) -> None:
        acts: dict[str, Callable[[], object]] = {
            "wait": self._wait,
            "stop": self._end,
            "keep": self._keep_used,
            "clear used": lambda: self._edit_sheet("forget used areas", used=()),
            "follow the blade": self._follow,
            "release": lambda: self._desk.edit_job("release what was placed by hand", pins=()),
        }
        acts[wanted]()

    def _wait(self) -> None:
        seen = self._desk.seen
        if seen.plan is None or seen.job != self._desk.job or self._start is not None:
            return
        self._background.limiting.cancel()
        self._start, self._desk.better_found = seen, 0
        self._background.fit_better(seen)
        self.changed.emit()

    def _on_better(self, plan: Plan) -> None:
        if self._start is None:
            return
        self._desk.better_found = (self._desk.better_found or 0) + 1
        self._desk.blade = None
        self._desk.seen = replace(self._desk.seen, plan=plan)
        self.changed.emit()

    def _end(self) -> None:
        """Keep the best so far, whether the search ended by itself or was stopped."""
        start, best = self._start, self._desk.seen.plan
        self._background.fitting.cancel()
        self._start, self._desk.better_found = None, None
        if start is not None and best is not None and best != start.plan and start.job == self._desk.job:
            from honest_edge.app.sheet_edits import with_layout

            self._replace(with_layout(start, best), "better layout")
        else:
            self._follow()
            self.changed.emit()

    def _on_failed(self, text: str) -> None:
        self._end()
        self._desk.said.emit(text)

    # -- a cut file held against it ------------------------------------------------------------------

    def hold(self, path: Path) -> None:
        """Show a cut file over the sheet that it lies nearest to."""
        self._background.hold(path, self._desk.seen)

    def let_go(self) -> None:
        """Show no cut file any more."""
        self._desk.held = None
        self.changed.emit()

    def _on_held(self, held: Held) -> None:
        self._desk.held, self._desk.page = held, held.page
        self.held.emit(held)
        self.changed.emit()

    # -- by hand -------------------------------------------------------------------------------------

    def _on_moved(self, number: int, dx_mm: float, dy_mm: float) -> None:
        from honest_edge.app.sheet_edits import with_pin

        self._try(lambda: with_pin(self._desk.seen, self._desk.page, number, dx_mm=dx_mm, dy_mm=dy_mm), "place by hand")

    def _show_menu(self, number: int, at: QPoint) -> None:
        self.menu(number).exec(at)

    def menu(self, number: int) -> QMenu:
        """Return what can be done with one copy."""
        from honest_edge.app.sheet_edits import with_pin, without_pin

        seen, page = self._desk.seen, self._desk.page
        menu = QMenu()
        for name, degrees in (("Turn by a quarter", 90.0), ("Turn by 15°", 15.0)):
            turn = menu.addAction(name)
            if turn is not None:
                turn.triggered.connect(
                    lambda _on, by=degrees: self._try(
                        lambda: with_pin(seen, page, number, dx_mm=0.0, dy_mm=0.0, turn_deg=by), "turn by hand"
                    )
                )
        if seen.plan is not None and seen.plan.pages[page][number].is_pinned:
            release = menu.addAction("Let the fit place it")
            if release is not None:
                release.triggered.connect(lambda _on: self._try(lambda: without_pin(seen, page, number), "release"))
        return menu

    def _keep_used(self) -> None:
        from honest_edge.app.sheet_edits import with_used

        self._try(lambda: with_used(self._desk.seen, self._desk.page), "keep the sheet as used")

    def take_stroke(self, points: Sequence[tuple[float, float]]) -> None:
        """Take a box drawn on the table as used."""
        xs, ys = [x for x, _ in points], [y for _, y in points]
        box = (min(xs), min(ys), max(xs), max(ys))
        if box[2] - box[0] < 1 or box[3] - box[1] < 1:
            self._desk.said.emit("A used area needs some size: drag from one of its corners to the opposite one")
            return
        self._edit_sheet("used area", used=(*self._desk.job.sheet.used, box))

    def _edit_sheet(self, words: str, **changes: object) -> None:
        sheet = self._desk.build(lambda: replace(self._desk.job.sheet, **changes))  # type: ignore[arg-type]
        if sheet is not None:
            self._desk.edit_job(words, sheet=sheet)

    def _try(self, make: Callable[[], Job], words: str) -> None:
        """Edit the job, or say why not and put everything back where it was."""
        if self._desk.seen.job != self._desk.job:
            self._desk.redraw_wanted.emit()  # what is shown is older than the job
            return
        try:
            job = make()
        except HonestEdgeError as error:
            self._desk.said.emit(str(error))
            self._desk.redraw_wanted.emit()
            return
        self._replace(job, words)

    def _replace(self, job: Job, words: str) -> None:
        self._desk.document.edit(job, words)
