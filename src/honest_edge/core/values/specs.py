"""Everything the user decides, as frozen values that check themselves."""

from __future__ import annotations

from dataclasses import dataclass, replace
from typing import Literal

from honest_edge.core.values.errors import UsageError
from honest_edge.core.values.units import check_range

Background = Literal["auto", "alpha", "flood", "colour", "subject", "none"]
CorrectionKind = Literal["dam", "open", "keep", "clear", "around", "drop", "retain", "cut", "fill", "guard", "spare"]
Point = tuple[float, float]
School = Literal["border", "bleed", "inside", "bare"]
Corners = Literal["round", "mitre", "bevel"]
LineKind = Literal["kiss", "crease", "perforate", "through"]
"""What is done along a line, in the order in which a sheet is worked: the through cut frees it, so it comes last."""
BleedFill = Literal["nearest", "plain", "mirror", "cloth"]
Colour = tuple[int, int, int]

SMALLEST_WIDTH_MM, LARGEST_WIDTH_MM = 1.0, 2000.0
MOST_COPIES = 10_000
MOST_CORRECTIONS, MOST_CORRECTED = 2_000, 100_000
"""Steps by hand of one design, and all their places: a long stroke of a brush has some hundred."""

Paper = Literal["kept", "white", "strong"]
"""Of a drawing on paper: as it is, made white, or white with what is drawn on it made stronger."""

Cutting = tuple[tuple[int, str], ...]
"""Layers of a drawing that mean a cut and no ink: their numbers, each with what it asks for."""
CONTOURS = ("cut", "kiss", "through")
"""What lines ask for that go round a sticker; creases and perforations go through it."""

CRISP_PPI = 300.0
"""Floor for a crisp print at the finished size; common practice, no published source."""


@dataclass(frozen=True, slots=True, kw_only=True)
class ArtSource:
    """Which part of an original a design shows.

    Attributes:
        page: page of a PDF, counted from 1.
        hidden_layers: layers of a layered picture that are left out, counted from 0 at the bottom.
        region: left, top, right and bottom in shares of the whole picture; None takes all of it.
        paper: what becomes of the paper of a drawing.
        corners: of a page that was photographed aslant, which is set upright first: upper left, upper right, lower
            right and lower left, in shares of the picture's width and height; None leaves the picture as it is.
        cut_layers: layers whose lines are not printed but cut: what they enclose is the sticker.
    """

    page: int = 1
    hidden_layers: tuple[int, ...] = ()
    region: tuple[float, float, float, float] | None = None
    paper: Paper = "kept"
    corners: tuple[Point, Point, Point, Point] | None = None
    cut_layers: tuple[int, ...] = ()

    def __post_init__(self) -> None:
        check_range("page", self.page, 1, 10_000, "")
        _check_box("region", self.region)
        for place in (value for corner in self.corners or () for value in corner):
            check_range("corner of the page", place, -1, 2, "of the picture")

    def lines_to_print(self, cutting: Cutting) -> Cutting:
        """Return the lines that mean a cut and would be printed."""
        return tuple(one for one in cutting if one[0] not in {*self.hidden_layers, *self.cut_layers})

    def without_lines(self, cutting: Cutting) -> ArtSource:
        """Return the source with lines that mean a cut left out."""
        gone = {*self.hidden_layers, *(index for index, _ in cutting)}
        return replace(self, hidden_layers=tuple(sorted(gone)), cut_layers=())

    def along_lines(self, cutting: Cutting) -> ArtSource:
        """Return the source cut along the lines that go round a sticker; others that mean a cut are left out."""
        round_it = tuple(index for index, means in cutting if means in CONTOURS)
        rest = self.without_lines(tuple(one for one in cutting if one[0] not in round_it))
        return replace(rest, cut_layers=round_it)


@dataclass(frozen=True, slots=True, kw_only=True)
class WantedSize:
    """A size of a design as it was typed.

    Attributes:
        of: the sticker as cut, or the art inside it.
        side: 0 for its width, 1 for its height.
        length_mm: how long it is.
    """

    of: Literal["cut", "art"]
    side: Literal[0, 1]
    length_mm: float

    def __post_init__(self) -> None:
        check_range("size", self.length_mm, SMALLEST_WIDTH_MM, LARGEST_WIDTH_MM)


