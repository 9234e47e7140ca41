"""What a piece costs, in words that name what is not counted."""

from __future__ import annotations

from typing import TYPE_CHECKING

if TYPE_CHECKING:
    from honest_edge.core.workshop.cost import PieceCost


def cost_words(cost: PieceCost) -> str:
    """Return what a good piece costs, at least, and what is not in it."""
    if cost.amount is None:
        return f"What a piece costs is not known; not counted: {', '.join(cost.missing)}." if cost.missing else ""
    price = "" if cost.price is None else f" With your margin {cost.price:.2f}."
    if not cost.missing:
        return f"A good piece costs {cost.amount:.2f}.{price}"
    return f"A good piece costs at least {cost.amount:.2f}; not counted: {', '.join(cost.missing)}.{price}"
