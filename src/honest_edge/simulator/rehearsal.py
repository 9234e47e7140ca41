"""A job printed, read and cut on the simulated bench, sheet by sheet, before paper is spent."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass, replace
from typing import Literal

import numpy as np
from numpy.typing import NDArray

from honest_edge.core.geometry.paths import Floats
from honest_edge.core.values.machine import Side
from honest_edge.core.values.misregistration import Misregistration
from honest_edge.simulator.faults import DULL_REPEATS, SLIP_MM, TRACK_MM, FaultKey
from honest_edge.simulator.judge import Judge
from honest_edge.simulator.sheets_by_chance import SheetErrors, drawn_sheets

Fate = Literal["good", "white", "art", "uncut", "smeared", "wrong side", "elsewhere", "ring"]
FATES: tuple[Fate, ...] = ("good", "white", "art", "uncut", "smeared", "wrong side", "elsewhere", "ring")

_FIRST_SHEETS = (1, 20)  # the first is there at once, and a first score of sheets soon


@dataclass(frozen=True, slots=True, kw_only=True, eq=False)
class StagedCopy:
    """One copy on a sheet.

    Attributes:
        design: which judge decides about it.
        matrix: (2, 3) from the art's frame to the sheet's, counted from the marks' middle.
        middle_mm: (2,) the middle of its cut on the sheet, counted so.
        half_mm: half its width across the sheet.
    """

    design: int
    matrix: Floats
    middle_mm: Floats
    half_mm: float


@dataclass(frozen=True, slots=True, kw_only=True, eq=False)
class Stage:
    """What is rehearsed.

    Attributes:
        judges: of the designs.
        pages: the copies of every printed sheet of the layout.
        size_mm: of the paper.
        printed_mm: width and height that the printer reaches.
        has_three_marks: the reader tells a turned sheet by the free corner.
        feed_side: the edge that goes in first.
    """

    judges: Sequence[Judge]
    pages: tuple[tuple[StagedCopy, ...], ...]
    size_mm: tuple[float, float]
    printed_mm: tuple[float, float]
    has_three_marks: bool
    feed_side: Side

    @property
    def fitted(self) -> float:
        """The share of its size that a page shrinks to where a dialog fits it to what the printer reaches."""
        return min(inner / whole for inner, whole in zip(self.printed_mm, self.size_mm, strict=True))


@dataclass(frozen=True, slots=True, kw_only=True, eq=False)
class RehearsedSheet:
    """One sheet as it came out.

    Attributes:
        number: counted from 0.
        page: which sheet of the layout it is.
        error: the sheet's error, of one sheet.
        repeats_mm: (n, 2) how far each copy's cut lies from where that takes it.
        fates: (n,) what became of the copies, as numbers of ``FATES``.
        fitted: the size that it was printed at, in shares.
    """

    number: int
    page: int
    error: SheetErrors
    repeats_mm: Floats
    fates: NDArray[np.int8]
    fitted: float = 1.0

    @property
    def good(self) -> int:
        """How many stickers came out clean."""
        return int(np.count_nonzero(self.fates == 0))

    @property
    def spoiled(self) -> int:
        """How many did not."""
        return len(self.fates) - self.good

    @property
    def is_cut(self) -> bool:
        """Whether the cutter cut it at all."""
        return not bool(np.any(self.fates == FATES.index("uncut")))


def rehearsed(
    stage: Stage, error: Misregistration, *, sheets: int, seed: int, faults: frozenset[FaultKey] = frozenset()
) -> Iterator[RehearsedSheet]:
    """Yield sheets in their order, the first one soon; the same seed gives the same ones.

    Args:
        stage: what is rehearsed.
        error: how print and cut disagree on this bench.
        sheets: how many.
        seed: of the chances.
        faults: what goes wrong besides.
    """
    random = np.random.default_rng(seed)
    errors = _with_faults(drawn_sheets(error, sheets, random), stage, faults)
    chances = [np.random.default_rng((seed, number)) for number in range(sheets)]
    stops = sorted({min(stop, sheets) for stop in (*_FIRST_SHEETS, sheets)})
    start = 0
    for stop in stops:
        yield from _some(stage, errors, chances, range(start, stop), faults)
        start = stop


def _some(
    stage: Stage,
    errors: SheetErrors,
    chances: Sequence[np.random.Generator],
    numbers: range,
    faults: frozenset[FaultKey],
) -> list[RehearsedSheet]:
    sheets: dict[int, RehearsedSheet] = {}
    for page, copies in enumerate(stage.pages):
        alike = [number for number in numbers if number % len(stage.pages) == page]
        if not alike:
            continue
        chosen = SheetErrors(parts=errors.parts[alike], repeat_mm=errors.repeat_mm[alike])
        repeats = np.stack([chances[n].standard_normal((len(copies), 2)) for n in alike])
        repeats = repeats * chosen.repeat_mm[:, None, None] + _slipped(stage, copies, faults)
        fates = _fates(stage, copies, chosen, repeats, faults)
        for row, number in enumerate(alike):
            sheets[number] = RehearsedSheet(
                number=number,
                page=page,
                error=chosen.some(slice(row, row + 1)),
                repeats_mm=repeats[row],
                fates=fates[row],
                fitted=stage.fitted if "fitted" in faults else 1.0,
            )
    return [sheets[number] for number in numbers]


def good_counts(stage: Stage, page: int, errors: SheetErrors, random: np.random.Generator) -> NDArray[np.int32]:
    """Return (s, designs) how many of each design come out clean on sheets of one page."""
    copies = stage.pages[page]
    repeats = random.standard_normal((len(errors), len(copies), 2)) * errors.repeat_mm[:, None, None]
    fates = _fates(stage, copies, errors, repeats, frozenset())
    good = np.zeros((len(errors), len(stage.judges)), np.int32)
    for number, copy in enumerate(copies):
        good[:, copy.design] += fates[:, number] == 0
    return good


def _fates(
    stage: Stage,
    copies: Sequence[StagedCopy],
    errors: SheetErrors,
    repeats: Floats,
    faults: frozenset[FaultKey],
) -> NDArray[np.int8]:
    """Return (s, n) what became of the copies of one page on s sheets."""
    fates = np.zeros((len(errors), len(copies)), np.int8)
    whole = _whole_sheet(stage, faults)
    if whole is not None:
        fates[:] = FATES.index(whole)
        return fates
    for number, copy in enumerate(copies):
        fates[:, number] = stage.judges[copy.design].spoiled(errors, repeats[:, number], copy.matrix)
        if "wet" in faults and _is_under_rollers(stage, copy):
            fates[:, number] = FATES.index("smeared")
    return fates


def _whole_sheet(stage: Stage, faults: frozenset[FaultKey]) -> Fate | None:
    """Return what becomes of everything on the sheet alike; None where each copy has a fate of its own."""
    if "missed" in faults or ("turned" in faults and stage.has_three_marks):
        return "uncut"
    if "wrong side" in faults:
        return "wrong side"
    return "elsewhere" if "turned" in faults else None


def _with_faults(errors: SheetErrors, stage: Stage, faults: frozenset[FaultKey]) -> SheetErrors:
    if "fitted" in faults:  # of the print, so the cut is too large against it
        grown = (1 / stage.fitted - 1) * 100
        errors = replace(errors, parts=errors.parts + np.array([0, 0, 0, grown, grown]))
    if "dull" in faults:
        errors = replace(errors, repeat_mm=errors.repeat_mm * DULL_REPEATS)
    return errors


def _slipped(stage: Stage, copies: Sequence[StagedCopy], faults: frozenset[FaultKey]) -> Floats:
    """Return (n, 2) what a slip adds: nothing before the sheet's middle has gone through."""
    slipped = np.zeros((len(copies), 2))
    if "slip" in faults:
        axis = 0 if stage.feed_side in ("left", "right") else 1
        way = 1.0 if stage.feed_side in ("left", "top") else -1.0
        late = np.array([way * copy.middle_mm[axis] > 0 for copy in copies], bool)
        slipped[late, axis] = way * SLIP_MM
    return slipped


def roller_tracks(stage: Stage) -> tuple[tuple[float, float], ...]:
    """Return where rollers run over the sheet, left and right of each across the feed, from the marks' middle."""
    across = stage.size_mm[1 if stage.feed_side in ("left", "right") else 0]
    return tuple((side * across / 4 - TRACK_MM / 2, side * across / 4 + TRACK_MM / 2) for side in (-1, 1))


def _is_under_rollers(stage: Stage, copy: StagedCopy) -> bool:
    axis = 1 if stage.feed_side in ("left", "right") else 0
    at = float(copy.middle_mm[axis])
    return any(at + copy.half_mm > left and at - copy.half_mm < right for left, right in roller_tracks(stage))
