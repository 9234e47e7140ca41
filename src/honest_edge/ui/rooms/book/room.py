"""Book: what was kept, part by part, found by a word, sorted by any column."""

from __future__ import annotations

import time
from collections.abc import Callable, Sequence
from functools import cached_property
from pathlib import Path
from typing import TYPE_CHECKING, Any, cast

from PyQt6.QtCore import Qt, QTimer
from PyQt6.QtWidgets import (
    QButtonGroup,
    QFileDialog,
    QHBoxLayout,
    QLineEdit,
    QStackedLayout,
    QVBoxLayout,
    QWidget,
)

from honest_edge.ui.rooms.book.page import Page
from honest_edge.ui.rooms.book.section import Section
from honest_edge.ui.rooms.book.sections import SECTIONS
from honest_edge.ui.shared.asker import Teller
from honest_edge.ui.shared.host import Host
from honest_edge.ui.shared.room import Room
from honest_edge.ui.widgets.fields import Choice, button, counted, greyed, label, row, set_tone
from honest_edge.ui.widgets.layouts import column_of
from honest_edge.ui.widgets.local import Label
from honest_edge.ui.widgets.theme import px, tabular

if TYPE_CHECKING:
    from honest_edge.app.book.desk import BookDesk
    from honest_edge.app.book.found import Found
    from honest_edge.app.results.progress import IsCancelled, ReportProgress
    from honest_edge.ui.shared.tasks import LatestOnly

_EXPORTED = "Exported Books (*.jsonl *.csv)"
_TYPING_MS, _WATCH_MS = 120, 3000


