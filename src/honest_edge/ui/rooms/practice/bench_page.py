"""The practice bench: what has come so far, what your hands do, the sheet as it came out, and what was told."""

from __future__ import annotations

from collections.abc import Callable
from typing import TYPE_CHECKING

from PyQt6.QtWidgets import QCheckBox, QHBoxLayout, QScrollArea, QVBoxLayout, QWidget

from honest_edge.ui.shared.host import Host
from honest_edge.ui.table.light_table import LightTable
from honest_edge.ui.widgets.fields import (
    Form,
    button,
    card,
    counted,
    greyed,
    label,
    row,
)
from honest_edge.ui.widgets.layouts import scroll_downward
from honest_edge.ui.widgets.theme import eased_px
from honest_edge.ui.widgets.typed import Count

if TYPE_CHECKING:
    from honest_edge.app.practice.day import Cut, PracticeDay
    from honest_edge.app.practice.hands import Hands

_SIDE_PX = 330
HANDS: tuple[tuple[str, str, str], ...] = (
    ("at_full_size", "Set the dialog to full size", "Otherwise it prints as it was used last"),
    ("lets_dry", "Let the ink dry", "20 minutes"),
    ("tapes_marks", "Tape the marks and shade them", "2 minutes"),
    ("loads_square", "Lay the sheet against the corner", "1 minute"),
    ("presses_down", "Press it down, on a carrier with tack", "1 minute"),
    ("takes_new_blade", "Put a new blade in", "4 minutes"),
    ("cuts_one_first", "Cut one sticker first, and look", "2 minutes; the rest of the sheet is not lost if it is bad"),
)
_BEFORE_PRINT = 2
"""So many of them are done before the print, the others before the cut."""


