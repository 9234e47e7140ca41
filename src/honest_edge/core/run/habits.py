"""How long the user's own hands take: medians of what was timed, in the place of assumptions."""

from __future__ import annotations

import statistics
from collections.abc import Mapping, Sequence
from dataclasses import replace
from typing import Any

from honest_edge.core.values.run_events import Aligned, Inspected, Laid, MarksRead, Moment, RunEvent, Set, TakenOut
from honest_edge.core.values.run_times import RunTimes

LEAST_TIMES = 3
_LONGEST_S = 900.0  # who takes longer was elsewhere
_SHORTEST_S = 1.0  # who takes less did not do it, but caught up

_NAMES: dict[type[RunEvent], str] = {
    Laid: "lay_s",
    MarksRead: "put_in_s",
    Aligned: "put_in_s",
    Set: "change_s",
    TakenOut: "take_out_s",
    Inspected: "peel_s",
}
"""Events that end an act of hands, and which time it tells of."""


def timed(before: Moment | None, event: RunEvent) -> tuple[str, float] | None:
    """Return which time an event tells of and how long the act took; None where it tells of none.

    Args:
        before: when the event before it was.
        event: that ended the act.
    """
    name = _NAMES.get(type(event))
    if name is None or before is None:
        return None
    seconds = event.at.seconds_since(before)
    return (name, seconds) if _SHORTEST_S <= seconds <= _LONGEST_S else None


def own_times(assumed: RunTimes, found: Mapping[str, Sequence[float]]) -> tuple[RunTimes, frozenset[str]]:
    """Return the times to reckon with, and which of them are the user's own.

    Args:
        assumed: where fewer than three were timed.
        found: seconds that acts took, by the name of their time.
    """
    medians: dict[str, Any] = {
        name: statistics.median(seconds) for name, seconds in found.items() if len(seconds) >= LEAST_TIMES
    }
    return replace(assumed, **medians), frozenset(medians)
