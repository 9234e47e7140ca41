"""What the Book keeps of guided runs: that one was sealed, what inspections found, and how long hands took."""

from __future__ import annotations

from dataclasses import dataclass

from honest_edge.core.values.errors import UsageError
from honest_edge.core.values.log_event import MOST_TEXT, is_key
from honest_edge.core.values.units import check_range

_MOST_PIECES = 100_000


@dataclass(frozen=True, slots=True, kw_only=True)
class RunSealed:
    """A run that was sealed.

    Attributes:
        run: names it.
        title: of its job.
        stock, machine, printer: their names.
        sheets: that were planned.
        seal: SHA-256 of all that must match.
    """

    run: str
    title: str
    stock: str
    machine: str
    printer: str
    sheets: int
    seal: str

    def __post_init__(self) -> None:
        _check(self.run, self.title, self.stock, self.machine, self.printer, self.seal)


@dataclass(frozen=True, slots=True, kw_only=True)
class SheetInspected:
    """What came out of one design on one sheet.

    Attributes:
        run, sheet: which sheet of which run.
        stock, machine, design: their names.
        forecast: share that was expected clean.
        good, bad: stickers.
        reasons: why some were bad, each reason once, with commas between.
        to_left, to_right, to_top, to_bottom: how many were bad on which side.
    """

    run: str
    sheet: int
    stock: str
    machine: str
    design: str
    forecast: float
    good: int
    bad: int
    reasons: str = ""
    to_left: int = 0
    to_right: int = 0
    to_top: int = 0
    to_bottom: int = 0

    def __post_init__(self) -> None:
        _check(self.run, self.stock, self.machine, self.design, self.reasons)
        check_range("share that was expected clean", self.forecast, 0, 1, "")
        for count in (self.good, self.bad):
            check_range("stickers that were inspected", count, 0, _MOST_PIECES, "")

    @property
    def about(self) -> str:
        """What it tells of: stock, machine and design."""
        return subject_of(self.stock, self.machine, self.design)


def subject_of(stock: str, machine: str, design: str) -> str:
    """Return what inspections of a design on a stock and a machine are looked up by."""
    return "\n".join((stock, machine, design))


@dataclass(frozen=True, slots=True, kw_only=True)
class ActTimed:
    """How long an act of hands took: which one, by the name of its time in ``RunTimes``, and how many seconds."""

    act: str
    seconds: float

    def __post_init__(self) -> None:
        check_range("seconds of an act", self.seconds, 0, 86_400, "s")


@dataclass(frozen=True, slots=True, kw_only=True)
class CarrierLoaded:
    """A sheet of a run was laid on a carrier."""

    run: str
    sheet: int
    carrier: str

    def __post_init__(self) -> None:
        _check(self.run, self.carrier)


@dataclass(frozen=True, slots=True, kw_only=True)
class SheetFound:
    """A sheet whose marks a hand found in the machine.

    Attributes:
        run, sheet: which sheet of which run.
        machine: its name.
        marks: how many were found.
        square_mm2: sum of the squares of how far they were found from where the others say they lie.
    """

    run: str
    sheet: int
    machine: str
    marks: int
    square_mm2: float

    def __post_init__(self) -> None:
        _check(self.run, self.machine)
        check_range("marks that were found", self.marks, 3, _MOST_PIECES, "")
        check_range("what is left over of marks", self.square_mm2, 0, 1e6, "mm²")

    @property
    def left_over(self) -> tuple[int, float]:
        """How many marks, and what is left over of them."""
        return self.marks, self.square_mm2


@dataclass(frozen=True, slots=True, kw_only=True)
class PassTimed:
    """How long a whole pass took that was cut from here.

    Attributes:
        run, sheet: of which sheet of which run.
        machine: its name.
        reckoned_s: how long it was reckoned to take.
        seconds: how long it took.
    """

    run: str
    sheet: int
    machine: str
    reckoned_s: float
    seconds: float

    def __post_init__(self) -> None:
        _check(self.run, self.machine)
        check_range("seconds that a pass was reckoned to take", self.reckoned_s, 0.001, 1e6, "s")
        check_range("seconds of a pass", self.seconds, 0, 1e6, "s")


def _check(run: str, *texts: str) -> None:
    if not is_key(run):
        raise UsageError(f"“{run[:40]}” names no run")
    for text in texts:
        if len(text) > MOST_TEXT:
            raise UsageError(f"“{text[:20]} …” has {len(text)} letters; {MOST_TEXT} are kept")
