"""What all stations share: the document, what is known of it, the design in hand and the unit."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace
from typing import TYPE_CHECKING, Any

from PyQt6.QtCore import QObject, pyqtSignal

from honest_edge.app.overview import EMPTY, Change, Judgement, Overview
from honest_edge.core.values.comparison import Comparison
from honest_edge.core.values.errors import HonestEdgeError
from honest_edge.core.values.job import Design, Job
from honest_edge.core.values.specs import OutlineRecipe
from honest_edge.core.values.units import Unit, format_length
from honest_edge.ui.document import Document

if TYPE_CHECKING:
    from honest_edge.app.blade_way import BladeWay
    from honest_edge.app.holding import Held
    from honest_edge.app.layer_view import LayerView
    from honest_edge.app.pipeline import DesignResult
    from honest_edge.app.sheet_edits import SheetLimits
    from honest_edge.files.profiles import ProfileFolder


class Desk(QObject):
    """State of the window that is no part of the job."""

    said = pyqtSignal(str)
    redraw_wanted = pyqtSignal()
    edge_wanted = pyqtSignal()
    tool_wanted = pyqtSignal(str)
    place_wanted = pyqtSignal(float, float)
    split_wanted = pyqtSignal()
    write_wanted = pyqtSignal()
    print_wanted = pyqtSignal()
    folder_wanted = pyqtSignal()
    cancel_wanted = pyqtSignal()
    sheet_wanted = pyqtSignal(str)
    """"wait", "stop", "keep", "clear used", "release" or "follow the blade"."""
    layers_wanted = pyqtSignal(tuple)
    picture_wanted = pyqtSignal(object, object)
    """A picture's path, and what takes it as soon as it is read."""

    def __init__(self, document: Document, unit: Unit, profiles: Callable[[], ProfileFolder]) -> None:
        super().__init__()
        self.document, self.unit = document, unit
        self._open_profiles = profiles
        self._profiles: ProfileFolder | None = None
        self.seen: Overview = EMPTY
        self.current: str | None = None
        self.judgement: Judgement | None = None
        self.proposed: Change | None = None
        self.side_by_side = False
        self.page = 0
        self.limits: SheetLimits | None = None
        self.better_found: int | None = None
        self.held: Held | None = None
        self.follows_blade = False
        self.blade: BladeWay | None = None
        self.show_nodes = False
        self.show_deviation = False
        self.brush_mm = 2.0
        self.compare: Comparison | None = None
        self.lay_ruler = False
        self._gestures = 0
        self.out_folder = ""
        self.fresh: dict[str, DesignResult] = {}
        self.layers_taken: tuple[str, ...] = ()
        self.view: LayerView | None = None
        self.fonts: dict[str, tuple[str, ...]] = {}

    @property
    def profiles(self) -> ProfileFolder:
        """The machines, printers and stocks of this user."""
        if self._profiles is None:
            self._profiles = self._open_profiles()
        return self._profiles

    @property
    def job(self) -> Job:
        """The present job."""
        return self.document.job

    @property
    def design(self) -> Design | None:
        """The design in hand."""
        found = [design for design in self.job.designs if design.key == self.current]
        return found[0] if found else None

    @property
    def result(self) -> DesignResult | None:
        """The newest result of the design in hand; it may be a moment behind the job."""
        return self.fresh.get(self.current or "") if self.design else None

    @property
    def shown_edge(self) -> DesignResult | None:
        """What the Edge station shows: the proposed change that is being looked at, else the newest result."""
        return self.proposed.result if self.proposed is not None else self.result

    @property
    def layer_view(self) -> LayerView | None:
        """The newest view of the layers in hand; it may be a moment behind the job."""
        view, design = self.view, self.design
        return view if view is not None and design is not None and view.design.key == design.key else None

    def take_layers(self, keys: tuple[str, ...]) -> None:
        """Take layers of the design in hand."""
        if keys != self.layers_taken:
            self.layers_taken = keys
            self.layers_wanted.emit(keys)

    def propose(self, change: Change | None) -> None:
        """Show the edge as a proposed change would make it, or as it is."""
        self.proposed = change
        self.edge_wanted.emit()

    @property
    def error(self) -> str | None:
        """Why the design in hand has no result."""
        return self.seen.errors.get(self.current or "")

    def length(self, length_mm: float, digits_mm: int = 1) -> str:
        """Return a length in the user's unit."""
        return format_length(length_mm, self.unit, digits=digits_mm if self.unit == "mm" else digits_mm + 1)

    def edit_design(self, words: str, *, merge: int = -1, **changes: Any) -> bool:
        """Change the design in hand; return whether the values were possible."""
        design = self.design
        made = None if design is None else self.build(lambda: replace(design, **changes))
        return made is not None and self.replace_design(made, words, merge=merge)

    def replace_design(self, made: Design, words: str, *, merge: int = -1) -> bool:
        """Put another design in the place of the one of the same key."""
        self.document.edit(self.job.with_design(made), words, merge=merge)
        return True

    def edit_job(self, words: str, **changes: Any) -> bool:
        """Change the job; return whether the values were possible."""
        try:
            job = replace(self.job, **changes)
        except HonestEdgeError as error:
            self.said.emit(str(error))
            return False
        self.document.edit(job, words)
        return True

    def new_gesture(self) -> int:
        """Return a key under which the edits of one gesture become one step of undo."""
        self._gestures += 1
        return self._gestures

    def edit_outline(self, words: str, recipe: OutlineRecipe | None, *, merge: int = -1) -> None:
        """Change the outline's recipe of the design in hand."""
        if recipe is not None:
            self.edit_design(words, merge=merge, outline=recipe)

    def build(self, make: Any) -> Any:
        """Return ``make()``, or say why it is impossible and return None."""
        try:
            return make()
        except HonestEdgeError as error:
            self.said.emit(str(error))
            return None
