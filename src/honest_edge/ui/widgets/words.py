"""Numbers put into words the same way everywhere."""

from __future__ import annotations

from collections.abc import Callable


def percent(share: float) -> str:
    """Return a share as a percentage; what is nearly none or nearly all is never rounded to it."""
    value = 100 * share
    if 0 < value < 0.1:
        return "under 0.1 %"
    if 99.9 < value < 100 - 1e-9:
        return "over 99.9 %"
    return f"{value:.0f} %" if value in (0.0, 100.0) else f"{min(max(value, 0.0), 100.0):.1f} %"


def whole_percent(share: float) -> str:
    """Return a share as a whole percentage, where no more is known."""
    return f"{100 * share:.0f} %"


def one_in(chance: float) -> str:
    """Return a small chance as "1 in 40", a large one as a percentage."""
    if chance > 0.2:
        return whole_percent(chance)
    return f"1 in {round(1 / chance)}" if chance > 0 else "none"


def shift_words(x_mm: float, y_mm: float, length: Callable[[float, int], str]) -> str:
    """Return a shift in words: how far right or left, how far down or up.

    Args:
        x_mm: positive to the right.
        y_mm: positive downward.
        length: gives a length in the user's unit with so many digits of a millimetre.
    """
    across = f"{length(abs(x_mm), 2)} {'right' if x_mm >= 0 else 'left'}"
    return f"{across} and {length(abs(y_mm), 2)} {'down' if y_mm >= 0 else 'up'}"
