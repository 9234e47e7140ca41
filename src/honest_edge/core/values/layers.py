"""What a layered design is made of: parts with sizes, places and a part to play."""

from __future__ import annotations

from dataclasses import dataclass, field, replace
from typing import Literal

from honest_edge.core.values.errors import UsageError
from honest_edge.core.values.names import check_key, check_letters
from honest_edge.core.values.specs import (
    LARGEST_WIDTH_MM,
    SMALLEST_WIDTH_MM,
    ArtSource,
    Colour,
    LineKind,
    OutlineRecipe,
    check_colour,
    check_width,
)
from honest_edge.core.values.stock import Stock
from honest_edge.core.values.units import check_range

Role = Literal["printed", "stock", "line", "guide"]
Joining = Literal["over", "knock out", "subtract", "intersect"]
ShapeKind = Literal["box", "oval", "polygon", "star", "heart", "tag", "banner", "line"]
SizedBy = Literal["capitals", "width"]
Alignment = Literal["left", "centre", "right"]
CodeKind = Literal["QR", "Code 128", "EAN-13"]
BackingShape = Literal["offset", "box", "rounded box", "disc"]

FIRST_FONT = ("Playfair Display", "Bold")
"""What a new lettering is set in; it ships with the application."""

SMALLEST_PIECE_MM2 = 0.5
"""Smaller pieces and gaps of a stack are neither cut nor seen; common practice, no published source."""

AS_DRAWN = OutlineRecipe(speck_mm2=SMALLEST_PIECE_MM2, hole_mm2=SMALLEST_PIECE_MM2)
"""The outline of layers: it is known exactly, and holes in it are meant."""

PLACEHOLDER_WORDS, PLACEHOLDER_SHOP, PLACEHOLDER_TITLE = "Words", "Shop name", "Untitled"
PLACEHOLDER_CODES = {"QR": "https://example.org", "Code 128": "QW-001", "EAN-13": "400638133393"}
PLACEHOLDERS = {PLACEHOLDER_WORDS, PLACEHOLDER_SHOP, PLACEHOLDER_TITLE, *PLACEHOLDER_CODES.values()}
"""What new words and codes say until they are typed over."""

LEAST_CAPITALS_MM = 1.5
"""Height of a capital below which small print is hard to read; common practice, no published source."""

MOST_LAYERS = 1000
MOST_GRADIENT_COLOURS = 6
MOST_LETTERS = 2000
LARGEST_PLACE_MM = 4000.0


@dataclass(frozen=True, slots=True, kw_only=True)
class Picture:
    """An original at a size of its own.

    Attributes:
        asset: SHA-256 of the original's bytes, in hexadecimal.
        file_name: what the original was called.
        width_mm: finished width.
        source: which part of the original.
        outline: how the picture is told from its background.
    """

    asset: str
    file_name: str
    width_mm: float
    source: ArtSource = field(default_factory=ArtSource)
    outline: OutlineRecipe = field(default_factory=OutlineRecipe)

    def __post_init__(self) -> None:
        check_width(self.width_mm)


@dataclass(frozen=True, slots=True, kw_only=True)
class Lettering:
    """Words that stay words.

    Attributes:
        text: one or more lines; ``{field}`` stands for a column of the job's table.
        family, style: the typeface, by the names in the font.
        size_mm: height of a capital, or width of the longest line.
        sized_by: which of the two.
        spacing: added between letters, in ems.
        line_spacing: from baseline to baseline, in ems.
        align: how lines stand to each other.
        arc_mm: radius of the circle that the baseline of the first line follows; positive curves over the top,
            negative under the bottom; 0 is straight.
        fill_counters: closes the holes in letters.
        fatten_mm: how much thicker thin strokes become.
        room_mm: width that the lines must stay within; None for no bound, or, of a table's words, for what
            the form leaves.
        least_mm: height of a capital down to which words of a table are set smaller to fit; 0 never sets them smaller.
    """

    text: str
    family: str
    style: str = "Regular"
    size_mm: float = 8.0
    sized_by: SizedBy = "capitals"
    spacing: float = 0.0
    line_spacing: float = 1.2
    align: Alignment = "centre"
    arc_mm: float = 0.0
    fill_counters: bool = False
    fatten_mm: float = 0.0
    room_mm: float | None = None
    least_mm: float = LEAST_CAPITALS_MM

    def __post_init__(self) -> None:
        if not self.text.strip():
            raise UsageError("A lettering needs at least one letter: type some words, or remove the layer")
        check_range("letters of one lettering", len(self.text), 1, MOST_LETTERS, "")
        check_range("size of the letters", self.size_mm, 0.3, 1000)
        check_range("letter spacing", self.spacing, -0.5, 5, "em")
        check_range("line spacing", self.line_spacing, 0.3, 10, "em")
        check_range("radius of the arc", abs(self.arc_mm), 0, 100_000)
        check_range("fattening", self.fatten_mm, 0, 3)
        if self.room_mm is not None:
            check_range("room for the lines", self.room_mm, 1, 2000)
        check_range("least size of the letters", self.least_mm, 0, 1000)


