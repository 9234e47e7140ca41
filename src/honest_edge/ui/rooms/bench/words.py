"""What a bench's numbers are called, and which way they point."""

from __future__ import annotations

from collections.abc import Callable

PARTS: tuple[tuple[str, str], ...] = (
    ("shift_x_mm", "Shift right"),
    ("shift_y_mm", "Shift down"),
    ("rotation_deg", "Turn clockwise"),
    ("scale_x_percent", "Wider"),
    ("scale_y_percent", "Longer"),
    ("repeat_mm", "Between stickers"),
)
"""Every part of the error and what its positive side is called."""

_WAYS = {
    "shift_x_mm": ("to the right", "to the left"),
    "shift_y_mm": ("downward", "upward"),
    "rotation_deg": ("turned clockwise", "turned anticlockwise"),
    "scale_x_percent": ("wider across", "narrower across"),
    "scale_y_percent": ("longer down the page", "shorter down the page"),
    "repeat_mm": ("from sticker to sticker", "from sticker to sticker"),
}

CHANGES: tuple[tuple[str, str], ...] = (
    ("new blade", "A new blade"),
    ("carriage reset", "The carriage was reset"),
    ("reader cleaned", "The mark reader was cleaned or set anew"),
    ("other", "Something else"),
)
"""What can be noted of a bench."""


def way_of(part: str, value: float) -> str:
    """Return which way a part of the error points."""
    return _WAYS[part][value < 0]


def amount_of(part: str, value: float, length: Callable[[float, int], str]) -> str:
    """Return how much a part is, without its sign.

    Args:
        part: its name.
        value: its number.
        length: gives a length in the user's unit with so many digits of a millimetre.
    """
    if part.endswith("_mm"):
        return length(abs(value), 2)
    return f"{abs(value):.3f}°" if part == "rotation_deg" else f"{abs(value):.3f} %"
