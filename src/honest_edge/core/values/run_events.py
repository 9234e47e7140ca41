"""What happens in a run, one event after the other: a run is what its events say, and nothing else."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

from honest_edge.core.values.errors import UsageError
from honest_edge.core.values.log_event import MOST_TEXT
from honest_edge.core.values.units import check_range

What = Literal[
    "ordered", "printed", "measured", "unmeasured", "dry", "laminated", "set", "laid", "missed", "read", "proof begun",
    "proof cut", "proof judged", "cut begun", "cut done", "cut stopped", "out", "inspected", "spoiled", "added",
    "moved", "blade", "skipped", "ended", "back", "again",
]  # fmt: skip

BadReason = Literal["white rim", "art cut", "not through", "liner cut", "torn", "print"]
WayOff = Literal["", "left", "right", "top", "bottom", "all round"]
ProofVerdict = Literal["good", "white rim", "art cut", "not through", "liner cut"]
EndReason = Literal["done", "enough", "given up"]

MOST_OFF_MM = 20.0
_MOST_NUMBERS = 5000


@dataclass(frozen=True, slots=True, kw_only=True)
class Moment:
    """When something happened.

    Attributes:
        wall_ms: by the clock, in milliseconds of UTC since 1970.
        up_ms: since the machine was started, asleep or awake: no hand sets it back.
        boot: names that start; empty where it is not known.
    """

    wall_ms: int
    up_ms: int = 0
    boot: str = ""

    def seconds_since(self, earlier: Moment) -> float:
        """Return how long ago that was: by what no clock change touches where both are of one start, never below 0."""
        if self.boot and self.boot == earlier.boot:
            return max(0.0, (self.up_ms - earlier.up_ms) / 1000)
        return max(0.0, (self.wall_ms - earlier.wall_ms) / 1000)

    def is_set_back(self, earlier: Moment) -> bool:
        """Whether the clock stands before what happened earlier, by more than a second."""
        return self.wall_ms < earlier.wall_ms - 1000

    def after(self, seconds: float) -> Moment:
        """Return the moment so much later."""
        more = round(1000 * seconds)
        return Moment(wall_ms=self.wall_ms + more, up_ms=self.up_ms + more, boot=self.boot)


@dataclass(frozen=True, slots=True, kw_only=True)
class BadSticker:
    """A sticker that did not come out well.

    Attributes:
        copy: which one on its sheet, from 0.
        reason: why.
        side: where.
        wide_mm: by how much; None where it was not said.
    """

    copy: int
    reason: BadReason
    side: WayOff = ""
    wide_mm: float | None = None

    def __post_init__(self) -> None:
        if self.copy < 0:
            raise UsageError("Stickers are counted from 0")
        if self.wide_mm is not None:
            check_range("how wide it is", self.wide_mm, 0, MOST_OFF_MM)


@dataclass(frozen=True, slots=True, kw_only=True)
class RunEvent:
    """One thing that happened in a run.

    Attributes:
        what: happened.
        at: when.
        sheet: to which sheet, from 1; 0 for the whole run.
        kind: refines it: what a reading says, how a proof looks, how a pass stopped, why a run ended.
        numbers: whole numbers: the block of an order and its carriers, a carrier, marks, copies, a pass, pages.
        values: lengths in mm: a reading across, down and of the ruler; how wide something is.
        words: what was typed, or which side.
        bad: stickers that did not come out well.
    """

    what: What
    at: Moment
    sheet: int = 0
    kind: str = ""
    numbers: tuple[int, ...] = ()
    values: tuple[float | None, ...] = ()
    words: str = ""
    bad: tuple[BadSticker, ...] = ()

    def __post_init__(self) -> None:
        if max(len(self.words), len(self.kind)) > MOST_TEXT:
            raise UsageError(f"“{self.words[:20]} …” has {len(self.words)} letters; {MOST_TEXT} are kept")
        if max(len(self.numbers), len(self.bad), len(self.values)) > _MOST_NUMBERS:
            raise UsageError("An event of a run holds too much")
