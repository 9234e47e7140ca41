"""How many sheets of a stock there are, how fast they go, and when to buy again."""

from __future__ import annotations

import math
from collections.abc import Iterable
from dataclasses import dataclass

from honest_edge.core.values.book_records import MoveKind

DAY_MS = 86_400_000
LATELY_DAYS = 90
"""Over so many days it is told how fast sheets go."""

_LEAST_DAYS = 7
"""A rate from fewer days would be a matter of chance."""

BUY_DAYS = 14
"""With fewer days' worth of sheets it is time to buy: common practice, no published source."""


@dataclass(frozen=True, slots=True, kw_only=True)
class StockLevel:
    """What is known of one stock.

    Attributes:
        sheets: on hand; None where it was never bought nor counted. Below 0 where more was used than ever came.
        bought, used, spoiled: in all.
        per_day: sheets that went a day lately; None where nothing did.
        price: of a sheet, as it was paid last; None where it never was said.
    """

    sheets: int | None
    bought: int
    used: int
    spoiled: int
    per_day: float | None
    price: float | None

    @property
    def days_left(self) -> float | None:
        """For how many days it lasts at the rate of lately; None where that is not known."""
        return None if self.sheets is None or not self.per_day else max(0, self.sheets) / self.per_day

    @property
    def should_buy(self) -> bool:
        """Whether it is time to buy."""
        return (self.sheets is not None and self.sheets <= 0) or (self.days_left or math.inf) < BUY_DAYS


@dataclass(frozen=True, slots=True, kw_only=True)
class Moved:
    """Sheets that came, went or were counted, at a time in UTC milliseconds."""

    at_ms: int
    what: MoveKind
    sheets: int
    price: float | None = None


def stock_level(moves: Iterable[Moved], now_ms: int) -> StockLevel:
    """Return what is on hand by the moves: a count stands for all that was before it."""
    ordered = sorted(moves, key=lambda move: move.at_ms)
    sheets: int | None = None
    totals: dict[MoveKind, int] = {"bought": 0, "used": 0, "spoiled": 0, "counted": 0}
    for move in ordered:
        totals[move.what] += move.sheets
        if move.what == "counted":
            sheets = move.sheets
        elif move.what == "bought":
            sheets = (sheets or 0) + move.sheets
        elif sheets is not None:
            sheets -= move.sheets
    prices = [move.price for move in ordered if move.what == "bought" and move.price is not None]
    return StockLevel(
        sheets=sheets,
        bought=totals["bought"],
        used=totals["used"],
        spoiled=totals["spoiled"],
        per_day=_per_day(ordered, now_ms),
        price=prices[-1] if prices else None,
    )


def _per_day(ordered: list[Moved], now_ms: int) -> float | None:
    went = [move for move in ordered if move.what in ("used", "spoiled")]
    lately = [move for move in went if move.at_ms > now_ms - LATELY_DAYS * DAY_MS]
    if not lately:
        return None
    days = min(LATELY_DAYS, max(_LEAST_DAYS, (now_ms - went[0].at_ms) / DAY_MS))
    return sum(move.sheets for move in lately) / days
