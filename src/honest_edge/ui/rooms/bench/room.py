"""Bench: the benches, the measured sheet with its arrows, its history, and the answer."""

from __future__ import annotations

import time
from collections.abc import Callable, Sequence
from functools import cached_property
from pathlib import Path
from typing import TYPE_CHECKING, Any, cast

from PyQt6.QtWidgets import QFileDialog, QHBoxLayout, QLineEdit, QVBoxLayout, QWidget

from honest_edge.core.values.bench_records import BenchNote, BenchSubject, SetAside
from honest_edge.ui.rooms.bench.answer import AnswerPanel
from honest_edge.ui.rooms.bench.bench_list import BenchList
from honest_edge.ui.rooms.bench.history_view import HistoryView
from honest_edge.ui.rooms.bench.sheet_view import SheetView
from honest_edge.ui.rooms.bench.words import CHANGES, PARTS
from honest_edge.ui.shared.asker import Teller
from honest_edge.ui.shared.host import Host
from honest_edge.ui.shared.note_dialog import NoteDialog
from honest_edge.ui.shared.room import Room
from honest_edge.ui.shared.what_worked_words import ago
from honest_edge.ui.widgets.fields import Choice, button, counted, label
from honest_edge.ui.widgets.theme import px

if TYPE_CHECKING:
    from honest_edge.app.bench.measuring import Measured
    from honest_edge.app.bench.straightened import Straightened
    from honest_edge.app.bench.view import BenchShelf, BenchView
    from honest_edge.app.results.progress import IsCancelled, ReportProgress

PICTURES = frozenset(
    (".png", ".jpg", ".jpeg", ".webp", ".tif", ".tiff", ".bmp", ".heic", ".heif", ".dng", ".nef", ".cr2")
)
_FILTER = "Scans and photographs (*.png *.jpg *.jpeg *.webp *.tif *.tiff *.bmp)"
_EMPTY = "Nothing is measured of this bench yet. Print a target, cut it, lift out what is cut, and drop its scan here."


