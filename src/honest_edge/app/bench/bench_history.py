"""What the Book knows of a bench: its measured sheets, what was done to it, and what the next sheet will show."""

from __future__ import annotations

import hashlib
from collections.abc import Sequence
from dataclasses import dataclass

from honest_edge.core.measure.bench_error import WeighedSheet, believed, faded, misregistration_of
from honest_edge.core.measure.hand_alignment import HAND_MM, hand_of
from honest_edge.core.values.bench_records import BenchNote, BenchSheet, BenchSubject, MachineSign
from honest_edge.core.values.job import BenchCopy
from honest_edge.core.values.measured import NEW_START, BenchBelief, ErrorParts
from honest_edge.files.book.records import ASIDE, CHANGED, FOUND, MEASURED, MOVED, SIGN
from honest_edge.files.book.store import Book, Kept

_MOST_FOUND = 60


@dataclass(frozen=True, slots=True, kw_only=True)
class HistoryRow:
    """One measured sheet.

    Attributes:
        at_ms: when it was measured.
        kept: as the Book holds it.
        counts: whether it was not set aside.
        weight: what it weighs by now; 0 where it does not count.
        epoch: counts up whenever the steady part was changed.
    """

    at_ms: int
    kept: BenchSheet
    counts: bool
    weight: float
    epoch: int


@dataclass(frozen=True, slots=True, kw_only=True)
class BenchHistory:
    """One bench.

    Attributes:
        bench: its names.
        rows: measured sheets, the oldest first; of a sheet that was measured twice the newer.
        notes: what was done to it, the oldest first.
        belief: what the next sheet will show, without what cut files are moved by; None where nothing was measured
            since its steady part changed.
        correction: what cut files are moved by.
        signs: which way the machine's own correction moves the cut, as far as that was learnt.
        hand_mm: how well the user's hand finds marks in this machine, standard deviation of a reading.
        found: how many sheets tell that; 0 where it is assumed.
    """

    bench: BenchSubject
    rows: tuple[HistoryRow, ...]
    notes: tuple[Kept[BenchNote], ...]
    belief: BenchBelief | None
    correction: ErrorParts
    signs: tuple[MachineSign, ...] = ()
    hand_mm: float = HAND_MM
    found: int = 0

    @property
    def copy(self) -> BenchCopy | None:
        """What a job carries of it; None where nothing was measured."""
        if self.belief is None:
            return None
        return BenchCopy(
            machine=self.bench.machine,
            printer=self.bench.printer,
            key=self._key,
            error=misregistration_of(self.belief, self.correction),
            correction=self.correction,
            sheets=self.belief.sheets,
            newest_ms=self.belief.newest_ms,
        )

    @property
    def _key(self) -> str:
        """What names all that it rests on."""
        rested = [f"{row.kept.key}{row.epoch}" for row in self.rows if row.counts]
        return hashlib.sha256("|".join([*rested, repr(self.correction.values)]).encode()).hexdigest()[:32]

    @property
    def counting(self) -> list[HistoryRow]:
        """The sheets since the steady part last changed, those set aside left out."""
        newest = max((row.epoch for row in self.rows), default=0)
        return [row for row in self.rows if row.counts and row.epoch == newest]


def bench_history(book: Book, bench: BenchSubject, within_mm: float, now_ms: int) -> BenchHistory:
    """Return what the Book knows of one bench.

    Args:
        book: the Book.
        bench: which.
        within_mm: what was typed of it, kept 19 times of 20.
        now_ms: the present, in UTC milliseconds.
    """
    about = bench.about
    notes = tuple(book.notes(CHANGED, about=about, most=-1)[::-1])
    starts = [kept.at_ms for kept in notes if kept.record.what in NEW_START]
    aside: dict[str, bool] = {}
    for kept in book.notes(ASIDE, about=about, most=-1)[::-1]:
        aside[kept.record.key] = not kept.record.counts
    rows = _rows(book.notes(MEASURED, about=about, most=-1)[::-1], starts, aside, now_ms)
    weighed = [
        WeighedSheet(sheet=row.kept.measured, at_ms=row.at_ms, weight=row.weight, epoch=row.epoch) for row in rows
    ]
    moved = book.notes(MOVED, about=about, most=1)
    signs: dict[str, MachineSign] = {kept.record.axis: kept.record for kept in book.notes(SIGN, about=about)[::-1]}
    left_over = [kept.record.left_over for kept in book.notes(FOUND, about=bench.machine, most=_MOST_FOUND)]
    return BenchHistory(
        bench=bench,
        rows=rows,
        notes=notes,
        belief=_since(weighed, len(starts), within_mm),
        correction=moved[0].record.correction if moved else ErrorParts(),
        signs=tuple(signs.values()),
        hand_mm=hand_of(left_over),
        found=len(left_over),
    )


def _since(weighed: Sequence[WeighedSheet], epoch: int, within_mm: float) -> BenchBelief | None:
    """Return the belief, where a sheet counts that was measured since the last change."""
    counts = [one for one in weighed if one.weight > 0]
    return believed(counts, within_mm) if any(one.epoch == epoch for one in counts) else None


def _rows(
    kept: Sequence[Kept[BenchSheet]], starts: Sequence[int], aside: dict[str, bool], now_ms: int
) -> tuple[HistoryRow, ...]:
    newest: dict[str, Kept[BenchSheet]] = {}
    for one in kept:
        newest.pop(one.record.sheet or one.record.key, None)
        newest[one.record.sheet or one.record.key] = one
    rows = []
    for one in sorted(newest.values(), key=lambda kept: kept.at_ms):
        counts = not aside.get(one.record.key, False)
        weight = faded(one.at_ms, now_ms) if counts else 0.0
        epoch = sum(start <= one.at_ms for start in starts)
        rows.append(HistoryRow(at_ms=one.at_ms, kept=one.record, counts=counts, weight=weight, epoch=epoch))
    return tuple(rows)


def unmeasured(bench: BenchSubject) -> BenchHistory:
    """Return a bench that nothing is known of."""
    return BenchHistory(bench=bench, rows=(), notes=(), belief=None, correction=ErrorParts())


def benches_in(book: Book) -> list[BenchSubject]:
    """Return the benches that sheets were measured of, the newest first."""
    return list(dict.fromkeys(kept.record.subject for kept in book.notes(MEASURED, most=-1)))
