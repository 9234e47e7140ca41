"""What a good piece costs: what is not known is named and left out, never taken for nothing."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass

from honest_edge.core.values.book_records import Rates
from honest_edge.core.values.log_event import RunRecord


@dataclass(frozen=True, slots=True, kw_only=True)
class PieceCost:
    """What one good piece costs at least.

    Attributes:
        amount: of what is known; None where nothing is, or no piece came out good.
        counted: what is in it.
        missing: what is not.
        price: with the margin that was typed; None without one.
    """

    amount: float | None
    counted: tuple[str, ...]
    missing: tuple[str, ...]
    price: float | None


def piece_cost(run: RunRecord, rates: Rates) -> PieceCost:
    """Return the cost of a good piece of a run: all that went into it, spoiled sheets too, by the good pieces.

    (sheets x price + ink area x rate + laminate + share of a blade + minutes x rate) / good, as for a job shop.
    Laminate is left out without a word where no price of it was typed: most sheets have none.
    """
    parts: tuple[tuple[str, Callable[[], float | None]], ...] = (
        ("stock", lambda: _times(run.sheets, run.sheet_price)),
        ("ink", lambda: _times(run.ink_cm2, rates.ink, 1 / 100)),
        ("laminate", lambda: _times(run.sheets, rates.laminate)),
        ("blade", lambda: _times(run.cut_m, rates.blade, None if rates.blade_m is None else 1 / rates.blade_m)),
        ("time", lambda: _times(run.minutes, rates.hour, 1 / 60)),
    )
    known = {name: amount for name, find in parts if (amount := find()) is not None}
    missing = tuple(name for name, _ in parts if name not in known and name != "laminate")
    amount = sum(known.values()) / run.good if known and run.good else None
    margin = rates.margin_percent
    return PieceCost(
        amount=amount,
        counted=tuple(known),
        missing=missing,
        price=None if amount is None or margin is None else amount * (1 + margin / 100),
    )


def _times(*factors: float | None) -> float | None:
    """Return the product; None where a factor is not known."""
    product = 1.0
    for factor in factors:
        if factor is None:
            return None
        product *= factor
    return product
