"""What the Book keeps of practice."""

from __future__ import annotations

from dataclasses import dataclass

from honest_edge.core.values.errors import UsageError
from honest_edge.core.values.log_event import MOST_TEXT
from honest_edge.core.values.units import check_range


@dataclass(frozen=True, slots=True, kw_only=True)
class Practised:
    """One practice job that came to its end.

    Attributes:
        story: its key; "free" for the free bench.
        seed, level: of the free bench; 0 for a story.
        lost: sheets that were thrown away.
        minutes: that printing, drying and cutting took on the practice bench.
        is_solved: whether a sheet came out good, or what was hidden was found.
    """

    story: str
    seed: int = 0
    level: int = 0
    lost: int = 0
    minutes: float = 0.0
    is_solved: bool = False

    def __post_init__(self) -> None:
        if not self.story or len(self.story) > MOST_TEXT:
            raise UsageError("A practice job needs the name of its story")
        check_range("sheets lost in practice", self.lost, 0, 10_000, "")
        check_range("minutes of practice", self.minutes, 0, 1e6, "")
        check_range("number of a practice bench", self.seed, 0, 10_000, "")
        check_range("level of a practice bench", self.level, 0, 99, "")
