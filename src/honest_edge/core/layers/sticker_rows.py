"""Stickers laid on a sheet in rows, with even spacing."""

from __future__ import annotations

from collections.abc import Sequence

from honest_edge.core.layers.arrange import Bounds
from honest_edge.core.values.errors import BlockedError

_STEP_MM = 2.0  # of the search for a free place


def free_place(
    size: tuple[float, float], area: Bounds, taken: Sequence[Bounds], *, gap_mm: float
) -> tuple[float, float] | None:
    """Return the middle of the first place, row by row, where a box keeps its gap from others; None without one."""
    (width, height), (left, top, right, bottom) = size, area
    y = top + gap_mm
    while y + height + gap_mm <= bottom + 1e-9:
        x = left + gap_mm
        while x + width + gap_mm <= right + 1e-9:
            box = (x - gap_mm, y - gap_mm, x + width + gap_mm, y + height + gap_mm)
            met = [other for other in taken if box[0] < other[2] and other[0] < box[2]]
            met = [other for other in met if box[1] < other[3] and other[1] < box[3]]
            if not met:
                return x + width / 2, y + height / 2
            x = max(x + _STEP_MM, min(other[2] for other in met) + gap_mm)
        y += _STEP_MM
    return None


def free_band(area: Bounds, kept: Sequence[Bounds]) -> Bounds:
    """Return what boxes above and below leave free of an area."""
    left, top, right, bottom = area
    middle = (top + bottom) / 2
    for box in kept:
        if box[3] <= middle:
            top = max(top, box[3])
        elif box[1] >= middle:
            bottom = min(bottom, box[1])
    return left, top, right, bottom


def in_rows(
    sizes: Sequence[tuple[float, float]], area: Bounds, *, gap_mm: float, kept: Sequence[Bounds] = ()
) -> tuple[tuple[float, float], ...]:
    """Return the middles of boxes laid in rows, in order, what is left of the room spread evenly.

    Args:
        sizes: width and height of each.
        area: where they may lie.
        gap_mm: least distance between them and to the area's edge.
        kept: boxes above or below them that stay free, such as a title.

    Raises:
        BlockedError: they do not fit; the message says how much room is lacking.
    """
    left, top, right, bottom = free_band(area, kept)
    wide = right - left - 2 * gap_mm
    rows: list[list[int]] = []
    filled = wide + 1.0
    for index, (width, _) in enumerate(sizes):
        if width > wide:
            raise BlockedError(f"A sticker {width:.1f} mm wide does not fit on {wide:.1f} mm: make the sheet wider")
        if filled + gap_mm + width > wide:
            rows.append([])
            filled = -gap_mm
        rows[-1].append(index)
        filled += gap_mm + width
    heights = [max(sizes[index][1] for index in row) for row in rows]
    spare = bottom - top - sum(heights) - gap_mm * (len(rows) + 1)
    if spare < 0 <= spare + (area[3] - area[1]) - (bottom - top):
        raise BlockedError(
            f"The words on the sheet leave the stickers {bottom - top:.1f} mm of its height, {-spare:.1f} mm too "
            "little: move the words to its edges"
        )
    if spare < 0:
        raise BlockedError(
            f"The stickers need {-spare:.1f} mm more height: take some away, or make them or the gaps smaller"
        )
    down = gap_mm + spare / (len(rows) + 1)
    places: dict[int, tuple[float, float]] = {}
    y = top
    for row, height in zip(rows, heights, strict=True):
        y += down
        across = (right - left - sum(sizes[index][0] for index in row)) / (len(row) + 1)
        x = left
        for index in row:
            x += across
            places[index] = (x + sizes[index][0] / 2, y + height / 2)
            x += sizes[index][0]
        y += height
    return tuple(places[index] for index in range(len(sizes)))
