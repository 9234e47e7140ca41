"""What happens in a run, one event after the other: a run is what its events say, and nothing else."""

from __future__ import annotations

from collections.abc import Sized
from dataclasses import dataclass
from typing import ClassVar, Literal

from honest_edge.core.values.errors import UsageError
from honest_edge.core.values.log_event import MOST_TEXT
from honest_edge.core.values.units import check_range

What = Literal[
    "ordered", "printed", "measured", "unmeasured", "dry", "laminated", "set", "laid", "missed", "read", "proof begun",
    "proof cut", "proof judged", "cut begun", "cut done", "cut stopped", "out", "inspected", "spoiled", "added",
    "moved", "blade", "skipped", "ended", "back", "again", "aligned", "lines cut",
]  # fmt: skip

BadReason = Literal[
    "white rim", "art cut", "not through", "liner cut", "torn", "print", "bands", "pale", "colour",
]  # fmt: skip
WayOff = Literal["", "left", "right", "top", "bottom", "all round"]
ProofVerdict = Literal["good", "white rim", "art cut", "not through", "liner cut"]
EndReason = Literal["done", "enough", "given up"]
PrintVerdict = Literal["true", "fitted", "scaled", "stretched", "in inches", "misread", "not measured"]

MOST_OFF_MM = 20.0
_MOST_NUMBERS = 5000
_FARTHEST_MM = 100_000.0


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


NEVER = Moment(wall_ms=0)


@dataclass(frozen=True, slots=True, kw_only=True)
class RunEvent:
    """One thing that happened in a run; each kind of it is a record of its own, told by its tag ``what``.

    Attributes:
        at: when; who writes it down says so.
    """

    what: ClassVar[What]
    at: Moment = NEVER


@dataclass(frozen=True, slots=True, kw_only=True)
class SheetEvent(RunEvent):
    """What happened to one sheet, numbered from 1."""

    sheet: int


# -- of the whole run ----------------------------------------------------------------------------------


@dataclass(frozen=True, slots=True, kw_only=True)
class Ordered(RunEvent):
    """How many sheets are kiss-cut before the first of them is cut through, and how many carriers are in use."""

    what = "ordered"
    block: int
    carriers: int


@dataclass(frozen=True, slots=True, kw_only=True)
class Set(RunEvent):
    """What the machine was set to, for the kinds of line of one pass as the guide names them."""

    what = "set"
    kinds: str
    setting: str = ""

    def __post_init__(self) -> None:
        _check_text(self.kinds, self.setting)


@dataclass(frozen=True, slots=True, kw_only=True)
class Added(RunEvent):
    """More sheets were planned: the pages of the layout that they show."""

    what = "added"
    pages: tuple[int, ...]

    def __post_init__(self) -> None:
        _check_count(self.pages)


@dataclass(frozen=True, slots=True, kw_only=True)
class BladeFitted(RunEvent):
    """A blade was fitted, or said to be in."""

    what = "blade"
    blade: str

    def __post_init__(self) -> None:
        _check_text(self.blade)


@dataclass(frozen=True, slots=True, kw_only=True)
class Ended(RunEvent):
    """The run is over."""

    what = "ended"
    reason: EndReason


@dataclass(frozen=True, slots=True, kw_only=True)
class Back(RunEvent):
    """What happened last was one press too many."""

    what = "back"


# -- of one sheet --------------------------------------------------------------------------------------


@dataclass(frozen=True, slots=True, kw_only=True)
class Printed(SheetEvent):
    """It came out of the printer."""

    what = "printed"


@dataclass(frozen=True, slots=True, kw_only=True)
class Measured(SheetEvent):
    """A ruler was held to it: what the readings say, and what was read between marks and on the printed ruler."""

    what = "measured"
    verdict: PrintVerdict
    across_mm: float | None = None
    down_mm: float | None = None
    ruler_mm: float | None = None


@dataclass(frozen=True, slots=True, kw_only=True)
class Unmeasured(SheetEvent):
    """Nobody held a ruler to it."""

    what = "unmeasured"


@dataclass(frozen=True, slots=True, kw_only=True)
class LetDry(SheetEvent):
    """It was said to be dry before its time was over."""

    what = "dry"


@dataclass(frozen=True, slots=True, kw_only=True)
class Laminated(SheetEvent):
    """Laminate was laid on it."""

    what = "laminated"


@dataclass(frozen=True, slots=True, kw_only=True)
class Laid(SheetEvent):
    """It was laid on a carrier, counted from 0, that has a name where it is one of the Book's."""

    what = "laid"
    carrier: int
    name: str = ""

    def __post_init__(self) -> None:
        _check_text(self.name)


@dataclass(frozen=True, slots=True, kw_only=True)
class Missed(SheetEvent):
    """The reader missed marks, counted from 0."""

    what = "missed"
    marks: tuple[int, ...] = ()

    def __post_init__(self) -> None:
        _check_count(self.marks)


