"""Who gets which stickers from which sheet: the copies of a layout dealt to the lines of an order, in order."""

from __future__ import annotations

from collections import Counter
from collections.abc import Mapping, Sequence
from dataclasses import dataclass

from honest_edge.core.values.orders import OrderLine


@dataclass(frozen=True, slots=True, kw_only=True)
class PackedLine:
    """A line of an order with where its stickers lie.

    Attributes:
        line: the line.
        sheets: numbers of sheets, from 1, each with how many of its stickers lie there.
        short: how many have no place on any sheet.
    """

    line: OrderLine
    sheets: tuple[tuple[int, int], ...]
    short: int


def packed(order: Sequence[OrderLine], pages: Sequence[Mapping[str, int]]) -> tuple[PackedLine, ...]:
    """Return the lines of an order with their sheets; what is left of a design belongs to nobody: it is spare.

    Args:
        order: its lines, the first served first.
        pages: how many of each design, by key, lie on each sheet.
    """
    left: dict[str, list[int]] = {}
    for number, page in enumerate(pages, 1):
        for design, count in page.items():
            left.setdefault(design, []).extend([number] * count)
    packed_lines = []
    for line in order:
        there = left.get(line.design, [])
        given, left[line.design] = there[: line.quantity], there[line.quantity :]
        sheets = tuple(sorted(Counter(given).items()))
        packed_lines.append(PackedLine(line=line, sheets=sheets, short=line.quantity - len(given)))
    return tuple(packed_lines)


def spare(order: Sequence[OrderLine], pages: Sequence[Mapping[str, int]]) -> dict[str, int]:
    """Return how many of each ordered design lie on the sheets beside what is ordered."""
    wanted = Counter[str]()
    for line in order:
        wanted[line.design] += line.quantity
    laid = sum((Counter(dict(page)) for page in pages), Counter[str]())
    return {design: max(0, laid[design] - count) for design, count in wanted.items()}
