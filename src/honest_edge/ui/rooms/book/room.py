"""Book: the runs that were kept, found by a word, sorted by any column."""

from __future__ import annotations

import time
from collections.abc import Callable
from functools import cached_property
from pathlib import Path
from typing import TYPE_CHECKING, cast

from PyQt6.QtCore import QItemSelectionModel, QSortFilterProxyModel, Qt, QTimer
from PyQt6.QtWidgets import (
    QFileDialog,
    QHBoxLayout,
    QHeaderView,
    QLabel,
    QLineEdit,
    QStackedLayout,
    QTableView,
    QVBoxLayout,
    QWidget,
)

from honest_edge.ui.rooms.book.runs_model import COLUMNS, SORTED_BY, RunsModel
from honest_edge.ui.station.host import Host
from honest_edge.ui.station.room import Room
from honest_edge.ui.widgets.fields import button, counted, label, row, set_tone
from honest_edge.ui.widgets.theme import px, tabular

if TYPE_CHECKING:
    from honest_edge.app.book.desk import FoundRuns
    from honest_edge.app.results.progress import IsCancelled, ReportProgress
    from honest_edge.core.values.job import Job
    from honest_edge.files.book.store import KeptRun
    from honest_edge.ui.station.tasks import LatestOnly

_TYPING_MS, _WATCH_MS = 120, 3000
_EMPTY = (
    "Nothing is kept yet.\n\nWhen a job is cut, press “I cut this…” at Files and type how many pieces came out good.\n"
    "From then on this page says what worked: on which stock, with which machine, and what went wrong."
)


