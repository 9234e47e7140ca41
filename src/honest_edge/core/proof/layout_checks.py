"""What would go wrong with the sheets as they are laid out: asked of the finished geometry, not only when placing."""

from __future__ import annotations

from collections.abc import Callable, Iterator, Sequence
from dataclasses import dataclass

import numpy as np
import shapely

from honest_edge.core.edge.contour import CutLines
from honest_edge.core.geometry.paths import Floats
from honest_edge.core.proof import register
from honest_edge.core.proof.words import counted
from honest_edge.core.sheet.media import Box
from honest_edge.core.sheet.plan import Placement, Plan
from honest_edge.core.values.findings import Finding, Fix, Place, Quantity, Subject
from honest_edge.core.values.lazy import lazy_property

_MOST_PLACES = 60
_SEEN_MM = 0.05  # less is a matter of rounding
_ROUNDING_MM = 1e-6
_SAME_MM = 0.1
_FLAT_MM = 0.01
_NEARLY_EMPTY = 0.2
"""A sheet of which less is sticker is nearly empty; common practice, no published source."""


@dataclass(frozen=True, kw_only=True, eq=False)
class LaidDesign:
    """What of a design lies on sheets, in the art's frame.

    Attributes:
        key: of the design.
        name: what messages call it.
        cut: its lines.
        ink: where ink lies; empty where nothing is printed.
        reach_mm: how far ink reaches past the cut.
    """

    key: str
    name: str
    cut: CutLines
    ink: shapely.MultiPolygon
    reach_mm: float

    @lazy_property
    def lines(self) -> shapely.MultiLineString:
        """Every line that is cut, creased or perforated."""
        return shapely.MultiLineString(
            [_closed(path.curve.flattened(_FLAT_MM), path.curve.closed) for path in self.cut.all_paths]
        )

    @lazy_property
    def area(self) -> shapely.Geometry:
        """What is cut out, with no more corners than it needs."""
        return shapely.simplify(self.cut.area, _FLAT_MM)

    @lazy_property
    def whole(self) -> shapely.GeometryCollection:
        """Ink and lines together."""
        return shapely.GeometryCollection([self.ink, self.lines])


def _inside(box: Box) -> Box:
    """Return a box less what rounding makes of a side that is touched exactly: its depth could not be told."""
    return Box(box.left + _ROUNDING_MM, box.top + _ROUNDING_MM, box.right - _ROUNDING_MM, box.bottom - _ROUNDING_MM)


def _closed(points: Floats, is_closed: bool) -> Floats:
    return np.vstack([points, points[:1]]) if is_closed else points


def layout_findings(plan: Plan, designs: Sequence[LaidDesign]) -> Iterator[Finding]:
    """Yield what speaks against a layout.

    Args:
        plan: the layout.
        designs: what its numbers stand for.
    """
    strays: list[_Trouble] = []
    close: list[_Trouble] = []
    twice: list[_Trouble] = []
    checked: set[tuple[object, ...]] = set()
    for page, placements in enumerate(plan.pages):
        key = tuple((p.design, p.x_mm, p.y_mm, p.turn_deg) for p in placements)
        if key in checked:
            continue  # a sheet laid like another has its troubles, which are said once
        checked.add(key)
        laid = _Laid(plan, page, placements, designs)
        strays += laid.strays()
        close += laid.close()
        twice += laid.twice()
    yield from _told(strays, register.KEEP_OUT, _stray_words, "lay them out anew")
    yield from _told(close, register.CLOSE, _close_words, "move them apart")
    yield from _told(twice, register.TWICE, _twice_words, "move one of them away, or have one copy less")
    yield from _nearly_empty(plan, designs)


@dataclass(frozen=True, slots=True, kw_only=True)
class _Trouble:
    """What is wrong at one place of a sheet, with whom, and by how much."""

    page: int
    names: tuple[str, ...]
    geometry: shapely.Geometry
    amount_mm: float
    needed_mm: float


