"""What came out before, in one sentence."""

from __future__ import annotations

from typing import TYPE_CHECKING

from honest_edge.ui.widgets.fields import counted

if TYPE_CHECKING:
    from honest_edge.files.book.store import KeptRun

_DAY_MS = 86_400_000
_LONG_DAYS = ((730, 365, "year"), (60, 30, "month"), (14, 7, "week"), (2, 1, "day"))
"""From so many days on, days in a unit, and its name."""


def last_time_words(kept: KeptRun, now_ms: int) -> str:
    """Return what came out of a run, when, and why not all."""
    run = kept.run
    why = f": {run.reason}" if run.reason else ""
    return f"{run.stock}, {ago(now_ms - kept.at_ms)}: {run.good} of {run.good + run.bad} came out good{why}."


def ago(past_ms: int) -> str:
    """Return how long ago something was, in the largest unit of which there are two."""
    days = past_ms // _DAY_MS
    for least, length, name in _LONG_DAYS:
        if days >= least:
            return f"{counted(days // length, name)} ago"
    return "yesterday" if days == 1 else "within a day"
