"""Room on a sheet that is free anyway: boxes of a size in which nothing is printed or cut."""

from __future__ import annotations

import cv2
import numpy as np
import shapely

from honest_edge.core.geometry.paths import rings_of
from honest_edge.core.sheet.media import Box

_PX_MM = 2.0


def free_boxes(size_mm: tuple[float, float], usable: Box, taken: shapely.MultiPolygon, most: int) -> tuple[Box, ...]:
    """Return up to so many boxes apart from each other, the lowest on the sheet first.

    Args:
        size_mm: width and height of each.
        usable: where they may lie.
        taken: where they may not.
        most: how many are looked for.
    """
    wide, high = (round(side * _PX_MM) for side in (usable.width, usable.height))
    across, down = (round(side * _PX_MM) + 1 for side in size_mm)
    if across > wide or down > high:
        return ()
    full = np.zeros((high, wide), np.uint8)
    corner = np.array([usable.left, usable.top])
    rings = [np.round((ring - corner) * _PX_MM).astype(np.int32) for ring in rings_of(taken)]
    for ring in rings:  # a hole of what is printed is no room either
        cv2.fillPoly(full, [ring], 1)
    boxes: list[Box] = []
    while len(boxes) < most:
        sums = cv2.integral(full)
        there = sums[down:, across:] - sums[:-down, across:] - sums[down:, :-across] + sums[:-down, :-across]
        places = np.argwhere(there == 0)
        if not len(places):
            break
        row, column = places[np.lexsort((places[:, 1], -places[:, 0]))[0]].tolist()
        left, top = usable.left + column / _PX_MM, usable.top + row / _PX_MM
        boxes.append(Box(left, top, left + size_mm[0], top + size_mm[1]))
        full[row : row + down, column : column + across] = 1
    return tuple(boxes)
