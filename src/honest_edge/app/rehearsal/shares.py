"""What a rehearsal came to: the share of clean stickers, with its uncertainty, the typical and the worst sheet."""

from __future__ import annotations

import math
from collections.abc import Sequence

import numpy as np

from honest_edge.simulator.rehearsal import RehearsedSheet

_SURE = 1.96  # standard deviations on either side, 19 times of 20


def clean_share(sheets: Sequence[RehearsedSheet]) -> tuple[float, float]:
    """Return the share of clean stickers over sheets, and half the width of its range.

    The ratio estimator over sheets, for what spoils stickers is shared by a sheet (W. G. Cochran, Sampling Techniques,
    chapter 6, from memory). With no sheet spoiled, or none good, the rule of three over sheets says how much it knows.
    """
    good = np.array([sheet.good for sheet in sheets], float)
    whole = np.array([len(sheet.fates) for sheet in sheets], float)
    count, share = len(sheets), float(good.sum() / max(whole.sum(), 1.0))
    if count < 2 or share in (0.0, 1.0):
        return share, min(1.0, 3.0 / max(count, 1))
    apart = good - share * whole
    return share, _SURE * math.sqrt(float(np.square(apart).sum()) / (count * (count - 1))) / float(whole.mean())


def typical_sheet(sheets: Sequence[RehearsedSheet]) -> int:
    """Return the number of a sheet in the middle when they are ordered by the share that came out good."""
    return sorted(range(len(sheets)), key=lambda number: (_share(sheets[number]), number))[len(sheets) // 2]


def worst_sheet(sheets: Sequence[RehearsedSheet], of: int = 20) -> int:
    """Return the number of the worst of the first so many sheets."""
    return min(range(min(of, len(sheets))), key=lambda number: (_share(sheets[number]), number))


def _share(sheet: RehearsedSheet) -> float:
    return sheet.good / max(1, len(sheet.fates))
