"""The window: path of stations, tray, light table, cards and strip around one document."""

from __future__ import annotations

from collections.abc import Sequence
from functools import partial
from pathlib import Path
from typing import TYPE_CHECKING, cast

from PyQt6.QtCore import pyqtSignal
from PyQt6.QtGui import QCloseEvent
from PyQt6.QtWidgets import QBoxLayout, QStackedWidget

from honest_edge.app.results.overview import Overview
from honest_edge.core.values.findings import Finding
from honest_edge.core.values.job import Design
from honest_edge.files.prefs import Prefs, PrefsFile
from honest_edge.ui.rooms.registry import ROOMS
from honest_edge.ui.shared.contract import Station, StationEntry
from honest_edge.ui.shared.document import Document
from honest_edge.ui.shared.habit_keeper import HabitKeeper
from honest_edge.ui.shared.host import MessageAction
from honest_edge.ui.shared.panel import WIDTH_PX
from honest_edge.ui.shared.room import RoomEntry
from honest_edge.ui.shared.tasks import LatestOnly, WorkerPool, WriteQueue
from honest_edge.ui.shared.workspace import Workspace
from honest_edge.ui.shell.art_intake import ArtIntake
from honest_edge.ui.shell.design_acts import DesignActs
from honest_edge.ui.shell.drawn_table import DrawnTable
from honest_edge.ui.shell.dropped import Dropped
from honest_edge.ui.shell.fault_messages import say_fault
from honest_edge.ui.shell.guide_bar import GuideBar
from honest_edge.ui.shell.helper import Helper
from honest_edge.ui.shell.idle_work import IdleWork
from honest_edge.ui.shell.job_files import JobFiles
from honest_edge.ui.shell.make_line.keeper import MakeKeeper
from honest_edge.ui.shell.menu import Choices, WindowMenu
from honest_edge.ui.shell.message_bar import MessageBar
from honest_edge.ui.shell.message_place import with_messages
from honest_edge.ui.shell.other_job import leave_nothing
from honest_edge.ui.shell.overview_task import OverviewTask
from honest_edge.ui.shell.path_bar import PathBar
from honest_edge.ui.shell.pipeline_keeper import PipelineKeeper
from honest_edge.ui.shell.size_keeper import keeping_sizes
from honest_edge.ui.shell.start_keeper import StartKeeper
from honest_edge.ui.shell.station_shelf import StationShelf
from honest_edge.ui.shell.top_bar import TopBar
from honest_edge.ui.shell.tray import Tray
from honest_edge.ui.shell.user_choices import UserChoices
from honest_edge.ui.shell.window_body import body_of
from honest_edge.ui.shell.window_keys import KeyedWindow
from honest_edge.ui.shell.workshop import Workshop
from honest_edge.ui.stations.registry import STATIONS
from honest_edge.ui.table.light_table import LightTable
from honest_edge.ui.table.tool import Tool
from honest_edge.ui.widgets import theme
from honest_edge.ui.widgets.layouts import column_of, show_in
from honest_edge.ui.widgets.tokens import Tokens

if TYPE_CHECKING:
    from honest_edge.app.results.design_result import DesignResult
    from honest_edge.app.results.pipeline import Pipeline
    from honest_edge.files.profiles import ProfileFolder

_THREADS = 5  # what was called off may still finish a step


