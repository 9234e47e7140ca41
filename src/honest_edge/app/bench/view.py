"""One bench as it is shown: its answer in one number, its parts, its history, what is likely wrong and what to do."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from honest_edge.app.bench.bench_history import BenchHistory, HistoryRow, bench_history, benches_in, unmeasured
from honest_edge.app.bench.measuring import ONE_SHEET
from honest_edge.core.measure.bench_error import (
    contradicts,
    correction_for,
    mean_give_or_take,
    misregistration_of,
    within_over_sheet,
)
from honest_edge.core.measure.diagnosis import Likely, causes_of
from honest_edge.core.measure.remedies import remedies_of, telling_apart
from honest_edge.core.values.bench_records import BenchSubject
from honest_edge.core.values.errors import HonestEdgeError
from honest_edge.core.values.measured import PART_NAMES, ErrorParts, MeasuredSheet, parts_of
from honest_edge.core.values.misregistration import PER_SPREAD
from honest_edge.files.book.store import Book

_WORTH = 0.8
"""Taking the steady part out is offered where it leaves less than this share of the error."""

_MOST_DIAGNOSED = 6


@dataclass(frozen=True, slots=True, kw_only=True)
class PartRow:
    """One part of the error.

    Attributes:
        name: as of ``ErrorParts``, or "repeat_mm".
        mean: what is the same on every sheet.
        give_or_take: how far that may be wrong, 19 times of 20; None where that is not told.
    """

    name: str
    mean: float
    give_or_take: float | None


@dataclass(frozen=True, slots=True, kw_only=True)
class HistoryPoint:
    """One measured sheet in the history of one part.

    Attributes:
        at_ms: when.
        value: measured.
        give_or_take: of the sheet itself, 19 times of 20.
        counts: whether it was not set aside.
    """

    at_ms: int
    value: float
    give_or_take: float
    counts: bool


@dataclass(frozen=True, slots=True, kw_only=True)
class BenchView:
    """What is shown of one bench.

    Attributes:
        known: what the Book knows.
        within_mm: distance that a sticker anywhere on the sheet keeps 19 times of 20; None where nothing is measured.
        without_steady_mm: the same with the steady part taken out; None where that is not worth it or done already.
        parts: of the error, as it is with what cut files are moved by.
        causes: the likeliest first.
        remedies: what to do.
        apart: the test that would tell the two likeliest apart; empty where the first is sure.
        notes: what is to be said, each one sentence.
    """

    known: BenchHistory
    within_mm: float | None
    without_steady_mm: float | None
    parts: tuple[PartRow, ...]
    causes: tuple[Likely, ...]
    remedies: tuple[str, ...]
    apart: str
    notes: tuple[str, ...]

    @property
    def sheets(self) -> int:
        """How many sheets it rests on."""
        return len(self.known.counting) if self.known.belief is not None else 0

    def history(self, part: str) -> list[HistoryPoint]:
        """Return the measured sheets of one part over time."""
        return [_point(row, part) for row in self.known.rows]


def bench_view(known: BenchHistory, assumed_mm: float) -> BenchView:
    """Return what is shown of a bench.

    Args:
        known: what the Book knows.
        assumed_mm: what is typed of it, kept 19 times of 20.
    """
    belief, correction = known.belief, known.correction
    counting = [row.kept.measured for row in known.counting] if belief is not None else []
    causes = _causes(counting)
    within = without = None
    parts: tuple[PartRow, ...] = ()
    if belief is not None:
        reach = _reach(counting)
        error = misregistration_of(belief, correction)
        within = within_over_sheet(error, reach)
        steadied = within_over_sheet(misregistration_of(belief, correction_for(belief)), reach)
        without = steadied if steadied < _WORTH * within else None
        means = (part.mean + moved for part, moved in zip(belief.parts, correction.values, strict=True))
        parts = tuple(
            PartRow(name=name, mean=mean, give_or_take=mean_give_or_take(part))
            for name, mean, part in zip(PART_NAMES, means, belief.parts, strict=True)
        )
        parts = (*parts, PartRow(name="repeat_mm", mean=belief.repeat_mm, give_or_take=None))
    return BenchView(
        known=known,
        within_mm=within,
        without_steady_mm=without,
        parts=parts,
        causes=causes,
        remedies=tuple(remedies_of(causes)) if causes else (),
        apart=telling_apart(causes) if causes else "",
        notes=(*_notes(counting, assumed_mm), *_before(known), *_by_hand(known)),
    )


def _causes(sheets: Sequence[MeasuredSheet]) -> tuple[Likely, ...]:
    """Return the causes by the newest sheets that were cut alike: moved by the same, or by nothing."""
    alike = [sheet for sheet in sheets if sheet.correction == sheets[-1].correction]
    try:
        return causes_of(alike[-_MOST_DIAGNOSED:])
    except HonestEdgeError:
        return ()


def _reach(sheets: Sequence[MeasuredSheet]) -> tuple[float, float]:
    """Return how far from the middle places lie that were measured, across and down."""
    places = np.array([(abs(p.x_mm), abs(p.y_mm)) for sheet in sheets for p in sheet.used])
    return float(places[:, 0].max()), float(places[:, 1].max())


def _notes(sheets: Sequence[MeasuredSheet], assumed_mm: float) -> list[str]:
    said = []
    if len(sheets) == 1:
        said.append(f"{ONE_SHEET}.")
    far = [sheet for sheet in sheets if contradicts(sheet, assumed_mm)]
    if far:
        worst = max(math.hypot(s.of_the_bench.shift_x_mm, s.of_the_bench.shift_y_mm) for s in far)
        said.append(f"A sheet lies {worst:.2f} mm off, which contradicts the {assumed_mm:g} mm that was assumed.")
    return said


def _before(known: BenchHistory) -> list[str]:
    """Return what is to be said of sheets from before the steady part changed."""
    earlier = sum(row.counts for row in known.rows) - len(known.counting)
    if known.belief is None or earlier <= 0:
        return []
    sheets = f"{earlier} earlier sheet{'s'[: earlier > 1]}"
    return [f"{sheets}, from before the steady part changed, only tell how much sheets differ."]


def _by_hand(known: BenchHistory) -> list[str]:
    """Return what sheets tell whose marks a hand found in the machine."""
    if not known.found:
        return []
    sheets, within_mm = f"{known.found} sheet{'s'[: known.found > 1]}", known.hand_mm * PER_SPREAD
    return [f"On {sheets} that you aligned by hand the pointer stood within {within_mm:.2f} mm, 19 times of 20."]


def _point(row: HistoryRow, part: str) -> HistoryPoint:
    sheet = row.kept.measured
    if part == "repeat_mm":
        return HistoryPoint(at_ms=row.at_ms, value=sheet.repeat_mm, give_or_take=0.0, counts=row.counts)
    import scipy

    half = float(scipy.special.stdtrit(sheet.degrees_of_freedom, 0.975)) * getattr(sheet.unsure, part)
    return HistoryPoint(at_ms=row.at_ms, value=getattr(sheet.of_the_bench, part), give_or_take=half, counts=row.counts)


@dataclass(frozen=True, slots=True, kw_only=True)
class BenchRow:
    """One bench of the list.

    Attributes:
        bench: its names.
        sheets: that were measured and count.
        is_practice: whether it is simulated.
    """

    bench: BenchSubject
    sheets: int
    is_practice: bool = False


@dataclass(frozen=True, slots=True, kw_only=True)
class BenchShelf:
    """All benches, and the one in hand.

    Attributes:
        rows: the job's own first, the practice bench last.
        view: of the one in hand.
    """

    rows: tuple[BenchRow, ...]
    view: BenchView


PRACTICE = BenchSubject(machine="Practice bench", printer="simulated")
"""What stands for the simulated bench: never the name of a real one."""


def bench_shelf(book: Book | None, here: BenchSubject, own: BenchSubject, assumed_mm: float, now_ms: int) -> BenchShelf:
    """Return the benches that the Book knows, and the one in hand.

    Args:
        book: the Book; None where there is none yet.
        here: the bench in hand.
        own: that of the job.
        assumed_mm: what is typed of it.
        now_ms: the present, in UTC milliseconds.
    """
    benches = [] if book is None else benches_in(book)
    rows = []
    for bench in dict.fromkeys([own, *benches, PRACTICE]):
        known = unmeasured(bench) if book is None else bench_history(book, bench, assumed_mm, now_ms)
        sheets = len(known.counting) if known.belief is not None else 0
        rows.append(BenchRow(bench=bench, sheets=sheets, is_practice=bench == PRACTICE))
    rows.sort(key=lambda row: row.is_practice)
    known = unmeasured(here) if book is None else bench_history(book, here, assumed_mm, now_ms)
    return BenchShelf(rows=tuple(rows), view=bench_view(known, assumed_mm))


@dataclass(frozen=True, slots=True, kw_only=True)
class TypedCorrection:
    """What to type into the machine's own correction.

    Attributes:
        across_mm, down_mm: the numbers, more than stands there now.
        is_known: whether it was learnt which way the machine's numbers go; if not, a second target tells.
    """

    across_mm: float
    down_mm: float
    is_known: bool


def to_type(view: BenchView) -> TypedCorrection | None:
    """Return what to type into the machine so that the steady shift is gone; None where nothing is measured.

    The sign is never guessed silently: where it is not known, a second target tells, and it is learnt then.
    """
    belief = view.known.belief
    if belief is None:
        return None
    signs = {sign.axis: sign.sign for sign in view.known.signs}
    return TypedCorrection(
        across_mm=-belief.shift_x_mm.mean * signs.get("across", 1),
        down_mm=-belief.shift_y_mm.mean * signs.get("down", 1),
        is_known={"across", "down"} <= set(signs),
    )


def learnt_sign(before_mm: float, typed_mm: float, after_mm: float) -> int | None:
    """Return which way a machine's number moved the cut; None where it moved too little to tell, or neither way.

    Args:
        before_mm: the steady shift before.
        typed_mm: what was typed more.
        after_mm: the steady shift that a target showed afterwards.
    """
    if abs(typed_mm) < 0.02:
        return None
    moved = (after_mm - before_mm) / typed_mm
    if 0.5 < moved < 1.5:
        return 1
    return -1 if -1.5 < moved < -0.5 else None


def taken_out(view: BenchView) -> ErrorParts:
    """Return what cut files are to be moved by so that the steady part is gone."""
    belief = view.known.belief
    return ErrorParts() if belief is None else parts_of(round(v, 4) for v in correction_for(belief).values)
