"""The Book after ten years of a busy shop: 20,000 runs, 90,000 looks at ladders, 150,000 events, all made up.

Bounds: opened in at most 50 ms, any look at most 100 ms, one event on the disk in at most 50 ms, medians of nine.
Printed beside it: SQLite itself writing one row with the same safety, and a whole check.
"""

from __future__ import annotations

import random
import sqlite3
import statistics
import sys
import tempfile
import time
from collections.abc import Callable
from dataclasses import asdict
from pathlib import Path

from honest_edge.app.book.desk import BookDesk
from honest_edge.core.values.book_records import BladeNote, LadderLook, SettingFound, StockMove
from honest_edge.core.values.log_event import LogEvent, RunRecord
from honest_edge.files.book.records import BLADE, LOOK, MOVE, SETTING
from honest_edge.files.book.schema import set_up
from honest_edge.files.book.store import Book

EVENTS, TIMES = 150_000, 9
START_MS, YEARS_MS = 1_480_000_000_000, 10 * 31_557_600_000
END_MS = START_MS + YEARS_MS
OPEN_MS, LOOK_MS, EVENT_MS = 50.0, 100.0, 50.0
TITLES = ("Tea tins", "Herb sheet", "Price tags", "Lavender bags", "Honey jars", "Badges", "Map cards")
STOCKS = ("White vinyl, satin", "White paper, matt", "Card, 220 g", "Kraft paper")
REASONS = ("", "", "", "torn at the tip", "fed askew", "white at the stem", "liner cut through")


def made_up(number: int, chance: random.Random) -> LogEvent:
    """Return the next event: of 30, four are runs, eighteen looks, six settings, one a move, one of a blade."""
    at_ms = START_MS + number * YEARS_MS // EVENTS
    key = f"{chance.getrandbits(128):032x}"
    stock, part = chance.choice(STOCKS), number % 30
    subject = {"stock": stock, "machine": "Tabletop cutter", "blade": f"No. {number // 600}"}
    session = f"{number // 30 * 6 + part % 6:032x}"
    if part < 4:
        return LogEvent(key=key, at_ms=at_ms, kind="run", data=asdict(run(stock, f"No. {number // 600}", chance)))
    if part < 22:
        clean = chance.randrange(2, 5)
        squares = {"settings": "20 28 39 54 75 104 144 200", "first_clean": clean, "first_marked": clean + 2}
        look = LadderLook(**subject, **squares, session=session, lowest=20, highest=200, step=1)
        return LOOK.event(look, key, at_ms)
    if part < 28:
        best = chance.randrange(40, 160)
        found = SettingFound(**subject, session=session, best=best, low=best - 9, high=best + 9, chance=0.98, looks=3)
        return SETTING.event(found, key, at_ms)
    if number // 30 % 20 == 19 and part == 29:
        what = ("dull", "changed early")[number // 600 % 2]
        return BLADE.event(BladeNote(blade=f"No. {number // 600}", what=what), key, at_ms)
    if number // 30 % 5 == 0:
        return MOVE.event(StockMove(stock=stock, what="bought", sheets=chance.randrange(1, 50), price=0.4), key, at_ms)
    return SETTING.event(SettingFound(**subject, session=session, best=40, chance=0.5, looks=3), key, at_ms)


def run(stock: str, blade: str, chance: random.Random) -> RunRecord:
    return RunRecord(
        title=f"{chance.choice(TITLES)} {chance.randrange(97)}",
        stock=stock,
        machine="Tabletop cutter",
        printer="Inkjet printer",
        sheets=chance.randrange(1, 9),
        good=chance.randrange(1, 80),
        bad=chance.choice((0, 0, 1, 3)),
        reason=chance.choice(REASONS),
        forecast=chance.random(),
        blade=blade,
        cut_m=chance.uniform(1, 30),
    )


def median_ms(work: Callable[[], object]) -> float:
    found = []
    for _ in range(TIMES):
        start = time.perf_counter()
        work()
        found.append(1000 * (time.perf_counter() - start))
    return statistics.median(found)


def plain_ms(folder: Path) -> float:
    """Return what one row takes SQLite itself."""
    connection = sqlite3.connect(folder / "plain.sqlite", isolation_level=None)
    set_up(connection)
    connection.execute("CREATE TABLE rows (a INTEGER PRIMARY KEY, b TEXT)")
    taken = median_ms(lambda: connection.execute("INSERT INTO rows (b) VALUES (?)", ("w" * 300,)))
    connection.close()
    return taken


def main() -> bool:
    chance = random.Random(15)
    with tempfile.TemporaryDirectory() as name:
        folder, path = Path(name), Path(name) / "book.sqlite"
        with Book(path) as book:
            for first in range(0, EVENTS, 5000):
                book.add([made_up(number, chance) for number in range(first, first + 5000)])
        desk = BookDesk(lambda: path)
        looks = {
            "runs and what they cost": lambda: desk.runs("", END_MS),
            "runs by a word": lambda: desk.runs("askew honey", END_MS),
            "a word that is nowhere": lambda: desk.runs("nowhere", END_MS),
            "settings": lambda: desk.settings("", END_MS),
            "settings by a word that is nowhere": lambda: desk.settings("nowhere", END_MS),
            "looks of a session": lambda: desk.looks_of(f"{77:032x}", END_MS),
            "what a test cut starts from": lambda: desk.cut_facts(END_MS),
            "blades": lambda: desk.blades("", END_MS),
            "stock": lambda: desk.stock("", END_MS),
            "what worked, at Files": lambda: desk.what_worked(STOCKS[0], "Tabletop cutter", 4, END_MS),
            "how many events": lambda: desk.events(END_MS),
        }
        opened = median_ms(lambda: Book(path).close())
        with Book(path) as book:
            seen = {words: median_ms(look) for words, look in looks.items()}
            desk.close()
            numbers = iter(range(EVENTS, 2 * EVENTS))
            event = median_ms(lambda: book.add([made_up(next(numbers), chance)]))
            start = time.perf_counter()
            wrong = book.wrong()
            checked = time.perf_counter() - start
        plain, megabytes = plain_ms(folder), path.stat().st_size / 1e6
    good = opened <= OPEN_MS and max(seen.values()) <= LOOK_MS and event <= EVENT_MS and not wrong
    print(f"{megabytes:.0f} MB; opened in {opened:.1f} ms   bound {OPEN_MS:.0f}")
    for words, taken in seen.items():
        print(f"{words}: {taken:.1f} ms   bound {LOOK_MS:.0f}")
    print(f"one event {event:.2f} ms   bound {EVENT_MS:.0f}; SQLite’s own row {plain:.2f} ms")
    print(f"all of it checked in {checked:.1f} s   no bound")
    return good


if __name__ == "__main__":
    sys.exit(0 if main() else 1)