class MainWindow(KeyedWindow):
    """The ``Host`` of stations: shows what the document holds, passes gestures on, computes nothing itself."""

    settled = pyqtSignal()
    """Nothing is computed any more."""
    previewed = pyqtSignal()
    """A first look stands on the table."""

    def __init__(
        self,
        prefs_file: PrefsFile,
        recovery: Path,
        stations: Sequence[StationEntry] = STATIONS,
        rooms: Sequence[RoomEntry] = ROOMS,
    ) -> None:
        super().__init__()
        self.choices = UserChoices(prefs_file, self)
        self.habits = HabitKeeper(prefs_file.folder, self)
        self.pool = WorkerPool(_THREADS)
        self.writes = WriteQueue(self, ended=self._on_task_ended, faulted=self.show_fault)
        self._tasks: list[LatestOnly] = []
        self.document = Document(recovery, self)
        refuse = partial(self.say, tone="danger")
        self.workspace = Workspace(self.document, self.prefs.shown_unit, refuse, lambda: self.prefs)
        self.pipelines = PipelineKeeper(self.document.holder.assets)
        self.stations = StationShelf(stations, self)
        self.workshop = Workshop(rooms, self)
        self.desk, self.bench_changed = self.workshop.desk, self.workshop.bench.look_up
        self.station = self.stations.first
        self._build()
        self._drawn = DrawnTable(self.table, self.workspace)
        self.overviews = keeping_sizes(self, OverviewTask(self, self.bar, self))
        self.jobs = JobFiles(self, self.bar, recovery, self)
        self.make_again, self.practise, self.end_practice = self.jobs.host_acts
        self.notes.addWidget(self.jobs.offer)
        self.acts = DesignActs(self, self, self.overviews)
        self.make = MakeKeeper(self, self.stations, self.cards)
        self.middle.insertWidget(0, self.make.line)
        self.intake = ArtIntake(self, self.bar, self, self._show_new, self.acts.say_parts, self.make.begin)
        self.dropped = Dropped(self, self.jobs, self.stations, self.intake)
        parts = (self.jobs, self.intake, self.workshop, self.path_bar)
        self.start = StartKeeper(self, parts, recovery.with_name("recent"), lambda: self.go_to(self.station))
        self.guide = GuideBar(self, self.stations, self.workshop, lambda: self.station, self.make)
        self.middle.insertWidget(0, self.guide)
        self.helper = Helper(self, self, self.stations, self.workshop, lambda: self.station)
        self.show_help, self.unsay = self.helper.show, self.bar.hide
        self._build_menu()
        self._connect()
        self.setAcceptDrops(True)
        self.setMinimumSize(900, 480)  # at twice the scale 1920 × 1080 pixels are 960 × 540, the desktop's bar included
        self.document.start(self.jobs.fresh_job(), {}, None)
        self.stations[self.station].is_shown = True
        self.refresh()
        self.start.show()

    # -- building ------------------------------------------------------------------------------------

    def _build(self) -> None:
        self.path_bar: PathBar = PathBar(self.tokens, self.stations.entries, self.workshop.entries)
        self.tray = Tray()
        self.table: LightTable = LightTable(self.tokens)
        self.table.set_unit(self.prefs.shown_unit)
        self.bar: MessageBar = MessageBar()
        self.cards: QStackedWidget = QStackedWidget()
        self.strips = QStackedWidget()
        self.cards.setFixedWidth(theme.px(WIDTH_PX))
        self.strips.hide()
        self.notes: QBoxLayout = column_of()
        self.workshop.banners = self.notes
        self.middle: QBoxLayout = column_of(self.table, self.strips)
        self.middle.setStretchFactor(self.table, 1)
        self.top_bar = TopBar(self.path_bar)
        body = body_of(self.top_bar, self.notes, self.workshop, self.tray, self.middle, self.cards)
        self.setCentralWidget(with_messages(body, self.bar, self.table, self.workshop.stack))

    def _build_menu(self) -> None:
        choices = Choices(
            swap_unit=self.choices.swap_unit,
            swap_theme=self.choices.swap_theme,
            preferences=lambda: self.choices.show_dialog(self),
            start_page=self.start.show,
            help=self.helper.show_here,
            find=self.helper.find,
            do_usual=self.guide.do_usual,
            guidance=self.guide.swap,
            remove_design=self.acts.remove,
            duplicate=lambda: self.acts.duplicate(self.here),
            replace_picture=self.acts.choose_other_picture,
            rename=self.acts.rename, fill=self.acts.fill, make_line=self.make.open, quit=self.close_whole,
        )  # fmt: skip
        self.menu = WindowMenu(self, self.top_bar.tools)
        self.menu.build(self.jobs, self.intake, self.table, choices, self.stations.commands())
        self.menu.build_tools(self.document.undo_stack, self.prefs.unit, choices)
        self.tray.make.setMenu(self.menu.making)

    def _connect(self) -> None:
        self.choices.changed.connect(self._show_choices)
        self.document.changed.connect(self._on_job)
        self.document.changed.connect(lambda: self.bar.outdate(self.document.job))
        self.document.file_changed.connect(self._show_title)
        self.overviews.found.connect(self._on_found)
        self.overviews.laid_out.connect(lambda overview: self._on_overview(cast(Overview, overview)))
        self.overviews.done.connect(lambda overview: self._on_overview(cast(Overview, overview)))
        self.path_bar.chosen.connect(self.go_to)
        self.tray.selected.connect(self.take)
        self.tray.together.connect(self._take_together)
        self.tray.removal_wanted.connect(self.acts.remove)
        self.tray.menu_wanted.connect(lambda key, place: self.acts.menu(key).popup(place))
        self.tray.add_wanted.connect(self.intake.choose)
        self.document.keeper.pictures = self.tray.pictures
        self.rest = IdleWork(self, self.settled, lambda: self.busy, self.stations, self.document)
        self.table.clicked.connect(lambda x_mm, y_mm: self.here.table_clicked(x_mm, y_mm))
        self.table.stroke_drawn.connect(lambda tool, points: self.here.stroke_drawn(cast(Tool, tool), points))

    # -- what stations see ---------------------------------------------------------------------------

    @property
    def profiles(self) -> ProfileFolder:
        """The user's machines, printers and stocks."""
        return self.choices.profiles

    def say(self, text: str, *, tone: str = "", actions: Sequence[MessageAction] = ()) -> None:
        """Show one calm line, until the job is another one."""
        self.bar.say(text, tone=tone, actions=actions, job=self.document.job)

    def new_task(self) -> LatestOnly:
        """Return a kind of work off the interface's thread."""
        only = LatestOnly(self.pool, self)
        only.ended.connect(self._on_task_ended)
        only.faulted.connect(self.show_fault)
        self._tasks.append(only)
        return only

    def pipeline(self) -> Pipeline:
        """Return what computes results; loading it takes longer than showing the window, so that is done last."""
        return self.pipelines.pipeline()

    show_fault = say_fault

    def preview_shown(self) -> None:
        """Tell that a first look stands on the table."""
        self.previewed.emit()

    # -- what is in hand -----------------------------------------------------------------------------

    @property
    def here(self) -> Station:
        """The station that is visited."""
        return self.stations[self.station]

    def go_to(self, station: str) -> None:
        """Visit a station, or a room of the workshop."""
        self.path_bar.show_here(station.partition(":")[0])
        self.make.shut()
        if self.workshop.visit(station):
            return
        if station != self.station:
            self.bar.forget_refusal()
            if self.table.tool is not None:
                self.here.lay_tool_down()
            self.here.is_shown = False
            self.here.left()
        self.station = station
        self.here.is_shown = True
        self._refresh(refit=True)
        self.here.look_closer()

    def take(self, key: str) -> None:
        """Take a design in hand."""
        if key == self.workspace.current:
            return
        self.workspace.current = key
        self.bar.forget_refusal()
        self._tell_subject()
        self._refresh(refit=True)
        self.here.look_closer()

    def _take_together(self, keys: tuple[str, ...]) -> None:
        self.workspace.picked = keys
        self.here.panel.show_together()

    def _show_new(self, design: Design, was_made: bool) -> None:
        """Take a design that was just added in hand, where designs begin; the make line takes more as it is."""
        self.take(design.key)
        if was_made or not self.make.is_open:
            self.go_to(self.stations.first)
            self.table.setFocus()
        if was_made:
            self.here.design_made(design)

    def _tell_subject(self) -> None:
        for station in self.stations.made():
            station.subject_changed()

    # -- results -------------------------------------------------------------------------------------

    def _on_job(self) -> None:
        if self.workspace.follow_job():
            leave_nothing(self)
        self._tell_subject()
        self._show_title()
        self.refresh()
        compute_soon = self.here.show_at_once()
        self.overviews.compute_soon() if compute_soon else self.overviews.compute()

    def _on_found(self, key: str, result: DesignResult) -> None:
        self.workspace.fresh[key] = result
        self.workspace.decoded.pop(key, None)
        self.tray.show_result(key, result)
        if key == self.workspace.current:
            self.refresh()
            self.here.look_closer()

    def _on_overview(self, overview: Overview) -> None:
        self.workspace.overview, self.workspace.decoded = overview, {}
        self.workspace.fresh = dict(overview.results)
        self.tray.show_overview(overview)
        self.path_bar.show_overview(overview)
        self.workshop.job_changed()
        self.start.on_overview(overview)
        self.refresh()
        self.here.look_closer()
        self._on_task_ended()

    def show_known(self, findings: tuple[Finding, ...]) -> None:
        """Show what the bench and the Book say against the job."""
        self._on_overview(self.workspace.overview.with_bench(findings))

    def _on_task_ended(self) -> None:
        if not self.busy:
            self.settled.emit()

    @property
    def busy(self) -> bool:
        """Whether what is shown is still being computed, or something is read, written or printed."""
        return self.overviews.is_waiting or self.writes.busy or any(task.busy for task in self._tasks)

    # -- showing -------------------------------------------------------------------------------------

    def _show_title(self) -> None:
        title, is_saved = self.document.job.title, self.document.is_saved
        self.setWindowTitle(f"{'' if is_saved else '*'}{title} – Honest Edge")
        self.top_bar.show_job(title, self.document.path, is_saved=is_saved)

    def refresh(self) -> None:
        """Show the station in hand anew."""
        self._refresh(refit=False)

    def _refresh(self, *, refit: bool) -> None:
        self.tray.show_job(self.document.job, self.workspace.current)
        self.tray.show_decoded(self.workspace.decoded)
        show_in(self.cards, self.here.panel)
        strip = self.here.strip()
        if strip is not None:
            show_in(self.strips, strip)
            self.strips.setFixedHeight(strip.minimumHeight())
        self.strips.setVisible(strip is not None)
        self.here.refresh()
        self.guide.refresh()
        self.make.refresh()
        self.here.panel.show_together()
        self._draw(refit=refit)

    def redraw(self, *, refit: bool = False) -> None:
        """Draw the station in hand anew, though nothing that it named changed."""
        self._drawn.forget()
        self._draw(refit=refit)

    def _draw(self, *, refit: bool) -> None:
        self._drawn.show(self.station, self.here, self.tokens, refit=refit)

    # -- choices of this user ------------------------------------------------------------------------

    @property
    def prefs(self) -> Prefs:
        """The user's choices."""
        return self.choices.prefs

    @property
    def tokens(self) -> Tokens:
        """The theme's colours."""
        return theme.tokens_of(self.prefs.theme)

    def set_prefs(self, prefs: Prefs) -> None:
        """Take and remember choices."""
        self.choices.take(prefs)

    def _show_choices(self) -> None:
        """Show everything in the unit and the colours that are chosen."""
        unit = self.prefs.shown_unit
        self.workspace.unit = unit
        self.menu.units.setText(self.prefs.unit)
        self.table.set_unit(unit)
        self.table.set_tokens(self.tokens)
        self.path_bar.set_tokens(self.tokens)
        for station in self.stations.made():
            station.look_changed()
        self.workshop.look_changed()
        self.start.page.look_changed()
        self.helper.look_changed()
        self.refresh()

    # -- events --------------------------------------------------------------------------------------

    def take_files(self, paths: list[Path]) -> None:
        """Take in files that were dropped."""
        self.dropped.take(paths)

    def closeEvent(self, event: QCloseEvent | None) -> None:
        if event is None:
            return
        if self.jobs.waiting.is_waiting or not self.jobs.may_leave():
            event.ignore()
            return
        self.stop()
        self.jobs.offer.let_go()
        self.document.keeper.drop()
        self.jobs.waiting.for_result(self._finish, "Finishing what was begun")
        event.accept()

    def _finish(self) -> None:
        """Wait for what cannot be called off."""
        self.pool.wait()
        self.writes.wait()
        self.workshop.close()
        self.document.wait()

    def stop(self) -> None:
        """Call off all work."""
        self.overviews.stop()
        self.writes.tell_nobody()
        for task in self._tasks:
            task.cancel()
