"""The Book after ten years of a busy shop: 20,000 runs among 150,000 events, all made up.

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

from honest_edge.core.values.log_event import LogEvent, RunRecord
from honest_edge.files.book.schema import set_up
from honest_edge.files.book.store import Book

RUNS, EVENTS, TIMES = 20_000, 150_000, 9
START_MS, YEARS_MS = 1_480_000_000_000, 10 * 31_557_600_000
OPEN_MS, LOOK_MS, EVENT_MS = 50.0, 100.0, 50.0
TITLES = ("Tea tins", "Herb sheet", "Price tags", "Lavender bags", "Honey jars", "Badges", "Map cards")
REASONS = ("", "", "", "torn at the tip", "fed askew", "white at the stem", "liner cut through")


def made_up(number: int, chance: random.Random) -> LogEvent:
    at_ms = START_MS + number * YEARS_MS // EVENTS
    key = f"{chance.getrandbits(128):032x}"
    if number * RUNS % EVENTS >= RUNS:
        data = {"kind_of_line": "kiss", "force": chance.randrange(40, 160), "came_out": chance.choice(REASONS)}
        return LogEvent(key=key, at_ms=at_ms, kind="trial", data=data)
    run = RunRecord(
        title=f"{chance.choice(TITLES)} {number % 97}",
        stock=chance.choice(("White vinyl, satin", "White paper, matt", "Card, 220 g")),
        machine="Tabletop cutter",
        printer="Inkjet printer",
        sheets=chance.randrange(1, 9),
        good=chance.randrange(1, 80),
        bad=chance.choice((0, 0, 1, 3)),
        reason=chance.choice(REASONS),
        forecast=chance.random(),
    )
    return LogEvent(key=key, at_ms=at_ms, kind="run", data=asdict(run))


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
        looks = {
            "the newest runs": lambda book: book.runs(),
            "runs by a word": lambda book: book.runs("askew honey"),
            "a word that is nowhere": lambda book: book.runs("nowhere"),
            "how many events": lambda book: book.count(),
        }
        opened = median_ms(lambda: Book(path).close())
        with Book(path) as book:
            seen = {words: median_ms(lambda look=look: look(book)) for words, look in looks.items()}
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
    print(f"one event {event:.2f} ms   bound {EVENT_MS:.0f}; SQLite's own row {plain:.2f} ms")
    print(f"all of it checked in {checked:.1f} s   no bound")
    return good


if __name__ == "__main__":
    sys.exit(0 if main() else 1)
