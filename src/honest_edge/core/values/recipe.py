"""What a machine is set to for one kind of line on one stock: what a recipe card of the Book says, and a job copies."""

from __future__ import annotations

from dataclasses import dataclass, replace

from honest_edge.core.values.errors import UsageError
from honest_edge.core.values.log_event import MOST_TEXT
from honest_edge.core.values.specs import LineKind
from honest_edge.core.values.units import check_range

MOST_PASSES = 20


@dataclass(frozen=True, slots=True, kw_only=True)
class CutSetting:
    """What is set; None and "" where nothing was said.

    Attributes:
        force, depth: of the blade, in the machine's own numbers.
        named: the name of a setting that the machine keeps.
        speed_mm_s: of the blade.
        slow_mm_s: at lines with narrow places.
        passes: how often the blade goes over a line; None as the machine's profile has it.
    """

    force: float | None = None
    depth: float | None = None
    named: str = ""
    speed_mm_s: float | None = None
    slow_mm_s: float | None = None
    passes: int | None = None

    def __post_init__(self) -> None:
        for name, value in (("force", self.force), ("depth", self.depth)):
            if value is not None:
                check_range(name, value, 1e-3, 10_000, "")
        for name, speed in (("speed", self.speed_mm_s), ("speed at narrow places", self.slow_mm_s)):
            if speed is not None:
                check_range(name, speed, 0.5, 5000, "mm/s")
        if self.passes is not None:
            check_range("passes", self.passes, 1, MOST_PASSES, "")
        if len(self.named) > MOST_TEXT:
            raise UsageError(f"“{self.named[:20]} …” has {len(self.named)} letters; {MOST_TEXT} are kept")
        if self.slow_mm_s is not None and self.speed_mm_s is not None and self.slow_mm_s > self.speed_mm_s:
            raise UsageError(
                f"Narrow places are cut slower, not faster: {self.slow_mm_s:g} mm/s is above {self.speed_mm_s:g} mm/s"
            )

    @property
    def says_nothing(self) -> bool:
        """Whether nothing is set."""
        return self == CutSetting()


@dataclass(frozen=True, slots=True, kw_only=True)
class LineSettings:
    """What is set for each kind of line; None where no recipe is taken into the job."""

    kiss: CutSetting | None = None
    crease: CutSetting | None = None
    perforate: CutSetting | None = None
    through: CutSetting | None = None

    def __getitem__(self, kind: LineKind) -> CutSetting | None:
        match kind:
            case "kiss":
                return self.kiss
            case "crease":
                return self.crease
            case "perforate":
                return self.perforate
            case "through":
                return self.through

    def with_setting(self, kind: LineKind, setting: CutSetting | None) -> LineSettings:
        """Return them with one kind set otherwise."""
        changes: dict[str, CutSetting | None] = {kind: setting}
        return replace(self, **changes)
