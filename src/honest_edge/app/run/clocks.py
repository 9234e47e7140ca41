"""The clock of a run; on the practice bench waits can be skipped."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass

from honest_edge.core.values.run_events import Moment
from honest_edge.files.clock import present


@dataclass(slots=True)
class RunClock:
    """Tells the present.

    Attributes:
        real: the clock behind it.
        ahead_s: how much of a practice run's waiting was skipped.
    """

    real: Callable[[], Moment] = present
    ahead_s: float = 0.0

    def __call__(self) -> Moment:
        """Return the present moment."""
        return self.real().after(self.ahead_s) if self.ahead_s else self.real()

    def skip(self, seconds: float) -> None:
        """Let time pass, for practice alone."""
        self.ahead_s += max(0.0, seconds)

    def catch_up(self, last: Moment | None) -> None:
        """Go on after what a practice run did last, whose skipped waits were lost with its window."""
        if last is not None and self().is_set_back(last):
            self.ahead_s += (last.wall_ms - self().wall_ms) / 1000
