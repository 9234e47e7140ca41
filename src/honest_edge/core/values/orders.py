"""An order: how many of which design, and for whom."""

from __future__ import annotations

from dataclasses import dataclass

from honest_edge.core.values.names import check_key, check_letters
from honest_edge.core.values.specs import MOST_COPIES
from honest_edge.core.values.units import check_range

MOST_ORDER_LINES = 500


@dataclass(frozen=True, slots=True, kw_only=True)
class OrderLine:
    """One line of an order.

    Attributes:
        design: key of what is wanted.
        quantity: how many.
        whom: for whom; empty where it is not said.
        note: what else was written in the line, such as a name or a date.
    """

    design: str
    quantity: int
    whom: str = ""
    note: str = ""

    def __post_init__(self) -> None:
        check_key("design", self.design)
        check_range("quantity of an order’s line", self.quantity, 1, MOST_COPIES, "")
        check_letters("a line of the order", self.whom, self.note)
