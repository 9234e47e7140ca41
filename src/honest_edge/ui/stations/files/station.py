"""Files: what leaves the window: files into a folder, sheets to a printer; one bar shows how far either is."""

from __future__ import annotations

import time
from dataclasses import asdict, replace
from functools import cached_property
from pathlib import Path
from typing import TYPE_CHECKING, cast

from PyQt6.QtWidgets import QFileDialog, QGraphicsScene

from honest_edge.ui.shared.asker import Teller
from honest_edge.ui.shared.contract import Shown, Station
from honest_edge.ui.shared.host import Host
from honest_edge.ui.shared.job_place import show_folder
from honest_edge.ui.shared.own_labels import OwnLabels
from honest_edge.ui.shared.what_worked_words import setting_words, what_worked_words
from honest_edge.ui.stations.files.panel import FilesPanel
from honest_edge.ui.stations.files.write_files import start_writing
from honest_edge.ui.widgets.fields import counted

if TYPE_CHECKING:
    from honest_edge.app.book.desk import BookDesk
    from honest_edge.app.book.found import WhatWorked
    from honest_edge.app.results.progress import IsCancelled, ReportProgress
    from honest_edge.core.sheet.costs import NarrowLines
    from honest_edge.core.values.findings import Finding
    from honest_edge.ui.stations.files.print_sheets import SheetPrinting


def _now_ms() -> int:
    return time.time_ns() // 1_000_000