@dataclass(frozen=True, slots=True, kw_only=True)
class Correction:
    """One step by hand that tells art from background, or a part or hole that is kept or not.

    Attributes:
        kind: "dam" is a line that the background does not cross, "open" lets it through a gap that would
            be dammed; "keep" and "clear" are brush strokes; "around" is a closed loop round the subject of a
            photograph, of which the last one counts; "drop" and "retain" leave out or keep the part
            at a place whatever its size; "cut" and "fill" do the same for holes; "guard" brushes over detail
            that must not be cut, "spare" over what may be.
        points: places, x right and y down, in widths of the picture, so that they survive a change of size.
        brush: diameter of a stroke, in widths of the picture.
    """

    kind: CorrectionKind
    points: tuple[Point, ...]
    brush: float = 0.0

    def __post_init__(self) -> None:
        check_range("places of a correction", len(self.points), 1, 20_000, "")
        for place in (extreme(part) for extreme in (min, max) for part in zip(*self.points, strict=True)):
            check_range("place", place, -1, 100, "widths")
        if any(x != x or y != y for x, y in self.points):  # no number is neither the least nor the largest
            raise UsageError("place must be a number of widths")
        check_range("brush", self.brush, 0, 10, "widths")


@dataclass(frozen=True, slots=True, kw_only=True)
class OutlineRecipe:
    """Where the art ends.

    Attributes:
        background: how the background is told from the art: by transparency, from the border inward, a
            colour everywhere, as the subject of a photograph, or not at all ("none" keeps the whole rectangle);
            "auto" takes transparency
            where there is some, else the colour that the picture's border shares, unless that belongs to a
            photograph.
        colour: the background's colour, sRGB 0 to 255; None takes what the border shares.
        tolerance: largest colour distance from the background, 0 to 255 RGB levels; None measures the
            picture's own noise.
        threshold: coverage at which a soft edge counts as art.
        trace_area: left, top, right and bottom in shares of the picture outside of which all is background.
        speck_mm2: parts smaller than this are dropped.
        hole_mm2: holes at least this large are kept; None fills every hole.
        dam_px: gaps in a drawn outline up to so many pixels are dammed.
        smoothness_mm: how far the fitted curve may stray from the raw edge; None follows the pixel size.
        corner_deg: turns sharper than this stay corners.
        true_mm: parts that stray no farther from a disc, a box or a rounded box become that form; 0 leaves them.
        closely_mm: how closely the silhouette of a photograph's subject is followed: what is narrower, of the
            subject or between its parts, is no part of it.
        corrections: steps by hand, in the order they were made.
    """

    background: Background = "auto"
    colour: Colour | None = None
    tolerance: float | None = None
    threshold: float = 0.5
    trace_area: tuple[float, float, float, float] | None = None
    speck_mm2: float = 1.0
    hole_mm2: float | None = None
    dam_px: float = 4.0
    smoothness_mm: float | None = None
    corner_deg: float = 28.0
    closely_mm: float = 0.5
    true_mm: float = 0.0
    corrections: tuple[Correction, ...] = ()

    def __post_init__(self) -> None:
        if self.tolerance is not None:
            check_range("tolerance", self.tolerance, 1, 200, "levels")
        if self.colour is not None:
            check_colour("background colour", self.colour)
        check_range("threshold", self.threshold, 0.02, 0.98, "")
        _check_box("trace area", self.trace_area)
        check_range("smallest part", self.speck_mm2, 0, 10_000, "mm²")
        if self.hole_mm2 is not None:
            check_range("smallest hole", self.hole_mm2, 0, 10_000, "mm²")
        check_range("dammed gaps", self.dam_px, 0, 40, "px")
        if self.smoothness_mm is not None:
            check_range("smoothness", self.smoothness_mm, 0.005, 2)
        check_range("corner", self.corner_deg, 10, 170, "degrees")
        check_range("how closely", self.closely_mm, 0.3, 5)
        check_range("straying from a true form", self.true_mm, 0, 5)
        check_range("corrections", len(self.corrections), 0, MOST_CORRECTIONS, "")
        places = sum(len(correction.points) for correction in self.corrections)
        check_range("places of all corrections", places, 0, MOST_CORRECTED, "")


def _check_box(name: str, box: tuple[float, float, float, float] | None) -> None:
    if box is None:
        return
    left, top, right, bottom = box
    if not (0 <= left < right <= 1 and 0 <= top < bottom <= 1):
        raise UsageError(f"{name} must be a box inside the picture, left before right and top before bottom")


