"""Finding the setting of a blade, ladder by ladder: cut it, weed it, click twice."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from pathlib import Path
from typing import TYPE_CHECKING, Any

from PyQt6.QtWidgets import (
    QDialog,
    QFileDialog,
    QHBoxLayout,
    QLineEdit,
    QStackedLayout,
    QVBoxLayout,
    QWidget,
)

from honest_edge.core.values.book_records import value_name
from honest_edge.core.values.errors import HonestEdgeError
from honest_edge.ui.rooms.book.curve_view import CurveView
from honest_edge.ui.rooms.book.ladder_view import LadderView
from honest_edge.ui.shared.host import Host
from honest_edge.ui.shared.trial_words import LINES, SET, found_words
from honest_edge.ui.widgets.fields import (
    Choice,
    Form,
    button,
    label,
    row,
    set_tone,
)
from honest_edge.ui.widgets.theme import px
from honest_edge.ui.widgets.typed import NumberField
from honest_edge.ui.widgets.unwheeled import DropDown

if TYPE_CHECKING:
    from honest_edge.app.book.cut_trial import TrialState
    from honest_edge.app.book.desk import BookDesk
    from honest_edge.app.book.found import CutFacts
    from honest_edge.ui.shared.asker import Teller

_USUAL = {
    "force": (20.0, 200.0, 1.0),
    "depth": (1.0, 10.0, 1.0),
    "speed": (5.0, 100.0, 1.0),
    "passes": (1.0, 4.0, 1.0),
}
"""Where nothing is known of the machine: common practice, no published source; there to be typed over."""

_FILES = "Cut files (*.svg *.dxf *.plt)"
_NOTHING = "nothing"


class TrialDialog(QDialog):
    """Asks what is tried, shows the ladder to cut, takes the reading, and says what is likely."""

    def __init__(self, host: Host, ask: Teller, known: CutFacts, kept: Callable[[], object]) -> None:
        """Take the window, what runs work beside it, what the Book knows, and what to call when it kept more."""
        super().__init__(host.table.window())
        self._host, self._ask, self._known, self._kept = host, ask, known, kept
        self._state: TrialState | None = None
        self.setWindowTitle("Test cut")
        self._stack = QStackedLayout(self)
        self._stack.addWidget(self._subject_page())
        self._stack.addWidget(self._ladder_page())
        self.resize(px(560), px(720))

    # -- what is tried -------------------------------------------------------------------------------

    def _subject_page(self) -> QWidget:
        page, column = _page("What is cut, and with what?")
        sheet = self._host.workspace.job.sheet
        self.stock = self._names("Stock", [p.name for p in self._host.profiles.all("stock")], sheet.stock.name)
        self.machine = self._names("Machine", [p.name for p in self._host.profiles.all("machine")], sheet.machine.name)
        self.blade = QLineEdit()
        self.blade.setPlaceholderText("its name, if it has one")
        self.line = Choice("Kind of line", LINES)
        self.what = Choice("What is set", SET)
        self.what.chosen.connect(self._choose_what)
        self.kept_names = QLineEdit()
        self.kept_names.setAccessibleName("Settings that the machine keeps")
        self.kept_names.setPlaceholderText("lightest first: Paper, Vinyl, Card")
        self.beside = QLineEdit()
        self.beside.setAccessibleName("Beside it the machine is set to")
        self.beside.setPlaceholderText("force 84, 1 pass …")
        self.lowest, self.highest, self.step = (
            NumberField(name) for name in ("Lowest that it can be set to", "Highest", "Step between two settings")
        )
        self.start = DropDown()
        self.start.setAccessibleName("Start from")
        form = Form(control_px=250)
        rows = {
            name: form.add(name, control)
            for name, control in (
                ("Stock", self.stock),
                ("Machine", self.machine),
                ("Blade", self.blade),
                ("Kind of line", self.line),
                ("What is set", self.what),
                ("Its settings", self.kept_names),
                ("Lowest that it can be set to", self.lowest),
                ("Highest", self.highest),
                ("Step between two settings", self.step),
                ("Beside it", self.beside),
                ("Start from", self.start),
            )
        }
        self._of_numbers = [
            rows[name] for name in ("Lowest that it can be set to", "Highest", "Step between two settings")
        ]
        self._of_names = rows["Its settings"]
        column.addWidget(form)
        self.wrong = label("", "danger")
        column.addWidget(self.wrong)
        column.addStretch(1)
        self.begin = button("Make a ladder", self._begin, filled=True)
        self.begin.setDefault(True)
        column.addLayout(row(button("Cancel", self.reject), self.begin))
        for box in (self.stock, self.machine):
            box.currentTextChanged.connect(lambda _text: self._show_known())
        for field in (self.lowest, self.highest, self.step):
            field.committed.connect(field.show_number)
            field.refused.connect(self.wrong.setText)
        self._show_known()
        return page

    def _names(self, name: str, names: Sequence[str], here: str) -> DropDown:
        box = DropDown()
        box.setAccessibleName(name)
        box.setEditable(True)
        box.addItems(names if here in names else [here, *names])
        box.setCurrentText(here)
        return box

    def _choose_what(self, what: str) -> None:
        """Show the usual range of what is set, or the field for names, and what the search can start from."""
        for number in self._of_numbers:
            number.setVisible(what != "named")
        self._of_names.setVisible(what == "named")
        if what in _USUAL:
            self._show_range(_USUAL[what])
        self._show_starts()

    def _show_known(self) -> None:
        """Show what the machine was set to before."""
        look = self._known.looks.get(self.machine.currentText().strip())
        what = "force" if look is None else look.name
        self.what.show_value(what)
        self._choose_what(what)
        if look is not None and what != "named":
            self._show_range((look.lowest, look.highest, look.step))
        if look is not None:
            self.kept_names.setText(", ".join(look.names.split("\n")))

    def _show_starts(self) -> None:
        """Offer what is known of this machine, of the same kind of setting."""
        machine, stock = self.machine.currentText().strip(), self.stock.currentText().strip()
        self.start.clear()
        what = self.what.currentData()
        safe = [
            kept.record
            for kept in self._known.settings
            if kept.record.machine == machine and kept.record.is_safe and kept.record.name == what
        ]
        for one in sorted(safe, key=lambda one: one.stock != stock):
            low, high = (value_name(end or 0.0, one.names) for end in (one.low, one.high))
            words = f"{one.stock}: {low} to {high}"
            if self.start.findText(words) < 0:
                self.start.addItem(words, one.session)
        self.start.addItem("nothing known", _NOTHING)
        if not any(one.stock == stock for one in safe):
            self.start.setCurrentIndex(self.start.count() - 1)

    def _show_range(self, numbers: tuple[float, float, float]) -> None:
        for field, number in zip((self.lowest, self.highest, self.step), numbers, strict=True):
            field.show_number(number)

    def _begin(self) -> None:
        from honest_edge.core.values.book_records import CutSubject
        from honest_edge.core.workshop.ladder import SettingRange

        names = [name.strip() for name in self.kept_names.text().split(",") if name.strip()]
        is_named = self.what.currentData() == "named"
        if is_named and len(names) < 2:
            self.wrong.setText("Type the names of two settings at least, the lightest first, with commas between")
            return
        try:
            typed = (field.text().replace(",", ".") or "nan" for field in (self.lowest, self.highest, self.step))
            numbers = [1.0, float(len(names)), 1.0] if is_named else [float(text) for text in typed]
            subject = CutSubject(
                stock=self.stock.currentText().strip(),
                machine=self.machine.currentText().strip(),
                blade=self.blade.text().strip(),
                line=self.line.currentData(),
                name=self.what.currentData(),
            )
            falls = subject.name == "speed"
            reach = SettingRange(lowest=numbers[0], highest=numbers[1], step=numbers[2], falls=falls)
        except (HonestEdgeError, ValueError) as error:
            self.wrong.setText(str(error) if isinstance(error, HonestEdgeError) else "Type numbers for the settings")
            return
        start = self.start.currentData()
        similar = next((kept.record for kept in self._known.settings if kept.record.session == start), None)
        kept_names, beside = "\n".join(names) if is_named else "", self.beside.text().strip()

        def begin(desk: BookDesk, now_ms: int) -> TrialState:
            from honest_edge.app.book.cut_trial import state_of

            return state_of(desk.begin_trial(subject, reach, similar, now_ms, kept_names, beside))

        self._ask(begin, self._show)

    # -- the ladder ----------------------------------------------------------------------------------

    def _ladder_page(self) -> QWidget:
        page, column = _page("")
        self.heading = label("", "heading")
        self.how = label("", "soft")
        self.ladder = LadderView(lambda: self._host.tokens)
        self.ladder.changed.connect(self._show_asked)
        self.file = button("Write its cut file…", self._write)
        self.asked = label("")
        self.none = button("None of them", lambda: self.ladder.click(len(self.ladder.squares)))
        self.again = button("Click anew", self.ladder.start_over, link=True)
        self.take = button("Keep this reading", self._take, filled=True)
        self.verdict = label("", "heading")
        self.more = label("", "soft")
        self.curve = CurveView(lambda: self._host.tokens)
        self.close_it = button("Done", self.accept)
        self._cutting = QWidget()
        cutting = QVBoxLayout(self._cutting)
        cutting.setContentsMargins(0, 0, 0, 0)
        cutting.setSpacing(px(10))
        for part in (self.how, self.ladder, self.asked):
            cutting.addWidget(part)
        cutting.addLayout(row(self.file, self.none, self.again, self.take))
        column.addWidget(self.heading)
        column.addWidget(self._cutting)
        column.addWidget(self.verdict)
        column.addWidget(self.more)
        column.addWidget(self.curve, 1)
        self._rest = QWidget()
        column.addWidget(self._rest, 1)
        end = QHBoxLayout()
        end.addStretch(1)
        end.addWidget(self.close_it)
        column.addLayout(end)
        return page

    def _show(self, state: TrialState) -> None:
        self._state = state
        subject, looks = state.trial.subject, len(state.trial.looks)
        self._stack.setCurrentIndex(1)
        self.heading.setText(f"{subject.stock}, {dict(LINES)[subject.line].lower()}, on {subject.machine}")
        self._cutting.setVisible(state.ladder is not None)
        if state.ladder is not None:
            beside = f" Beside it: {state.trial.beside}." if state.trial.beside else ""
            self.how.setText(
                f"Ladder {looks + 1} of at most 3. Cut it in a corner of a used sheet; give each square the "
                f"{dict(SET)[subject.name].lower()} that stands on it.{beside}"
            )
            self.ladder.show_ladder(state.ladder, dict(SET)[subject.name].lower(), state.trial.names)
            self.ladder.squares[0].setFocus()
        self.verdict.setVisible(looks > 0)
        self.verdict.setText(found_words(state.found) if looks else "")
        set_tone(self.verdict, "fine" if state.window.is_safe else "look")
        self.more.setText(self._what_next(state))
        self.curve.setVisible(looks > 0)
        self._rest.setVisible(looks == 0)  # keeps the rest together while there is no curve
        self.curve.show_state(state if looks else None)
        self.close_it.setText("Done" if looks else "Cancel")

    def _what_next(self, state: TrialState) -> str:
        if not state.trial.looks:
            return ""
        if state.ladder is not None and len(state.ladder) < len(self.ladder.squares):
            return "Cut them once more: two looks tell more than one."
        if state.ladder is not None:
            return "One ladder more tells more: its squares lie about the two edges that are likely."
        return "It is kept in the Book, and offered where this stock is cut."

    def _show_asked(self) -> None:
        self.asked.setText(self.ladder.asked or "Read. Keep it, or click anew.")
        self.none.setVisible(bool(self.ladder.asked))
        self.again.setVisible(self.ladder.first_clean is not None)
        self.take.setEnabled(not self.ladder.asked)

    def _take(self) -> None:
        """Keep the look and what it comes to, then show what is to be cut next."""
        state, first_clean, first_marked = self._state, self.ladder.first_clean, self.ladder.first_marked
        if state is None or state.ladder is None or first_clean is None or first_marked is None:
            return
        trial, ladder = state.trial, state.ladder

        def keep(desk: BookDesk, now_ms: int) -> TrialState:
            from honest_edge.app.book.cut_trial import state_of
            from honest_edge.files.book.records import LOOK, SETTING

            metres = desk.blade_metres(trial.subject.blade, now_ms)
            read = trial.read(ladder, first_clean, first_marked, metres)
            state = state_of(read)
            desk.note([(LOOK, read.looks[-1]), (SETTING, state.found)], now_ms)
            return state

        def shown(found: Any) -> None:
            self._show(found)
            self._kept()

        self._ask(keep, shown)

    def _write(self) -> None:
        state = self._state
        if state is None or state.ladder is None:
            return
        settings, name = state.ladder, state.trial.subject.name
        chosen, _ = QFileDialog.getSaveFileName(self, "Write the ladder", "ladder.svg", _FILES)
        if not chosen:
            return

        def write(_desk: BookDesk, _now_ms: int) -> str:
            from honest_edge.app.output.ladder_file import write_ladder

            return write_ladder(Path(chosen), settings, name)

        self._ask(write, lambda words: self.how.setText(str(words)))


def _page(title: str) -> tuple[QWidget, QVBoxLayout]:
    page = QWidget()
    column = QVBoxLayout(page)
    column.setContentsMargins(px(18), px(16), px(18), px(16))
    column.setSpacing(px(12))
    if title:
        column.addWidget(label(title, "heading"))
    return page, column
