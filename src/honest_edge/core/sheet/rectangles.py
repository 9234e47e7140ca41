"""Laying boxes: the maximal rectangles method (Jylänki 2010, "A Thousand Ways to Pack the Bin").

For boxes it is exact where a grid is not; free room is kept as the set of all largest empty rectangles.
"""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass, field

from honest_edge.core.sheet.media import Box

Rule = Callable[[Box, float, float], tuple[float, float]]
"""How well a box of a width and height suits a free rectangle; the least is taken."""


def short_side(free: Box, width: float, height: float) -> tuple[float, float]:
    """The least left over beside the box first."""
    left, below = free.width - width, free.height - height
    return min(left, below), max(left, below)


def area_left(free: Box, width: float, height: float) -> tuple[float, float]:
    """The least area left over first."""
    return free.width * free.height - width * height, min(free.width - width, free.height - height)


def top_left(free: Box, _width: float, height: float) -> tuple[float, float]:
    """As high up as it goes, then left."""
    return free.top + height, free.left


RULES: tuple[Rule, ...] = (short_side, area_left, top_left)


@dataclass(slots=True)
class FreeSpace:
    """What is free of one sheet, and which pieces found no room in it."""

    free: list[Box] = field(default_factory=list)
    full: set[int] = field(default_factory=set)

    def again(self) -> FreeSpace:
        """Return the room of one more sheet like this."""
        return FreeSpace(list(self.free), set(self.full))

    def take(self, box: Box) -> None:
        """Take a box out of the free room."""
        parts, kept = list[Box](), list[Box]()
        for free in self.free:
            if not free.overlaps(box):
                kept.append(free)
                continue
            parts += [part for part in _around(free, box) if part.width > 1e-6 and part.height > 1e-6]
        kept += [p for p in parts if not any(_holds(k, p) for k in kept)]
        self.free = [p for i, p in enumerate(kept) if not any(_holds(q, p) for q in kept[:i] + kept[i + 1 :] if q != p)]
        self.free = list(dict.fromkeys(self.free))

    def best(self, sizes: Sequence[tuple[float, float]], rule: Rule) -> tuple[int, Box] | None:
        """Return which of the sizes lies best, and where; None where none does."""
        best_yet: tuple[tuple[float, float], int, Box] | None = None
        for index, (width, height) in enumerate(sizes):
            for free in self.free:
                if width <= free.width + 1e-7 and height <= free.height + 1e-7:
                    score = rule(free, width, height)
                    if best_yet is None or score < best_yet[0]:
                        best_yet = score, index, Box(free.left, free.top, free.left + width, free.top + height)
        return None if best_yet is None else best_yet[1:]


def _holds(outer: Box, inner: Box) -> bool:
    return (
        outer.left <= inner.left + 1e-9
        and outer.top <= inner.top + 1e-9
        and outer.right >= inner.right - 1e-9
        and outer.bottom >= inner.bottom - 1e-9
    )


def _around(free: Box, box: Box) -> tuple[Box, ...]:
    return (
        free._replace(right=min(free.right, box.left)),
        free._replace(left=max(free.left, box.right)),
        free._replace(bottom=min(free.bottom, box.top)),
        free._replace(top=max(free.top, box.bottom)),
    )