@dataclass(frozen=True, slots=True, kw_only=True)
class Shape:
    """A plain form.

    Attributes:
        kind: which.
        width_mm, height_mm: of its box; a line's length and thickness.
        radius_mm: of the corners of a box or tag.
        points: corners of a polygon, tips of a star.
        depth: how far a star's or banner's notches reach in, as a share.
        eyelet_mm: diameter of a tag's hole; 0 for none.
        stroke_mm: how wide the line is that is drawn along its edge, inside of it; 0 fills the form.
    """

    kind: ShapeKind
    width_mm: float
    height_mm: float
    radius_mm: float = 0.0
    points: int = 5
    depth: float = 0.5
    eyelet_mm: float = 4.0
    stroke_mm: float = 0.0

    def __post_init__(self) -> None:
        check_width(self.width_mm)
        check_range("height of a shape", self.height_mm, 0.2, 2000)
        check_range("corner radius", self.radius_mm, 0, 1000)
        check_range("points", self.points, 3, 60, "")
        check_range("depth of the notches", self.depth, 0.02, 0.95, "")
        check_range("eyelet", self.eyelet_mm, 0, 100)
        check_range("line along the edge", self.stroke_mm, 0, 500)

    @property
    def diameter_mm(self) -> float:
        """Diameter of what is round; 0 for what is not."""
        return self.width_mm if self.width_mm == self.height_mm else 0.0

    def with_diameter(self, diameter_mm: float) -> Shape:
        """Return the shape round.

        Raises:
            UsageError: no sticker has that diameter.
        """
        check_range("diameter", diameter_mm, SMALLEST_WIDTH_MM, LARGEST_WIDTH_MM)
        return replace(self, width_mm=diameter_mm, height_mm=diameter_mm)


@dataclass(frozen=True, slots=True, kw_only=True)
class Code:
    """A code that a machine reads, on a light ground that holds its quiet zone.

    Attributes:
        kind: which symbology.
        text: what it says.
        width_mm: of the whole with its quiet zone.
        height_mm: of the bars; a QR code is square.
    """

    kind: CodeKind
    text: str
    width_mm: float = 25.0
    height_mm: float = 12.0

    def __post_init__(self) -> None:
        if not self.text.strip():
            raise UsageError("A code needs something to say: type a text or a number")
        check_range("letters of a code", len(self.text), 1, 1500, "")
        check_width(self.width_mm)
        check_range("height of the bars", self.height_mm, 2, 500)


@dataclass(frozen=True, slots=True, kw_only=True)
class Sticker:
    """Another design of the job, kiss-cut on this one.

    Attributes:
        design: its key.
    """

    design: str


@dataclass(frozen=True, slots=True, kw_only=True)
class Grown:
    """Another layer's outline, larger by a distance; it follows that layer.

    Attributes:
        of: key of the layer.
        grow_mm: how much farther out it reaches; negative for farther in.
    """

    of: str
    grow_mm: float = 2.0

    def __post_init__(self) -> None:
        check_range("growth", self.grow_mm, -100, 100)


