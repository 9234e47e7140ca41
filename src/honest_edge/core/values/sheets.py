"""The bench that a sheet is made for: stock, marks, cutting machine, printer, and how copies are laid out.

All profiles that ship are generic and made up for this application; their numbers are common practice, no
published source, and are there to be edited.
"""

from __future__ import annotations

from dataclasses import dataclass, field, replace
from typing import Literal, get_args

from honest_edge.core.values.errors import UsageError
from honest_edge.core.values.specs import Colour, LineKind, check_colour
from honest_edge.core.values.units import check_range

PaperName = Literal["letter", "legal", "tabloid", "a5", "a4", "a3", "own"]
Gloss = Literal["matt", "satin", "glossy", "mirror"]
MarkKind = Literal["three brackets", "four brackets", "four discs", "four squares", "frame"]
Side = Literal["top", "right", "bottom", "left"]
CutFormat = Literal["svg", "dxf", "dxf-spline", "dxf-r12", "plt", "pdf"]
Turning = Literal["none", "quarter", "free"]
Grouping = Literal["mixed", "together"]

PAPER_MM: dict[PaperName, tuple[float, float]] = {
    "letter": (215.9, 279.4),  # ANSI/ASME Y14.1, size A: 8.5 x 11 in
    "legal": (215.9, 355.6),  # 8.5 x 14 in, North American office paper; from memory
    "tabloid": (279.4, 431.8),  # ANSI/ASME Y14.1, size B: 11 x 17 in
    "a5": (148.0, 210.0),  # ISO 216
    "a4": (210.0, 297.0),  # ISO 216
    "a3": (297.0, 420.0),  # ISO 216
}
PAPER_TITLE: dict[PaperName, str] = {
    "letter": "Letter",
    "legal": "Legal",
    "tabloid": "Tabloid",
    "a5": "A5",
    "a4": "A4",
    "a3": "A3",
    "own": "your own paper",
}
MOST_USED_AREAS = 200


@dataclass(frozen=True, slots=True, kw_only=True)
class Stock:
    """What is printed on.

    Attributes:
        rgb: its colour, sRGB.
        is_clear: see-through film: what is not inked shows whatever lies behind.
        name: what the user calls it.
        gloss: how it shines; mirrors and gloss blind a mark reader.
        thickness_mm: without liner.
        has_liner: whether a liner carries it, so that a kiss cut is possible.
        is_printable: whether ink holds on it.
        price: of one sheet, in the user's own money.
    """

    rgb: Colour = (255, 255, 255)
    is_clear: bool = False
    name: str = "White paper, matt"
    gloss: Gloss = "matt"
    thickness_mm: float = 0.1
    has_liner: bool = True
    is_printable: bool = True
    price: float = 0.0

    def __post_init__(self) -> None:
        _check_name("stock", self.name)
        check_colour("stock colour", self.rgb)
        check_range("thickness of the stock", self.thickness_mm, 0.005, 20)
        check_range("price of a sheet", self.price, 0, 1e6, "")

    @property
    def bare_name(self) -> str:
        """What shows where no ink is, in words."""
        if self.is_clear:
            return "clear film"
        return "white" if min(self.rgb) >= 245 else "bare stock"


@dataclass(frozen=True, slots=True, kw_only=True)
class MarkSpec:
    """What the cutter's reader looks for.

    Attributes:
        kind: the marks' shape and number.
        length_mm: length of a bracket's arms, side of a square, diameter of a disc.
        thickness_mm: width of the line of brackets and frames.
        inset_mm: from the paper's edges to the outer side of the marks.
        clear_mm: free space around a mark where nothing may be printed or cut.
        rgb: their colour.
    """

    kind: MarkKind = "three brackets"
    length_mm: float = 18.0
    thickness_mm: float = 1.0
    inset_mm: float = 12.0
    clear_mm: float = 3.0
    rgb: Colour = (0, 0, 0)

    def __post_init__(self) -> None:
        check_range("mark length", self.length_mm, 2, 60)
        check_range("mark thickness", self.thickness_mm, 0.2, 5)
        check_range("mark inset", self.inset_mm, 0, 60)
        check_range("clear space round a mark", self.clear_mm, 0, 30)
        check_colour("mark colour", self.rgb)