class _Laid:
    """One sheet's copies where they lie; most are only asked for their boxes."""

    def __init__(self, plan: Plan, page: int, placements: Sequence[Placement], designs: Sequence[LaidDesign]) -> None:
        self._plan, self._page, self._placements, self._designs = plan, page, placements, designs
        boxes = [self._box(placement) for placement in placements]
        self._boxes = np.array(boxes).reshape(-1, 4)
        self._is_printed = plan.stocks[page] is None

    def _box(self, placement: Placement) -> tuple[float, ...]:
        left, top, right, bottom = self._designs[placement.design].whole.bounds
        corners = np.array([(left, top), (right, top), (right, bottom), (left, bottom)])
        at = corners @ placement.matrix[:, :2].T + placement.matrix[:, 2]
        return (*at.min(0).tolist(), *at.max(0).tolist())

    def _there(self, number: int, what: shapely.Geometry) -> shapely.Geometry:
        matrix = self._placements[number].matrix
        return shapely.transform(what, lambda points: points @ matrix[:, :2].T + matrix[:, 2])

    def _design(self, number: int) -> LaidDesign:
        return self._designs[self._placements[number].design]

    def strays(self) -> Iterator[_Trouble]:
        """Yield copies of which ink or a line lies where nothing may."""
        usable = self._plan.usable
        boxes = [box for mark in self._plan.marks for box in mark.keep_outs] if self._is_printed else []
        keep_outs = [_inside(box) for box in boxes]
        for number, (left, top, right, bottom) in enumerate(self._boxes.tolist()):
            over = max(usable.left - left, usable.top - top, right - usable.right, bottom - usable.bottom)
            near = [b for b in keep_outs if left < b.right and right > b.left and top < b.bottom and bottom > b.top]
            if over <= _SEEN_MM and not near:
                continue
            design, taken = self._design(number), shapely.union_all([shapely.box(*box) for box in near])
            free = shapely.difference(shapely.buffer(shapely.box(*usable), _ROUNDING_MM, join_style="mitre"), taken)
            there = [self._there(number, what) for what in (design.ink, design.lines)]
            astray = [part for part in shapely.difference(there, free) if not shapely.is_empty(part)]
            wrong = shapely.GeometryCollection(astray)
            depth = max(over, *map(_depth, astray)) if astray else 0.0
            if depth > _SEEN_MM:
                yield _Trouble(
                    page=self._page, names=(self._design(number).name,), geometry=wrong, amount_mm=depth, needed_mm=0.0
                )

    def close(self) -> Iterator[_Trouble]:
        """Yield pairs of which one's ink comes into the other's sticker."""
        for one, two in self._pairs(2 * max((design.reach_mm for design in self._designs), default=0.0)):
            reach = self._design(one).reach_mm + self._design(two).reach_mm
            here, there = (self._there(number, self._design(number).area) for number in (one, two))
            if reach > _SEEN_MM and shapely.dwithin(here, there, reach - _SEEN_MM):
                apart = float(shapely.distance(here, there))
                yield _Trouble(
                    page=self._page,
                    names=(self._design(one).name, self._design(two).name),
                    geometry=_between(here, there, reach),
                    amount_mm=apart,
                    needed_mm=reach,
                )

    def twice(self) -> Iterator[_Trouble]:
        """Yield pairs of copies with a line that is there twice."""
        for one, two in self._pairs(_SAME_MM):
            lines = [self._there(number, self._design(number).lines) for number in (one, two)]
            for part in shapely.get_parts(lines[0]):
                near = shapely.intersection(lines[1], shapely.buffer(part, _SAME_MM))
                if near.length > 0.5 * part.length and part.length > 1.0:
                    yield _Trouble(
                        page=self._page,
                        names=(self._design(one).name, self._design(two).name),
                        geometry=near,
                        amount_mm=float(near.length),
                        needed_mm=0.0,
                    )
                    break

    def _pairs(self, within_mm: float) -> Iterator[tuple[int, int]]:
        if len(self._boxes) < 2:
            return
        boxes = shapely.box(*self._boxes.T)
        first, second = shapely.STRtree(boxes).query(boxes, predicate="dwithin", distance=within_mm + _SEEN_MM)
        yield from ((int(a), int(b)) for a, b in zip(first, second, strict=True) if a < b)