class BenchPage(QWidget):
    """Its buttons ask; ``room`` answers."""

    def __init__(self, host: Host, acts: dict[str, Callable[[], object]]) -> None:
        """Take the window and what each button does, by name."""
        super().__init__()
        self._host, self._acts = host, acts
        self.setObjectName("room")
        across = QHBoxLayout(self)
        across.setContentsMargins(0, 0, 0, 0)
        across.setSpacing(0)
        across.addWidget(self._build_left())
        self.table = LightTable(host.tokens)
        self.table.setAccessibleName("The sheet as it came out")
        across.addWidget(self.table, 1)
        across.addWidget(self._build_right())

    # -- building ------------------------------------------------------------------------------------

    def _column(self) -> tuple[QScrollArea, QVBoxLayout]:
        scroll = QScrollArea()
        scroll.setObjectName("cards")
        scroll_downward(scroll)
        scroll.setFixedWidth(eased_px(_SIDE_PX))
        body = QWidget()
        body.setObjectName("cardsBody")
        column = QVBoxLayout(body)
        column.setContentsMargins(18, 18, 18, 14)
        column.setSpacing(10)
        scroll.setWidget(body)
        return scroll, column

    def _build_left(self) -> QWidget:
        scroll, column = self._column()
        self.title = label("")
        self.title.setObjectName("question")
        self.tale = label("")
        column.addWidget(self.title)
        column.addWidget(self.tale)
        self.to_job = button("Look at the job", self._acts["job"])
        self.to_job.setToolTip("At Art, Outline, Edge, Sheet and Proof it can be looked at and changed like any other")
        column.addWidget(self.to_job)
        frame, inside = card(topic="practice")
        inside.addWidget(label("What your hands do", "heading"))
        self.hands: dict[str, QCheckBox] = {}
        for number, (key, words, tip) in enumerate(HANDS):
            if number in (0, _BEFORE_PRINT):
                inside.addWidget(label("when printing" if number == 0 else "before and at the cut", "soft"))
            box = QCheckBox(words)
            box.setToolTip(tip)
            self.hands[key] = box
            inside.addWidget(box)
        form = Form(narrow=True)
        from honest_edge.app.practice.hands import HIGHEST_FORCE, LOWEST_FORCE

        self.force = Count("Force", LOWEST_FORCE, HIGHEST_FORCE)
        form.add("Force", self.force, "In the practice cutter’s own numbers")
        inside.addWidget(form)
        column.addWidget(frame)
        self.print = button("Print a sheet", self._acts["print"])
        self.cut = button("Cut it", self._acts["cut"])
        self.ruler = button("Lay a ruler on it", self._acts["ruler"])
        self.trial = button("Try a small square", self._acts["trial"])
        self.throw = button("Throw the print away", self._acts["throw"])
        for one in (self.print, self.cut):
            column.addWidget(one)
        column.addLayout(row(self.ruler, self.trial))
        column.addWidget(self.throw)
        column.addStretch(1)
        return scroll

    def _build_right(self) -> QWidget:
        scroll, column = self._column()
        self.figures = label("")
        self.figures.setObjectName("big")
        self.par = label("", "soft")
        column.addWidget(self.figures)
        column.addWidget(self.par)
        self.lesson, inside = card(topic="wrong")
        self.lesson_title = label("", "fine")
        self.lesson_words = label("")
        self.more = button("Read more in the handbook", self._acts["more"], link=True)
        self.next = button("The other stories", self._acts["list"])
        for part in (self.lesson_title, self.lesson_words, self.more, self.next):
            inside.addWidget(part)
        column.addWidget(self.lesson)
        self.guess, inside = card(topic="wrong")
        inside.addWidget(label("What is it?", "heading"))
        self.causes: dict[str, QCheckBox] = {}
        from honest_edge.app.practice.free_bench import FREE_CAUSES
        from honest_edge.core.measure.remedies import TITLES

        for cause in FREE_CAUSES:
            self.causes[cause] = QCheckBox(TITLES[cause])
            inside.addWidget(self.causes[cause])
        self.questions = button("Ask me the questions…", self._acts["questions"])
        self.say = button("That is what it is", self._acts["say"])
        inside.addLayout(row(self.questions, self.say))
        self.verdict = label("")
        inside.addWidget(self.verdict)
        column.addWidget(self.guess)
        column.addWidget(label("What came so far", "heading"))
        self.told = label("", "soft")
        column.addWidget(self.told)
        column.addStretch(1)
        self.reveal = button("Tell me what it is", self._acts["reveal"])
        self.reveal.setToolTip("The story ends, and is not solved")
        self.stop = button("Stop practising", self._acts["stop"])
        column.addLayout(row(self.reveal, self.stop))
        return scroll

    # -- showing -------------------------------------------------------------------------------------

    def hands_now(self) -> Hands:
        """Return what is ticked."""
        from honest_edge.app.practice.hands import Hands

        return Hands(force=self.force.value(), **{key: box.isChecked() for key, box in self.hands.items()})

    def begin(self, day: PracticeDay, *, is_free: bool) -> None:
        """Show a story from its beginning."""
        from honest_edge.app.practice.hands import Hands

        usual = Hands()
        for key, box in self.hands.items():
            box.setChecked(getattr(usual, key))
        self.force.show_value(usual.force)
        for box in self.causes.values():
            box.setChecked(False)
        self.title.setText(day.story.title)
        self.tale.setText(day.story.tale)
        self.guess.setVisible(is_free)
        self.verdict.setText("")
        self.table.drawing().clear()
        self.table.show_caption(
            "The sheet lies here once it was cut." if day.print is None else "A printed sheet lies here."
        )

    def show_day(self, day: PracticeDay, *, is_over: bool, busy: str = "") -> None:
        """Show where the day stands; ``busy`` says what is under way."""
        lies = day.print is not None
        self.figures.setText(f"{counted(day.lost, 'sheet')} lost, {day.minutes:.0f} min")
        self.par.setText(f"par: {counted(day.story.par_sheets, 'sheet')} lost, {day.story.par_min:.0f} min")
        self.told.setText("\n\n".join(reversed(day.told)) or "Nothing yet.")
        why = busy or ("This story is over." if is_over else "")
        for step_button, needs_print in (
            (self.print, False), (self.trial, False), (self.cut, True), (self.ruler, True), (self.throw, True),
        ):  # fmt: skip
            reason = why or ("Print a sheet first." if needs_print and not lies else "")
            step_button.setEnabled(not reason)
            step_button.setToolTip(reason or _TIPS.get(step_button.text(), ""))
        for step_button, filled in ((self.print, not lies), (self.cut, lies)):
            _fill(step_button, filled and not is_over)
        self.print.setText("Print another sheet" if lies else "Print a sheet")
        self.lesson.setVisible(is_over)
        for step_button in (self.reveal, self.say):  # what ends a story waits for the cut
            greyed(step_button, why)

    def show_lesson(self, day: PracticeDay, *, is_solved: bool) -> None:
        """Say what it was, how it shows and how it is avoided."""
        self.lesson_title.setText("A good sheet." if is_solved else "What it was")
        story = day.story
        self.lesson_words.setText(f"{story.what}\n\nOn paper: {story.shows}\n\nNext time: {story.avoid}")

    def show_cut(self, made: Cut) -> None:
        """Draw a sheet as it came out."""
        if made.sheet is None or made.staged is None:
            self.table.drawing().clear()
            self.table.show_caption("Nothing was cut.")
            return
        from honest_edge.app.rehearsal.drawn import drawn_copies
        from honest_edge.simulator.rehearsal import roller_tracks
        from honest_edge.ui.drawings.rehearsed_drawing import draw_rehearsed

        copies = drawn_copies(made.overview, made.staged, made.sheet)
        tracks = roller_tracks(made.staged.stage) if any(copy.fate == "smeared" for copy in copies) else ()
        content = draw_rehearsed(self.table.drawing(), made.overview, copies, tracks, self._host.tokens)
        self.table.set_content(content, "wheel: closer and farther    drag: move", refit=True, air=0.04)

    def look_changed(self) -> None:
        """Take the theme and the unit."""
        self.table.set_tokens(self._host.tokens)
        self.table.set_unit(self._host.workspace.unit)


_TIPS = {
    "Print a sheet": "3 minutes, and drying",
    "Print another sheet": "The one that lies there is thrown away, and lost",
    "Cut it": "Laid down, read and cut, as your hands do it",
    "Lay a ruler on it": "1 minute: is it as large as it should be?",
    "Try a small square": "2 minutes, at the edge of the stock: it costs no sheet",
    "Throw the print away": "It is lost",
}


def _fill(made: QWidget, filled: bool) -> None:
    from honest_edge.ui.widgets.fields import restyle

    restyle(made, "filled", filled)
