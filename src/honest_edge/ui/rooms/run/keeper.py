"""The run in hand of this window: begun, taken up, led on; what the Book is told; files written from the seal."""

from __future__ import annotations

import secrets
from collections.abc import Callable
from dataclasses import dataclass, replace
from datetime import UTC, datetime
from pathlib import Path
from typing import TYPE_CHECKING, Any, cast

from PyQt6.QtCore import QObject, pyqtSignal

from honest_edge.core.values.errors import Cancelled, HonestEdgeError
from honest_edge.core.values.run_events import BladeFitted, Ended, Inspected, Ordered, Spoiled
from honest_edge.ui.rooms.run.at_machine import AtMachine
from honest_edge.ui.rooms.run.draft import Draft
from honest_edge.ui.rooms.run.looker import SheetLooker
from honest_edge.ui.shared.asker import Teller
from honest_edge.ui.shared.host import Host

if TYPE_CHECKING:
    from honest_edge.app.book.desk import BookDesk
    from honest_edge.app.results.progress import IsCancelled, ReportProgress
    from honest_edge.app.run.clocks import RunClock
    from honest_edge.app.run.conductor import Conductor
    from honest_edge.app.run.outcome import Tally
    from honest_edge.app.run.practice import CutSheet, PracticeShop
    from honest_edge.app.run.run_facts import RunFacts
    from honest_edge.app.run.timeline import Timeline
    from honest_edge.core.run.guide import Step
    from honest_edge.core.run.state import RunState
    from honest_edge.core.values.run_seal import SealedRun

_CUTS_FROM_FILES = ("proof", "pass")
_TELLING = (Ordered, Inspected, Spoiled, Ended)
_USUAL_DRYING_S = 1200.0


@dataclass(frozen=True, slots=True, kw_only=True)
class Wish:
    """How a run is to begin."""

    is_practice: bool
    is_laminated: bool
    carriers: int
    block: int
    drying_s: float
    assurance: float | None
    is_trial: bool = False