@dataclass(frozen=True, slots=True, kw_only=True)
class FillPlace:
    """How a picture lies in the form that it fills, in the form's own frame.

    Attributes:
        zoom: how many times as large as just covers the form; a pattern is as large as it repeats.
        x_mm, y_mm: how far it is moved.
        turn_deg: clockwise.
    """

    zoom: float = 1.0
    x_mm: float = 0.0
    y_mm: float = 0.0
    turn_deg: float = 0.0

    def __post_init__(self) -> None:
        check_range("size of the picture inside", self.zoom, 0.05, 50, "times")
        check_range("place of the picture inside", self.x_mm, -LARGEST_PLACE_MM, LARGEST_PLACE_MM)
        check_range("place of the picture inside", self.y_mm, -LARGEST_PLACE_MM, LARGEST_PLACE_MM)
        check_range("turn of the picture inside", self.turn_deg, -360, 360, "degrees")


@dataclass(frozen=True, slots=True, kw_only=True)
class Gradient:
    """Colours that run into each other.

    Attributes:
        kind: along a line, or round the middle.
        colours: sRGB, evenly spaced: from the start, or from the middle.
        turn_deg: of the line, clockwise; 0 runs from left to right.
    """

    kind: Literal["linear", "radial"] = "linear"
    colours: tuple[Colour, ...] = ((247, 237, 214), (217, 164, 65))
    turn_deg: float = 90.0

    def __post_init__(self) -> None:
        check_range("colours of the gradient", len(self.colours), 2, MOST_GRADIENT_COLOURS, "")
        for rgb in self.colours:
            check_colour("colour of the gradient", rgb)
        check_range("turn of the gradient", self.turn_deg, -360, 360, "degrees")


AS_IT_COVERS = FillPlace()
"""In the middle, as large as covers the whole."""


@dataclass(frozen=True, slots=True, kw_only=True)
class Paint:
    """What a lettering or shape is filled with.

    Attributes:
        rgb: a plain colour, sRGB; also what shows while a picture cannot be read.
        asset, file_name: a picture that fills it instead; empty for none.
        repeat_mm: width at which the picture repeats as a pattern; 0 lets it cover the whole once.
        place: how the picture lies in the form.
        gradient: fills it in place of a plain colour and a picture.
    """

    rgb: Colour = (35, 38, 46)
    asset: str = ""
    file_name: str = ""
    repeat_mm: float = 0.0
    place: FillPlace = AS_IT_COVERS
    gradient: Gradient | None = None

    def __post_init__(self) -> None:
        check_colour("colour", self.rgb)
        check_range("repeat of the pattern", self.repeat_mm, 0, 1000)
        if 0 < self.repeat_mm < 0.5:
            raise UsageError(f"A pattern that repeats every {self.repeat_mm:g} mm cannot be seen: use 0.5 mm or more")


_KRAFT = Stock(rgb=(201, 172, 132))