@dataclass(frozen=True, slots=True, kw_only=True)
class MarksRead(SheetEvent):
    """The reader found every mark."""

    what = "read"


@dataclass(frozen=True, slots=True, kw_only=True)
class Aligned(SheetEvent):
    """A hand brought a pointer over its marks: of each its number, from 0, and where in the machine that was, in mm."""

    what = "aligned"
    places: tuple[tuple[int, float, float], ...]

    def __post_init__(self) -> None:
        _check_count(self.places)
        if any(not (0 <= mark < _MOST_NUMBERS and abs(x) < _FARTHEST_MM > abs(y)) for mark, x, y in self.places):
            raise UsageError("A mark was found where no machine reaches")


@dataclass(frozen=True, slots=True, kw_only=True)
class LinesCut(SheetEvent):
    """The machine stopped or paused within what it was cutting: how many lines are surely cut, how many perhaps."""

    what = "lines cut"
    done: int
    perhaps: int = 0
    why: str = ""

    def __post_init__(self) -> None:
        _check_text(self.why)
        if self.done < 0 or self.perhaps < 0:
            raise UsageError("Lines are counted from 0")


@dataclass(frozen=True, slots=True, kw_only=True)
class ProofBegun(SheetEvent):
    """One sticker, counted from 0, is cut first."""

    what = "proof begun"
    copy: int


@dataclass(frozen=True, slots=True, kw_only=True)
class ProofCut(SheetEvent):
    """It is cut."""

    what = "proof cut"


@dataclass(frozen=True, slots=True, kw_only=True)
class ProofJudged(SheetEvent):
    """It was looked at: what was seen, on which side and how wide, or why it was good enough."""

    what = "proof judged"
    verdict: ProofVerdict
    side: WayOff = ""
    wide_mm: float | None = None
    note: str = ""

    def __post_init__(self) -> None:
        _check_text(self.note)


@dataclass(frozen=True, slots=True, kw_only=True)
class CutBegun(SheetEvent):
    """A pass is cut."""

    what = "cut begun"


@dataclass(frozen=True, slots=True, kw_only=True)
class CutDone(SheetEvent):
    """The pass is done."""

    what = "cut done"


@dataclass(frozen=True, slots=True, kw_only=True)
class CutStopped(SheetEvent):
    """The pass was stopped; how far it had come."""

    what = "cut stopped"
    came: str = ""

    def __post_init__(self) -> None:
        _check_text(self.came)


@dataclass(frozen=True, slots=True, kw_only=True)
class TakenOut(SheetEvent):
    """It was taken out of the machine."""

    what = "out"


@dataclass(frozen=True, slots=True, kw_only=True)
class Inspected(SheetEvent):
    """Its stickers were looked at: those that did not come out well."""

    what = "inspected"
    bad: tuple[BadSticker, ...] = ()

    def __post_init__(self) -> None:
        _check_count(self.bad)


@dataclass(frozen=True, slots=True, kw_only=True)
class Spoiled(SheetEvent):
    """It is lost, and why."""

    what = "spoiled"
    why: str

    def __post_init__(self) -> None:
        _check_text(self.why)


@dataclass(frozen=True, slots=True, kw_only=True)
class Moved(SheetEvent):
    """It moved after its marks were read."""

    what = "moved"


@dataclass(frozen=True, slots=True, kw_only=True)
class Skipped(SheetEvent):
    """Copies, counted from 0, that are not cut any more."""

    what = "skipped"
    copies: tuple[int, ...]

    def __post_init__(self) -> None:
        _check_count(self.copies)


@dataclass(frozen=True, slots=True, kw_only=True)
class CutAgain(SheetEvent):
    """Copies, counted from 0, that alone are cut once more."""

    what = "again"
    copies: tuple[int, ...]

    def __post_init__(self) -> None:
        _check_count(self.copies)


EVENT_KINDS: dict[str, type[RunEvent]] = {
    kind.what: kind
    for kind in (
        Ordered, Set, Added, BladeFitted, Ended, Back, Printed, Measured, Unmeasured, LetDry, Laminated, Laid, Missed,
        MarksRead, ProofBegun, ProofCut, ProofJudged, CutBegun, CutDone, CutStopped, TakenOut, Inspected, Spoiled,
        Moved, Skipped, CutAgain, Aligned, LinesCut,
    )
}  # fmt: skip
"""Every kind of event, by its tag."""


def _check_text(*texts: str) -> None:
    for text in texts:
        if len(text) > MOST_TEXT:
            raise UsageError(f"“{text[:20]} …” has {len(text)} letters; {MOST_TEXT} are kept")


def _check_count(found: Sized) -> None:
    if len(found) > _MOST_NUMBERS:
        raise UsageError("An event of a run holds too much")