class RunKeeper(QObject):
    """Holds one run; everything that shows it listens to ``changed``."""

    changed = pyqtSignal()
    outlook_changed = pyqtSignal()
    progress = pyqtSignal(float, str)

    def __init__(self, host: Host) -> None:
        super().__init__()
        self.host = host
        self.conductor: Conductor | None = None
        self.clock: RunClock | None = None
        self.shop: PracticeShop | None = None
        self.known: RunFacts | None = None
        self.tally: Tally | None = None
        self.timeline: Timeline | None = None
        self.draft = Draft()
        self.machine = AtMachine(host, self.run_folder)
        self.machine.changed.connect(self.changed)
        self.looker = SheetLooker(host)
        self.looker.looked.connect(lambda look: self.turn(looked=look))
        self.looker.measured.connect(lambda told: self.turn(told=told))
        self.looker.print_looked.connect(lambda look: self.turn(print_looked=look))
        self._cut: dict[int, CutSheet] = {}
        self.written: tuple[str, ...] = ()
        """Names of the files that the step in hand cuts from."""
        self._taking, self._seeing, self._writing = host.new_task(), host.new_task(), host.new_task()
        self.tell = Teller(host)
        self._telling = Teller(
            host,
            lambda words: host.say(f"{words}. The run goes on, and the Book is told again later.", tone="danger"),
        )
        self._writing.done.connect(lambda found: self._on_written(*cast("tuple[Any, Any, Any, Any]", found)))
        self._writing.failed.connect(lambda words: host.say(words, tone="danger"))
        self._taking.done.connect(lambda found: self._taken(*cast("tuple[Any, ...]", found)))
        self._taking.progress.connect(self.progress)
        self._taking.ended.connect(self.changed)
        self._taking.failed.connect(self._on_failed)
        self._seeing.done.connect(lambda found: self._on_seen(*cast("tuple[Any, Any, Any]", found)))
        self._seeing.failed.connect(lambda words: host.say(words, tone="danger"))

    # -- taking a run in hand ----------------------------------------------------------------------

    @property
    def is_taking(self) -> bool:
        """Whether a run is being begun or taken up."""
        return self._taking.busy

    @property
    def is_practice(self) -> bool:
        """Whether the run in hand is on the practice bench."""
        return self.conductor is not None and self.conductor.seal.is_practice

    def begin(self, wish: Wish) -> None:
        """Seal the job as it is and take its run in hand."""
        host, overview = self.host, self.host.workspace.overview
        assets = dict(host.workspace.document.holder.assets)
        is_demo, desk = host.workspace.document.is_demo, host.desk()
        files_go_to = host.workspace.place.folder

        def work(*, report: ReportProgress, cancelled: IsCancelled) -> tuple[Any, ...]:
            from honest_edge.app.book.sheet_picture import sheets_picture
            from honest_edge.app.run.clocks import RunClock
            from honest_edge.app.run.conductor import Conductor
            from honest_edge.app.run.practice import PracticeShop
            from honest_edge.app.run.sealing import Circumstances, sealed
            from honest_edge.files.runs.journal import runs_folder

            clock = RunClock()
            now_ms = clock().wall_ms
            at = datetime.fromtimestamp(now_ms / 1000, UTC)
            circumstances = Circumstances(
                run=secrets.token_hex(16),
                sealed_at=at.strftime("%Y-%m-%dT%H:%M:%SZ"),
                drying_s=wish.drying_s,
                is_laminated=wish.is_laminated,
                is_practice=wish.is_practice,
                assurance=wish.assurance,
                is_trial=wish.is_trial,
            )
            sealing = sealed(overview, host.pipeline(), circumstances, report=report, cancelled=cancelled)
            shop = PracticeShop(sealing.seal, overview) if wish.is_practice else None
            known, words = self._known(desk, sealing.seal, now_ms)
            try:
                if wish.is_practice == is_demo:
                    desk().keep_job(circumstances.run, overview.job, assets, sheets_picture(overview), now_ms)
            except HonestEdgeError as error:
                words = f"{error}. The run goes on without it"
            if cancelled():
                raise Cancelled
            conductor = Conductor.begin(
                runs_folder(), sealing, clock, block=min(wish.block, wish.carriers), carriers=wish.carriers
            )
            conductor.journal.let_files_go_to(files_go_to / f"run-{sealing.seal.code}")
            if known.blade:
                conductor.happens(BladeFitted(blade=known.blade))
            if cancelled():  # nobody will hear of it
                conductor.journal.discard()
                raise Cancelled
            return conductor, known, shop, clock, words

        self._taking.submit(work)
        self.changed.emit()

    def take_up(self, folder: Path) -> None:
        """Take up a run that was left."""
        overview = self.host.workspace.overview
        of_project, desk = self.host.workspace.document.runs.get(folder.name), self.host.desk()

        def work(*, report: ReportProgress, cancelled: IsCancelled) -> tuple[Any, ...]:
            from honest_edge.app.run.clocks import RunClock
            from honest_edge.app.run.conductor import Conductor
            from honest_edge.app.run.practice import PracticeShop
            from honest_edge.app.run.run_facts import forgotten

            report(0.0, "Taking the run up")
            clock = RunClock()
            conductor = Conductor.take_up(folder, clock, of_project)
            shop = None
            if conductor.seal.is_practice:
                clock.catch_up(conductor.state.last)
                if overview.plan is not None and not conductor.differing(overview.job):
                    shop = PracticeShop(conductor.seal, overview)
            known, words = self._known(desk, conductor.seal, clock().wall_ms)
            said = (*conductor.journal.notes, forgotten(known, conductor.state), words)
            return conductor, known, shop, clock, ". ".join(filter(None, said))

        self._taking.submit(work)
        self.changed.emit()

    def _known(self, desk: Callable[[], BookDesk], seal: SealedRun, now_ms: int) -> tuple[RunFacts, str]:
        """Return what the Book knows, and why it does not answer: a run goes on without it."""
        from honest_edge.app.run.run_facts import RunFacts, run_facts

        names = list(dict.fromkeys(design.name for design in seal.designs))
        try:
            return run_facts(desk(), seal.sheet, names, now_ms, seal.run), ""
        except HonestEdgeError as error:
            return RunFacts(), f"{error}. The run goes on without it"

    def call_off(self) -> None:
        """Call off what takes a run in hand."""
        self._taking.cancel()
        self.changed.emit()

    def _taken(
        self, conductor: Conductor, known: RunFacts, shop: PracticeShop | None, clock: RunClock, words: str
    ) -> None:
        if words:
            self.host.say(f"{words}.", tone="look")
        self.let_go()
        self.conductor, self.known, self.shop, self.clock = conductor, known, shop, clock
        conductor.follow(self.host.workspace.job)
        from_here = self.machine.is_wanted(conductor)  # what its process wrote down says where
        self.draft = Draft(stage="where" if conductor.asks_where and not from_here else "")
        self._note_in_project()
        self._tell()
        self._after()

    def let_go(self) -> None:
        """Let go of the run; it stays as it is on the disk."""
        self.machine.close()
        if self.conductor is not None:
            self.conductor.journal.close()
        self.conductor = self.shop = self.tally = self.timeline = None
        self._cut = {}

    def leave(self) -> None:
        """Leave the run for later; a practice run that is over leaves nothing behind."""
        self._note_in_project()
        journal = None if self.conductor is None else self.conductor.journal
        is_over = self.is_practice and self.conductor is not None and bool(self.conductor.state.ended)
        self.let_go()
        if journal is not None and is_over:
            journal.discard()
        self.changed.emit()

    def _on_failed(self, words: str) -> None:
        self.host.say(words, tone="danger")
        self.changed.emit()

    # -- what happens ----------------------------------------------------------------------------------

    def step(self) -> Step:
        """Return what to do now."""
        assert self.conductor is not None
        return self.conductor.step()

    def do(self, *acts: Callable[[Conductor], object]) -> bool:
        """Let something happen; say why where it cannot, and nothing has happened then."""
        conductor = self.conductor
        if conductor is None:
            return False
        before = len(conductor.events)
        self.host.unsay()
        try:
            for act in acts:
                act(conductor)
        except HonestEdgeError as error:
            self.host.say(str(error), tone="danger")
            self.changed.emit()
            return False
        self.draft = Draft()
        self.written = ()
        conductor.asks_where = False
        if any(isinstance(event, _TELLING) for event in conductor.events[before:]):
            self._note_in_project()
            self._tell()
        self._after()
        return True

    def _after(self) -> None:
        self.changed.emit()
        self.look_ahead()
        if (step := self.step()).key in _CUTS_FROM_FILES and not self.draft.stage:
            self.with_files(step)  # they lie there before anything is started

    def turn(self, **changes: object) -> None:
        """Change what is being said, and show it."""
        for name, value in changes.items():
            setattr(self.draft, name, value)
        self.changed.emit()

    def cut_by_practice(self, sheet: int) -> CutSheet | None:
        """Return a sheet as the practice bench cut it; None where it did not, or that is not reckoned yet."""
        return self._cut.get(sheet)

    def skip_wait(self, seconds: float) -> None:
        """Let a practice run's wait be over."""
        if self.clock is not None and self.is_practice:
            self.clock.skip(seconds + 0.1)
            self._after()

    # -- beside the window's thread ----------------------------------------------------------------------

    def look_ahead(self) -> None:
        """Reckon anew what came out, and how it goes on."""
        conductor, known = self.conductor, self.known
        if conductor is None or known is None:
            return
        seal, state, events, now = conductor.seal, conductor.state, list(conductor.counting), conductor.clock()
        shop, cut = self.shop, self._cut

        def work(*, report: ReportProgress, cancelled: IsCancelled) -> tuple[Any, Any, Any]:
            from honest_edge.app.run.timeline import timeline
            from honest_edge.core.run.foreseen import better_block

            if shop is not None:  # judging takes a moment, so it is done here
                for sheet in state.live:
                    if sheet.passes and sheet.number not in cut:
                        cut[sheet.number] = shop.cut(sheet.number, sheet.page)
            tally = conductor.tally(known)
            if state.ended:
                return tally, None, state
            block = better_block(seal, state, now, known.times)
            ordered = state if block == state.block else replace(state, block=block)
            return tally, timeline(seal, ordered, events, now, known.times, is_own=bool(known.own)), ordered

        self._seeing.submit(work)

    def _on_seen(self, tally: Tally, timeline: Timeline | None, ordered: RunState) -> None:
        if self.conductor is None:
            return
        self.tally, self.timeline = tally, timeline
        state = self.conductor.state
        if ordered.block != state.block and ordered == replace(state, block=ordered.block):
            try:  # what is being typed stays
                self.conductor.happens(Ordered(block=ordered.block, carriers=state.carriers))
            except HonestEdgeError as error:
                self.host.say(str(error), tone="danger")
                return
            how = "sheet by sheet" if ordered.block == 1 else f"in blocks of {ordered.block}"
            self.host.say(f"The run is late: {how} saves over two minutes from here, so it goes on like that.")
            self.changed.emit()
        self.outlook_changed.emit()

    def _tell(self) -> None:
        """Tell the Book what happened; the demo's runs are told to the demo's Book, the user's own to their own."""
        conductor, host = self.conductor, self.host
        if conductor is None or conductor.seal.is_practice != host.workspace.document.is_demo:
            return
        seal, seal_hash, events = conductor.seal, conductor.journal.seal_hash, list(conductor.events)

        def tell(desk: BookDesk, _now_ms: int) -> None:
            from honest_edge.app.run.telling import book_events

            desk.keep(book_events(seal, seal_hash, events), events[-1].at.wall_ms if events else 0)

        self._telling(tell)

    def _note_in_project(self) -> None:
        """Keep seal and journal with the job, in its file too where it has one."""
        conductor, document = self.conductor, self.host.workspace.document
        if conductor is None or conductor.seal.is_practice:
            return
        if conductor.seal.run not in document.runs and conductor.differing(document.job):
            return  # another job is open
        write = document.note_run(conductor.seal.run, conductor.journal.text())
        self.host.writes.submit(write, failed=self._on_not_noted)

    def _on_not_noted(self, words: str) -> None:
        self.host.say(f"The run is not noted in the project: {words}", tone="look")

    def with_files(self, step: Step, *acts: Callable[[Conductor], object]) -> None:
        """Write what a step cuts from into the run's folder, beside the window's thread; then let something happen."""
        conductor = self.conductor
        if conductor is None or self.is_practice or conductor.seal.sheet.machine.prints_own_marks:
            if acts:
                self.do(*acts)
            return
        folder = self.run_folder()

        def work(*, report: ReportProgress, cancelled: IsCancelled) -> tuple[Any, ...]:
            from honest_edge.files.atomic_write import write_set

            contents = conductor.cut_files(step)
            write_set(folder, contents, replace=True)
            return conductor, step, tuple(contents), acts

        self._writing.submit(work)

    def _on_written(
        self, conductor: Conductor, step: Step, names: tuple[str, ...], acts: tuple[Callable[[Conductor], object], ...]
    ) -> None:
        if conductor is not self.conductor or self.step() != step:
            return
        if not acts or self.do(*acts):
            self.written = names
            self.changed.emit()

    def run_folder(self) -> Path:
        """Return where the run's files go."""
        assert self.conductor is not None
        of_job: Path = self.host.workspace.place.folder
        return self.conductor.journal.files_go_to or of_job / f"run-{self.conductor.seal.code}"
