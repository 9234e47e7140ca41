"""A layout of copies on sheets, and what a copy takes there."""

from __future__ import annotations

from dataclasses import dataclass

import shapely

from honest_edge.core.geometry.paths import Floats, affine
from honest_edge.core.sheet.marks import Mark
from honest_edge.core.sheet.media import Box
from honest_edge.core.values.stock import Stock


@dataclass(frozen=True, slots=True, kw_only=True, eq=False)
class Footprint:
    """The room that one copy takes, in the art's frame.

    Attributes:
        key: of the design.
        name: what messages call the design.
        area: what is cut out.
        reach_mm: how far ink reaches past the cut at most.
        copies: how many are wanted, spare ones included.
        fills: whether it fills what the others leave of the sheets.
        stock: what it is cut from where that is not what is printed on; such pieces get sheets of their own.
    """

    key: str
    name: str
    area: shapely.MultiPolygon
    reach_mm: float
    copies: int
    fills: bool = False
    stock: Stock | None = None

    @property
    def cut(self) -> Box:
        """The box of the cut lines."""
        return Box(*(float(edge) for edge in self.area.bounds))


@dataclass(frozen=True, slots=True, kw_only=True)
class Placement:
    """One copy on a sheet: the art turned clockwise about its frame's origin, then moved.

    Attributes:
        design: index of the design.
        turn_deg: the turn.
        x_mm, y_mm: where the art frame's origin comes to lie.
        is_pinned: whether it was placed by hand.
    """

    design: int
    turn_deg: float
    x_mm: float
    y_mm: float
    is_pinned: bool = False

    @property
    def matrix(self) -> Floats:
        """The (2, 3) matrix from the art's frame to the sheet's."""
        return affine(turn_deg=self.turn_deg, x_mm=self.x_mm, y_mm=self.y_mm)


@dataclass(frozen=True, slots=True, kw_only=True)
class Plan:
    """Where every copy goes.

    Attributes:
        width_mm, height_mm: the paper.
        usable: the box that ink and cuts stay in.
        marks: the printed marks with their keep-outs.
        reasons: what takes room from the paper, outermost first, each with the box that it leaves.
        pages: the placements of each sheet.
        stocks: what each sheet is; None for what is printed on.
        filled: share of the usable area of each sheet that is sticker.
    """

    width_mm: float
    height_mm: float
    usable: Box
    marks: tuple[Mark, ...]
    reasons: tuple[tuple[str, Box], ...]
    pages: tuple[tuple[Placement, ...], ...]
    stocks: tuple[Stock | None, ...]
    filled: tuple[float, ...]

    @property
    def copies(self) -> int:
        """How many stickers there are."""
        return sum(len(page) for page in self.pages)

    def count(self, design: int) -> int:
        """How many there are of one design."""
        return sum(placement.design == design for page in self.pages for placement in page)


def is_better(one: Plan, two: Plan) -> bool:
    """Whether ``one`` is the better layout: fewer sheets, then more copies, then the earlier sheets fuller."""
    return _rank(one) < _rank(two)


def _rank(plan: Plan) -> tuple[float, ...]:
    return (len(plan.pages), -plan.copies, *(-round(share, 6) for share in plan.filled))