@dataclass(frozen=True, slots=True, kw_only=True)
class EdgeRecipe:
    """How the edge is to come out.

    Attributes:
        school: what is done at the edge.
        offset_mm: how far the cut lies from the outline; outward, or inward for "inside".
        bleed_mm: how far the art's colour is carried past the cut; 0 adds none.
        corners: what an offset does to sharp corners.
        line_kind: kiss cut (liner stays whole) or through cut.
        hole_mm2: holes that the offset leaves between parts are closed below this area; holes of the
            outline itself stay.
        ease_mm: radius to which concave notches of the cut are eased; 0 leaves them sharp.
        fatten_mm: how much thicker strokes thinner than ``THIN_STROKE_MM`` become; 0 leaves them.
        fill: what the bleed is filled with: the nearest colour of the art, carried outward and softened; one
            plain colour; the art mirrored at its edge, for rectangular photographs; or the colour of the cloth that
            the stock is ironed on to, which then lies under what is see-through, too.
        fill_rgb: the plain colour, sRGB; None takes the commonest of the edge.
        detail: strokes by hand that guard detail, or spare it.
    """

    school: School = "border"
    offset_mm: float = 2.0
    bleed_mm: float = 0.0
    corners: Corners = "round"
    line_kind: LineKind = "kiss"
    hole_mm2: float = 20.0
    ease_mm: float = 0.5
    fatten_mm: float = 0.0
    fill: BleedFill = "nearest"
    fill_rgb: Colour | None = None
    detail: tuple[Correction, ...] = ()

    def __post_init__(self) -> None:
        check_range("offset", self.offset_mm, 0, 50)
        check_range("bleed", self.bleed_mm, 0, 50)
        check_range("smallest hole of the cut", self.hole_mm2, 0, 10_000, "mm²")
        check_range("easing of notches", self.ease_mm, 0, 20)
        check_range("fattening", self.fatten_mm, 0, 3)
        if self.fill_rgb is not None:
            check_colour("bleed colour", self.fill_rgb)

    @property
    def rim_rgb(self) -> Colour | None:
        """The one colour that the print has past the cut; None where it is the art's own, or nothing is printed."""
        return self.fill_rgb if self.bleed_mm > 0 and self.fill in ("plain", "cloth") else None

    @property
    def signed_offset_mm(self) -> float:
        """The offset, positive outward."""
        return -self.offset_mm if self.school == "inside" else self.offset_mm


NARROWEST_HOLE_MM = 2.0
"""Holes that a border leaves narrower are hard to weed; common practice, no published source."""

THIN_STROKE_MM = 1.5
"""Strokes thinner than this tear when they are weeded; common practice, no published source."""

SCHOOL_NAMES: dict[School, str] = {
    "border": "White border",
    "bleed": "Full bleed",
    "inside": "Cut inside",
    "bare": "At the art",
}

SCHOOL_DEFAULTS: dict[School, EdgeRecipe] = {
    "border": EdgeRecipe(school="border", offset_mm=2.0),
    "bleed": EdgeRecipe(school="bleed", offset_mm=0.0, bleed_mm=1.27, ease_mm=0.0),
    "inside": EdgeRecipe(school="inside", offset_mm=1.0, ease_mm=0.0),
    "bare": EdgeRecipe(school="bare", offset_mm=0.0, ease_mm=0.0),
}
"""Starting values: common practice, no published source."""


def with_school(recipe: EdgeRecipe, school: School) -> EdgeRecipe:
    """Return ``recipe`` under another school, with that school's usual offset, bleed and easing."""
    usual = SCHOOL_DEFAULTS[school]
    return replace(recipe, school=school, offset_mm=usual.offset_mm, bleed_mm=usual.bleed_mm, ease_mm=usual.ease_mm)


def check_width(width_mm: float) -> None:
    """Refuse a finished width that no sticker has.

    Raises:
        UsageError: outside 1 mm to 2 m.
    """
    check_range("finished width", width_mm, SMALLEST_WIDTH_MM, LARGEST_WIDTH_MM)


def check_colour(name: str, rgb: Colour) -> None:
    """Refuse a colour that is none.

    Raises:
        UsageError: a level outside 0 to 255.
    """
    for level in rgb:
        check_range(name, level, 0, 255, "")


def check_copies(copies: int, *, least: int = 1) -> None:
    """Refuse a number of copies outside ``least`` to ``MOST_COPIES``.

    Raises:
        UsageError: with the number found.
    """
    check_range("copies", copies, least, MOST_COPIES, "")
