"""Guided local search: pieces may overlap at first and are moved, one by one, to where they overlap least.

Pairs that stay stubborn weigh more from round to round, so that the search leaves what it would circle in
(guided local search after Voudouris and Tsang; its use for nesting after Egeblad, Nielsen and Odgaard 2007).
"""

from __future__ import annotations

import random
from collections.abc import Callable, Sequence

import numpy as np

from honest_edge.core.geometry.paths import Floats
from honest_edge.core.sheet.grid import Grid, GridPosition, depth_field
from honest_edge.core.sheet.settle import Laid, laid_at, position_near, settle

IsCancelled = Callable[[], bool]

_GROW, _GROW_MORE, _FADE = 1.2, 0.8, 0.95
_NEAR_ENOUGH_MM = 0.45
"""Overlaps up to this may come from the grid's rounding: the exact push is tried on them."""


def separate(
    positions: Sequence[GridPosition],
    grid: Grid,
    pinned: Sequence[Laid],
    *,
    rounds: int,
    seed: int,
    cancelled: IsCancelled,
) -> list[Laid] | None:
    """Return the pieces moved and turned until no gap is missing, exactly settled; None where that fails.

    Args:
        positions: where the pieces start, overlapping or not.
        grid: the sheet.
        pinned: pieces that stay where they are.
        rounds: after how many rounds without a better layout the search gives up.
        seed: of the order in which pieces are moved.
        cancelled: asked before every move.
    """
    chance = random.Random(seed)
    now = [*positions, *(position_near(laid, grid) for laid in pinned)]
    free, count = len(positions), len(now)
    weights = np.ones((count, count))
    depths = _depths(now, grid)
    depths[free:, free:] = 0.0  # pinned pairs stay as they are
    best, waited, tried = float("inf"), 0, set[tuple[GridPosition, ...]]()
    while waited < rounds:
        waited += 1
        total = float(np.triu(depths).sum())
        if total < 0.98 * best:
            best, waited = total, 0
        if depths.max(initial=0.0) <= _NEAR_ENOUGH_MM and tuple(now) not in tried:
            tried.add(tuple(now))
            laid = settle([*(laid_at(position, grid) for position in now[:free]), *pinned], grid)
            if laid is not None:
                return laid
        crowded = [int(index) for index in np.flatnonzero(depths[:free].max(axis=1, initial=0.0) > 0)]
        if not crowded:
            return None  # nothing overlaps on the grid, yet the exact push fails
        chance.shuffle(crowded)
        for index in crowded:
            if cancelled():
                return None
            if depths[index].max() <= 0:
                continue
            now[index] = _best_position(index, now, grid, weights[index])
            depths[index] = depths[:, index] = _depths_of(index, now, grid)
        deepest = max(float(depths.max(initial=0.0)), 1e-9)
        weights = np.where(
            depths > 0, weights * (_GROW + _GROW_MORE * depths / deepest), np.maximum(1, weights * _FADE)
        )
    return None


def _best_position(index: int, now: Sequence[GridPosition], grid: Grid, weights: Floats) -> GridPosition:
    others = [k for k in range(len(now)) if k != index]
    rest, heavy = [now[k] for k in others], [float(weights[k]) for k in others]
    best, position = float("inf"), now[index]
    for turned in grid.nofit.options[now[index].turned.piece]:
        deep = depth_field(grid, turned, rest, heavy)
        deep[~grid.allowed(turned)] = np.inf
        at = int(deep.argmin())
        if deep.flat[at] < best:
            best = float(deep.flat[at])
            position = GridPosition(turned, *divmod(at, grid.columns))
    return position


def _depths_of(index: int, now: Sequence[GridPosition], grid: Grid) -> Floats:
    depths = np.zeros(len(now))
    for k, other in enumerate(now):
        if k != index:
            depths[k] = depth_between(now[index], other, grid)
    return depths


def depth_between(one: GridPosition, two: GridPosition, grid: Grid) -> float:
    """Return how deep two positions overlap, gap included."""
    near = grid.nofit.depth(one.turned, two.turned)
    half = len(near) // 2
    row, column = two.row - one.row + half, two.column - one.column + half
    if 0 <= row < len(near) and 0 <= column < len(near):
        return float(near[row, column])
    return 0.0


def _depths(now: Sequence[GridPosition], grid: Grid) -> Floats:
    depths = np.zeros((len(now), len(now)))
    for index in range(len(now)):
        depths[index] = _depths_of(index, now, grid)
    return depths


def least_deep(piece: int, on_sheet: Sequence[GridPosition], grid: Grid) -> GridPosition | None:
    """Return where one more piece would overlap the least; None where it may not lie at all."""
    best, position = float("inf"), None
    for turned in grid.nofit.options[piece]:
        allowed = grid.allowed(turned)
        if not allowed.any():
            continue
        deep = depth_field(grid, turned, on_sheet, [1.0] * len(on_sheet))
        deep[~allowed] = np.inf
        at = int(deep.argmin())
        if deep.flat[at] < best:
            best, position = float(deep.flat[at]), GridPosition(turned, *divmod(at, grid.columns))
    return position
