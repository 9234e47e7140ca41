"""A picture of a target laid straight, as the sheet lies, for what is drawn over it."""

from __future__ import annotations

from dataclasses import dataclass

import cv2
import numpy as np

from honest_edge.app.bench.measuring import PictureLook

_PX_MM = 3.0


@dataclass(frozen=True, slots=True, kw_only=True)
class Straightened:
    """A sheet as it was scanned.

    Attributes:
        width_px, height_px: size of the picture.
        levels: its grey levels, row by row.
        width_mm, height_mm: the paper.
    """

    width_px: int
    height_px: int
    levels: bytes
    width_mm: float
    height_mm: float


def straightened(look: PictureLook) -> Straightened | None:
    """Return a picture laid straight; None where no target was found in it."""
    if look.found is None:
        return None
    layout = look.found.layout
    width_mm, height_mm = layout.width / 10, layout.height / 10
    wide, high = round(width_mm * _PX_MM / 4) * 4, round(height_mm * _PX_MM)
    corners = np.array([(0, 0), (wide, 0), (wide, high), (0, high)], np.float32)
    matrix = cv2.getPerspectiveTransform(look.found.corners_px.astype(np.float32), corners)
    warped = cv2.warpPerspective(look.scan.grey, matrix, (wide, high), flags=cv2.INTER_AREA, borderValue=255)
    return Straightened(
        width_px=wide,
        height_px=high,
        levels=np.asarray(warped, np.uint8).tobytes(),
        width_mm=width_mm,
        height_mm=height_mm,
    )
