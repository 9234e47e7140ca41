"""What is done to a whole design: removed, made once more, or given another picture."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace
from functools import partial
from pathlib import Path
from typing import TYPE_CHECKING, cast

from PyQt6.QtWidgets import QInputDialog, QMenu, QWidget

from honest_edge.ui.shared.contract import Station
from honest_edge.ui.shared.file_parts import make_each_layer_a_layer, make_each_page_a_design
from honest_edge.ui.shared.host import Host
from honest_edge.ui.widgets.dialogs import ask_picture

if TYPE_CHECKING:
    from honest_edge.app.results.progress import IsCancelled, ReportProgress
    from honest_edge.core.values.artwork import Artwork
    from honest_edge.core.values.job import Design
    from honest_edge.core.values.layers import Picture


class DesignActs:
    """Acts on a design of the job, each one step of undo."""

    def __init__(self, host: Host, parent: QWidget) -> None:
        self._host, self._parent = host, parent
        self._reading = host.new_task()
        self._reading.done.connect(lambda found: self._on_read(*cast("tuple[Picture, str]", found)))
        self._reading.failed.connect(lambda text: host.say(text, tone="danger"))

    def remove(self, key: str | None = None) -> None:
        """Remove a design: that with a key, or the one in hand."""
        design, document = self._there(key), self._host.workspace.document
        if design is not None:
            document.edit(document.job.without(design.key), f"remove {design.name}")
            self._host.say(f"“{design.name}” was removed.", actions=[("Undo", document.undo_stack.undo)])

    def duplicate(self, here: Station) -> None:
        """Make what is in hand at a station once more, else the design in hand, and take the copy in hand."""
        design = self._host.workspace.design
        if not here.duplicate_in_hand() and design is not None:
            self._duplicate(design.key)

    def menu(self, key: str) -> QMenu:
        """Return what can be done with a design, under the words that finding knows."""
        made = QMenu(self._parent)
        entries: tuple[tuple[str, str, Callable[[], object]], ...] = (
            ("Duplicate", "Ctrl+D", partial(self._duplicate, key)),
            ("Replace its picture…", "Ctrl+Shift+I", partial(self._choose_picture, key)),
            ("Rename…", "", partial(self.rename, key)),
            ("Fill the sheet with it", "", partial(self.fill, key)),
            ("Remove", "Del", partial(self.remove, key)),
        )
        for words, shortcut, act in entries:
            action = made.addAction(f"{words}\t{shortcut}" if shortcut else words)
            if action is not None:
                action.triggered.connect(lambda _on, act=act: act())
        return made

    def _duplicate(self, key: str) -> None:
        from honest_edge.app.edits.same_again import with_duplicate

        workspace, design = self._host.workspace, self._there(key)
        made = None if design is None else workspace.build(lambda: with_duplicate(workspace.job, key))
        if made is not None and design is not None:
            workspace.document.edit(made[0], f"duplicate {design.name}")
            self._host.take(made[1])

    def rename(self, key: str | None = None) -> None:
        """Ask for another name of a design: that with a key, or the one in hand."""
        design = self._there(key)
        if design is None:
            return
        name, is_given = QInputDialog.getText(self._parent, "Rename", "Name of the design", text=design.name)
        if is_given and name.strip() and name.strip() != design.name:
            workspace = self._host.workspace
            job = workspace.build(lambda: workspace.job.with_design(replace(design, name=name.strip())))
            if job is not None:
                workspace.document.edit(job, f"rename {design.name}")

    def fill(self, key: str | None = None) -> None:
        """Let a design fill the sheets: that with a key, or the one in hand."""
        design = self._there(key)
        if design is not None:
            workspace = self._host.workspace
            job = workspace.job.with_design(replace(design, fills=True, copies=max(1, design.copies)))
            workspace.document.edit(job, f"fill the sheet with {design.name}")

    def say_parts(self, design: Design, artwork: Artwork) -> None:
        """Say once that a file holds pages or layers: it is one picture unless it is asked to be more."""
        layers = sum(index not in dict(artwork.cutting) for index in range(len(artwork.layers)))
        if artwork.page_count > 1:
            words, name = f"{artwork.page_count} pages; the first is taken", "Make each a design"
            act: Callable[[], object] = partial(self._each_page, design.key, artwork.page_count)
        elif layers > 1:
            words, name = f"{layers} layers; it is one picture", "Make each a layer"
            act = partial(self._take_apart, design.key, artwork)
        else:
            return
        self._host.say(f"{design.file_name} has {words}.", actions=[(name, act)])

    def _each_page(self, key: str, pages: int) -> None:
        design = self._there(key)
        if design is not None:
            make_each_page_a_design(self._host.workspace, design, pages)

    def _take_apart(self, key: str, artwork: Artwork) -> None:
        design = self._there(key)
        if design is not None and not design.is_layered:
            self._host.take(key)
            make_each_layer_a_layer(self._host.workspace, design, artwork)

    def _there(self, key: str | None) -> Design | None:
        workspace = self._host.workspace
        return next((one for one in workspace.job.designs if one.key == (key or workspace.current)), None)

    def choose_other_picture(self) -> None:
        """Ask for the picture that takes the place of that of the design in hand."""
        design = self._host.workspace.design
        if design is None:
            self._host.say("There is no design whose picture could be replaced: add one first")
            return
        self._choose_picture(design.key)

    def _choose_picture(self, key: str) -> None:
        path = ask_picture(self._parent, self._host.workspace.place.art)
        if path is not None:
            self.replace_picture(key, path)

    def replace_picture(self, key: str, path: Path) -> None:
        """Put another picture in a design's place; it keeps its size, edge, copies, form and place."""
        holder = self._host.workspace.document.holder

        def work(*, report: ReportProgress, cancelled: IsCancelled) -> tuple[Picture, str]:
            from honest_edge.app.edits.open_art import picture_from
            from honest_edge.files.read_input import read_picture

            return picture_from(holder, read_picture(path), path.name, cancelled=cancelled), key

        self._reading.submit(work)

    def _on_read(self, picture: Picture, key: str) -> None:
        from honest_edge.app.edits.same_again import with_other_picture

        workspace, document = self._host.workspace, self._host.workspace.document
        if key not in [design.key for design in workspace.job.designs]:
            return  # it was removed meanwhile
        job = workspace.build(partial(with_other_picture, workspace.job, key, picture))
        if job is not None:
            name = workspace.job.design(key).name
            document.edit(job, f"another picture for {name}")
            words = f"{picture.file_name} took the place of the picture of “{name}”; size, edge and copies stay."
            self._host.say(words, actions=[("Undo", document.undo_stack.undo)])
            self._host.take(key)
