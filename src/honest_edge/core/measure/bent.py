"""A flat map from the sheet to a picture, bent as a lens, a curl of the paper or a scanner's wander bends it."""

from __future__ import annotations

from collections.abc import Callable

import numpy as np

from honest_edge.core.geometry.paths import Floats

Mapping = Callable[[Floats], Floats]
"""From (n, 2) millimetres on the sheet to pixels, whose middles lie at whole numbers."""

_TUKEY, _ROUNDS = 4.685, 8


def projective(matrix: Floats) -> Mapping:
    """Return the map of a (3, 3) matrix."""

    def to_pixels(places: Floats) -> Floats:
        mapped = np.column_stack([places, np.ones(len(places))]) @ matrix.T
        return np.asarray(mapped[:, :2] / mapped[:, 2:])

    return to_pixels


def bent(to_pixels: Mapping, places: Floats, off_mm: Floats, middle_mm: Floats, *, order: int) -> Mapping:
    """Return a map bent so that places are found where they were, with a smooth surface between.

    Args:
        to_pixels: the map so far.
        places: (n, 2) where things are on the sheet.
        off_mm: (n, 2) how far from there the map so far has them; a few may be quite wrong.
        middle_mm: (2,) the middle of the sheet.
        order: of the surface, 2 or 3.
    """
    terms, weights = _terms(places, middle_mm, order), np.ones(len(places))
    for _ in range(_ROUNDS):
        root = np.sqrt(weights)[:, None]
        solved = np.linalg.lstsq(terms * root, off_mm * root, rcond=None)[0]
        apart = np.hypot(*(off_mm - terms @ solved).T)
        scale = max(float(np.median(apart)) / 1.1774, 1e-3)
        weights = np.clip(1 - (apart / (_TUKEY * scale)) ** 2, 1e-6, 1) ** 2
    return lambda wanted: to_pixels(wanted + _terms(wanted, middle_mm, order) @ solved)


def _terms(places: Floats, middle_mm: Floats, order: int) -> Floats:
    x, y = ((places - middle_mm) / middle_mm).T
    powers = ((a, b) for a in range(order + 1) for b in range(order + 1 - a))
    return np.stack([x**a * y**b for a, b in powers], 1)
