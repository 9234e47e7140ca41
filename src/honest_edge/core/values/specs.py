"""Everything the user decides, as frozen values that check themselves."""

from __future__ import annotations

from dataclasses import dataclass, field, replace
from typing import Literal

from honest_edge.core.values.units import check_range

Background = Literal["auto", "alpha", "flood", "none"]
School = Literal["border", "bleed", "inside", "bare"]
Corners = Literal["round", "mitre", "bevel"]
LineKind = Literal["kiss", "through"]
PaperName = Literal["letter", "a4"]

SMALLEST_WIDTH_MM, LARGEST_WIDTH_MM = 1.0, 2000.0
MOST_COPIES = 2000
CRISP_PPI = 300.0
"""Floor for a crisp print at the finished size; common practice, no published source."""


@dataclass(frozen=True, slots=True, kw_only=True)
class OutlineRecipe:
    """Where the art ends.

    Attributes:
        background: how the background is told from the art; "auto" takes transparency where there is
            some, else the colour that the picture's border shares; "none" keeps the whole rectangle.
        tolerance: largest colour distance from the background, 0 to 255 RGB levels; None lets the
            picture's kind decide.
        speck_mm2: parts smaller than this are dropped.
        hole_mm2: holes at least this large are kept; None fills every hole.
    """

    background: Background = "auto"
    tolerance: float | None = None
    speck_mm2: float = 1.0
    hole_mm2: float | None = None

    def __post_init__(self) -> None:
        if self.tolerance is not None:
            check_range("tolerance", self.tolerance, 1, 200, "levels")
        check_range("smallest part", self.speck_mm2, 0, 10_000, "mm²")
        if self.hole_mm2 is not None:
            check_range("smallest hole", self.hole_mm2, 0, 10_000, "mm²")


@dataclass(frozen=True, slots=True, kw_only=True)
class EdgeRecipe:
    """How the edge is to come out.

    Attributes:
        school: what is done at the edge.
        offset_mm: how far the cut lies from the outline; outward, or inward for "inside".
        bleed_mm: how far the art's colour is carried past the cut; 0 adds none.
        corners: what an offset does to sharp corners.
        line_kind: kiss cut (liner stays whole) or through cut.
    """

    school: School = "border"
    offset_mm: float = 2.0
    bleed_mm: float = 0.0
    corners: Corners = "round"
    line_kind: LineKind = "kiss"

    def __post_init__(self) -> None:
        check_range("offset", self.offset_mm, 0, 50)
        check_range("bleed", self.bleed_mm, 0, 50)

    @property
    def signed_offset_mm(self) -> float:
        """The offset, positive outward."""
        return -self.offset_mm if self.school == "inside" else self.offset_mm


SCHOOL_DEFAULTS: dict[School, EdgeRecipe] = {
    "border": EdgeRecipe(school="border", offset_mm=2.0),
    "bleed": EdgeRecipe(school="bleed", offset_mm=0.0, bleed_mm=1.27),
    "inside": EdgeRecipe(school="inside", offset_mm=1.0),
    "bare": EdgeRecipe(school="bare", offset_mm=0.0),
}
"""Starting values: common practice, no published source."""


def with_school(recipe: EdgeRecipe, school: School) -> EdgeRecipe:
    """Return ``recipe`` under another school, with that school's usual offset and bleed."""
    usual = SCHOOL_DEFAULTS[school]
    return replace(recipe, school=school, offset_mm=usual.offset_mm, bleed_mm=usual.bleed_mm)


@dataclass(frozen=True, slots=True, kw_only=True)
class MarkSpec:
    """Three corner brackets that the cutter's reader looks for.

    Attributes:
        length_mm: length of each arm.
        thickness_mm: width of the line.
        inset_mm: from the paper's edges to the outer side of the bracket.
        clear_mm: free space around a bracket where nothing may be printed or cut.
    """

    length_mm: float = 18.0
    thickness_mm: float = 1.0
    inset_mm: float = 12.0
    clear_mm: float = 3.0

    def __post_init__(self) -> None:
        check_range("mark length", self.length_mm, 5, 60)
        check_range("mark thickness", self.thickness_mm, 0.2, 5)
        check_range("mark inset", self.inset_mm, 0, 60)
        check_range("clear space round a mark", self.clear_mm, 0, 30)


@dataclass(frozen=True, slots=True, kw_only=True)
class SheetSpec:
    """Paper, printer's rim, marks and the gap between neighbours."""

    paper: PaperName = "letter"
    rim_mm: float = 5.0
    gap_mm: float = 2.5
    marks: MarkSpec = field(default_factory=MarkSpec)

    def __post_init__(self) -> None:
        check_range("printer's rim", self.rim_mm, 0, 60)
        check_range("gap", self.gap_mm, 0, 100)


def check_width(width_mm: float) -> None:
    """Refuse a finished width that no sticker has.

    Raises:
        UsageError: outside 1 mm to 2 m.
    """
    check_range("finished width", width_mm, SMALLEST_WIDTH_MM, LARGEST_WIDTH_MM)


def check_copies(copies: int) -> None:
    """Refuse a number of copies outside 1 to 2000.

    Raises:
        UsageError: with the number found.
    """
    check_range("copies", copies, 1, MOST_COPIES, "")
