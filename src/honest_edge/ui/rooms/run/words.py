"""Times, names and cautions of the steps, in words."""

from __future__ import annotations

from collections.abc import Sequence
from datetime import datetime

from honest_edge.core.values.run_events import BadReason, Moment, WayOff

REASONS: tuple[tuple[BadReason, str], ...] = (
    ("white rim", "white shows at the rim"),
    ("art cut", "art is cut off"),
    ("not through", "not cut through"),
    ("liner cut", "the liner is cut"),
    ("torn", "torn"),
    ("print", "the print is bad"),
    ("bands", "bands in the print"),
    ("pale", "the print is pale"),
    ("colour", "a wrong colour"),
)
SIDES: tuple[tuple[WayOff, str], ...] = (
    ("", "side not said"),
    ("left", "left"),
    ("right", "right"),
    ("top", "top"),
    ("bottom", "bottom"),
    ("all round", "all round"),
)

ACTS: dict[str, str] = {
    "print": "print",
    "measure": "measure",
    "laminate": "laminate",
    "set": "set the cut for",
    "load": "lay down",
    "read": "read the marks of",
    "proof": "cut the proof of",
    "look": "look at the proof of",
    "take out": "take out",
    "inspect": "inspect",
}
"""What hands do, so that “sheet 2” can follow."""


def clock(moment: Moment) -> str:
    """Return a moment as the clock on the wall shows it."""
    return datetime.fromtimestamp(moment.wall_ms / 1000).strftime("%H:%M")


def countdown(seconds: float) -> str:
    """Return how long is left, as minutes and seconds."""
    whole = max(0, round(seconds))
    return f"{whole // 60}:{whole % 60:02d}"


def minutes(seconds: float) -> str:
    """Return a time to the minute, as people say it."""
    whole = max(1, round(seconds / 60))
    return f"{whole} min" if whole < 120 else f"{whole // 60} h {whole % 60} min"


def listed(names: Sequence[str]) -> str:
    """Return names as a sentence lists them."""
    return names[0] if len(names) == 1 else f"{', '.join(names[:-1])} and {names[-1]}" if names else ""
