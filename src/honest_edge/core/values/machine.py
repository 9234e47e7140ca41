"""Cutting machines.

Those that ship are generic and made up for this application; their numbers are common practice, no published
source, and are there to be edited.
"""

from __future__ import annotations

from dataclasses import dataclass, field, replace
from typing import Literal, get_args

from honest_edge.core.values.errors import UsageError
from honest_edge.core.values.marks import MarkSpec
from honest_edge.core.values.names import check_name
from honest_edge.core.values.recipe import MOST_PASSES, CutSetting, LineSettings
from honest_edge.core.values.sides import Sides, check_sides
from honest_edge.core.values.specs import Colour, LineKind, check_colour
from honest_edge.core.values.units import check_range

Side = Literal["top", "right", "bottom", "left"]
CutFormat = Literal["svg", "dxf", "dxf-spline", "dxf-r12", "plt", "gcode", "pdf"]


@dataclass(frozen=True, slots=True, kw_only=True)
class LineUse:
    """How a machine takes one kind of line.

    Attributes:
        colour: of its strokes in the cut file, sRGB.
        pen: tool that plot text selects.
        passes: how often the blade goes over it, where no recipe of the job says otherwise.
        alone: whether it needs a cut file of its own.
        speed_mm_s, force: of this kind alone; None as the machine has them.
        slow_mm_s: speed at lines with narrow places; None as all others.
    """

    colour: Colour
    pen: int = 1
    passes: int = 1
    alone: bool = False
    speed_mm_s: float | None = None
    slow_mm_s: float | None = None
    force: float | None = None

    def __post_init__(self) -> None:
        check_colour("line colour", self.colour)
        check_range("pen", self.pen, 1, 8, "")
        check_range("passes", self.passes, 1, MOST_PASSES, "")

    def set_to(self, setting: CutSetting | None) -> LineUse:
        """Return how the machine takes it once it is set by a recipe."""
        if setting is None:
            return self
        return replace(
            self,
            passes=self.passes if setting.passes is None else setting.passes,
            speed_mm_s=self.speed_mm_s if setting.speed_mm_s is None else setting.speed_mm_s,
            slow_mm_s=self.slow_mm_s if setting.slow_mm_s is None else setting.slow_mm_s,
            force=self.force if setting.force is None else setting.force,
        )


@dataclass(frozen=True, slots=True, kw_only=True)
class LineUses:
    """How a machine takes every kind of line."""

    kiss: LineUse = LineUse(colour=(138, 45, 107), pen=1)
    crease: LineUse = LineUse(colour=(176, 106, 0), pen=2)
    perforate: LineUse = LineUse(colour=(91, 107, 30), pen=3)
    through: LineUse = LineUse(colour=(34, 48, 94), pen=4)

    def __getitem__(self, kind: LineKind) -> LineUse:
        match kind:
            case "kiss":
                return self.kiss
            case "crease":
                return self.crease
            case "perforate":
                return self.perforate
            case "through":
                return self.through

    def with_use(self, kind: LineKind, use: LineUse) -> LineUses:
        """Return them with one kind taken otherwise."""
        changes: dict[str, LineUse] = {kind: use}
        return replace(self, **changes)


Corner = Literal["bottom left", "bottom right", "top left", "top right"]
Points = Literal["right", "left", "up", "down"]
SpokenLanguage = Literal["", "hpgl", "gcode"]
CORNERS: tuple[Corner, ...] = get_args(Corner)
POINTS: tuple[Points, ...] = get_args(Points)
_AWAY: dict[Points, str] = {"right": "right", "left": "left", "up": "top", "down": "bottom"}
"""Which side of the area an axis that points so runs against: it cannot begin there."""


