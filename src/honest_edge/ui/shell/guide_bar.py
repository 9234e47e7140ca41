"""The path for beginners: what a station decides, what most people do there, and the button that does it."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace
from typing import TYPE_CHECKING, cast

from PyQt6.QtCore import QRect, Qt
from PyQt6.QtGui import QResizeEvent
from PyQt6.QtWidgets import QFrame, QHBoxLayout

from honest_edge.ui.shared.contract import StationEntry
from honest_edge.ui.widgets.fields import button, label
from honest_edge.ui.widgets.local import local
from honest_edge.ui.widgets.theme import px

if TYPE_CHECKING:
    from honest_edge.app.edits.usual import Usual
    from honest_edge.app.results.progress import IsCancelled, ReportProgress
    from honest_edge.ui.shared.host import Host
    from honest_edge.ui.shell.make_line.keeper import MakeKeeper
    from honest_edge.ui.shell.station_shelf import StationShelf
    from honest_edge.ui.shell.workshop import Workshop

USUAL_KEY = "Ctrl+Return"


class GuideBar(QFrame):
    """One line above the table; whoever knows the way switches it off, and finds it again in the menu."""

    def __init__(
        self, host: Host, stations: StationShelf, workshop: Workshop, here: Callable[[], str], make: MakeKeeper
    ) -> None:
        """Take the window's parts, what tells the key of the station in hand, and the line that stands in its place."""
        super().__init__()
        self._make = make
        self._host, self._stations, self._workshop, self._here_key = host, stations, workshop, here
        self.setProperty("card", "guide")
        self.setAccessibleName("What most people do")
        line = QHBoxLayout(self)
        line.setContentsMargins(14, 6, 8, 6)
        self.words = label()
        line.addWidget(self.words, 1)
        self.usual = button("Do the usual", self.do_usual)
        self.usual.setToolTip(f"Do what most people do here and go on ({USUAL_KEY})")
        self.off = button("×", self.swap)
        self.off.setAccessibleName("No more guidance")
        self.off.setToolTip("Work without this line; Menu → Guidance brings it back")
        self.off.setFixedWidth(px(30))
        widest = max(self.usual.fontMetrics().horizontalAdvance(entry.usual_words) for entry in stations.entries)
        self.usual.setFixedWidth(widest + px(28))  # it stays under the pointer from station to station
        for one in (self.usual, self.off):
            line.addWidget(one, 0, Qt.AlignmentFlag.AlignTop)
        self._task = host.new_task()
        self._task.done.connect(lambda found: self._on_done(cast("Usual", found)))
        self._task.failed.connect(lambda words: host.say(words, tone="danger"))
        self._task.progress.connect(self._on_progress)
        self.hide()

    def resizeEvent(self, event: QResizeEvent | None) -> None:
        """As high as the longest of its words asks for: the table does not move from station to station."""
        super().resizeEvent(event)
        box = QRect(0, 0, self.words.width(), 1000)
        texts = [local(entry.guide) for entry in self._stations.entries]
        metrics, wrapped = self.words.fontMetrics(), Qt.TextFlag.TextWordWrap
        self.words.setMinimumHeight(max(metrics.boundingRect(box, wrapped, text).height() for text in texts))

    @property
    def _here(self) -> StationEntry:
        return next(entry for entry in self._stations.entries if entry.key == self._here_key())

    def refresh(self) -> None:
        """Show what is decided at the station in hand."""
        is_wanted = self._host.prefs.guide == "on" and bool(self._host.workspace.job.designs)
        is_wanted = is_wanted and not self._make.is_open
        self.setVisible(is_wanted)
        self.words.setText(self._here.guide)
        self.usual.setText(self._here.usual_words)

    def swap(self) -> None:
        """Switch the guidance off, or on again."""
        prefs = self._host.prefs
        self._host.set_prefs(replace(prefs, guide="off" if prefs.guide == "on" else "on"))
        if self._host.prefs.guide == "off":
            self._host.say("The line of guidance is gone.", actions=[("Bring it back", self.swap)])

    def do_usual(self) -> None:
        """Do what most people do at the station in hand, and go on to the next."""
        host, station = self._host, self._here_key()
        if self._make.is_open and self._workshop.is_on_path:
            self._make.write()
            return
        if not host.workspace.job.designs or not self._workshop.is_on_path:
            host.say("Add a picture first: then the usual can be done, station by station.")
            return
        if self._stations[station].do_usual():
            return
        if not host.workspace.is_known:
            host.say("This is still being computed: press again in a moment.")
            return
        overview = host.workspace.overview

        def work(*, report: ReportProgress, cancelled: IsCancelled) -> Usual:
            from honest_edge.app.edits.usual import usual

            return usual(overview, station, host.pipeline(), report=report, cancelled=cancelled)

        self.usual.setEnabled(False)
        self.usual.setToolTip("The usual is being done")
        self._task.submit(work)

    def _on_progress(self, share: float, words: str) -> None:
        self.usual.setText(f"{100 * share:.0f} % …" if share else self._here.usual_words)
        self.usual.setToolTip(words)

    def _on_done(self, found: Usual) -> None:
        host, here = self._host, self._here
        document = host.workspace.document
        self.usual.setEnabled(True)
        self.usual.setToolTip(f"Do what most people do here and go on ({USUAL_KEY})")
        if found.before != document.job:
            host.say("The job was changed meanwhile, and the usual was not done: press again.")
            return
        document.edit(found.job, f"the usual at {here.title}")
        done = "; ".join(found.steps) or "nothing needed to be changed"
        undo: list[tuple[str, Callable[[], object]]] = [("Undo", document.undo_stack.undo)]
        if found.why_not:
            host.say(f"{here.title} needs your hand: {found.why_not}", tone="look")
            self.refresh()
            return
        host.go_to(self._after())
        host.say(f"{here.title}: {done}.", actions=undo if found.steps else [])

    def _after(self) -> str:
        keys = [entry.key for entry in self._stations.entries]
        return keys[min(keys.index(self._here_key()) + 1, len(keys) - 1)]
