"""How art comes in: chosen, dropped, pasted, or made from nothing."""

from __future__ import annotations

from collections import deque
from collections.abc import Callable, Sequence
from dataclasses import replace
from functools import partial
from pathlib import Path
from typing import TYPE_CHECKING, cast

from PyQt6.QtCore import QTimer
from PyQt6.QtWidgets import QApplication, QFileDialog, QWidget

from honest_edge.app.edits.job_holder import formed_design, lettered_design, with_designs, with_new
from honest_edge.core.values.errors import Cancelled, HonestEdgeError
from honest_edge.core.values.forms import Preset
from honest_edge.core.values.job import Design, Job
from honest_edge.core.values.specs import ArtSource
from honest_edge.ui.drawings.paths import png_of
from honest_edge.ui.shared.host import Host
from honest_edge.ui.shared.tasks import Work
from honest_edge.ui.shell.message_bar import MessageBar
from honest_edge.ui.widgets.dialogs import ART, ask_table

if TYPE_CHECKING:
    from honest_edge.app.results.progress import IsCancelled, ReportProgress
    from honest_edge.core.values.artwork import Artwork

    _Added = tuple[Design, Artwork]
    """A new design, and its picture as it was decoded."""

    _ReadFor = tuple[Job, int]
    """The job that pictures were dropped on, and how many jobs had been opened by then."""

_PATIENCE_MS = 300

_Source = tuple[str, Callable[[], bytes]]
"""A file's name, and what reads its bytes."""


