"""What the Book knows of every blade: what it cut, and how many such blades are dull by now."""

from __future__ import annotations

from bisect import bisect_left
from collections import defaultdict
from collections.abc import Mapping
from dataclasses import dataclass, field

from honest_edge.app.book.stock_rows import hardness_by_stock
from honest_edge.core.values.book_records import BladeEvent
from honest_edge.core.workshop.blade_life import LOOK_SHARE, NOTE_SHARE, BladeLife, BladeUse, DullShare
from honest_edge.files.book.records import BLADE
from honest_edge.files.book.store import Book

_MOST_LIVES = 200
"""Blades that were bought long ago may have been others."""


@dataclass(slots=True)
class _Life:
    """One blade from its fitting to its end."""

    name: str
    since_ms: int
    ended: BladeEvent | None = None
    ended_ms: int | None = None
    metres: dict[str, float] = field(default_factory=dict)

    def add(self, stock: str, metres: float) -> None:
        self.metres[stock] = self.metres.get(stock, 0.0) + metres


@dataclass(frozen=True, slots=True, kw_only=True)
class BladeRow:
    """One blade.

    Attributes:
        name: its name.
        since_ms: when it was fitted, or first cut, in UTC milliseconds.
        ended: how it ended; None while it is in use.
        ended_ms: when.
        metres: that it cut, by stock; "" where it was typed.
        hard_m: the same in metres of paper.
        dull: the share of such blades that is dull by now; None for one that ended, and before enough went dull.
        dull_blades: how many of the user's own went dull.
    """

    name: str
    since_ms: int
    ended: BladeEvent | None
    ended_ms: int | None
    metres: Mapping[str, float]
    hard_m: float
    dull: DullShare | None
    dull_blades: int

    @property
    def needs_a_look(self) -> bool:
        """Whether its edge should be looked at before it cuts on."""
        return self.dull is not None and self.dull.likely >= LOOK_SHARE

    @property
    def is_noted(self) -> bool:
        """Whether it has cut so long that some such blades are dull."""
        return self.dull is not None and self.dull.likely >= NOTE_SHARE

    @property
    def all_m(self) -> float:
        """Metres in all."""
        return sum(self.metres.values())


def blade_rows(book: Book, words: str = "") -> list[BladeRow]:
    """Return every blade that was fitted or cut, the newest first."""
    lives, hardness = _lives(book), hardness_by_stock(book)
    hard = [sum(metres * hardness.get(stock, 1.0) for stock, metres in life.metres.items()) for life in lives]
    uses = [BladeUse(metres=m, went_dull=life.ended == "dull") for m, life in zip(hard, lives, strict=True)]
    model = BladeLife(uses[-_MOST_LIVES:])
    rows = [
        BladeRow(
            name=life.name,
            since_ms=life.since_ms,
            ended=life.ended,
            ended_ms=life.ended_ms,
            metres=life.metres,
            hard_m=metres,
            dull=model.dull_by(metres) if life.ended is None else None,
            dull_blades=model.dull,
        )
        for life, metres in zip(lives, hard, strict=True)
        if all(word.casefold() in f"{life.name} {' '.join(life.metres)}".casefold() for word in words.split())
    ]
    return sorted(rows, key=lambda row: -row.since_ms)


def blades_in_use(book: Book) -> list[str]:
    """Return the names of the blades that did not end, the one that was fitted last first."""
    return [life.name for life in _lives(book)[::-1] if life.ended is None]


def metres_of(book: Book, blade: str) -> float | None:
    """Return how many metres a blade in use has cut; None where there is none of that name."""
    in_use = [life for life in _lives(book) if life.name == blade and life.ended is None]
    return sum(in_use[-1].metres.values()) if in_use and blade else None


def _lives(book: Book) -> list[_Life]:
    """Return the lives of blades, the oldest first.

    One ends when its blade goes dull or is changed, or when another of its name is fitted.
    """
    notes, ends = book.notes(BLADE, most=-1)[::-1], defaultdict[str, list[int]](list)
    for kept in notes:
        ends[kept.record.blade].append(kept.at_ms - (kept.record.what == "fitted"))
    lives: dict[tuple[str, int], _Life] = {}

    def life_at(blade: str, at_ms: int) -> _Life:
        key = blade, bisect_left(ends[blade], at_ms)
        life = lives.get(key)
        if life is None:
            life = lives[key] = _Life(blade, at_ms)
        return life

    for kept in notes:
        life = life_at(kept.record.blade, kept.at_ms)
        life.add("", kept.record.metres)
        if kept.record.what != "fitted":
            life.ended, life.ended_ms = kept.record.what, kept.at_ms
    for at_ms, blade, stock, cut_m in book.cut_by_blades():
        life = life_at(blade, at_ms)
        life.since_ms = min(life.since_ms, at_ms)
        life.add(stock, cut_m)
    return sorted(lives.values(), key=lambda life: life.since_ms)
