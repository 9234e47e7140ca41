"""What a trial says, in words."""

from __future__ import annotations

from typing import TYPE_CHECKING

from honest_edge.core.values.book_records import value_name

if TYPE_CHECKING:
    from honest_edge.core.values.book_records import SettingFound

LINES = (("kiss", "Kiss cut"), ("through", "Through cut"), ("perforate", "Perforation"), ("crease", "Crease"))

SET = (
    ("force", "Force"),
    ("depth", "Depth"),
    ("speed", "Speed, mm/s"),
    ("passes", "Passes"),
    ("named", "Setting that the machine keeps"),
)
_SURE = 0.995
"""Nobody tried so many squares that more could be said."""


def share_words(chance: float) -> str:
    """Return a chance in percent."""
    return "over 99 %" if chance >= _SURE else f"{100 * chance:.0f} %"


def found_setting(found: SettingFound) -> str:
    """Return what is set and to what, for a cell."""
    return f"“{found.best_name}”" if found.name == "named" else f"{found.name} {found.best_name}"


def found_words(found: SettingFound) -> str:
    """Return the likely window, or that there is none and what to try."""
    share = share_words(found.chance)
    best = found.best_name
    if found.low is None or found.high is None:
        return (
            f"No safe setting found: even at {best} only {share} would come out clean. Try a fresh blade, or "
            "cut slower."
        )
    if found.low == found.high:
        return f"Likely only {best}: {share} clean there."
    low, high = value_name(found.low, found.names), value_name(found.high, found.names)
    return f"Likely window {low} to {high}, middle {best}: {share} clean there."
