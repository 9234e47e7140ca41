"""What the lines of an order cost: the price of all pieces, shared out by the area that each is."""

from __future__ import annotations

from collections.abc import Mapping, Sequence

from honest_edge.core.values.orders import OrderLine


def line_prices(order: Sequence[OrderLine], pieces: Mapping[str, tuple[int, float]], each: float) -> list[float]:
    """Return the price of each line, in the money of ``each``.

    A large sticker takes more ink and room than a small one of the same sheet: by area is how a sheet's cost is
    shared (common practice, no published source).

    Args:
        order: its lines, each of a design that ``pieces`` knows.
        pieces: how many of each design are made, and the area of one, mm².
        each: price of a piece, on average over all.
    """
    whole = sum(count * area for count, area in pieces.values())
    total = each * sum(count for count, _ in pieces.values())
    return [total * line.quantity * pieces[line.design][1] / whole if whole else 0.0 for line in order]
