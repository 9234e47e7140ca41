"""What is done to a whole design: removed, made once more, or given another picture."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace
from functools import partial
from pathlib import Path
from typing import TYPE_CHECKING, NamedTuple, cast

from PyQt6.QtWidgets import QInputDialog, QMenu, QWidget

from honest_edge.ui.shared.contract import Station
from honest_edge.ui.shared.file_parts import make_each_layer_a_layer, make_each_page_a_design
from honest_edge.ui.shared.host import Host
from honest_edge.ui.widgets.dialogs import ask_picture
from honest_edge.ui.widgets.fields import counted

if TYPE_CHECKING:
    from honest_edge.app.results.design_result import DesignResult
    from honest_edge.app.results.progress import IsCancelled, ReportProgress
    from honest_edge.core.values.artwork import Artwork
    from honest_edge.core.values.job import Design
    from honest_edge.core.values.layers import Picture
    from honest_edge.ui.shell.overview_task import OverviewTask

    _Read = tuple[Picture, "_Place"]


class _Place(NamedTuple):
    """Where a picture goes: into which design, in which of its layers (empty for its own picture), how wide that is."""

    key: str
    layer: str
    room_mm: float


class DesignActs:
    """Acts on a design of the job, each one step of undo."""

    def __init__(self, host: Host, parent: QWidget, overviews: OverviewTask) -> None:
        self._host, self._parent = host, parent
        self._before: DesignResult | None = None  # of a design whose picture was replaced
        self._words = ""
        self._reading = host.new_task()
        overviews.found.connect(self.result_known)
        self._reading.done.connect(lambda found: self._on_read(*cast("_Read", found)))
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
        acts_menu = QMenu(self._parent)
        entries: tuple[tuple[str, str, Callable[[], object]], ...] = (
            ("Duplicate", "Ctrl+D", partial(self._duplicate, key)),
            ("Replace its picture…", "Ctrl+Shift+I", partial(self._choose_picture, key)),
            ("Rename…", "", partial(self.rename, key)),
            ("Fill the sheet with it", "", partial(self.fill, key)),
            ("Remove", "Del", partial(self.remove, key)),
        )
        for words, shortcut, act in entries:
            action = acts_menu.addAction(f"{words}\t{shortcut}" if shortcut else words)
            if action is not None:
                action.triggered.connect(lambda _on, act=act: act())
        return acts_menu

    def _duplicate(self, key: str) -> None:
        from honest_edge.app.edits.same_again import with_duplicate

        workspace, design = self._host.workspace, self._there(key)
        duplicated = None if design is None else workspace.build(lambda: with_duplicate(workspace.job, key))
        if duplicated is not None and design is not None:
            workspace.document.edit(duplicated[0], f"duplicate {design.name}")
            self._host.take(duplicated[1])

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

    def replace_picture_in_hand(self, path: Path, layer: str, room_mm: float) -> None:
        """Put a picture in the place of a layer of the design in hand, which is so wide."""
        if (design := self._host.workspace.design) is not None:
            self.replace_picture(design.key, path, layer, room_mm)

    def replace_picture(self, key: str, path: Path, layer: str = "", room_mm: float = 0.0) -> None:
        """Put another picture in a design's place, or in a layer's; size, edge, copies, form and place stay."""
        holder = self._host.workspace.document.holder

        def work(*, report: ReportProgress, cancelled: IsCancelled) -> _Read:
            from honest_edge.app.edits.open_art import picture_from
            from honest_edge.files.read_input import read_picture

            picture = picture_from(holder, read_picture(path), path.name, cancelled=cancelled)
            return picture, _Place(key, layer, room_mm)

        self._reading.submit(work)

    def _on_read(self, picture: Picture, place: _Place) -> None:
        from honest_edge.app.edits.same_again import with_other_picture

        workspace, document = self._host.workspace, self._host.workspace.document
        design = self._there(place.key)
        if design is None or place.layer not in ("", *(one.key for one in design.layers)):
            return  # it was removed meanwhile
        job = workspace.build(lambda: with_other_picture(workspace.job, place.key, picture, place.layer, place.room_mm))
        if job is not None:
            self._before = workspace.fresh.get(place.key)
            document.edit(job, f"another picture for {design.name}")
            self._words = f"{picture.file_name} took its place in “{design.name}”; size, edge and copies stay"
            self._host.say(f"{self._words}.", actions=[("Undo", document.undo_stack.undo)])
            self._host.take(place.key)

    def result_known(self, key: str, result: DesignResult) -> None:
        """Say what a picture could not keep of that whose place it took, once that is known."""
        before = self._before
        if before is None or before.design.key != key or result.design != self._there(key):
            return
        from honest_edge.app.edits.same_again import not_kept

        self._before, workspace = None, self._host.workspace
        lost, parts = not_kept(before, result), list[str]()
        if lost.size_mm is not None:
            parts.append(f"it is cut at {workspace.size(lost.size_mm)} now")
        if lost.ppi is not None:
            parts.append(f"it has only {lost.ppi:.0f} ppi")
        if lost.by_hand:
            parts.append(f"{counted(lost.by_hand, 'correction')} by hand went with the old picture")
        if parts:
            undo = workspace.document.undo_stack.undo
            self._host.say(f"{self._words}; but {', '.join(parts)}.", tone="look", actions=[("Undo", undo)])
