"""What a trial says, in words."""

from __future__ import annotations

from typing import TYPE_CHECKING

if TYPE_CHECKING:
    from honest_edge.core.values.book_records import SettingFound

LINES = (("kiss", "Kiss cut"), ("through", "Through cut"), ("perforate", "Perforation"), ("crease", "Crease"))


_SURE = 0.995
"""Nobody tried so many squares that more could be said."""


def share_words(chance: float) -> str:
    """Return a chance in percent."""
    return "over 99 %" if chance >= _SURE else f"{100 * chance:.0f} %"


def found_words(found: SettingFound) -> str:
    """Return the likely window, or that there is none and what to try."""
    share = share_words(found.chance)
    if found.low is None or found.high is None:
        return (
            f"No safe setting found: even at {found.best:g} only {share} would come out clean. Try a fresh blade, or "
            "cut slower."
        )
    if found.low == found.high:
        return f"Likely only {found.best:g}: {share} clean there."
    return f"Likely window {found.low:g} to {found.high:g}, middle {found.best:g}: {share} clean there."
