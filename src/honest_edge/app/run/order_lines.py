"""The lines of an order during a run: whose stickers are there, and whose are wanting."""

from __future__ import annotations

from collections import Counter
from dataclasses import dataclass

from honest_edge.core.values.run_seal import SealedOrderLine, SealedRun


@dataclass(frozen=True, slots=True, kw_only=True)
class OrderTally:
    """One line: what is asked for, and how many good ones there are for it."""

    line: SealedOrderLine
    name: str
    good: int

    @property
    def is_done(self) -> bool:
        """Whether all of it is there."""
        return self.good >= self.line.quantity


def order_tally(seal: SealedRun, good_ones: Counter[int]) -> tuple[OrderTally, ...]:
    """Return the lines of a run's order, the first served first with what came out good of each design."""
    left = Counter(good_ones)
    tallies = []
    for line in seal.order:
        good = 0
        for design in line.designs:
            taken = min(line.quantity - good, left[design])
            left[design] -= taken
            good += taken
        tallies.append(OrderTally(line=line, name=seal.designs[line.designs[0]].name, good=good))
    return tuple(tallies)
