"""How print and cut disagree on simulated sheets, drawn by chance from what is known of a bench.

It knows nothing of the forecast, which it is held against: no code of ``core.edge`` is used here.
"""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from honest_edge.core.geometry.paths import Floats
from honest_edge.core.values.measured import PART_NAMES
from honest_edge.core.values.misregistration import Misregistration

_PRIOR_SHEETS = 0.05
"""How many sheets what was assumed of the steady part counts for, as it was when the bench was measured."""


@dataclass(frozen=True, slots=True, kw_only=True, eq=False)
class SheetErrors:
    """Errors of simulated sheets, in the terms of ``Misregistration``.

    Attributes:
        parts: (s, 5) shift x and y in mm, rotation in degrees, growth x and y in percent, one row a sheet.
        repeat_mm: (s,) standard deviation of what differs from sticker to sticker.
    """

    parts: Floats
    repeat_mm: Floats

    def __len__(self) -> int:
        return len(self.parts)

    def some(self, chosen: slice | NDArray[np.intp]) -> SheetErrors:
        """Return those of some sheets."""
        return SheetErrors(parts=self.parts[chosen], repeat_mm=self.repeat_mm[chosen])

    def moved(self, places_mm: Floats) -> Floats:
        """Return (s, n, 2) how far each sheet's cut lands from (n, 2) places, counted from the marks' middle."""
        shift_x, shift_y, turn_deg, grow_x, grow_y = self.parts.T[:, :, None]
        x, y = np.asarray(places_mm, float).T
        turn = np.radians(turn_deg)
        return np.stack([shift_x - turn * y + grow_x / 100 * x, shift_y + turn * x + grow_y / 100 * y], axis=2)


def drawn_sheets(error: Misregistration, count: int, random: np.random.Generator) -> SheetErrors:
    """Return the errors of so many sheets, each independent of the others.

    Where the error rests on few measured sheets, a sheet's terms share one chi-square number: Student's t.
    """
    means, spreads = _terms(error)
    wider = np.ones(count)
    if error.degrees_of_freedom is not None:
        wider = np.sqrt(error.degrees_of_freedom / random.chisquare(error.degrees_of_freedom, size=count))
    parts = means + spreads * wider[:, None] * random.standard_normal((count, len(PART_NAMES)))
    return SheetErrors(parts=parts, repeat_mm=error.repeat_mm * wider)


def drawn_benches(
    error: Misregistration, sheets: int, benches: int, each: int, random: np.random.Generator
) -> list[SheetErrors]:
    """Return sheets of several benches that all agree with what was measured: a run of sheets shares its bench.

    Args:
        error: what the next sheet will show.
        sheets: how many were measured; 0 where the error is assumed, and then there is but one such bench.
        benches: how many.
        each: sheets of each.
        random: chances.
    """
    freedom = error.degrees_of_freedom
    if sheets == 0 or freedom is None:
        return [drawn_sheets(error, benches * each, random)]
    means, spreads = _terms(error)
    count = sheets + _PRIOR_SHEETS
    own = spreads / math.sqrt(1 + 1 / count)  # without what is not known of the mean
    errors_of = []
    for _ in range(benches):
        wider = math.sqrt(freedom / random.chisquare(freedom))
        steady = means + wider * own / math.sqrt(count) * random.standard_normal(len(means))
        parts = steady + wider * own * random.standard_normal((each, len(means)))
        errors_of.append(SheetErrors(parts=parts, repeat_mm=np.full(each, error.repeat_mm * wider)))
    return errors_of


def _terms(error: Misregistration) -> tuple[Floats, Floats]:
    scatters = [getattr(error, name) for name in PART_NAMES]
    return np.array([s.bias for s in scatters], float), np.array([s.spread for s in scatters], float)