class BookRoom(Room):
    """Shows the Book, one part at a time."""

    def __init__(self, host: Host, question: str) -> None:
        super().__init__(host)
        self._question = question
        self._looking, self._watching, self._ask = host.new_task(), host.new_task(), Teller(host)
        self._looking.done.connect(lambda found: self._show(cast("Found[Any]", found)))
        self._looking.failed.connect(self._on_failed)
        self._watching.done.connect(self._on_watched)
        self._events = 0
        self.pages: dict[str, Page] = {}

    @cached_property
    def widget(self) -> QWidget:
        """The parts by name, a part's sum above its ledger, and a field to search it."""
        widget = QWidget()
        widget.setObjectName("room")
        widget.setAttribute(Qt.WidgetAttribute.WA_StyledBackground)
        column = QVBoxLayout(widget)
        column.setContentsMargins(px(28), px(16), px(28), px(16))
        column.setSpacing(px(10))
        holder = QWidget()
        self._stack = QStackedLayout(holder)
        column.addLayout(self._parts())
        column.addLayout(self._head())
        column.addWidget(holder, 1)
        column.addLayout(self._ways_on())
        self._start_timers(widget)
        self._turn_to(SECTIONS[0].key)
        return widget

    def _start_timers(self, owner: QWidget) -> None:
        """Timers are the widget's own: none fires once that is gone."""
        self._typing, self._watch = QTimer(owner), QTimer(owner)
        self._typing.setSingleShot(True)
        self._typing.setInterval(_TYPING_MS)
        self._typing.timeout.connect(self.visit)
        self._watch.setInterval(_WATCH_MS)
        self._watch.timeout.connect(self._look_whether_changed)
        self._watch.start()

    def _parts(self) -> QHBoxLayout:
        """The parts of the Book, one of them in hand."""
        self.parts = QButtonGroup(self)
        line = QHBoxLayout()
        line.setSpacing(px(4))
        for kind in SECTIONS:
            part_button = button(kind.title, lambda key=kind.key: self.turn_to(key))  # type: ignore[misc]
            part_button.setCheckable(True)
            part_button.setAutoExclusive(True)
            part_button.setProperty("tool", True)
            part_button.setAccessibleName(f"{kind.title} of the Book")
            self.parts.addButton(part_button)
            line.addWidget(part_button)
        line.addStretch(1)
        return line

    def _ways_on(self) -> QHBoxLayout:
        self.export = button("Export…", self._export)
        self.export.setToolTip("Write all of the Book as JSON lines and CSV")
        self.backup = button("Back up…", self._back_up)
        self.bring = button("Import…", self._import)
        self.bring.setToolTip("Add what another machine’s Book exported; what is here already is not doubled")
        self._own = QHBoxLayout()
        line = QHBoxLayout()
        line.addLayout(self._own)
        line.addStretch(1)
        line.addLayout(row(self.bring, self.export, self.backup))
        return line

    def _head(self) -> QVBoxLayout:
        question = label(self._question)
        question.setObjectName("question")
        self.answer = Label("–")
        self.answer.setObjectName("answer")
        self.answer.setFont(tabular(28))
        self.under = label("", "soft")
        self.made_up = label("Made up: the demo’s Book. Yours is shown with any job of your own.", "look")
        self.search = QLineEdit()
        self.search.setAccessibleName("Search the Book")
        self.search.setClearButtonEnabled(True)
        self.search.setFixedWidth(px(300))
        self.search.textChanged.connect(lambda _text: self._typing.start())
        self.only = Choice("Show", ())
        self.only.setMinimumWidth(px(170))
        self.only.chosen.connect(lambda _which: self.visit())
        first = QHBoxLayout()
        first.addLayout(column_of(question, self.answer), 1)
        first.addWidget(self.only, 0, Qt.AlignmentFlag.AlignTop)
        first.addWidget(self.search, 0, Qt.AlignmentFlag.AlignTop)
        head = column_of(self.under, self.made_up)
        head.insertLayout(0, first)
        head.setSpacing(px(6))
        return head

    # -- showing -------------------------------------------------------------------------------------

    @property
    def here(self) -> Section:
        """The part in hand."""
        return self.page.section

    @property
    def page(self) -> Page:
        """What shows it."""
        return self.pages[self._key]

    def turn_to(self, key: str) -> None:
        """Take a part in hand, with nothing searched for."""
        _ = self.widget
        self._turn_to(key)
        self.search.setText("")
        self._typing.stop()
        self.visit()

    def _made(self, key: str) -> Page:
        """Return a part's page, made when it is first turned to."""
        if key not in self.pages:
            entry = next(entry for entry in SECTIONS if entry.key == key)
            page = self.pages[key] = Page(entry.load()(self.host, self.visit), self.host)
            self._stack.addWidget(page)
            for way in page.ways:
                self._own.addWidget(way)
        return self.pages[key]

    def _turn_to(self, key: str) -> None:
        self._key = key
        self._made(key)
        self._stack.setCurrentWidget(self.page)
        for part_button, kind in zip(self.parts.buttons(), SECTIONS, strict=True):
            part_button.setChecked(kind.key == key)
        for name, page in self.pages.items():
            for way in page.ways:
                way.setVisible(name == key)
        self.search.setPlaceholderText(self.here.search)
        self.only.clear()
        for number, words in enumerate((f"all {self.here.noun}s", *(name for name, _ in self.here.filters))):
            self.only.addItem(words, str(number))
        self.only.setVisible(bool(self.here.filters))

    def visit(self) -> None:
        """Look the part in hand up anew."""
        _ = self.widget
        words, here = self.search.text(), self.here
        self._submit(self._looking, lambda desk, now_ms: here.look(desk, words, now_ms))

    def _show(self, found: Found[Any]) -> None:
        for note in found.notes:
            self.host.say(note, tone="danger")
        self._events = found.events
        self.made_up.setVisible(found.is_made_up and self.here.is_of_the_book)
        made_up = "The demo’s Book is made up: open a job of your own" if found.is_made_up else ""
        for way in (self.export, self.backup):  # what is made up must not be taken for one's own later
            greyed(way, made_up or ("" if found.events else "The Book is still empty"))
        greyed(self.bring, made_up)
        set_tone(self.under, "soft")
        rows, is_narrowed = self._wanted(found.rows), bool(found.words) or self.only.currentIndex() > 0
        self.page.show_rows(rows, found.words, is_narrowed=is_narrowed and bool(found.events or found.rows))
        noun = self.here.noun
        self.answer.setText(counted(len(rows), noun) if rows else f"No {noun}s")
        self.under.setText(self.here.sum_of(rows) if rows else "")

    def _wanted(self, rows: Sequence[Any]) -> list[Any]:
        """Return the rows that the filter in hand leaves."""
        which = self.only.currentIndex()
        wanted = self.here.filters[which - 1][1] if which > 0 else lambda _row: True
        return [row for row in rows if wanted(row)]

    def _look_whether_changed(self) -> None:
        """Another window may have written meanwhile."""
        if self.widget.isVisible():
            self._submit(self._watching, lambda desk, now_ms: desk.events(now_ms))

    def _on_watched(self, events: object) -> None:
        if events != self._events:
            self.visit()

    def _on_failed(self, words: str) -> None:
        self.answer.setText("–")
        self.under.setText(words)
        set_tone(self.under, "danger")

    # -- ways on -------------------------------------------------------------------------------------

    def _export(self) -> None:
        folder = QFileDialog.getExistingDirectory(self.widget, "Export the Book to", self.host.prefs.out_folder)
        if folder:
            self._ask(lambda desk, now_ms: desk.export(Path(folder), now_ms), self._say_written)

    def _import(self) -> None:
        name, _ = QFileDialog.getOpenFileName(self.widget, "Import into the Book", "", _EXPORTED)
        if name:
            self._ask(lambda desk, now_ms: desk.take_in(Path(name), now_ms), self._say_taken_in)

    def _say_taken_in(self, found: tuple[int, int]) -> None:
        new, known = found
        self.visit()
        self.host.say(f"{counted(new, 'event')} added; {known} were there already.", tone="fine")

    def _back_up(self) -> None:
        name, _ = QFileDialog.getSaveFileName(self.widget, "Back up the Book", "book.sqlite", "Books (*.sqlite)")
        if name:

            def copied(desk: BookDesk, now_ms: int) -> list[str]:
                desk.back_up(Path(name), now_ms)
                return [Path(name).name]

            self._ask(copied, self._say_written)

    def _say_written(self, names: list[str]) -> None:
        self.host.say(f"Written: {', '.join(names)}.", tone="fine")

    def _submit(self, task: LatestOnly, ask: Callable[[BookDesk, int], object]) -> None:
        desk = self.host.desk()

        def work(*, report: ReportProgress, cancelled: IsCancelled) -> object:
            return ask(desk(), time.time_ns() // 1_000_000)

        task.submit(work)
