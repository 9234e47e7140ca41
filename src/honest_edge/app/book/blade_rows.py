"""What the Book knows of every blade: what it cut, and how many such blades are dull by now."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field

from honest_edge.app.book.stock_rows import hardness_by_stock
from honest_edge.core.plan.blade_life import BladeLife, BladeUse, DullShare
from honest_edge.core.values.book_records import BladeEvent, BladeNote
from honest_edge.files.book.records import BLADE
from honest_edge.files.book.store import Book, Cut


@dataclass(slots=True)
class _Life:
    """One blade from its fitting to its end."""

    name: str
    since_ms: int
    ended: BladeEvent | None = None
    ended_ms: int | None = None
    metres: dict[str, float] = field(default_factory=dict)


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
        dull: the share of such blades that is dull by now; None before enough of the user's own went dull.
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
    def all_m(self) -> float:
        """Metres in all."""
        return sum(self.metres.values())


def blade_rows(book: Book, words: str = "") -> list[BladeRow]:
    """Return every blade that was fitted or cut, the newest first."""
    lives, hardness = _lives(book), hardness_by_stock(book)
    hard = [sum(metres * hardness.get(stock, 1.0) for stock, metres in life.metres.items()) for life in lives]
    model = BladeLife([BladeUse(metres=m, went_dull=life.ended == "dull") for m, life in zip(hard, lives, strict=True)])
    rows = [
        BladeRow(
            name=life.name,
            since_ms=life.since_ms,
            ended=life.ended,
            ended_ms=life.ended_ms,
            metres=life.metres,
            hard_m=metres,
            dull=model.dull_by(metres),
            dull_blades=model.dull,
        )
        for life, metres in zip(lives, hard, strict=True)
        if all(word.casefold() in f"{life.name} {' '.join(life.metres)}".casefold() for word in words.split())
    ]
    return sorted(rows, key=lambda row: -row.since_ms)


def _lives(book: Book) -> list[_Life]:
    """Return the lives of blades: one begins when a blade is fitted, or first cuts after its name's last one ended."""
    events: list[tuple[int, int, Cut | BladeNote]] = [
        (kept.at_ms, 0, kept.record) for kept in book.notes(BLADE, most=-1)
    ]
    events += [(cut.at_ms, 1, cut) for cut in book.cut_by_time() if cut.blade]
    lives: list[_Life] = []
    present: dict[str, _Life] = {}
    for at_ms, _, what in sorted(events, key=lambda event: event[:2]):
        life = present.get(what.blade)
        if life is None or (isinstance(what, BladeNote) and what.what == "fitted"):
            life = present[what.blade] = _Life(what.blade, at_ms)
            lives.append(life)
        stock, metres = (what.stock, what.cut_m or 0.0) if isinstance(what, Cut) else ("", what.metres)
        life.metres[stock] = life.metres.get(stock, 0.0) + metres
        if isinstance(what, BladeNote) and what.what != "fitted":
            life.ended, life.ended_ms = what.what, at_ms
            del present[what.blade]
    return lives