MARK_LENGTH_MM: dict[MarkKind, float] = {
    "three brackets": 18.0,
    "four brackets": 18.0,
    "four discs": 6.0,
    "four squares": 8.0,
    "frame": 18.0,
}


def with_mark_kind(spec: MarkSpec, kind: MarkKind) -> MarkSpec:
    """Return the marks in another shape, of the size that is usual for it."""
    return replace(spec, kind=kind, length_mm=MARK_LENGTH_MM[kind])


@dataclass(frozen=True, slots=True, kw_only=True)
class LineUse:
    """How a machine takes one kind of line.

    Attributes:
        colour: of its strokes in the cut file, sRGB.
        pen: tool that plot text selects.
        passes: how often the blade goes over it.
        alone: whether it needs a cut file of its own.
    """

    colour: Colour
    pen: int = 1
    passes: int = 1
    alone: bool = False

    def __post_init__(self) -> None:
        check_colour("line colour", self.colour)
        check_range("pen", self.pen, 1, 8, "")
        check_range("passes", self.passes, 1, 20, "")


_USUAL_LINES: dict[LineKind, LineUse] = {
    "kiss": LineUse(colour=(138, 45, 107), pen=1),
    "crease": LineUse(colour=(176, 106, 0), pen=2),
    "perforate": LineUse(colour=(91, 107, 30), pen=3),
    "through": LineUse(colour=(34, 48, 94), pen=4),
}


@dataclass(frozen=True, slots=True, kw_only=True)
class Machine:
    """A cutting machine.

    Attributes:
        name: what the user calls it.
        width_mm, length_mm: the largest area it cuts, across the feed and along it.
        marks: what its reader looks for.
        feed_side: which side of the paper goes in first.
        feed_margin_mm: how much of that side the rollers hold, where nothing can be cut.
        speed_mm_s: while cutting.
        travel_mm_s: with the blade up.
        lines: how it takes each kind of line.
        formats: which cut files it reads.
        prints_own_marks: whether its own program prints the marks; it is then given a hand-off pack.
        blade_offset_mm: how far a drag knife's tip trails behind its axis.
        compensates: whether the files lead the tip round corners; if not, the machine does.
        overcut_mm: how far a closed cut runs past its start.
    """

    name: str = "Desktop cutter"
    width_mm: float = 300.0
    length_mm: float = 600.0
    marks: MarkSpec = field(default_factory=MarkSpec)
    feed_side: Side = "top"
    feed_margin_mm: float = 0.0
    speed_mm_s: float = 100.0
    travel_mm_s: float = 300.0
    lines: dict[LineKind, LineUse] = field(default_factory=lambda: dict(_USUAL_LINES))
    formats: tuple[CutFormat, ...] = ("svg", "dxf")
    prints_own_marks: bool = False
    blade_offset_mm: float = 0.25
    compensates: bool = False
    overcut_mm: float = 0.0

    def __post_init__(self) -> None:
        _check_name("machine", self.name)
        check_range("width that the machine cuts", self.width_mm, 20, 5000)
        check_range("length that the machine cuts", self.length_mm, 20, 50_000)
        check_range("margin at the feeding edge", self.feed_margin_mm, 0, 100)
        check_range("cutting speed", self.speed_mm_s, 1, 5000, "mm/s")
        check_range("travelling speed", self.travel_mm_s, 1, 10_000, "mm/s")
        check_range("blade offset", self.blade_offset_mm, 0, 2)
        check_range("overcut", self.overcut_mm, 0, 5)
        missing = [kind for kind in get_args(LineKind) if kind not in self.lines]
        if missing:
            raise UsageError(f"machine “{self.name}” says nothing of {', '.join(missing)} lines: add them")
        if not self.formats:
            raise UsageError(f"machine “{self.name}” reads no format of cut file: name one at least")

    def __hash__(self) -> int:
        return hash((self.name, self.width_mm, self.length_mm, self.marks, self.feed_side, self.formats))


