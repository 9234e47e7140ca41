"""What the Book knows of every stock: what is on hand, what it costs, what cuts it."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

from honest_edge.core.plan.stock_level import Moved, StockLevel, stock_level
from honest_edge.core.values.book_records import SettingFound, StockFacts, StockMove
from honest_edge.files.book.records import FACTS, MOVE, SETTING
from honest_edge.files.book.store import Book, Kept


@dataclass(frozen=True, slots=True, kw_only=True)
class StockRow:
    """One stock of the shelf.

    Attributes:
        name: its name.
        level: what is on hand.
        facts: what was typed of it.
        setting: the newest that test cuts came to, on any machine; None where none was made.
        moves: the newest first.
    """

    name: str
    level: StockLevel
    facts: StockFacts
    setting: SettingFound | None
    moves: tuple[Kept[StockMove], ...]


def stock_rows(book: Book, now_ms: int, words: str = "") -> list[StockRow]:
    """Return every stock that was bought, counted, cut, tried or described, by name."""
    moves: dict[str, list[Kept[StockMove]]] = {}
    for kept in book.notes(MOVE, most=-1):
        moves.setdefault(kept.record.stock, []).append(kept)
    used: dict[str, list[Moved]] = {}
    for cut in book.cut_by_time():
        if cut.stock and cut.sheets:
            used.setdefault(cut.stock, []).append(Moved(at_ms=cut.at_ms, what="used", sheets=cut.sheets))
    facts = _newest(book)
    settings: dict[str, SettingFound] = {}
    for found in book.notes(SETTING):
        settings.setdefault(found.record.stock, found.record)
    names = sorted({*moves, *used, *facts, *settings}, key=str.casefold)
    return [
        StockRow(
            name=name,
            level=stock_level([*map(_moved, moves.get(name, [])), *used.get(name, [])], now_ms),
            facts=facts.get(name, StockFacts(stock=name)),
            setting=settings.get(name),
            moves=tuple(moves.get(name, ())),
        )
        for name in names
        if all(word.casefold() in name.casefold() for word in words.split())
    ]


def _newest(book: Book) -> Mapping[str, StockFacts]:
    found: dict[str, StockFacts] = {}
    for kept in book.notes(FACTS, most=-1):
        found.setdefault(kept.record.stock, kept.record)
    return found


def _moved(kept: Kept[StockMove]) -> Moved:
    move = kept.record
    return Moved(at_ms=kept.at_ms, what=move.what, sheets=move.sheets, price=move.price)


def hardness_by_stock(book: Book) -> dict[str, float]:
    """Return the hardness of the stocks of which one was typed."""
    return {name: facts.hardness for name, facts in _newest(book).items() if facts.hardness is not None}
