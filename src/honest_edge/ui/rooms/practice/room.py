"""Practice: the stories, the bench of the one in hand, and a line that goes along to every station."""

from __future__ import annotations

import secrets
from collections.abc import Callable
from functools import cached_property
from typing import TYPE_CHECKING, Any, cast

from PyQt6.QtWidgets import QStackedWidget, QWidget

from honest_edge.core.values.errors import HonestEdgeError
from honest_edge.ui.rooms.practice.banner import PracticeBanner
from honest_edge.ui.rooms.practice.bench_page import BenchPage
from honest_edge.ui.rooms.practice.story_list import StoryList
from honest_edge.ui.shared.asker import Asker, Teller
from honest_edge.ui.shared.host import Host
from honest_edge.ui.shared.room import Room
from honest_edge.ui.widgets.layouts import show_in

if TYPE_CHECKING:
    from honest_edge.app.book.desk import BookDesk
    from honest_edge.app.practice.day import Cut, PracticeDay
    from honest_edge.app.practice.free_bench import FreeBench
    from honest_edge.app.results.progress import IsCancelled, ReportProgress
    from honest_edge.core.values.practice_notes import Practised

_MOST_SEED = 10_000


class PracticeRoom(Room):
    """Plays one story at a time."""

    def __init__(self, host: Host, question: str) -> None:
        super().__init__(host)
        self._question = question
        self.day: PracticeDay | None = None
        self._free: FreeBench | None = None
        self._is_over = False
        self._reading, self._noting = Asker(host), Teller(host)
        self._cutting = host.new_task()
        self._cutting.done.connect(lambda made: self._on_cut(cast("Cut", made)))
        self._cutting.failed.connect(self._on_refused)
        self._line = PracticeBanner(lambda: host.go_to("practice"), self.stop)
        self.banner = self._line

    @cached_property
    def widget(self) -> QWidget:
        """The list of stories, or the bench."""
        self.stack = QStackedWidget()
        self.stories = StoryList(self._question, self.begin, self.begin_free)
        acts: dict[str, Callable[[], object]] = {
            "job": lambda: self.host.go_to("art"),
            "print": self.print_sheet,
            "cut": self.cut,
            "ruler": lambda: self._act(lambda day: day.lay_ruler(self.host.workspace.overview)),
            "trial": lambda: self._act(lambda day: day.try_square(self.bench.hands_now())),
            "throw": lambda: self._act(lambda day: day.throw_away()),
            "more": lambda: self.host.show_help(self.day.story.topic if self.day is not None else "practice"),
            "list": self.stop,
            "questions": self.ask_questions,
            "say": self.say,
            "reveal": lambda: self._end(is_solved=False),
            "stop": self.stop,
        }
        self.bench = BenchPage(self.host, acts)
        self.stack.addWidget(self.stories)
        self.stack.addWidget(self.bench)
        return self.stack

    # -- visiting ------------------------------------------------------------------------------------

    def visit(self) -> None:
        """Show the bench of the story in hand, or the stories."""
        _ = self.widget
        if self.day is not None and not self.host.workspace.document.is_practice:
            self._forget()  # another job was opened
        if self.day is None:
            show_in(self.stack, self.stories)
            self._look_up()
            next(iter(self.stories.tiles.values())).setFocus()
        else:
            show_in(self.stack, self.bench)
        self._show()

    def turn_to(self, part: str) -> None:
        """Begin a story, or a free bench as in "free/12/2"."""
        key, _, rest = part.partition("/")
        if key == "free" and rest:
            seed, _, level = rest.partition("/")
            self.begin_free(int(seed), int(level))
        else:
            self.begin(key)

    def left(self) -> None:
        """Another place is visited: the line goes along."""
        self._line.show_day(self.day, is_at_bench=False)

    def job_changed(self) -> None:
        """Another job ends the practice."""
        if self.day is not None and not self.host.workspace.document.is_practice:
            self._forget()
        if self.day is not None:
            self._show()

    def look_changed(self) -> None:
        if "widget" in self.__dict__:
            self.bench.look_changed()

    def close(self) -> None:
        """Nothing is interrupted when the window closes in order."""
        self.host.workspace.document.practice_mark.clear()

    def _look_up(self) -> None:
        def read(desk: BookDesk, now_ms: int) -> object:
            from honest_edge.files.book.records import PRACTISED

            return desk.look_up(lambda book: [kept.record for kept in book.notes(PRACTISED, most=-1)], "", now_ms).rows

        self._show_stories(())
        self._reading(read, lambda notes: self._show_stories(cast("tuple[Practised, ...]", notes)))

    def _show_stories(self, notes: tuple[Practised, ...]) -> None:
        from honest_edge.app.practice.record import progress_of
        from honest_edge.app.practice.stories import STORIES

        free = [note for note in notes if note.story == "free"]
        right = sum(note.is_solved for note in free)
        words = f"Tried so far: {len(free)}; found: {right}." if free else "No free bench was tried yet."
        self.stories.show_stories([(story, progress_of(notes, story.key)) for story in STORIES], words)

    # -- beginning and ending ------------------------------------------------------------------------

    def begin(self, key: str, seed: int | None = None) -> None:
        """Begin a story anew, with chances of its own unless a seed is given."""
        from honest_edge.app.practice.stories import STORIES

        told = next((story for story in STORIES if story.key == key), None)
        if told is None:
            self.host.say("There is no such practice story.", tone="danger")
            return
        self._play(told, secrets.randbelow(_MOST_SEED) if seed is None else seed, None)

    def begin_free(self, seed: int, level: int) -> None:
        """Begin a free bench."""
        from honest_edge.app.practice.free_bench import free_bench

        try:
            bench = free_bench(seed, level)
        except HonestEdgeError as error:
            self.host.say(str(error), tone="danger")
            return
        self._play(bench.story, seed, bench)

    def _play(self, story: Any, seed: int, free: FreeBench | None) -> None:
        from honest_edge.app.practice.day import PracticeDay, first_job
        from honest_edge.files.practice_mark import LeftPractice

        job, assets = first_job(story)
        if not self.host.practise(job, assets):
            return
        self._free, self._is_over = free, False
        self.day = PracticeDay(story=story, seed=seed)
        self.day.begin()
        level = 0 if free is None else free.level
        mark = LeftPractice(title=story.title, story=story.key, seed=seed if free is not None else 0, level=level)
        self.host.workspace.document.practice_mark.set(mark)
        _ = self.widget
        self.bench.begin(self.day, is_free=free is not None)
        self.host.go_to("practice")

    def stop(self) -> None:
        """Let the story go, and show the others."""
        self._forget()
        self.host.end_practice()
        self.host.go_to("practice")

    def _forget(self) -> None:
        self._cutting.cancel()
        self.day, self._free = None, None
        self.host.workspace.document.practice_mark.clear()
        self._line.show_day(None, is_at_bench=False)

    def _end(self, *, is_solved: bool) -> None:
        """Say what it was, and let the Book keep how it went."""
        day = self.day
        if day is None or self._is_over:
            return
        self._is_over = True
        self.bench.show_lesson(day, is_solved=is_solved)
        self._show()
        seed, level = (0, 0) if self._free is None else (self._free.seed, self._free.level)

        def note(desk: BookDesk, now_ms: int) -> object:
            from honest_edge.core.values.practice_notes import Practised
            from honest_edge.files.book.records import PRACTISED

            record = Practised(
                story=day.story.key, seed=seed, level=level, lost=day.lost, minutes=day.minutes, is_solved=is_solved
            )
            return desk.note([(PRACTISED, record)], now_ms)

        self._noting(note)

    # -- acts ----------------------------------------------------------------------------------------

    def _act(self, act: Callable[[PracticeDay], object]) -> None:
        if self.day is None or self._is_over:
            return
        try:
            act(self.day)
        except HonestEdgeError as error:
            self.host.say(str(error), tone="danger")
        self._show()

    def print_sheet(self) -> None:
        """Print a sheet of the job as it is."""
        if self._is_known():
            self._act(lambda day: day.print_sheet(self.host.workspace.overview, self.bench.hands_now()))
            self.bench.table.drawing().clear()
            self.bench.table.show_caption("A printed sheet lies here.")

    def cut(self) -> None:
        """Cut the sheet that lies printed, beside the window's thread."""
        day, overview, hands = self.day, self.host.workspace.overview, self.bench.hands_now()
        if day is None or self._is_over or not self._is_known():
            return

        def work(*, report: ReportProgress, cancelled: IsCancelled) -> Cut:
            return day.cut(overview, hands)

        self._show(busy="The sheet is being cut.")
        self._cutting.submit(work)

    def _is_known(self) -> bool:
        if self.host.workspace.is_known:
            return True
        self.host.say("The job is still being computed: press again in a moment.")
        return False

    def _on_cut(self, made: Cut) -> None:
        if self.day is None:
            return
        self.bench.show_cut(made)
        if made.is_good and self._free is None:
            self._end(is_solved=True)
        self._show()

    def _on_refused(self, words: str) -> None:
        self.host.say(words, tone="danger")
        self._show()

    def say(self) -> None:
        """Say what is hidden at the free bench."""
        from honest_edge.app.practice.free_bench import FREE_CAUSES, verdict

        if self._free is None or self.day is None or self._is_over:
            return
        said = frozenset(cause for cause in FREE_CAUSES if self.bench.causes[cause].isChecked())
        if not said:
            self.bench.verdict.setText("Tick what you think it is.")
            return
        is_right, words = verdict(self._free, said)
        self.bench.verdict.setText(words)
        if is_right or not said < self._free.causes:
            self._end(is_solved=is_right)

    def ask_questions(self) -> None:
        """Ask the questions of the diagnosis about the sheet that lies there."""
        from honest_edge.ui.shared.questions_dialog import QuestionsDialog

        self.dialog = QuestionsDialog(self.host)
        self.dialog.open()

    # -- showing -------------------------------------------------------------------------------------

    def _show(self, *, busy: str = "") -> None:
        is_here = "widget" in self.__dict__ and self.widget.isVisible()
        self._line.show_day(self.day, is_at_bench=is_here)
        if self.day is not None and "widget" in self.__dict__:
            self.bench.show_day(self.day, is_over=self._is_over, busy=busy)