@dataclass(frozen=True, slots=True, kw_only=True)
class DirectUse:
    """How a machine that is spoken to directly is spoken to.

    Attributes:
        language: that it takes; empty where it is given files.
        is_tried: a pen has drawn with it, so that its axes and scale are known.
        corner: of its area in which its own numbers begin, seen from where one stands before it.
        x_points: where its first axis points.
        x_scale, y_scale: millimetres that it moves along its first and its second axis where it is told one.
        blade: by its third axis, by the spindle word of a servo, or a laser by its power.
        up_mm, down_mm: height of the axis while it travels, and while it cuts.
        plunge_mm_s: how fast it goes down.
        up_s, down_s: spindle words of a servo; the second is a laser's power.
        settle_s: how long a servo takes.
        says_speed: whether the machine takes the speed of the cut from HP-GL (VS).
        force: that HP-GL sets (FS), in the machine's own unit; 0 sets none.
    """

    blade: Literal["z", "servo", "laser"] = "z"
    up_mm: float = 3.0
    down_mm: float = -0.3
    plunge_mm_s: float = 5.0
    up_s: float = 0.0
    down_s: float = 90.0
    settle_s: float = 0.15
    language: SpokenLanguage = ""
    is_tried: bool = False
    corner: Corner = "bottom left"
    x_points: Points = "right"
    x_scale: float = 1.0
    y_scale: float = 1.0
    says_speed: bool = False
    force: float = 0.0

    def __post_init__(self) -> None:
        if _AWAY[self.x_points] in self.corner:
            raise UsageError(
                f"A first axis that points {self.x_points} leaves the area at once where it begins at the "
                f"{self.corner}: look again where the angle lies and where the arrow points"
            )
        for scale in (self.x_scale, self.y_scale):
            check_range("scale of an axis", scale, 0.1, 10, "")
        check_range("height of travel", self.up_mm, 0.1, 100)
        check_range("height of the cut", self.down_mm, -20, 0.1)
        check_range("speed of going down", self.plunge_mm_s, 0.1, 100, "mm/s")
        for word in (self.up_s, self.down_s):
            check_range("spindle word", word, 0, 100_000, "")
        check_range("time that a servo takes", self.settle_s, 0, 10, "s")
        check_range("force", self.force, 0, 10_000, "")


@dataclass(frozen=True, slots=True, kw_only=True)
class Machine:
    """A cutting machine.

    Attributes:
        name: what the user calls it.
        width_mm, length_mm: the largest area it cuts, across the feed and along it; between its marks where it prints
            its own.
        marks: what its reader looks for.
        feed_side: which side of the paper goes in first.
        feed_margin_mm: how much of that side the rollers hold, where nothing can be cut.
        margins_mm: where nothing can be cut by side, beside what the feed holds; None for nowhere.
        speed_mm_s: while cutting.
        travel_mm_s: with the blade up.
        lines: how it takes each kind of line.
        formats: which cut files it reads.
        prints_own_marks: whether its own program prints the marks; it is then given a hand-off pack.
        blade_offset_mm: how far a drag knife's tip trails behind its axis.
        compensates: whether the files lead the tip round corners; if not, the machine does.
        overcut_mm: how far a closed cut runs past its start.
        finds_marks: whether its reader finds the marks; if not, the hand sets the blade over them.
        direct: how its blade is lifted and lowered where it is spoken to directly.
    """

    name: str = "Desktop cutter"
    width_mm: float = 300.0
    length_mm: float = 600.0
    marks: MarkSpec = field(default_factory=MarkSpec)
    feed_side: Side = "top"
    feed_margin_mm: float = 0.0
    speed_mm_s: float = 100.0
    travel_mm_s: float = 300.0
    lines: LineUses = field(default_factory=LineUses)
    formats: tuple[CutFormat, ...] = ("svg", "dxf")
    prints_own_marks: bool = False
    blade_offset_mm: float = 0.25
    compensates: bool = False
    overcut_mm: float = 0.0
    finds_marks: bool = True
    direct: DirectUse = DirectUse()
    margins_mm: Sides | None = None

    def __post_init__(self) -> None:
        check_name("machine", self.name)
        check_range("width that the machine cuts", self.width_mm, 20, 5000)
        check_range("length that the machine cuts", self.length_mm, 20, 50_000)
        check_range("margin at the feeding edge", self.feed_margin_mm, 0, 100)
        check_sides("margin of the machine", self.margins_mm)
        check_range("cutting speed", self.speed_mm_s, 1, 5000, "mm/s")
        check_range("travelling speed", self.travel_mm_s, 1, 10_000, "mm/s")
        check_range("blade offset", self.blade_offset_mm, 0, 2)
        check_range("overcut", self.overcut_mm, 0, 5)
        if not self.formats:
            raise UsageError(f"machine “{self.name}” reads no format of cut file: name one at least")

    def set_to(self, settings: LineSettings) -> Machine:
        """Return it as it is set by the recipes of a job."""
        kinds: tuple[LineKind, ...] = get_args(LineKind)
        uses = {str(kind): self.lines[kind].set_to(settings[kind]) for kind in kinds}
        return replace(self, lines=replace(self.lines, **uses))


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
    Machine(
        name="Cutter without a reader",
        marks=MarkSpec(kind="four discs", length_mm=6.0, inset_mm=12.0),
        finds_marks=False,
    ),
)
