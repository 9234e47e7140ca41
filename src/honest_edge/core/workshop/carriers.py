"""Which carrier holds a stock, when it wants cleaning, and the signs of one that holds too weakly or too strongly.

All of it is common practice, no published source; the makers' own words come first.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from honest_edge.core.values.book_records import Carrier, Tack
from honest_edge.core.values.stock import Stock

_THICK_MM, _THIN_MM = 0.2, 0.15
FRESH_LOADS = 3
"""So long a carrier that is new or was washed holds more than it should."""

LOADS_BEFORE_WASHING = 30
TOO_WEAK = (
    "a corner or an edge lifts while it is cut",
    "cuts of one sheet are off, those of the next are not: the sheet slipped",
    "small parts come off and are dragged along",
)
TOO_STRONG = (
    "paper tears or curls when it is taken off",
    "threads of paper stay on the carrier",
    "the liner stays behind",
)


@dataclass(frozen=True, slots=True, kw_only=True)
class CarrierUse:
    """How a carrier was used.

    Attributes:
        carrier: which.
        loads: sheets that were laid on it in all.
        since_care: of them since it was new or was cleaned last.
        cared_ms: when that was, in UTC milliseconds; None where nobody said.
    """

    carrier: Carrier
    loads: int = 0
    since_care: int = 0
    cared_ms: int | None = None

    @property
    def is_fresh(self) -> bool:
        """Whether it holds more than it should: new or washed a few loads ago."""
        return self.cared_ms is not None and self.since_care < FRESH_LOADS

    @property
    def wants_washing(self) -> bool:
        """Whether so many sheets were laid on it that dust has taken its hold."""
        return self.since_care >= LOADS_BEFORE_WASHING


def tack_for(stock: Stock) -> tuple[Tack, str]:
    """Return which tack a stock is laid on, and why."""
    if not stock.has_liner and stock.thickness_mm >= _THICK_MM:
        return "strong", "card springs up at its corners"
    if not stock.has_liner and stock.thickness_mm <= _THIN_MM:
        return "light", "thin paper tears when it is taken off"
    return "standard", "its liner bears the pull" if stock.has_liner else "it is neither thin nor stiff"


def best_carrier(uses: Sequence[CarrierUse], stock: Stock) -> CarrierUse | None:
    """Return the carrier to take: of the tack that is advised, the one that was laid on least since it was cleaned."""
    tack, _ = tack_for(stock)
    return min(uses, key=lambda use: (use.carrier.tack != tack, use.wants_washing, use.since_care), default=None)


def carrier_words(use: CarrierUse, stock: Stock) -> str:
    """Return what is to be known of a carrier before a stock is laid on it, as sentences."""
    tack, why = tack_for(stock)
    said = []
    if use.carrier.tack != tack:
        said.append(f"This stock wants a {tack} tack, as {why}: {_otherwise(use.carrier.tack, tack)}.")
    if use.is_fresh and tack == "light":
        said.append("It is fresh: dab it with a clean cloth first, or it tears the paper.")
    elif use.is_fresh and not stock.has_liner:
        said.append("It is fresh: dab it with a clean cloth first.")
    if use.wants_washing:
        said.append(f"{use.since_care} sheets lay on it since it was cleaned: wipe it, or tape the sheet’s edges.")
    return " ".join(said)


def _otherwise(tack: Tack, wanted: Tack) -> str:
    order = ("light", "standard", "strong")
    if order.index(tack) > order.index(wanted):
        return "dab this one with a cloth, and take the sheet off slowly"
    return "tape the sheet’s edges to this one, outside of what is cut"