@dataclass(frozen=True, slots=True, kw_only=True)
class Printer:
    """A printer.

    Attributes:
        name: what the user calls it.
        rim_mm: what it cannot print at the paper's edges.
        papers: which papers it takes.
        scale_x_percent, scale_y_percent: by how much prints come out too large, as far as it was measured.
    """

    name: str = "Home printer"
    rim_mm: float = 5.0
    papers: tuple[PaperName, ...] = ("letter", "legal", "a5", "a4", "own")
    scale_x_percent: float = 0.0
    scale_y_percent: float = 0.0

    def __post_init__(self) -> None:
        _check_name("printer", self.name)
        check_range("printer's rim", self.rim_mm, 0, 60)
        check_range("printer's scale error", self.scale_x_percent, -5, 5, "%")
        check_range("printer's scale error", self.scale_y_percent, -5, 5, "%")
        if not self.papers:
            raise UsageError(f"printer “{self.name}” takes no paper: name one at least")


def _check_name(what: str, name: str) -> None:
    if not name.strip() or len(name) > 80:
        raise UsageError(f"a {what} needs a name of 1 to 80 letters, not “{name[:20]}”")


MACHINES: tuple[Machine, ...] = (
    Machine(),
    Machine(
        name="Mat cutter with four discs",
        width_mm=290.0,
        length_mm=290.0,
        marks=MarkSpec(kind="four discs", length_mm=6.0, inset_mm=12.0),
        speed_mm_s=60.0,
        formats=("svg",),
    ),
    Machine(
        name="Roll plotter",
        width_mm=600.0,
        length_mm=5000.0,
        marks=MarkSpec(kind="four squares", length_mm=8.0, inset_mm=15.0),
        feed_margin_mm=20.0,
        speed_mm_s=400.0,
        travel_mm_s=800.0,
        formats=("plt", "dxf"),
        compensates=True,
        overcut_mm=0.3,
    ),
    Machine(
        name="Cutter with a program of its own",
        width_mm=240.0,
        length_mm=180.0,
        marks=MarkSpec(kind="frame", inset_mm=8.0),
        prints_own_marks=True,
        formats=("svg",),
    ),
)
PRINTERS: tuple[Printer, ...] = (
    Printer(),
    Printer(name="Photo printer without rim", rim_mm=0.0, papers=("letter", "a5", "a4", "own")),
    Printer(name="Office laser printer", rim_mm=4.3, papers=("letter", "legal", "tabloid", "a5", "a4", "a3", "own")),
)
STOCKS: tuple[Stock, ...] = (
    Stock(),
    Stock(name="White vinyl, satin", gloss="satin"),
    Stock(name="White paper, glossy", gloss="glossy", thickness_mm=0.08),
    Stock(name="Clear film", is_clear=True, gloss="glossy"),
    Stock(name="Kraft paper", rgb=(201, 170, 124), thickness_mm=0.12),
    Stock(name="Card, 220 g", has_liner=False, thickness_mm=0.28),
    Stock(name="Silver film", rgb=(190, 192, 196), gloss="mirror"),
)


@dataclass(frozen=True, slots=True, kw_only=True)
class SheetSpec:
    """Paper, stock, machine and printer, and how copies are laid out.

    Attributes:
        paper: its standard size; "own" takes ``own_mm``.
        own_mm: width and height of the user's own paper, upright.
        is_landscape: whether it lies on its side.
        gap_mm: least gap between neighbouring cuts.
        turning: how copies may be turned.
        grouping: whether designs are mixed, or each design's copies are kept together in the tray's order.
        used: boxes of the first sheet that are cut out already: left, top, right, bottom in mm.
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
    used: tuple[tuple[float, float, float, float], ...] = ()

    def __post_init__(self) -> None:
        for side in self.own_mm:
            check_range("your own paper", side, 30, 2000)
        check_range("gap", self.gap_mm, 0, 100)
        check_range("used areas", len(self.used), 0, MOST_USED_AREAS, "")
        for left, top, right, bottom in self.used:
            if not (left < right and top < bottom):
                raise UsageError("a used area needs a left before its right and a top above its bottom")

    @property
    def marks(self) -> MarkSpec:
        """What the machine's reader looks for."""
        return self.machine.marks

    @property
    def rim_mm(self) -> float:
        """What the printer cannot print at the paper's edges."""
        return self.printer.rim_mm

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
                return replace(self, machine=profile)
            case Printer():
                return replace(self, printer=profile)
            case Stock():
                return replace(self, stock=profile)

    def with_marks(self, marks: MarkSpec) -> SheetSpec:
        """Return the sheet with other marks."""
        return replace(self, machine=replace(self.machine, marks=marks))
