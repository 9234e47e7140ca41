"""The sheet that copies are laid out on: paper, stock, machine and printer together."""

from __future__ import annotations

from dataclasses import dataclass, field, replace
from typing import Literal

from honest_edge.core.values.errors import UsageError
from honest_edge.core.values.machine import Machine
from honest_edge.core.values.marks import MarkSpec
from honest_edge.core.values.papers import PAPER_MM, PAPER_TITLE, PaperName
from honest_edge.core.values.printer import Printer
from honest_edge.core.values.recipe import LineSettings
from honest_edge.core.values.sides import Sides
from honest_edge.core.values.stock import Stock
from honest_edge.core.values.units import check_range

Turning = Literal["none", "quarter", "free"]
Grouping = Literal["mixed", "together", "apart"]
Arrangement = Literal["tidy", "tight"]
MOST_USED_AREAS = 200
MOST_OUTSIDE_MM = 5_000.0


@dataclass(frozen=True, slots=True, kw_only=True)
class SheetSpec:
    """Paper, stock, machine and printer, and how copies are laid out.

    Attributes:
        paper: its standard size; "own" takes ``own_mm``.
        own_mm: width and height of the user's own paper, upright.
        is_landscape: whether it lies on its side.
        gap_mm: least gap between neighbouring cuts.
        turning: how copies may be turned.
        grouping: whether designs are mixed, each design's copies are kept together in the tray's order, or every
            design has sheets of its own.
        arrangement: "tidy" lays copies in rows, upright, where that costs no sheet; "tight" as close as they go,
            which is what jobs mean that were made before there was a choice.
        used: boxes of the first sheet that are cut out already: left, top, right, bottom in mm.
        settings: what the machine is set to for each kind of line, copied from the Book’s recipes of this stock.
    """

    paper: PaperName = "letter"
    own_mm: tuple[float, float] = (200.0, 300.0)
    is_landscape: bool = False
    stock: Stock = field(default_factory=Stock)
    machine: Machine = field(default_factory=Machine)
    printer: Printer = field(default_factory=Printer)
    gap_mm: float = 2.5
    turning: Turning = "quarter"
    grouping: Grouping = "mixed"
    arrangement: Arrangement = "tight"
    used: tuple[tuple[float, float, float, float], ...] = ()
    settings: LineSettings = field(default_factory=LineSettings)

    def __post_init__(self) -> None:
        for side in self.own_mm:
            check_range("your own paper", side, 30, 2000)
        check_range("gap", self.gap_mm, 0, 100)
        check_range("used areas", len(self.used), 0, MOST_USED_AREAS, "")
        for left, top, right, bottom in self.used:
            for side in (left, top, right, bottom):
                check_range("side of a used area", side, -MOST_OUTSIDE_MM, MOST_OUTSIDE_MM)
            if not (left < right and top < bottom):
                raise UsageError("a used area needs a left before its right and a top above its bottom")

    @property
    def marks(self) -> MarkSpec:
        """What the machine's reader looks for."""
        return self.machine.marks

    @property
    def cutter(self) -> Machine:
        """The machine as it is set for this job: passes, speeds and force from its recipes."""
        return self.machine.set_to(self.settings)

    @property
    def rim_mm(self) -> float:
        """What the printer cannot print at the paper's edges; at the widest, where they differ by side."""
        return self.rims_mm.widest

    @property
    def rims_mm(self) -> Sides:
        """What the printer cannot print, by side of the paper as it lies."""
        return self.printer.rims_mm or Sides.alike(self.printer.rim_mm)

    @property
    def size_mm(self) -> tuple[float, float]:
        """Width and height of the paper as it lies."""
        width, height = self.own_mm if self.paper == "own" else PAPER_MM[self.paper]
        return (height, width) if self.is_landscape else (width, height)

    @property
    def paper_title(self) -> str:
        """What the paper is called."""
        title = PAPER_TITLE[self.paper]
        return f"{title}, landscape" if self.is_landscape else title

    def with_profile(self, profile: Machine | Printer | Stock) -> SheetSpec:
        """Return the sheet with another machine, printer or stock."""
        match profile:
            case Machine():
                return replace(self, machine=profile, settings=self._still_for(profile.name == self.machine.name))
            case Printer():
                return replace(self, printer=profile)
            case Stock():
                return replace(self, stock=profile, settings=self._still_for(profile.name == self.stock.name))

    def _still_for(self, is_the_same: bool) -> LineSettings:
        """Return the settings; none where they were for another stock or machine."""
        return self.settings if is_the_same else LineSettings()

    def with_marks(self, marks: MarkSpec) -> SheetSpec:
        """Return the sheet with other marks."""
        return replace(self, machine=replace(self.machine, marks=marks))