class BookRoom(Room):
    """Shows what was kept of runs."""

    def __init__(self, host: Host, question: str) -> None:
        super().__init__(host)
        self._question = question
        self._looking = host.new_task()
        self._looking.done.connect(lambda found: self._show(cast("FoundRuns", found)))
        self._looking.failed.connect(self._on_failed)
        self._opening, self._writing = host.new_task(), host.new_task()
        self._opening.done.connect(lambda found: host.make_again(*cast("tuple[Job, dict[str, bytes]]", found)))
        self._writing.done.connect(lambda names: host.say(f"Written: {names}.", tone="fine"))
        for task in (self._opening, self._writing):
            task.failed.connect(lambda words: host.say(words, tone="danger"))
        self._events = 0
        self._watching = host.new_task()
        self._watching.done.connect(self._on_watched)

    @cached_property
    def widget(self) -> QWidget:
        """A ledger with its sum above and a field to search it."""
        made = QWidget()
        made.setObjectName("room")
        made.setAttribute(Qt.WidgetAttribute.WA_StyledBackground)
        column = QVBoxLayout(made)
        column.setContentsMargins(px(28), px(20), px(28), px(18))
        column.setSpacing(px(10))
        column.addLayout(self._head())
        self.ledger = self._ledger()
        self.empty = label(_EMPTY, "soft")
        self.empty.setAlignment(Qt.AlignmentFlag.AlignCenter)
        holder = QWidget()
        self._pages = QStackedLayout(holder)
        self._pages.addWidget(self.ledger)
        self._pages.addWidget(self.empty)
        column.addWidget(holder, 1)
        column.addLayout(self._ways_on())
        self._start_timers(made)
        return made

    def _start_timers(self, owner: QWidget) -> None:
        """Timers are the widget's own: none fires once that is gone."""
        self._typing, self._watch = QTimer(owner), QTimer(owner)
        self._typing.setSingleShot(True)
        self._typing.setInterval(_TYPING_MS)
        self._typing.timeout.connect(self.visit)
        self._watch.setInterval(_WATCH_MS)
        self._watch.timeout.connect(self._look_whether_changed)
        self._watch.start()

    def _ways_on(self) -> QHBoxLayout:
        self.again = button("Make this again", self._make_again, filled=True)
        self.again.setToolTip("Open the job as it was when this was cut")
        self.again.setEnabled(False)
        self.export = button("Export…", self._export)
        self.export.setToolTip("Write all of the Book as JSON lines and CSV")
        self.backup = button("Back up…", self._back_up)
        line = row(self.again, self.export, self.backup)
        line.addStretch(1)
        return line

    def _head(self) -> QHBoxLayout:
        question = label(self._question)
        question.setObjectName("question")
        self.answer = QLabel("–")
        self.answer.setObjectName("answer")
        self.answer.setFont(tabular(28))
        self.under = label("", "soft")
        self.made_up = label("Made up: the demo's Book. Yours is shown with any job of your own.", "look")
        words = QVBoxLayout()
        for line in (question, self.answer, self.under, self.made_up):
            words.addWidget(line)
        self.search = QLineEdit()
        self.search.setPlaceholderText("Search job, stock, reason")
        self.search.setAccessibleName("Search the runs")
        self.search.setClearButtonEnabled(True)
        self.search.setFixedWidth(px(300))
        self.search.textChanged.connect(lambda _text: self._typing.start())
        head = QHBoxLayout()
        head.addLayout(words, 1)
        head.addWidget(self.search, 0, Qt.AlignmentFlag.AlignTop)
        return head

    def _ledger(self) -> QTableView:
        self.model = RunsModel(lambda: self.host.tokens)
        self.sorted = QSortFilterProxyModel()
        self.sorted.setSourceModel(self.model)
        self.sorted.setSortRole(SORTED_BY)
        made = QTableView()
        made.setAccessibleName("Runs")
        made.setModel(self.sorted)
        made.setSortingEnabled(True)
        made.sortByColumn(0, Qt.SortOrder.DescendingOrder)
        made.setSelectionBehavior(QTableView.SelectionBehavior.SelectRows)
        made.setSelectionMode(QTableView.SelectionMode.SingleSelection)
        made.setShowGrid(False)
        made.setWordWrap(False)
        made.setTabKeyNavigation(False)
        cast(QItemSelectionModel, made.selectionModel()).selectionChanged.connect(lambda *_: self._show_ways_on())
        made.doubleClicked.connect(lambda _index: self._make_again())
        cast(QHeaderView, made.verticalHeader()).hide()
        cast(QHeaderView, made.verticalHeader()).setDefaultSectionSize(px(30))
        header = cast(QHeaderView, made.horizontalHeader())
        header.setHighlightSections(False)
        header.setSectionResizeMode(QHeaderView.ResizeMode.ResizeToContents)
        header.setSectionResizeMode(len(COLUMNS) - 1, QHeaderView.ResizeMode.Stretch)
        return made

    def visit(self) -> None:
        """Look the runs up anew."""
        _ = self.widget
        words = self.search.text()
        self._ask(self._looking, lambda now_ms: self.host.desk().runs(words, now_ms))

    def _show(self, found: FoundRuns) -> None:
        for note in found.notes:
            self.host.say(note, tone="danger")
        self._events = found.events
        self.model.show_runs(found.runs)
        self.made_up.setVisible(found.is_made_up)
        for way in (self.export, self.backup):  # what is made up must not be taken for one's own later
            way.setEnabled(bool(found.events) and not found.is_made_up)
        set_tone(self.under, "soft")
        is_empty = not found.runs
        self._show_ways_on()
        self._pages.setCurrentWidget(self.empty if is_empty else self.ledger)
        self.empty.setText(f"No run has “{found.words}” in it." if is_empty and found.events else _EMPTY)
        good, bad = (sum(getattr(kept.run, what) for kept in found.runs) for what in ("good", "bad"))
        sheets = sum(kept.run.sheets for kept in found.runs)
        self.answer.setText(counted(len(found.runs), "run") if found.runs else "No runs")
        self.under.setText(
            f"{good} of {good + bad} pieces came out good, on {counted(sheets, 'sheet')}" if found.runs else ""
        )

    def _look_whether_changed(self) -> None:
        """Another window may have written meanwhile."""
        if self.widget.isVisible():
            self._ask(self._watching, lambda now_ms: self.host.desk().events(now_ms))

    def _on_watched(self, events: object) -> None:
        if events != self._events:
            self.visit()

    # -- ways on -------------------------------------------------------------------------------------

    def _picked(self) -> KeptRun | None:
        rows = cast(QItemSelectionModel, self.ledger.selectionModel()).selectedRows()
        return self.model.run_at(self.sorted.mapToSource(rows[0]).row()) if rows else None

    def _show_ways_on(self) -> None:
        picked = self._picked()
        self.again.setEnabled(picked is not None and bool(picked.run.job))

    def _make_again(self) -> None:
        picked = self._picked()
        if picked is None or not picked.run.job:
            return
        self._ask(self._opening, lambda now_ms: self.host.desk().job_of(picked.run, now_ms))

    def _export(self) -> None:
        folder = QFileDialog.getExistingDirectory(self.widget, "Export the Book to", self.host.prefs.out_folder)
        if folder:
            self._ask(self._writing, lambda now_ms: ", ".join(self.host.desk().export(Path(folder), now_ms)))

    def _back_up(self) -> None:
        name, _ = QFileDialog.getSaveFileName(self.widget, "Back up the Book", "book.sqlite", "Books (*.sqlite)")
        if name:

            def copied(now_ms: int) -> str:
                self.host.desk().back_up(Path(name), now_ms)
                return Path(name).name

            self._ask(self._writing, copied)

    def _ask(self, task: LatestOnly, ask: Callable[[int], object]) -> None:
        def work(*, report: ReportProgress, cancelled: IsCancelled) -> object:
            return ask(time.time_ns() // 1_000_000)

        task.submit(work)

    def _on_failed(self, words: str) -> None:
        self.answer.setText("–")
        self.under.setText(words)
        set_tone(self.under, "danger")