class FilesStation(Station):
    """Writes and prints in the background."""

    def __init__(self, host: Host, question: str) -> None:
        super().__init__(host)
        self._question = question
        self.labels = OwnLabels(host)
        self.writing, self.sending = host.new_task(), host.new_task()
        self.writing.done.connect(lambda found: self._on_written(*cast("tuple[Path, int, tuple[Finding, ...]]", found)))
        self.sending.done.connect(lambda found: self._on_sent(*cast("tuple[str, int]", found)))
        self.looking, self.comparing = host.new_task(), host.new_task()
        self.comparing.done.connect(lambda found: self.panel.show_written(cast("tuple[Finding, ...]", found)))
        self._known: WhatWorked | None = None
        self.looking.done.connect(lambda told: self._on_known(*cast("tuple[WhatWorked, NarrowLines | None]", told)))
        self.looking.failed.connect(lambda _words: self._on_known(None, None))  # its room says what is wrong with it
        self.keeping = Teller(host)
        for task in (self.writing, self.sending):
            task.progress.connect(lambda share, words: self.panel.set_progress(share, words))
            task.failed.connect(self._on_failed)

    @cached_property
    def panel(self) -> FilesPanel:
        """Folder, kind of print file, what is written, what needs a look."""
        return FilesPanel(self.host, self._question, self)

    @cached_property
    def printing(self) -> SheetPrinting:
        """What asks for a printer; Qt's printing is loaded when it is first needed."""
        from honest_edge.ui.stations.files.print_sheets import SheetPrinting

        return SheetPrinting(self.host, self.sending, lambda: self.panel.set_progress(0.0, "Preparing"), self)

    # -- drawing -------------------------------------------------------------------------------------

    def drawn_from(self) -> tuple[object, ...]:
        workspace = self.workspace
        return workspace.overview.plan, workspace.page, workspace.job.sheet.stock, self.labels.version

    def draw(self, scene: QGraphicsScene) -> Shown | None:
        overview = self.workspace.overview
        if overview.plan is None or not overview.plan.pages:
            return None
        from honest_edge.ui.drawings.sheet_drawing import draw_sheet

        count = len(overview.plan.pages)
        page = min(self.workspace.page, count - 1)
        content = draw_sheet(scene, page, *self.labels.of(overview, page), overview.job.sheet)
        return Shown(content=content, caption=f"sheet {page + 1} of {count}    M: caliper    0: show all", air=0.05)

    def why_empty(self) -> str:
        return self.workspace.overview.state("sheet")[1]

    # -- the Book ------------------------------------------------------------------------------------

    def look_closer(self) -> None:
        """Look up what came out of this stock on this machine before."""
        overview = self.workspace.overview
        sheet, plan = self.workspace.job.sheet, overview.plan
        stock, machine = sheet.stock.name, sheet.machine.name
        sheets, desk = 0 if plan is None else plan.stocks.count(None), self.host.desk()

        def work(*, report: ReportProgress, cancelled: IsCancelled) -> tuple[WhatWorked, NarrowLines | None]:
            from honest_edge.app.views.narrow_places import narrow_places

            return desk().what_worked(stock, machine, sheets, _now_ms()), narrow_places(overview)

        self.looking.submit(work)
        self._look_at_written()

    def _look_at_written(self) -> None:
        """Say where files of this job lie that no longer fit it."""
        place, job = self.workspace.place, self.workspace.job

        def work(*, report: ReportProgress, cancelled: IsCancelled) -> tuple[Finding, ...]:
            from honest_edge.app.output.read_back import written_before

            return written_before(place.folder, job) if job.designs else ()

        self.comparing.submit(work)

    def _on_known(self, known: WhatWorked | None, narrow: NarrowLines | None) -> None:
        self._known = known
        self.panel.setting.show_known(known, narrow, _now_ms())
        stock, words = self.workspace.job.sheet.stock.name, ""
        if known is not None:
            words = what_worked_words(known, stock, _now_ms())
        self.panel.show_known(words, has_setting=known is not None and known.setting is not None)

    # -- writing and printing ------------------------------------------------------------------------

    def choose_folder(self) -> str:
        """Choose where this job's files are written, and keep that with the job."""
        present = self.workspace.place.folder
        start = present if present.is_dir() else present.parent
        folder = QFileDialog.getExistingDirectory(self.host.table, "Write files to", str(start))
        if folder:
            self.workspace.document.out_folder = Path(folder)
            self.host.refresh()
        return folder

    def write(self) -> None:
        """Prepare all files in the background, then write them together."""
        self.host.go_to("files")
        overview = self.workspace.overview
        if overview.why_unwritten is not None:
            self.host.say(f"Nothing can be written yet: {overview.why_unwritten}", tone="danger")
            return
        folder = self.workspace.place.folder
        if self.workspace.place.is_own(folder) is False:
            self.host.say(
                f"Another job’s files lie in {folder}: they are not replaced.",
                tone="danger",
                actions=[("Write to a folder of its own", self._write_elsewhere)],
            )
            return
        job, pipeline = self.workspace.job, self.host.pipeline()
        if start_writing(self.host.table, folder, job, overview, pipeline, self.writing, self.workspace.unit):
            self.panel.set_progress(0.0, "Preparing")

    def _write_elsewhere(self) -> None:
        self.workspace.place.new_folder()
        self.write()

    def do_usual(self) -> bool:
        """Write the files."""
        self.write()
        return True

    def print(self) -> None:
        """Send the sheets to a printer of the system."""
        self.host.go_to("files")
        self.printing.start()

    def keep_outcome(self) -> None:
        """Ask what came out of the cutter and keep it in the Book."""
        overview = self.workspace.overview
        if overview.plan is None:
            return
        from honest_edge.ui.stations.files.cut_dialog import ask_outcome

        outcome = ask_outcome(
            self.host.table.window(),
            title=overview.job.title,
            sheets=overview.plan.stocks.count(None),
            copies=sum(overview.laid[p.design].stock is None for page in overview.plan.pages for p in page),
            blades=() if self._known is None else self._known.blades,
            setting="" if self._known is None else setting_words(self._known),
        )
        if outcome is None:
            return
        now_ms, assets = _now_ms(), dict(self.workspace.document.holder.assets)

        def keep(desk: BookDesk, _now_ms: int) -> bool:
            from honest_edge.app.book.run_of_job import run_of
            from honest_edge.app.book.sheet_picture import sheets_picture

            run = run_of(overview, **asdict(outcome))
            return desk.keep_run(run, overview.job, assets, now_ms, sheets_picture(overview))

        self.keeping(keep, self._on_kept)

    def _on_kept(self, is_made_up: bool) -> None:
        self.look_closer()
        words = "the demo’s Book, which goes when the window does" if is_made_up else "the Book"
        self.host.say(
            f"It is kept in {words}.", tone="fine", actions=[("See the Book", lambda: self.host.go_to("book"))]
        )

    def call_off(self) -> None:
        """Call off what is being written or printed."""
        was_printing = self.sending.busy
        self.writing.cancel()
        self.sending.cancel()
        self.panel.set_progress(None, "")
        if was_printing:
            self.host.say("Printing was called off; sheets that were sent already may still come.")
        else:
            self.host.say("Writing was cancelled; no file was changed.")

    def _on_written(self, folder: Path, count: int, wrong: tuple[Finding, ...]) -> None:
        self.panel.set_progress(None, "")
        self.workspace.document.out_folder = folder
        self.host.set_prefs(replace(self.host.prefs, written_folder=str(folder)))
        document = self.workspace.document
        if self.workspace.is_known and not document.is_demo and not document.is_practice:
            self.host.habits.learn(self.workspace.overview)
        self.panel.show_written(wrong)
        if wrong:
            self.host.say(f"The files in {folder} do not fit each other: {wrong[0].words}", tone="danger")
            return
        self.host.say(
            f"{count} files are in {folder}, read back and whole. Print at 100 %, never “fit to page”.",
            tone="fine",
            actions=[("Show folder", lambda: show_folder(folder)), ("Go on to Run", lambda: self.host.go_to("run"))],
        )

    def _on_sent(self, where: str, count: int) -> None:
        self.panel.set_progress(None, "")
        self.host.say(
            f"{counted(count, 'sheet')} went to {where}. Measure the printed ruler, and write the cut files before "
            "anything is changed.",
            tone="fine",
            actions=[("Write files", self.write)],
        )

    def _on_failed(self, message: str) -> None:
        self.panel.set_progress(None, "")
        self.host.say(message, tone="danger")
