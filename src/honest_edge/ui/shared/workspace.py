"""What all stations share: the document, what is known of it, the design in hand, and edits."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace
from typing import TYPE_CHECKING, Any, TypeVar

from honest_edge.app.results.overview import EMPTY, Overview
from honest_edge.core.values.errors import HonestEdgeError
from honest_edge.core.values.job import Design, Job
from honest_edge.core.values.specs import OutlineRecipe
from honest_edge.core.values.units import Unit
from honest_edge.ui.shared.document import Document
from honest_edge.ui.shared.job_place import JobPlace
from honest_edge.ui.widgets.local import shown_length

if TYPE_CHECKING:
    from honest_edge.app.results.design_result import DesignResult
    from honest_edge.core.values.artwork import Artwork
    from honest_edge.files.prefs import Prefs

T = TypeVar("T")

_SHARED = frozenset(("copies", "spares", "fills", "edge"))
"""What of a design is changed in all that are taken together."""


class Workspace:
    """State of the window that is no part of the job and belongs to no station alone.

    Attributes:
        document: the open job with its history.
        place: where the job's files lie.
        unit: in which lengths are shown.
        overview: the newest results of the whole job.
        decoded: pictures of designs that were just added and have no result yet, by key.
        fresh: the newest results of single designs, by key; they may be newer than the overview.
        current: key of the design in hand.
        page: the sheet in hand, from 0.
        picked: keys of designs that were taken together; see ``together``.
    """

    def __init__(
        self, document: Document, unit: Unit, say: Callable[[str], object], prefs: Callable[[], Prefs]
    ) -> None:
        """Take the document, what is told why an edit is impossible, and what gives the user's choices."""
        self.document, self.unit, self._say = document, unit, say
        self.place = JobPlace(document, prefs)
        self.overview: Overview = EMPTY
        self.fresh: dict[str, DesignResult] = {}
        self.decoded: dict[str, Artwork] = {}
        self.current: str | None = None
        self.page = 0
        self.picked: tuple[str, ...] = ()
        self._gestures = 0
        self._opened = document.opened

    @property
    def job(self) -> Job:
        """The present job."""
        return self.document.job

    def follow_job(self) -> bool:
        """Forget what is no part of the job any more; return whether it is another one, of which nothing is known."""
        is_other, self._opened = self._opened != self.document.opened, self.document.opened
        if is_other:
            self.overview, self.fresh, self.decoded, self.picked, self.page = EMPTY, {}, {}, (), 0
        keys = [design.key for design in self.job.designs]
        if self.current not in keys or is_other:
            self.current = keys[0] if keys else None
        self.fresh = {key: result for key, result in self.fresh.items() if key in keys}
        self.picked = tuple(key for key in self.picked if key in keys)
        return is_other

    @property
    def is_known(self) -> bool:
        """Whether the overview is about the job as it is now."""
        return self.overview.job == self.job and not self.overview.is_provisional

    @property
    def design(self) -> Design | None:
        """The design in hand."""
        in_hand = [design for design in self.job.designs if design.key == self.current]
        return in_hand[0] if in_hand else None

    @property
    def together(self) -> tuple[Design, ...]:
        """The designs that are taken together, with that in hand among them; it alone where no others are."""
        designs = tuple(design for design in self.job.designs if design.key in self.picked)
        design = self.design
        if design is None or len(designs) < 2 or design not in designs:
            return () if design is None else (design,)
        return designs

    @property
    def result(self) -> DesignResult | None:
        """The newest result of the design in hand; it may be a moment behind the job."""
        return self.fresh.get(self.current or "") if self.design else None

    def laid_of(self, key: str | None) -> int | None:
        """Return how many of a design lie on the sheets; None where that is not known."""
        plan = self.overview.plan
        if plan is None:
            return None
        index = next((n for n, result in enumerate(self.overview.laid) if result.design.key == key), None)
        return None if index is None else plan.count(index)

    @property
    def sketch(self) -> Artwork | None:
        """The picture of the design in hand while there is nothing else of it."""
        return self.decoded.get(self.current or "") if self.result is None else None

    @property
    def error(self) -> str | None:
        """Why the design in hand has no result."""
        return self.overview.why_blocked(self.current)

    @property
    def together_words(self) -> str:
        """How many designs a value changes, as it stands beside its field; empty for one."""
        count = len(self.together)
        return f"{count} designs" if count > 1 else ""

    def length(self, length_mm: float, digits_mm: int = 1) -> str:
        """Return a length in the user's unit."""
        return shown_length(length_mm, self.unit, digits=digits_mm if self.unit == "mm" else digits_mm + 1)

    def size(self, size_mm: tuple[float, float], digits_mm: int = 1) -> str:
        """Return a width and a height in the user's unit."""
        return " × ".join(self.length(side_mm, digits_mm) for side_mm in size_mm)

    # -- edits ---------------------------------------------------------------------------------------

    def edit_design(self, words: str, *, merge: int = -1, **changes: Any) -> bool:
        """Change the design in hand, and what are taken together with it alike; return whether that was possible."""
        design = self.design
        if design is not None and len(self.together) > 1 and set(changes) <= _SHARED:
            return self._edit_together(design, words, changes, merge)
        edited = None if design is None else self.build(lambda: replace(design, **changes))
        return edited is not None and self.replace_design(edited, words, merge=merge)

    def _edit_together(self, design: Design, words: str, changes: dict[str, Any], merge: int) -> bool:
        from honest_edge.app.edits.together import edited_together

        keys = {other.key for other in self.together}
        job = self.build(lambda: edited_together(self.job, design, keys, changes))
        if job is not None:
            self.document.edit(job, f"{words} of {len(keys)} designs", merge=merge)
        return job is not None

    def replace_design(self, made: Design, words: str, *, merge: int = -1) -> bool:
        """Put another design in the place of the one of the same key."""
        self.document.edit(self.job.with_design(made), words, merge=merge)
        return True

    def edit_job(self, words: str, **changes: Any) -> bool:
        """Change the job; return whether the values were possible."""
        job = self.build(lambda: replace(self.job, **changes))
        if job is not None:
            self.document.edit(job, words)
        return job is not None

    def edit_sheet(self, words: str, **changes: Any) -> bool:
        """Change the sheet; return whether the values were possible."""
        sheet = self.build(lambda: replace(self.job.sheet, **changes))
        return sheet is not None and self.edit_job(words, sheet=sheet)

    def edit_outline(self, words: str, recipe: OutlineRecipe | None, *, merge: int = -1) -> None:
        """Change the outline's recipe of the design in hand."""
        if recipe is not None:
            self.edit_design(words, merge=merge, outline=recipe)

    def new_gesture(self) -> int:
        """Return a key under which the edits of one gesture become one step of undo."""
        self._gestures += 1
        return self._gestures

    def build(self, make: Callable[[], T]) -> T | None:
        """Return ``make()``, or say why it is impossible and return None."""
        try:
            return make()
        except HonestEdgeError as error:
            self._say(str(error))
            return None
