"""A simulated carrier with a printed sheet stuck to it, as a phone sees it before the sheet goes in.

It is drawn for the simulated camera and shares nothing with what reads such pictures. Colours of carriers, how far
an edge curls and how a thing lies over a mark are assumptions.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Literal

import cv2
import numpy as np

from honest_edge.core.geometry.paths import Floats
from honest_edge.core.imaging.flood import Bytes
from honest_edge.simulator.camera import DRAWING_PX_MM, CutTarget, Picture

Side = Literal["top", "right", "bottom", "left"]
_PAPER, _INK = 236.0, 38.0
_AROUND_MM, _GRID_MM, _LINE_MM = 22.0, 10.0, 0.5


@dataclass(frozen=True, slots=True, kw_only=True)
class Loading:
    """How a sheet was laid, and what is wrong with it.

    Attributes:
        turn_deg: by how much the sheet is turned on the carrier, clockwise; quarters of a turn for one laid wrongly.
        askew_deg: beside that.
        ground: grey level of the carrier; its lines are lighter.
        covered: (x, y, radius) in mm of things that lie on the sheet.
        clipped: (left, top, right, bottom) in mm where the printer left the paper blank.
        pale: how much of the ink came out, 0 to 1.
        curls: a side that lifts, and by how many millimetres its edge is seen displaced.
        is_face_down: its blank side is up.
    """

    turn_deg: int = 0
    askew_deg: float = 0.0
    ground: float = 95.0
    covered: tuple[tuple[float, float, float], ...] = ()
    clipped: tuple[tuple[float, float, float, float], ...] = ()
    pale: float = 1.0
    curls: tuple[Side, float] | None = None
    is_face_down: bool = False


def on_carrier(
    page: Bytes,
    px_per_mm: float,
    size_mm: tuple[float, float],
    loading: Loading,
    kept_mm: Sequence[Floats] | None = None,
) -> CutTarget:
    """Return a carrier with a sheet on it, for the simulated camera.

    Args:
        page: the print, grey levels.
        px_per_mm: how fine that is.
        size_mm: of the paper.
        loading: how it was laid.
        kept_mm: rings of the stickers that are left on it once all else is lifted off; None for a whole sheet.
    """
    sheet = _printed(page, px_per_mm, size_mm, loading)
    wide, high = size_mm if loading.turn_deg % 180 == 0 else size_mm[::-1]
    carrier_mm = wide + 2 * _AROUND_MM, high + 2 * _AROUND_MM
    mat = _carrier(carrier_mm, loading.ground)
    matrix = _placed(size_mm, carrier_mm, loading.turn_deg + loading.askew_deg)
    fine = DRAWING_PX_MM
    half = np.array([[1, 0, 0.5], [0, 1, 0.5], [0, 0, 1.0]])
    scale = np.diag([fine, fine, 1.0])
    warp = np.linalg.inv(half) @ scale @ np.vstack([matrix, [0, 0, 1]]) @ np.linalg.inv(scale) @ half
    cover = np.zeros(mat.shape, np.uint8)
    for outline in (_outline(size_mm, loading.curls),) if kept_mm is None else kept_mm:
        placed = outline @ matrix[:, :2].T + matrix[:, 2]
        cv2.fillPoly(cover, [np.round((placed * fine - 0.5) * 16).astype(np.int32)], 255, cv2.LINE_AA, shift=4)
    shadow = cv2.GaussianBlur(cover, (0, 0), 0.8 * fine)
    mat = np.asarray(mat * (1 - 0.35 * np.asarray(shadow, np.float32) / 255), np.float32)
    laid = cv2.warpAffine(sheet, warp[:2], mat.shape[::-1], flags=cv2.INTER_AREA, borderMode=cv2.BORDER_REPLICATE)
    share = cover.astype(np.float32) / 255
    drawing = np.asarray(mat * (1 - share) + laid * share, np.float32)
    for x, y, radius in loading.covered:
        at = np.array([x, y]) @ matrix[:, :2].T + matrix[:, 2]
        cv2.circle(drawing, np.round(at * fine * 16).astype(int).tolist(), round(radius * fine * 16), 150.0, -1,
                   cv2.LINE_AA, shift=4)  # fmt: skip
    none = np.empty((0, 2))
    return CutTarget(size_mm=carrier_mm, dark=(), printed_mm=none, cut_mm=none, drawing=drawing)


def _printed(page: Bytes, px_per_mm: float, size_mm: tuple[float, float], loading: Loading) -> Picture:
    wide, high = (round(side * DRAWING_PX_MM) for side in size_mm)
    if loading.is_face_down:
        return np.full((high, wide), _PAPER, np.float32)
    fine = DRAWING_PX_MM / px_per_mm
    matrix = np.array([[fine, 0.0, (fine - 1) / 2], [0.0, fine, (fine - 1) / 2]])
    print_ = cv2.warpAffine(page, matrix, (wide, high), flags=cv2.INTER_LINEAR, borderValue=255).astype(np.float32)
    for box in loading.clipped:
        left, top, right, bottom = (round(side * DRAWING_PX_MM) for side in box)
        print_[max(top, 0) : max(bottom, 0), max(left, 0) : max(right, 0)] = 255
    return np.asarray(_PAPER - (_PAPER - _INK) * loading.pale * (1 - print_ / 255), np.float32)


def _carrier(size_mm: tuple[float, float], ground: float) -> Picture:
    wide, high = (round(side * DRAWING_PX_MM) for side in size_mm)
    mat = np.full((high, wide), ground, np.float32)
    line = max(1, round(_LINE_MM * DRAWING_PX_MM))
    for at in np.arange(_GRID_MM, size_mm[0], _GRID_MM):
        mat[:, round(at * DRAWING_PX_MM) : round(at * DRAWING_PX_MM) + line] = ground + 45
    for at in np.arange(_GRID_MM, size_mm[1], _GRID_MM):
        mat[round(at * DRAWING_PX_MM) : round(at * DRAWING_PX_MM) + line] = ground + 45
    return mat


def _placed(size_mm: tuple[float, float], carrier_mm: tuple[float, float], turn_deg: float) -> Floats:
    """Return the map from the sheet to the carrier, about their middles."""
    turn = np.radians(turn_deg)
    cos, sin = np.cos(turn), np.sin(turn)
    spin = np.array([[cos, -sin], [sin, cos]])
    return np.column_stack([spin, np.array(carrier_mm) / 2 - spin @ (np.array(size_mm) / 2)])


def _outline(size_mm: tuple[float, float], curls: tuple[Side, float] | None) -> Floats:
    """Return the paper's outline, one side of it bowed where it lifts."""
    width, height = size_mm
    steps = np.linspace(0, 1, 60)[:-1]
    side, by_mm = curls or ("top", 0.0)
    bow = by_mm * np.exp(-(((steps - 0.5) / 0.16) ** 2))
    none = np.zeros_like(steps)
    off = {name: bow if name == side else none for name in ("top", "right", "bottom", "left")}
    return np.concatenate([
        np.column_stack([width * steps, -off["top"]]),
        np.column_stack([width + off["right"], height * steps]),
        np.column_stack([width * (1 - steps), height + off["bottom"]]),
        np.column_stack([-off["left"], height * (1 - steps)]),
    ])  # fmt: skip
