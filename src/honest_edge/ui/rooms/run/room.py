"""Run: one step at a time, beside it the list, the tally, and the three lanes below."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace
from functools import cached_property
from pathlib import Path
from typing import TYPE_CHECKING, cast

from PyQt6.QtCore import QTimer
from PyQt6.QtWidgets import QCheckBox, QHBoxLayout, QStackedWidget, QVBoxLayout, QWidget

from honest_edge.core.run.guide import Step
from honest_edge.core.run.print_check import expected_mm
from honest_edge.core.values.job import Job
from honest_edge.ui.rooms.run.alerts import Alerts
from honest_edge.ui.rooms.run.before_view import BeforeView
from honest_edge.ui.rooms.run.finder import SheetFinder
from honest_edge.ui.rooms.run.keeper import RunKeeper, Wish
from honest_edge.ui.rooms.run.list_words import details_of, done_of, head_words, without_of
from honest_edge.ui.rooms.run.other_screen import OtherScreen
from honest_edge.ui.rooms.run.page import StepPage
from honest_edge.ui.rooms.run.page_prints import PagePrints
from honest_edge.ui.rooms.run.pages import Pages
from honest_edge.ui.rooms.run.printing import RunPrinting
from honest_edge.ui.rooms.run.sheet_drawing import SheetPicture
from honest_edge.ui.rooms.run.step_list import StepColumn, listed_steps
from honest_edge.ui.rooms.run.step_view import StepView
from honest_edge.ui.rooms.run.tally_panel import TallyPanel
from honest_edge.ui.rooms.run.timeline_view import TimelineView
from honest_edge.ui.rooms.run.words import REASONS, SIDES
from honest_edge.ui.shared.host import Host
from honest_edge.ui.shared.room import Room
from honest_edge.ui.widgets.fields import button, label
from honest_edge.ui.widgets.layouts import scrolled, show_in
from honest_edge.ui.widgets.local import shown_length
from honest_edge.ui.widgets.theme import eased_px, px

if TYPE_CHECKING:
    from honest_edge.app.results.progress import IsCancelled, ReportProgress
    from honest_edge.app.run.before import BeforeRun
    from honest_edge.files.runs.journal import LeftRun

_TICK_MS, _AHEAD_TICKS = 1000, 15
_WAITS = ("dry", "cutting")


class RunRoom(Room):
    """Leads one run of this window."""

    def __init__(self, host: Host, question: str) -> None:
        super().__init__(host)
        self._question = question
        self.keeper = RunKeeper(host)
        self.keeper.changed.connect(self.show_run)
        self.keeper.outlook_changed.connect(self._show_outlook)
        self.keeper.progress.connect(self._show_progress)
        self.printing = RunPrinting(self.keeper, lambda: self.widget)
        self.pages = Pages(self.keeper, self.printing)
        self.alerts = Alerts()
        self._looking, self.prints = host.new_task(), PagePrints(host, self.show_run)
        self.finder = SheetFinder(host)
        self._looking.done.connect(lambda found: self._show_before(cast("BeforeRun", found)))
        self._looking.progress.connect(lambda _share, words: self.before.under.setText(f"{words} …"))
        self._looking.failed.connect(lambda words: host.say(words, tone="danger"))
        self._other: OtherScreen | None = None
        self._before: BeforeRun | None = None
        self._waited_for: tuple[str, int] | None = None
        self._ticks = 0
        self._differs_of: tuple[str, Job] | None = None
        self._differs: tuple[str, ...] = ()
        self._timer = QTimer(self)
        self._timer.setInterval(_TICK_MS)
        self._timer.timeout.connect(self.tick)

    # -- building ----------------------------------------------------------------------------------------

    @cached_property
    def widget(self) -> QWidget:
        """Before a run its terms; in a run list, step, tally and lanes."""
        widget = QWidget()
        widget.setObjectName("room")
        column = QVBoxLayout(widget)
        column.setContentsMargins(0, 0, 0, 0)
        self.stack = QStackedWidget()
        column.addWidget(self.stack)
        self.before = BeforeView(self._question, self.host.go_to)
        self.before.called_off.connect(self.keeper.call_off)
        self.before.begun.connect(lambda wish: self._begin(cast(Wish, wish)))
        self.before.taken_up.connect(lambda run: self.keeper.take_up(cast("LeftRun", run).folder))
        self.before.sign_typed.connect(self.finder.look_up)
        self.finder.found.connect(self.before.sign_words.setText)
        self.run_widget = self._run_widget()
        self.stack.addWidget(self.before)
        self.stack.addWidget(self.run_widget)
        return widget

    def _run_widget(self) -> QWidget:
        widget = QWidget()
        across = QHBoxLayout(widget)
        across.setContentsMargins(0, 0, 0, 0)
        across.setSpacing(0)
        across.addWidget(self._list_column())
        middle = QVBoxLayout()
        middle.setSpacing(0)
        self.view = StepView(self.keeper, lambda: self.host.tokens)
        self.lanes = TimelineView(lambda: self.host.tokens)
        middle.addWidget(scrolled(self.view), 1)
        middle.addWidget(self.lanes)
        across.addLayout(middle, 1)
        self.tally = TallyPanel()
        across.addWidget(self.tally)
        return widget

    def _list_column(self) -> QWidget:
        listing = QWidget()
        listing.setFixedWidth(eased_px(204))
        column = QVBoxLayout(listing)
        column.setContentsMargins(px(12), px(16), px(6), px(12))
        column.setSpacing(px(4))
        self.head, self.sealed, self.differs = label("", "heading"), label("", "soft"), label("", "look")
        self._steps = StepColumn(lambda: self.host.tokens)
        self.list = self._steps.list
        for text in (self.head, self.sealed, self.differs):
            column.addWidget(text)
        column.addSpacing(px(8))
        column.addWidget(self._steps, 1)
        self.sound = QCheckBox("Sound after a wait")
        self.sound.setChecked(self.host.prefs.run_sound == "on")
        self.sound.toggled.connect(self._set_sound)
        self.sound.setToolTip("The system’s bell, where it has one")
        self.lacking = label("", "soft")
        self.other_screen = button("On another screen too", self.show_other_screen, link=True)
        self.leave = button("Leave it for later", self.keeper.leave, link=True)
        self.leave.setToolTip("The run stays as it is on the disk, and is offered here again")
        for widget in (self.lacking, self.sound, self.other_screen, self.leave):
            column.addWidget(widget)
        return listing

    # -- visiting ------------------------------------------------------------------------------------------

    def visit(self) -> None:
        """Show the run, or what one would take."""
        _ = self.widget
        self.keeper.machine.look_again()
        self.show_run()
        if self.keeper.conductor is not None:
            self.view.take_focus()
            return
        self.before.begin.setFocus()
        if not self.keeper.is_taking:
            self._look_before()

    def turn_to(self, part: str) -> None:
        """Go on with a run that was left, named by its folder."""
        self.visit()
        if self.keeper.conductor is None and not self.keeper.is_taking:
            from honest_edge.files.runs.journal import runs_folder

            self.keeper.take_up(runs_folder() / part)

    def _look_before(self) -> None:
        host, overview, runs = self.host, self.host.workspace.overview, dict(self.host.workspace.document.runs)
        desk = host.desk()
        self.before.show_before(None, is_demo=False, stock="")

        def work(*, report: ReportProgress, cancelled: IsCancelled) -> BeforeRun:
            from honest_edge.app.run.before import before_run
            from honest_edge.files.clock import present
            from honest_edge.files.runs.journal import runs_folder

            return before_run(
                overview, host.pipeline(), desk(), runs_folder(), present().wall_ms, of_project=runs,
                report=report, cancelled=cancelled,
            )  # fmt: skip

        self._looking.submit(work)

    def _show_before(self, before: BeforeRun) -> None:
        self._before = before
        document = self.host.workspace.document
        self.before.show_before(before, is_demo=document.is_demo, stock=document.job.sheet.stock.name)
        window = self.widget.window()
        has_keys = None if window is None else window.focusWidget()
        if has_keys is None or not self.before.isAncestorOf(has_keys):
            self.before.begin.setFocus()  # it could not have the keys before it could be pressed

    def job_changed(self) -> None:
        """The job is another one: what a run of it takes is, too."""
        if "widget" not in self.__dict__:
            return
        if self.keeper.conductor is not None:
            self.keeper.conductor.follow(self.host.workspace.job)
            self.show_run()
        elif self.widget.isVisible() and not self.keeper.is_taking:
            self._look_before()

    def look_changed(self) -> None:
        if "widget" in self.__dict__:
            self.show_run()

    def other_job(self) -> None:
        """Let go of the run of the job before: it stays on the disk, and is offered when its job is open."""
        if self.keeper.conductor is not None:
            self.keeper.let_go()
            self.keeper.changed.emit()

    def close(self) -> None:
        """Let go of the run, which stays on the disk; no widget is touched: this may not be the window's thread."""
        self.keeper.let_go()

    def _begin(self, wish: Wish) -> None:
        self.keeper.begin(wish)

    def _show_progress(self, share: float, words: str) -> None:
        if self.keeper.conductor is None:
            self.before.show_progress(share, words)
        else:
            self.host.say(f"{words} …")

    # -- showing ---------------------------------------------------------------------------------------------

    def show_run(self) -> None:
        """Show the step in hand."""
        if "widget" not in self.__dict__:
            return
        conductor = self.keeper.conductor
        if conductor is None:
            was_running = self.stack.currentWidget() is self.run_widget
            show_in(self.stack, self.before)
            self.before.show_progress(0.0 if self.keeper.is_taking else None, "Sealing")
            self._timer.stop()
            self.alerts.keep_awake(False)
            if self._other is not None:
                self._other.close()
            if was_running and not self.keeper.is_taking:
                self._look_before()
            return
        has_begun = self.stack.currentWidget() is not self.run_widget
        show_in(self.stack, self.run_widget)
        if not self._timer.isActive():
            self._timer.start()
        self.alerts.keep_awake(not conductor.state.ended)
        self.lacking.setText(self.alerts.lacking)
        self.lacking.setVisible(bool(self.alerts.lacking))
        step = self.keeper.step()
        self._waited_for = (step.key, step.sheet) if step.key in _WAITS and step.wait_s > 0 else None
        self._show_list(step)
        self._show_step(step)
        self._show_beside()
        if has_begun and self.widget.isVisible():
            self.view.take_focus()  # the button that began it let go of the keys while it could not be pressed

    def _show_list(self, step: Step) -> None:
        conductor = self.keeper.conductor
        assert conductor is not None
        self.head.setText(head_words(conductor, step))
        when = "practice, " if conductor.seal.is_practice else ""
        self.sealed.setText(f"{when}run {conductor.seal.code}\nsealed, nothing of it can change")
        differs = self._differing()
        late = conductor.clock_set_back_s()
        notes = []
        if not conductor.is_of(self.host.workspace.job):
            notes.append("Its job is not open here. The run goes on as it was sealed.")
        elif differs:
            names = ", ".join(differs[:3]) + (" …" if len(differs) > 3 else "")
            notes.append(f"The job was changed since: {names}. The run goes on as it was sealed.")
        if late > 1:
            notes.append(f"The clock was set back by {late / 60:.0f} min: touch a sheet before you trust its time.")
        self.differs.setText("\n".join(notes))
        self.differs.setVisible(bool(notes))
        unit = self.host.workspace.unit
        self._steps.show_rows(
            listed_steps(
                step.key, details_of(conductor, step, unit), without=without_of(conductor), done=done_of(conductor)
            )
        )

    def _differing(self) -> tuple[str, ...]:
        """Return what of the job is not as it was sealed; asked once for each job."""
        conductor, job = self.keeper.conductor, self.host.workspace.job
        assert conductor is not None
        if self._differs_of is None or self._differs_of[0] != conductor.seal.run or self._differs_of[1] is not job:
            self._differs_of, self._differs = (conductor.seal.run, job), conductor.differing(job)
        return self._differs

    def _show_step(self, step: Step) -> None:
        page = self.pages.page(step)
        picture, count = self._picture(page), self._count(step)
        for view in self._views():
            view.show_page(page, picture, count)
        self.tally.show_caution(page.caution)

    def _views(self) -> list[StepView]:
        return [self.view, *([] if self._other is None else [self._other.view])]

    def _count(self, step: Step) -> int:
        conductor = self.keeper.conductor
        assert conductor is not None
        return len(step.sheets) if step.sheets else len(conductor.seal.mark_names)

    def _picture(self, page: StepPage) -> SheetPicture | None:
        conductor, draft = self.keeper.conductor, self.keeper.draft
        if conductor is None or page.drawn is None:
            return None
        seal = conductor.seal
        if page.drawn.page is not None:
            return SheetPicture(seal=seal, page=page.drawn.page, print=self.prints.of(conductor, page.drawn.page))
        if not page.drawn.sheet:
            return None
        sheet = conductor.state.sheet(page.drawn.sheet)
        reasons, sides = dict(REASONS), dict(SIDES)
        unit = self.host.workspace.unit
        across, down = expected_mm(seal.sheet)
        is_seen = page.drawn.kind == "inspect"
        return SheetPicture(
            seal=seal,
            page=sheet.page,
            kind=page.drawn.kind,
            print=self.prints.of(conductor, sheet.page),
            copy=page.drawn.copy,
            found=frozenset(draft.found),
            bad={
                one.copy: f"bad, {reasons[one.reason]}" + (f", {sides[one.side]}" if one.side else "")
                for one in draft.bad.values()
            },
            chosen=frozenset(draft.chosen) if page.drawn.kind == "some" else frozenset(),
            skipped=sheet.skipped,
            cut=self.keeper.cut_by_practice(sheet.number) if is_seen else None,
            done=self.keeper.machine.done_lines(),
            around=self.keeper.machine.around(conductor, sheet.number) if page.drawn.kind == "pointer" else None,
            lengths=(shown_length(across, unit, digits=1), shown_length(down, unit, digits=1))
            if unit == "mm"
            else (shown_length(across, unit), shown_length(down, unit)),
        )

    def _show_outlook(self) -> None:
        """What came out and how it goes on was reckoned: steps speak of it too."""
        if self.keeper.conductor is not None:
            self._show_step(self.keeper.step())
            self._show_beside()

    def _show_beside(self) -> None:
        self.tally.show_tally(self.keeper.tally, self.keeper.known)
        self.lanes.show_timeline(self.keeper.timeline)
        self.lanes.setVisible(self.keeper.timeline is not None)

    # -- time ----------------------------------------------------------------------------------------------------

    def tick(self) -> None:
        """A second went by: waits grow shorter, and what is over is told."""
        conductor = self.keeper.conductor
        if conductor is None or conductor.state.ended:
            return
        step = self.keeper.step()
        waiting = (step.key, step.sheet) if step.key in _WAITS and step.wait_s > 0 else None
        if self._waited_for is not None and waiting != self._waited_for:
            self._tell_over(*self._waited_for, step)
        if waiting is not None or step.is_meanwhile or waiting != self._waited_for:
            self.show_run()
        self._ticks += 1
        if self._ticks % _AHEAD_TICKS == 0:
            self.keeper.look_ahead()

    def _tell_over(self, key: str, sheet: int, step: Step) -> None:
        if key == "dry" and step.key != "dry":
            words = f"Sheet {sheet} is dry."
        elif key == "cutting" and step.key == "cutting":
            words = f"Sheet {sheet} should be cut by now."
        else:
            return
        self.alerts.tell(words, with_sound=self.sound.isChecked())
        self.host.say(words, tone="fine")

    def _set_sound(self, wanted: bool) -> None:
        self.host.set_prefs(replace(self.host.prefs, run_sound="on" if wanted else "off"))

    # -- another screen, and sheets that turn up ---------------------------------------------------------------------

    def show_other_screen(self) -> None:
        """Show the step in a window of its own."""
        if self._other is None:
            self._other = OtherScreen(self.widget, self.keeper, lambda: self.host.tokens, self._other_closed)
        self._other.show()
        self._other.raise_()
        self.show_run()

    def _other_closed(self) -> None:
        if self._other is not None:
            gone, self._other = self._other, None
            gone.deleteLater()

    def take_files(self, paths: Sequence[Path]) -> bool:
        """Take a photograph of a sheet that turned up, or of the one that is laid on its carrier."""
        conductor = self.keeper.conductor
        if conductor is None:
            return len(paths) == 1 and self.finder.take(paths[0])
        return len(paths) == 1 and self.keeper.looker.takes(conductor, paths[0])