class ArtIntake:
    """Adds designs to the job; pictures are read away from the window's thread."""

    def __init__(
        self,
        host: Host,
        bar: MessageBar,
        parent: QWidget,
        show_design: Callable[[Design, bool], object],
        say_parts: Callable[[Design, Artwork], object],
        make: Callable[[], object],
    ) -> None:
        """Take the window's parts.

        Args:
            host: the window.
            bar: where what is read is said.
            parent: of dialogs.
            show_design: takes a design in hand, and is told whether it was made.
            say_parts: says of one picture that was added what its file holds besides.
            make: shows the line in which the first pictures of a job are made at once.
        """
        self._host, self._bar, self._parent = host, bar, parent
        self.show_design, self._say_parts, self._make = show_design, say_parts, make
        self._warming = host.new_task()
        self._adding = host.new_task()
        self._adding.done.connect(
            lambda found: self._on_added(*cast("tuple[_ReadFor, list[_Added], list[str]]", found))
        )
        self._adding.failed.connect(lambda text: host.say(text, tone="danger"))
        self._adding.progress.connect(lambda _share, text: self._on_progress(text))
        self._adding.ended.connect(self._read_next)
        self._waiting: deque[Work] = deque()
        self._words = ""
        self._patience = QTimer(parent)
        self._patience.setSingleShot(True)
        self._patience.setInterval(_PATIENCE_MS)
        self._patience.timeout.connect(self._say_progress)

    takes: Callable[[list[Path]], object]
    """What becomes of files that are dropped, or chosen in their place."""

    def get_ready(self, loads: Sequence[Callable[[], object]], pictures: int = 0) -> None:
        """Start what decodes so many pictures and load stations or rooms, so that neither is waited for later."""

        def work(*, report: ReportProgress, cancelled: IsCancelled) -> None:
            from honest_edge.files.drawing_parent import RENDERER

            RENDERER.warm(pictures)
            for load in loads:
                load()

        self._warming.submit(work)

    def choose(self) -> None:
        """Choose pictures or a table; what becomes of them is what would if they were dropped."""
        names, _ = QFileDialog.getOpenFileNames(self._parent, "Add art", str(self._host.workspace.place.art), ART)
        if names:
            self.takes([Path(name) for name in names])

    def visit_library(self) -> None:
        """Show what is kept, to be laid into the job, and where the design in hand is kept."""
        self._host.go_to("book:library")

    def start_with_words(self) -> None:
        """Add a design that is one lettering, ready to be typed over."""
        self._start(lettered_design(self._host.workspace.job), "start with words")

    def start_with_form(self, preset: Preset) -> None:
        """Add a design on a form."""
        self._start(formed_design(self._host.workspace.job, preset), f"make a {preset.name.lower()}")

    def start_with_table(self, preset: Preset) -> None:
        """Ask for a table and add a design on a form with it, one a row; without one, the form alone."""
        from honest_edge.app.edits.tabled import tabled_design
        from honest_edge.files.read_input import read_input
        from honest_edge.files.read_table import MOST_TABLE_BYTES, read_table

        path, workspace = ask_table(self._parent, self._host.workspace.place.art), self._host.workspace
        if path is None:
            self.start_with_form(preset)
            return
        table = workspace.build(lambda: read_table(read_input(path, MOST_TABLE_BYTES), path.name))
        if table is not None:
            self._start(tabled_design(workspace.job, preset, table), f"make {preset.name.lower()} from a table")

    def _start(self, design: Design, words: str) -> None:
        workspace = self._host.workspace
        grown = workspace.build(lambda: with_designs(workspace.job, [design]))
        if grown is not None:
            workspace.document.edit(grown, words)
            self.show_design(design, True)

    def paste(self) -> None:
        """Add what the clipboard holds: files, a drawing or a picture."""
        clipboard = QApplication.clipboard()
        mime = clipboard.mimeData() if clipboard is not None else None
        if mime is None:
            return
        if mime.hasUrls():
            self.take_pictures([Path(url.toLocalFile()) for url in mime.urls() if url.isLocalFile()])
        elif mime.hasFormat("image/svg+xml"):
            self._take([("Clipboard.svg", lambda: bytes(mime.data("image/svg+xml").data()))])
        elif mime.hasImage() and clipboard is not None:
            png = png_of(clipboard.image())
            self._take([("Clipboard.png", lambda: png)])
        else:
            self._host.say("The clipboard holds no picture: copy one first, or press Ctrl+I")

    def take_pictures(self, paths: list[Path]) -> None:
        """Add pictures, and all pictures of folders."""
        from honest_edge.files.read_input import read_picture

        wanted: list[_Source] = [(file.name, partial(read_picture, file)) for file in self.files_in(paths)]
        self._take(wanted)

    def files_in(self, paths: list[Path]) -> list[Path]:
        """Return the pictures among files and folders, and remember where they lie."""
        from honest_edge.files.read_art import pictures_in

        files: list[Path] = []
        self._remember(paths)
        for path in paths:
            inside = pictures_in(path) if path.is_dir() else [path]
            if not inside:
                self._host.say(f"{path} holds no picture that can be read", tone="danger")
            files += inside
        return files

    def _remember(self, paths: list[Path]) -> None:
        """Remember where art lies: this job's files go beside it, and the next dialog opens there."""
        if not paths:
            return
        folder = paths[0] if paths[0].is_dir() else paths[0].parent
        self._host.workspace.document.art_folder = folder
        if self._host.prefs.art_folder != str(folder):
            self._host.set_prefs(replace(self._host.prefs, art_folder=str(folder)))

    def _take(self, wanted: list[_Source]) -> None:
        if not wanted:
            return
        document, habits = self._host.workspace.document, self._host.habits.known
        holder, job, opened = document.holder, document.job, document.opened

        def work(*, report: ReportProgress, cancelled: IsCancelled) -> tuple[_ReadFor, list[_Added], list[str]]:
            from honest_edge.app.edits.habits import begun_with, kind_of_art, with_lines_as_last
            from honest_edge.app.edits.open_art import LOOK_PX, decoded, design_of
            from honest_edge.app.results.parallel import in_parallel

            begun: list[str] = []
            look_px = LOOK_PX if len(wanted) == 1 else 0  # of many, none is waited for by itself

            def decode(source: _Source) -> tuple[bytes, Artwork] | str:
                if cancelled():
                    raise Cancelled
                name, read = source
                begun.append(name)
                report(len(begun) / len(wanted), f"Reading {name}, {len(begun)} of {len(wanted)}")
                try:
                    data = read()
                    return data, decoded(data, name, look_px=look_px, cancelled=cancelled)
                except HonestEdgeError as error:
                    return str(error)

            grown = job
            added: list[_Added] = []
            refused: list[str] = []
            for (name, _), picture in zip(wanted, in_parallel(decode, wanted), strict=True):
                if isinstance(picture, str):
                    refused.append(picture)
                    continue
                data, artwork = picture
                design = design_of(holder, grown, data, name, artwork)
                design = begun_with(design, kind_of_art(artwork), habits)
                design = with_lines_as_last(design, artwork, habits)
                try:
                    grown = with_designs(grown, [design])
                except HonestEdgeError as error:
                    refused.append(str(error))
                    break
                added.append((design, artwork))
            return (job, opened), added, refused

        self._waiting.append(work)
        self._read_next()

    def _read_next(self) -> None:
        """Read what was dropped next, once what was dropped before is read: nothing takes its place."""
        if self._waiting and not self._adding.busy:
            self._words = ""
            self._patience.start()
            self._adding.submit(self._waiting.popleft())

    def _call_off(self) -> None:
        self._waiting.clear()
        self._adding.cancel()

    def _on_progress(self, words: str) -> None:
        self._words = words
        if not self._patience.isActive():
            self._say_progress()

    def _say_progress(self) -> None:
        """Say what takes long; what is read at once is not announced."""
        if self._words and self._adding.busy:
            self._host.say(self._words, actions=[("Cancel", self._call_off)])

    def _on_added(self, read_for: _ReadFor, added: list[_Added], refused: list[str]) -> None:
        self._patience.stop()
        self._bar.hide()
        job, opened = read_for
        if added and opened == self._host.workspace.document.opened:
            self._add(job, added)
        if refused:
            more = f" (and {len(refused) - 1} more)" if len(refused) > 1 else ""
            self._host.say(refused[0] + more, tone="danger")

    def _add(self, read_for: Job, added: list[_Added]) -> None:
        workspace, job = self._host.workspace, self._host.workspace.job
        read = [design for design, _ in added]
        join = with_designs if job is read_for else with_new  # where it moved on meanwhile its keys may be taken
        grown = workspace.build(lambda: join(job, read))
        if grown is None:
            return
        designs = grown.designs[len(job.designs) :]
        for design, (_, artwork) in zip(designs, added, strict=True):
            if design.source == ArtSource():  # else it is decoded once more, without its lines
                workspace.decoded[design.key] = artwork
        words = f"add {designs[0].name}" if len(designs) == 1 else f"add {len(designs)} pictures"
        workspace.document.edit(grown, words)
        is_first = not job.designs
        self.show_design(designs[0], False)
        if is_first:
            self._make()
        if len(added) == 1:
            self._say_parts(designs[0], added[0][1])
            self._say_lines(designs[0], added[0][1])

    def _say_lines(self, design: Design, artwork: Artwork) -> None:
        """Say what became unasked of lines that mean a cut."""
        from honest_edge.app.edits.habits import lines_words

        def ask() -> None:
            asked = replace(design.source, hidden_layers=(), cut_layers=())
            self._host.workspace.replace_design(replace(design, source=asked), "lines of the file")

        if words := lines_words(design, artwork):
            self._host.say(words, actions=[("Ask me about them", ask)])