class BenchRoom(Room):
    """Shows one bench at a time."""

    def __init__(self, host: Host, question: str) -> None:
        super().__init__(host)
        self._question = question
        self._looking, self._measuring, self._ask = host.new_task(), host.new_task(), Teller(host)
        self._looking.done.connect(lambda found: self._show(cast("BenchShelf", found)))
        self._looking.failed.connect(lambda words: host.say(words, tone="danger"))
        self._is_measuring = False
        self._measuring.done.connect(self._over)
        self._measuring.failed.connect(self._over)
        self._measuring.done.connect(lambda found: self._on_measured(*cast("tuple[Any, Any, Any, Any]", found)))
        self._measuring.failed.connect(lambda words: host.say(words, tone="danger"))
        self._measuring.progress.connect(self._on_progress)
        self._chosen: BenchSubject | None = None
        self._pictures: dict[str, Straightened] = {}
        self.shelf: BenchShelf | None = None

    @property
    def own(self) -> BenchSubject:
        """The bench of the job."""
        sheet = self.host.workspace.job.sheet
        return BenchSubject(machine=sheet.machine.name, printer=sheet.printer.name)

    @property
    def here(self) -> BenchSubject:
        """The bench in hand."""
        return self._chosen or self.own

    @property
    def view(self) -> BenchView | None:
        """What is shown of it."""
        return None if self.shelf is None else self.shelf.view

    # -- building ------------------------------------------------------------------------------------

    @cached_property
    def widget(self) -> QWidget:
        """The list, the sheet above its history, and the answer."""
        widget = QWidget()
        widget.setObjectName("room")
        across = QHBoxLayout(widget)
        across.setContentsMargins(0, 0, 0, 0)
        across.setSpacing(0)
        self.benches = BenchList()
        self.benches.chosen.connect(self._choose)
        self.sheet = SheetView(lambda: self.host.tokens)
        self.answer = AnswerPanel(self.host, self._question)
        self.answer.wants_take_out = self.take_out
        middle = QVBoxLayout()
        middle.setSpacing(0)
        middle.addWidget(self.sheet, 1)
        middle.addWidget(self._below())
        across.addWidget(self.benches)
        across.addLayout(middle, 1)
        across.addWidget(self.answer)
        self._add_ways()
        return widget

    def _below(self) -> QWidget:
        """The history with the part that it shows, and what can be done with the sheet in hand."""
        below = QWidget()
        column = QVBoxLayout(below)
        column.setContentsMargins(px(16), px(8), px(16), px(8))
        self.caption = label("", "soft")
        self.part = Choice("Part of the error", PARTS)
        self.part.setMinimumWidth(px(90))
        self.part.setMaximumWidth(px(180))
        self.part.chosen.connect(lambda _part: self._show_history())
        self.set_aside = button("Set aside", self._set_aside)
        self.set_aside.setToolTip("Whether this sheet counts")
        self.noted = button("Note a change…", self._note_change)
        head = QHBoxLayout()
        head.addWidget(self.part, 1)
        head.addStretch()
        for widget in (self.noted, self.set_aside):
            head.addWidget(widget)
        column.addWidget(self.caption)
        column.addLayout(head)
        self.history = HistoryView(lambda: self.host.tokens)
        self.history.picked.connect(lambda _number: self._show_sheet())
        column.addWidget(self.history)
        return below

    def _add_ways(self) -> None:
        self.target = button("Print a target…", self.make_target)
        self.read = button("Read by eye…", self.read_by_eye)
        self.pick = button("Measure pictures…", self._pick_pictures)
        self.ask_me = button("White on one side?", self.ask_questions)
        self.ruler = button("Printed ruler…", self.read_ruler)
        self.ruler.setToolTip("What a steel ruler says beside the lines of a target: the printer’s own scale")
        self.practise = button("Cut a target here", self.cut_practice)
        self.practise.setToolTip("On the simulated bench: nothing is printed, and nothing of it counts for a real one")
        self.answer.add_ways(self.target, self.pick)
        self.answer.add_ways(self.read, self.ruler)
        self.answer.add_ways(self.ask_me, self.practise)
        self.answer.ways.addWidget(label("Or drop scans and photographs anywhere here.", "soft"))

    # -- showing -------------------------------------------------------------------------------------

    def visit(self) -> None:
        """Look the bench in hand up anew."""
        _ = self.widget
        here, own, assumed, desk = self.here, self.own, self.host.workspace.job.drift_mm, self.host.desk()

        def work(*, report: ReportProgress, cancelled: IsCancelled) -> BenchShelf:
            from honest_edge.app.bench.view import bench_shelf

            now_ms = time.time_ns() // 1_000_000
            shelf = desk().look_up(lambda book: [bench_shelf(book, here, own, assumed, now_ms)], "", now_ms)
            return shelf.rows[0] if shelf.rows else bench_shelf(None, here, own, assumed, now_ms)

        self._looking.submit(work)

    def look_changed(self) -> None:
        if self.shelf is not None:
            self._show(self.shelf)

    def _choose(self, bench: BenchSubject) -> None:
        self._chosen = bench
        self.visit()

    def _show(self, shelf: BenchShelf) -> None:
        self.shelf = shelf
        view, rows = shelf.view, shelf.view.known.rows
        self.benches.show_rows(shelf.rows, view.known.bench)
        is_practice = self._is_practice
        self.answer.show_view(view, self.host.workspace.job.drift_mm, is_practice=is_practice)
        self.practise.setVisible(is_practice)
        for way in (self.target, self.read, self.pick, self.ruler):
            way.setVisible(not is_practice)
        self.history.current = len(rows) - 1
        self.history.setVisible(bool(rows))
        for widget in (self.part, self.set_aside, self.noted):
            widget.setVisible(bool(rows))
        self._show_history()
        self._show_sheet()

    @property
    def _is_practice(self) -> bool:
        shelf = self.shelf
        return shelf is not None and any(r.is_practice and r.bench == self.here for r in shelf.rows)

    def _show_history(self) -> None:
        view = self.view
        if view is None:
            return
        part = self.part.currentData() or PARTS[0][0]
        names: dict[str, str] = {**dict(CHANGES), "typed into the machine": "Typed into the machine"}
        events = [(kept.at_ms, kept.record.remark or names[kept.record.what]) for kept in view.known.notes]
        unit = self.host.workspace.unit
        is_length = part.endswith("_mm")
        inch = is_length and unit != "mm"
        self.history.show_points(
            view.history(part), events, factor=1 / 25.4 if inch else 1.0, current=self.history.current,
            unit="in" if inch else {"rotation_deg": "°"}.get(part, "mm" if is_length else "%"),
        )  # fmt: skip

    def _show_sheet(self) -> None:
        view = self.view
        if view is None:
            return
        rows, number = view.known.rows, self.history.current
        picked = rows[number] if 0 <= number < len(rows) else None
        self.sheet.empty = _EMPTY
        if picked is None:
            self.sheet.show_places((), None)
            self.caption.setText("")
            return
        sheet = picked.kept.measured
        self.sheet.show_places(sheet.places, self._pictures.get(picked.kept.sheet))
        when = ago(time.time_ns() // 1_000_000 - picked.at_ms)
        aside = "" if picked.counts else "; set aside"
        simulated = "simulated, " if picked.kept.simulated else ""
        self.caption.setText(
            f"Sheet {number + 1} of {len(rows)}, {when}: {simulated}{len(sheet.used)} of "
            f"{counted(len(sheet.places), 'place')}, by {sheet.by}{aside}"
        )
        self.set_aside.setText("Set aside" if picked.counts else "Let it count")

    # -- measuring -----------------------------------------------------------------------------------

    def take_files(self, paths: Sequence[Path]) -> bool:
        """Measure pictures that were dropped; other files are not for this room."""
        wanted = [path for path in paths if path.suffix.lower() in PICTURES]
        if not wanted:
            return False
        self.measure(wanted)
        return True

    def _pick_pictures(self) -> None:
        names, _ = QFileDialog.getOpenFileNames(self.widget, "Measure scans or photographs", "", _FILTER)
        if names:
            self.measure([Path(name) for name in names])

    def measure(self, paths: Sequence[Path]) -> None:
        """Measure pictures, away from the window's thread, and keep what was measured."""
        from honest_edge.ui.rooms.bench.work import measuring_work

        self._measure(measuring_work(self.host, self._real, paths))

    def cut_practice(self) -> None:
        """Cut a target on the practice bench and measure it."""
        from honest_edge.ui.rooms.bench.work import practice_work

        self._measure(practice_work(self.host, self.here, self.host.workspace.job.sheet))

    def _measure(self, work: Callable[..., Any]) -> None:
        if self._is_measuring:  # what is newer must not take the place of sheets that are not kept yet
            self.host.say("One measuring at a time: wait for it, or call it off", actions=[("Cancel", self._call_off)])
            return
        self._is_measuring = True
        self.host.say("Measuring …", actions=[("Cancel", self._call_off)])
        self._measuring.submit(work)

    def _over(self, *_found: object) -> None:
        self._is_measuring = False

    def _call_off(self) -> None:
        self._over()
        self._measuring.cancel()
        self.host.say("Called off: nothing was kept.")

    @property
    def _real(self) -> BenchSubject:
        """The bench that pictures are of: never the practice bench."""
        return self.own if self._is_practice else self.here

    def _on_progress(self, share: float, words: str) -> None:
        self.host.say(f"{words} …", actions=[("Cancel", self._call_off)])

    def _on_measured(
        self, bench: BenchSubject, measured: Measured, pictures: dict[str, Straightened], said: Sequence[str]
    ) -> None:
        self._pictures |= pictures
        self._chosen = None if bench == self.own else bench
        count = len(measured.sheets)
        words = " ".join([*said, *(f"{warning.rstrip('.')}." for warning in measured.warnings)])
        if count:
            told = f"{counted(count, 'sheet')} measured and kept in the Book. {words}"
            self.host.say(told, tone="look" if words else "fine")
            self.host.bench_changed()
        else:
            self.host.say(words or "Nothing could be measured.", tone="danger")
        self.visit()

    # -- ways on -------------------------------------------------------------------------------------

    def make_target(self) -> None:
        """Ask how a target is to be, and write it."""
        from honest_edge.core.values.measured import ErrorParts
        from honest_edge.ui.rooms.bench.target_dialog import TargetDialog

        known = self.view
        TargetDialog(self.host, self._ask, ErrorParts() if known is None else known.known.correction).open()

    def read_by_eye(self) -> None:
        """Ask for readings, and keep the sheet."""
        from honest_edge.ui.rooms.bench.readings_dialog import ReadingsDialog

        ReadingsDialog(self.host, self.host.workspace.job.drift_mm, self._keep_read).open()

    def _keep_read(self, measured: Measured) -> None:
        from honest_edge.ui.rooms.bench.work import keeping_work

        self._measure(keeping_work(self.host, self._real, measured))

    def read_ruler(self) -> None:
        """Ask how long the printed lines are, where a target has room for them on the job's paper."""
        from honest_edge.core.measure.target import rulers, target_layout
        from honest_edge.ui.rooms.bench.ruler_dialog import RulerDialog

        sheet = self.host.workspace.job.sheet
        lines = self.host.workspace.build(lambda: rulers(target_layout(sheet, "RULERRRR")))
        if lines:
            RulerDialog(self.host, lines).open()

    def ask_questions(self) -> None:
        """Ask what the user sees."""
        from honest_edge.ui.shared.questions_dialog import QuestionsDialog

        QuestionsDialog(self.host).open()

    def take_out(self) -> None:
        """Ask where the steady part is to be taken out."""
        from honest_edge.ui.rooms.bench.correction_dialog import CorrectionDialog

        if self.view is not None:
            CorrectionDialog(self.host, self.view, self._keep).open()

    def _note_change(self) -> None:
        bench, what, remark = self.here, Choice("What was done", CHANGES), QLineEdit()
        NoteDialog(
            self.widget,
            "What was done to this bench?",
            (("What", what, "A reset or another reader moves the steady part: it is then measured anew."),
             ("Remark", remark, "Shown on the history.")),
            lambda: BenchNote(
                machine=bench.machine, printer=bench.printer, what=what.currentData(), remark=remark.text().strip()
            ),
            lambda note: self._keep_kind("CHANGED", note, "Noted."),
        ).open()  # fmt: skip

    def _set_aside(self) -> None:
        view, number = self.view, self.history.current
        if view is None or not 0 <= number < len(view.known.rows):
            return
        row_, bench = view.known.rows[number], self.here
        note = SetAside(machine=bench.machine, printer=bench.printer, key=row_.kept.key, counts=not row_.counts)
        said = "The sheet is set aside: it counts no more." if row_.counts else "The sheet counts again."
        self._keep_kind("ASIDE", note, said)

    def _keep_kind(self, name: str, note: object, said: str) -> None:
        from honest_edge.files.book import records

        self._keep((getattr(records, name), note), said)

    def _keep(self, record: tuple[Any, object], said: str) -> None:
        def then(_is_made_up: bool) -> None:
            self.host.say(said, tone="fine")
            self.host.bench_changed()
            self.visit()

        self._ask(lambda desk, now_ms: desk.note([record], now_ms), then)
