"""What the Book knows of every stock: what is on hand, what it costs, what cuts it."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

from honest_edge.core.values.book_records import SettingFound, StockFacts, StockMove
from honest_edge.core.workshop.stock_level import DAY_MS, LATELY_DAYS, Moved, StockLevel, stock_level
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


def stock_rows(book: Book, now_ms: int, words: str = "", only: str | None = None) -> list[StockRow]:
    """Return every stock that was bought, counted, cut, tried or described, by name.

    Args:
        book: where to look.
        now_ms: the present, in UTC milliseconds.
        words: what must stand in a name.
        only: the name of the one stock that is asked for.
    """
    moves: dict[str, list[Kept[StockMove]]] = {}
    for kept in book.notes(MOVE, about=only, most=-1):
        moves.setdefault(kept.record.stock, []).append(kept)
    facts = _newest(book, only)
    settings: dict[str, SettingFound] = {}
    for setting in book.notes(SETTING, about=only):
        settings.setdefault(setting.record.stock, setting.record)
    cut = [only] if only is not None else book.stocks_cut()
    names = sorted({*moves, *cut, *facts, *settings}, key=str.casefold)
    return [
        StockRow(
            name=name,
            level=_level(book, name, [*map(_moved, moves.get(name, []))], now_ms),
            facts=facts.get(name, StockFacts(stock=name)),
            setting=settings.get(name),
            moves=tuple(moves.get(name, ())),
        )
        for name in names
        if all(word.casefold() in name.casefold() for word in words.split())
    ]


def _level(book: Book, name: str, moves: list[Moved], now_ms: int) -> StockLevel:
    """Return what is on hand of a stock; runs between the times that matter are taken together."""
    known = [move.at_ms for move in moves if move.what in ("bought", "counted")]
    counts = [move.at_ms for move in moves if move.what == "counted"]
    times = (min(known, default=0), max(counts, default=0), now_ms - LATELY_DAYS * DAY_MS)
    used = [Moved(at_ms=at_ms, what="used", sheets=sheets) for at_ms, sheets in book.sheets_used(name, times)]
    return stock_level([*moves, *used], now_ms)


def _newest(book: Book, only: str | None = None) -> Mapping[str, StockFacts]:
    facts_of_stock: dict[str, StockFacts] = {}
    for kept in book.notes(FACTS, about=only, most=-1):
        facts_of_stock.setdefault(kept.record.stock, kept.record)
    return facts_of_stock


def _moved(kept: Kept[StockMove]) -> Moved:
    move = kept.record
    return Moved(at_ms=kept.at_ms, what=move.what, sheets=move.sheets, price=move.price)


def hardness_by_stock(book: Book) -> dict[str, float]:
    """Return the hardness of the stocks of which one was typed."""
    return {name: facts.hardness for name, facts in _newest(book).items() if facts.hardness is not None}
