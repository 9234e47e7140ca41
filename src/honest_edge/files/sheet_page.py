"""What one sheet holds, ready for every writer: one geometry, many formats."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from typing import get_args

from honest_edge.core.edge.contour import CutLines
from honest_edge.core.geometry.paths import CurveRing, Floats
from honest_edge.core.sheet.fit import Plan
from honest_edge.core.sheet.media import Box
from honest_edge.core.values.specs import LineKind

_ALWAYS = ("kiss", "through")  # groups that are there even when they are empty


@dataclass(frozen=True, slots=True, kw_only=True, eq=False)
class PlacedArt:
    """One printed copy: which design's picture, and the (2, 3) matrix from its frame to the sheet."""

    design: int
    matrix: Floats


@dataclass(frozen=True, slots=True, kw_only=True, eq=False)
class SheetPage:
    """One sheet in sheet millimetres.

    Attributes:
        width_mm, height_mm: the paper.
        arts: the printed copies.
        cuts: the lines by kind, in the order in which they are worked: kiss first, through last.
        mark_bars: the printed bars of the marks.
        is_printed: whether there is anything to print; pieces of coloured stock are only cut.
    """

    width_mm: float
    height_mm: float
    arts: tuple[PlacedArt, ...]
    cuts: dict[LineKind, tuple[CurveRing, ...]]
    mark_bars: tuple[Box, ...]
    is_printed: bool = True


def sheet_pages(plan: Plan, cuts: Sequence[CutLines]) -> tuple[SheetPage, ...]:
    """Return every sheet of a plan."""
    bars = tuple(bar for mark in plan.marks for bar in mark.bars)
    pages = []
    for placements, stock in zip(plan.pages, plan.stocks, strict=True):
        rings: dict[LineKind, list[CurveRing]] = {kind: [] for kind in get_args(LineKind)}
        for placement in placements:
            for path in cuts[placement.design].all_paths:
                rings[path.kind].append(path.curve.placed(placement.matrix))
        pages.append(
            SheetPage(
                width_mm=plan.width_mm,
                height_mm=plan.height_mm,
                arts=tuple(PlacedArt(design=p.design, matrix=p.matrix) for p in placements) if stock is None else (),
                cuts={kind: tuple(found) for kind, found in rings.items() if found or kind in _ALWAYS},
                mark_bars=bars if stock is None else (),
                is_printed=stock is None,
            )
        )
    return tuple(pages)
