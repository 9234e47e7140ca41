"""One thing to look at: what, where, how much, and what would mend it."""

from __future__ import annotations

from dataclasses import dataclass
from typing import TYPE_CHECKING, Literal

from honest_edge.core.values.errors import UsageError
from honest_edge.core.values.specs import LineKind
from honest_edge.core.values.units import check_range

if TYPE_CHECKING:
    import shapely

    from honest_edge.core.values.layers import Backing, Layer
    from honest_edge.core.values.sheet import SheetSpec
    from honest_edge.core.values.specs import ArtSource, EdgeRecipe, OutlineRecipe

StationKey = Literal["art", "outline", "edge", "sheet", "proof", "files"]
"""The stations of the job's path, in the order of work; each check belongs to one."""

Severity = Literal["blocks", "look", "note"]
"""Nothing can be written; it may spoil stickers; it is only said. The worst first."""

SEVERITIES: tuple[Severity, ...] = ("blocks", "look", "note")


@dataclass(frozen=True, slots=True, kw_only=True)
class Subject:
    """What a finding is about.

    Attributes:
        kind: how much of the job that is.
        design: key of the design, where it is about one or a part of one.
        layer: key of the layer, where it is about one.
        line: the kind of line, where it is about one.
        page: the sheet, from 0, where it is about one.
    """

    kind: Literal["design", "layer", "sheet", "line", "job"]
    design: str = ""
    layer: str = ""
    line: LineKind | None = None
    page: int | None = None


@dataclass(frozen=True, slots=True, kw_only=True)
class Place:
    """Where a finding can be seen.

    Attributes:
        frame: the art's millimetres, origin at the picture's top left; or the sheet's, origin at the paper's.
        geometry: a point, a line or an area.
        page: the sheet, from 0, in the sheet's frame.
    """

    frame: Literal["art", "sheet"]
    geometry: shapely.Geometry
    page: int = 0

    @property
    def bounds_mm(self) -> tuple[float, float, float, float]:
        """Left, top, right and bottom of the box round it."""
        left, top, right, bottom = (float(edge) for edge in self.geometry.bounds)  # type: ignore[attr-defined]
        return left, top, right, bottom

    @property
    def middle_mm(self) -> tuple[float, float]:
        """The place to show."""
        (left, top, right, bottom) = self.bounds_mm
        return (left + right) / 2, (top + bottom) / 2


@dataclass(frozen=True, slots=True, kw_only=True)
class Quantity:
    """A number with its unit: "mm", "mm²", "ppi", "%", "levels", or "" for a plain count or ratio."""

    value: float
    unit: str


@dataclass(frozen=True, slots=True, kw_only=True)
class Fix:
    """A change of the job that would mend a finding; what is None stays.

    Attributes:
        words: what it does, as a button says it.
        design: key of the design that it changes; empty where it changes the sheet.
        is_laid_anew: copies that were placed by hand, and the kept layout, are let go.
        visit: the room where it is mended by hand, for what no change of the job mends.
    """

    words: str
    design: str = ""
    width_mm: float | None = None
    source: ArtSource | None = None
    outline: OutlineRecipe | None = None
    edge: EdgeRecipe | None = None
    layers: tuple[Layer, ...] | None = None
    backing: Backing | None = None
    is_flattened: bool | None = None
    sheet: SheetSpec | None = None
    fills: bool | None = None
    prints: tuple[int, ...] | None = None
    is_laid_anew: bool = False
    visit: str = ""


@dataclass(frozen=True, slots=True, kw_only=True)
class Leaving:
    """A finding that is left as it is, for a reason; it holds as long as the finding says the same.

    Attributes:
        check: name of its check.
        subject: what it is about.
        message: what it said.
        reason: why it is left.
    """

    check: str
    subject: Subject
    message: str
    reason: str

    def __post_init__(self) -> None:
        if not self.reason.strip():
            raise UsageError("Say in a few words why it is left")
        check_range("letters of a reason", len(self.reason), 1, MOST_REASON, "")

    def holds_for(self, finding: Finding) -> bool:
        """Whether the finding is the one that is left, and says nothing new."""
        return (self.check, self.subject, self.message) == (finding.check, finding.subject, finding.message)


MOST_REASON = 200
MOST_LEFT = 2000


@dataclass(frozen=True, slots=True, kw_only=True)
class Finding:
    """One thing to look at.

    Attributes:
        check: name of the check that found it (``core.proof.register``).
        station: where it is looked at and mended.
        severity: how much it matters.
        subject: what it is about.
        message: what, where and how much, in one sentence without its full stop.
        remedy: what to do about it, in the same form; empty where the message says it.
        places: where it can be seen.
        measured, needed: the number found, and the number that would do.
        fix: a change that would mend it, where one is known.
        others: other changes that would.
        can_be_left: whether files can be written though it is not mended.
        left: why it is left as it is; empty where it is not.
    """

    check: str
    station: StationKey
    severity: Severity
    subject: Subject
    message: str
    remedy: str = ""
    places: tuple[Place, ...] = ()
    measured: Quantity | None = None
    needed: Quantity | None = None
    fix: Fix | None = None
    others: tuple[Fix, ...] = ()
    can_be_left: bool = True
    left: str = ""

    @property
    def holds(self) -> bool:
        """Whether nothing can be written because of it."""
        return self.severity == "blocks" and not self.left

    @property
    def fixes(self) -> tuple[Fix, ...]:
        """Every change that would mend it, the best first."""
        return ((self.fix,) if self.fix is not None else ()) + self.others

    @property
    def words(self) -> str:
        """Message and remedy as one sentence."""
        return f"{self.message}; {self.remedy}." if self.remedy else f"{self.message}."

    @property
    def advice(self) -> str:
        """The same, led by the trouble: "Trouble: way out."."""
        text = f"{self.message}: {self.remedy}." if self.remedy else f"{self.message}."
        return text[:1].upper() + text[1:]