@dataclass(frozen=True, slots=True, kw_only=True)
class Layer:
    """One part of a layered design; exactly one of picture, lettering, shape, code, sticker and grown is there.

    Attributes:
        key: names the layer within its design, for good.
        name: what the user calls it; empty for what it holds.
        x_mm, y_mm: its middle; of a grown copy, how far it is shifted.
        turn_deg: clockwise.
        is_flipped: mirrored left to right, before it is turned.
        opacity_percent: how much of what lies below it hides; its edge and its cut stay.
        role: "printed"; "stock" for what is cut from stock of its own and glued on; "line" for what is cut, creased
            or perforated along its own outline; "guide" for what only helps the eye.
        stock: what a layer is cut from that is not printed.
        is_inlaid: pieces that lie above are taken out of it; if not, it lies under them.
        tuck_mm: how far it still reaches under them.
        line: what is done along a line.
        cut_mm, tie_mm: lengths of a perforated line's cuts and of what stays between them.
        joining: how it meets what lies below it in its group, or in the whole stack without a group:
            "over" covers it, "knock out" covers it with a clear gap round itself, "subtract" takes its shape
            out of it, "intersect" keeps only what lies within its shape.
        gap_mm: the gap of "knock out" and "subtract".
        paint: what fills a lettering, shape or code.
        group: layers of one group are taken together; empty for none.
        is_meant: words or a code that only held a place are kept on purpose.
        is_hidden, is_locked: hidden layers are not there; locked ones do not move.
    """

    key: str
    name: str = ""
    picture: Picture | None = None
    lettering: Lettering | None = None
    shape: Shape | None = None
    code: Code | None = None
    sticker: Sticker | None = None
    grown: Grown | None = None
    x_mm: float = 0.0
    y_mm: float = 0.0
    turn_deg: float = 0.0
    is_flipped: bool = False
    opacity_percent: float = 100.0
    role: Role = "printed"
    stock: Stock = _KRAFT
    is_inlaid: bool = False
    tuck_mm: float = 1.0
    line: LineKind = "kiss"
    cut_mm: float = 3.0
    tie_mm: float = 1.0
    joining: Joining = "over"
    gap_mm: float = 0.0
    paint: Paint = field(default_factory=Paint)
    group: str = ""
    is_meant: bool = False
    is_hidden: bool = False
    is_locked: bool = False

    def __post_init__(self) -> None:
        check_key("layer", self.key)
        check_letters("the name", self.name, self.group)
        parts = (self.picture, self.lettering, self.shape, self.code, self.sticker, self.grown)
        if sum(part is not None for part in parts) != 1:
            raise UsageError(
                "A layer holds exactly one of a picture, a lettering, a shape, a code, a sticker or a grown copy"
            )
        check_range("place", self.x_mm, -LARGEST_PLACE_MM, LARGEST_PLACE_MM)
        check_range("place", self.y_mm, -LARGEST_PLACE_MM, LARGEST_PLACE_MM)
        check_range("turn", self.turn_deg, -360, 360, "degrees")
        check_range("gap", self.gap_mm, -50, 50)
        check_range("opacity", self.opacity_percent, 1, 100, "%")
        check_range("tuck", self.tuck_mm, 0, 20)
        check_range("cuts of the perforation", self.cut_mm, 0.3, 50)
        check_range("ties of the perforation", self.tie_mm, 0.1, 50)

    @property
    def is_printed(self) -> bool:
        """Whether anything of it is printed."""
        return self.role == "printed" and not self.is_hidden and self.joining in ("over", "knock out")

    @property
    def is_piece(self) -> bool:
        """Whether it is cut from stock of its own."""
        return self.role == "stock" and not self.is_hidden

    @property
    def is_placeholder(self) -> bool:
        """Whether it says what it came with, and nobody said that this is meant."""
        words = self.lettering.text if self.lettering is not None else self.code.text if self.code is not None else ""
        return words.strip() in PLACEHOLDERS and not self.is_meant

    @property
    def takes_picture(self) -> bool:
        """Whether a picture can take the place of its own, fill its form or letters, or stand where words held one."""
        has_room = self.picture is not None or self.lettering is not None or self.shape is not None
        return has_room and self.role == "printed" and not self.is_locked

    @property
    def title(self) -> str:
        """What the layer is called, or what it holds."""
        if self.name:
            return self.name
        if self.lettering is not None:
            return " ".join(self.lettering.text.split())
        if self.picture is not None:
            return self.picture.file_name
        if self.code is not None:
            return f"{self.code.kind}: {self.code.text}"
        if self.sticker is not None:
            return "Sticker"
        if self.grown is not None:
            return "Grown copy"
        return "" if self.shape is None else shape_title(self.shape)

    @property
    def assets(self) -> tuple[tuple[str, str], ...]:
        """The originals it shows, each with its file name."""
        originals = []
        if self.picture is not None:
            originals.append((self.picture.asset, self.picture.file_name))
        if self.paint.asset:
            originals.append((self.paint.asset, self.paint.file_name))
        return tuple(originals)


def shape_title(shape: Shape) -> str:
    """Return a shape's name in words."""
    if shape.kind == "box":
        return "Rounded box" if shape.radius_mm else "Box"
    if shape.kind == "oval":
        return "Disc" if shape.width_mm == shape.height_mm else "Oval"
    return shape.kind.capitalize()


@dataclass(frozen=True, slots=True, kw_only=True)
class Backing:
    """A plain ground behind all printed layers, so that no gap shows through.

    Attributes:
        shape: the layers' own outline offset, or a plain form round them.
        grow_mm: how far it reaches past them.
        rgb: its colour, sRGB.
    """

    shape: BackingShape = "offset"
    grow_mm: float = 2.0
    rgb: Colour = (255, 255, 255)

    def __post_init__(self) -> None:
        check_range("reach of the backing", self.grow_mm, 0, 100)
        check_colour("backing’s colour", self.rgb)