def _between(here: shapely.Geometry, there: shapely.Geometry, reach_mm: float) -> shapely.Geometry:
    """Return where the colours of two neighbours meet."""
    grown = shapely.buffer([here, there], reach_mm / 2, join_style="mitre")
    common: shapely.Geometry = shapely.intersection(grown[0], grown[1])
    return common


def _depth(area: shapely.Geometry) -> float:
    """Return how far something reaches into where it may not, roughly: its shorter side, or its length."""
    if shapely.is_empty(area):
        return 0.0
    left, top, right, bottom = shapely.bounds(area).tolist()
    return float(max(min(right - left, bottom - top), _SEEN_MM * 2))


def _stray_words(worst: _Trouble, count: int) -> str:
    others = f" and {counted(count - 1, 'other')}" if count > 1 else ""
    reach = f"{worst.amount_mm:.1f} mm into what must stay free, on sheet {worst.page + 1}"
    return f"“{worst.names[0]}”{others} reaches {reach}"


def _close_words(worst: _Trouble, count: int) -> str:
    one, two = worst.names
    more = f", and {counted(count - 1, 'more pair')}" if count > 1 else ""
    return (
        f"“{one}” and “{two}” are {worst.amount_mm:.1f} mm apart on sheet {worst.page + 1}, and their colour reaches "
        f"{worst.needed_mm:.1f} mm past the cuts{more}"
    )


def _twice_words(worst: _Trouble, count: int) -> str:
    one, two = worst.names
    more = f", and {count - 1} more" if count > 1 else ""
    return f"a line of “{one}” and one of “{two}” are the same on sheet {worst.page + 1}: it would be cut twice{more}"


def _told(
    troubles: Sequence[_Trouble], check: register.Check, words: Callable[[_Trouble, int], str], remedy: str
) -> Iterator[Finding]:
    if not troubles:
        return
    worst = max(troubles, key=lambda trouble: abs(trouble.needed_mm - trouble.amount_mm))
    yield check.found(
        Subject(kind="sheet", page=worst.page),
        words(worst, len(troubles)),
        remedy,
        places=[
            Place(frame="sheet", geometry=trouble.geometry, page=trouble.page)
            for trouble in sorted(troubles, key=lambda trouble: trouble is not worst)[:_MOST_PLACES]
        ],
        measured=Quantity(value=worst.amount_mm, unit="mm"),
        needed=Quantity(value=worst.needed_mm, unit="mm"),
        fix=Fix(words="Lay them out anew", is_laid_anew=True),
    )


def _nearly_empty(plan: Plan, designs: Sequence[LaidDesign]) -> Iterator[Finding]:
    printed = [page for page, stock in enumerate(plan.stocks) if stock is None]
    for page in printed if len(printed) > 1 else ():
        filled = plan.filled[page]
        if filled >= _NEARLY_EMPTY or not plan.pages[page]:
            continue
        smallest = min({p.design for p in plan.pages[page]}, key=lambda number: designs[number].cut.area.area)
        fill = Fix(words=f"Fill it with “{designs[smallest].name[:24]}”", design=designs[smallest].key, fills=True)
        yield register.EMPTY.found(
            Subject(kind="sheet", page=page),
            f"only {100 * filled:.0f} % of sheet {page + 1} is sticker",
            "fill it with something small, or make fewer",
            places=[Place(frame="sheet", geometry=shapely.box(*plan.usable), page=page)],
            measured=Quantity(value=100 * filled, unit="%"),
            needed=Quantity(value=100 * _NEARLY_EMPTY, unit="%"),
            fix=fill,
        )
        return
