"""How many sheets to print so that enough stickers come out good.

What spoils stickers is mostly shared by a sheet, so that good ones come in whole sheets: one more sheet helps, a spare
sticker on the same sheet hardly. What is not known of the bench is shared by the whole run on top of that. Simulated
sheets carry both; runs are drawn from them, and sheets are added, one by one, where each helps most, until the
share of runs with enough good ones is the one that is asked for.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from honest_edge.core.values.errors import BlockedError, UsageError

Counts = NDArray[np.int32]

MOST_SHEETS = 2000
_RUNS = 4000
_SEED = 31


@dataclass(frozen=True, slots=True, kw_only=True, eq=False)
class SheetKind:
    """Sheets that are printed alike.

    Attributes:
        good: for each bench that is possible, (s, designs) how many of each design came out good on simulated sheets.
        least: how many of them the layout has.
    """

    good: Sequence[Counts]
    least: int = 1


@dataclass(frozen=True, slots=True, kw_only=True)
class PrintCount:
    """How many to print.

    Attributes:
        sheets: of each kind.
        assurance: share of runs with enough good ones when so many are printed.
    """

    sheets: tuple[int, ...]
    assurance: float


def sheets_to_print(kinds: Sequence[SheetKind], wanted: Sequence[int], assurance: float) -> PrintCount:
    """Return the smallest numbers of sheets that give enough good stickers with this assurance.

    Args:
        kinds: the sheets of the layout.
        wanted: how many good ones of each design are needed.
        assurance: the share of runs in which there must be enough, from 0 to 1.

    Raises:
        BlockedError: no number of sheets up to ``MOST_SHEETS`` reaches it.
        UsageError: an assurance outside 0 to 1.
    """
    if not 0 < assurance < 1:
        raise UsageError(f"An assurance of {100 * assurance:g} % is none: use 50 % to 99.9 %")
    drawn = _Runs(kinds, np.array(wanted, np.int64))
    counts = [kind.least for kind in kinds]
    reached = drawn.share(counts)
    if drawn.possible_share < assurance:
        raise BlockedError(_hopeless(drawn.hopeless_share))
    while reached < assurance:
        tries = [(drawn.share(_more(counts, kind)), drawn.lacking(_more(counts, kind)), kind) for kind in drawn.helping]
        if not tries or sum(counts) >= MOST_SHEETS:
            raise BlockedError(_hopeless(drawn.hopeless_share))
        reached, _, best = max(tries, key=lambda one: (one[0], -one[1]))
        counts = _more(counts, best)
    return PrintCount(sheets=tuple(counts), assurance=reached)


def assurance_of(kinds: Sequence[SheetKind], wanted: Sequence[int], counts: Sequence[int]) -> float:
    """Return the share of runs with enough good ones when so many sheets of each kind are printed."""
    return _Runs(kinds, np.array(wanted, np.int64)).share(list(counts))


def _more(counts: list[int], kind: int) -> list[int]:
    return [count + (number == kind) for number, count in enumerate(counts)]


def _hopeless(share: float) -> str:
    if share < 0.05:
        return "Hardly a sticker comes out good on this bench: mend what Proof shows first, or measure the bench"
    return f"Even {MOST_SHEETS} sheets would not be enough: mend what Proof shows first, or measure the bench"


class _Runs:
    """Runs drawn by chance: the same chances whatever the numbers of sheets, so that more is never worse."""

    def __init__(self, kinds: Sequence[SheetKind], wanted: NDArray[np.int64]) -> None:
        self._kinds, self._wanted = kinds, wanted
        self._random = np.random.default_rng(_SEED)
        self._bench = self._random.integers(len(kinds[0].good), size=_RUNS)
        self._sums: list[NDArray[np.int64]] = [np.zeros((1, _RUNS, len(wanted)), np.int64) for _ in kinds]

    @property
    def hopeless_share(self) -> float:
        """The largest share of any design's stickers that comes out good."""
        return max(float(np.mean([good.mean() for good in kind.good])) for kind in self._kinds)

    @property
    def possible_share(self) -> float:
        """The share of runs whose bench makes any good one of every design that is wanted."""
        ever = [
            np.any([kind.good[bench].any(axis=0) for kind in self._kinds], axis=0)
            for bench in range(len(self._kinds[0].good))
        ]
        can = [bool(np.all(any_good | (self._wanted == 0))) for any_good in ever]
        return float(np.mean(np.array(can)[self._bench]))

    @property
    def helping(self) -> list[int]:
        """The kinds of sheet that hold anything at all."""
        return [number for number, kind in enumerate(self._kinds) if any(good.any() for good in kind.good)]

    def share(self, counts: list[int]) -> float:
        """Return the share of runs with enough of every design."""
        return float(np.mean((self._good(counts) >= self._wanted).all(axis=1)))

    def lacking(self, counts: list[int]) -> float:
        """Return how many stickers are lacking on average."""
        return float(np.maximum(self._wanted - self._good(counts), 0).sum(axis=1).mean())

    def _good(self, counts: list[int]) -> NDArray[np.int64]:
        return np.asarray(np.sum([self._sum(kind, count) for kind, count in enumerate(counts)], axis=0))

    def _sum(self, kind: int, count: int) -> NDArray[np.int64]:
        """Return (runs, designs) how many are good on so many sheets of a kind; sheets are drawn once and kept."""
        sums = self._sums[kind]
        if len(sums) <= count:
            more = [sums[-1]]
            for _ in range(max(count + 1 - len(sums), 4)):
                more.append(more[-1] + self._drawn(kind))
            self._sums[kind] = sums = np.concatenate([sums, np.stack(more[1:])])
        return np.asarray(sums[count])

    def _drawn(self, kind: int) -> NDArray[np.int64]:
        good = self._kinds[kind].good
        counts = np.empty((_RUNS, len(self._wanted)), np.int64)
        for bench, sheets in enumerate(good):
            runs = np.flatnonzero(self._bench == bench)
            counts[runs] = sheets[self._random.integers(len(sheets), size=len(runs))]
        return counts
