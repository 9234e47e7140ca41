"""A small picture of a layout's sheets, to find a run again by its looks."""

from __future__ import annotations

import cv2
import numpy as np
from numpy.typing import NDArray

from honest_edge.app.results.design_result import DesignResult
from honest_edge.app.results.overview import Overview
from honest_edge.core.edge.bleed import PrintArt
from honest_edge.core.geometry.paths import Floats
from honest_edge.core.sheet.plan import Placement

Pixels = NDArray[np.float32]

_HIGH_PX, _GAP_PX, _MOST_SHEETS, _QUALITY = 300, 12, 4, 82
_LINE_RGB, _PAPER, _GROUND, _AIR = (138, 45, 107), 255, 232, 1.08


def sheets_picture(overview: Overview) -> bytes:
    """Return the first sheets side by side as a JPEG; nothing where nothing is laid out."""
    plan = overview.plan
    if plan is None or not plan.pages:
        return b""
    scale = _HIGH_PX / plan.height_mm
    pages, size = plan.pages[:_MOST_SHEETS], (round(plan.width_mm * scale), _HIGH_PX)
    shown = {placement.design for page in pages for placement in page}
    small = {design: _reduced(overview.laid[design].art, scale) for design in shown}
    sheets = [_sheet(page, overview, small, scale, size) for page in pages]
    gap = np.full((_HIGH_PX, _GAP_PX, 3), _GROUND, np.uint8)
    row = np.hstack([part for sheet in sheets for part in (sheet, gap)][:-1])
    return _jpeg(row)


def piece_picture(result: DesignResult) -> bytes:
    """Return one piece by itself with its cut as a JPEG."""
    area, art = result.cut.area, result.art
    left, top, right, bottom = (float(value) for value in area.bounds)
    scale = _HIGH_PX / (max(right - left, bottom - top) * _AIR)
    size = (round((right - left) * _AIR * scale), round((bottom - top) * _AIR * scale))
    air = np.array([(right - left) * (_AIR - 1) / 2 - left, (bottom - top) * (_AIR - 1) / 2 - top])
    matrix = np.column_stack([np.eye(2), air])
    pixels, pixel_mm = _reduced(art, scale)
    drawn = _laid(np.full((size[1], size[0], 3), _PAPER, np.float32), pixels, _to_picture(matrix, art, pixel_mm, scale))
    picture = np.clip(drawn, 0, 255).astype(np.uint8)
    _draw_cut(picture, result, matrix, scale)
    return _jpeg(picture)


def _jpeg(picture: NDArray[np.uint8]) -> bytes:
    _, data = cv2.imencode(".jpg", picture[..., ::-1], [cv2.IMWRITE_JPEG_QUALITY, _QUALITY])
    return bytes(data)


def _laid(sheet: Pixels, pixels: Pixels, matrix: Floats) -> Pixels:
    """Return a picture with covered colours laid over it."""
    warped = cv2.warpAffine(pixels, matrix, (sheet.shape[1], sheet.shape[0]))
    return np.asarray(sheet * (1 - warped[..., 3:] / 255) + warped[..., :3], np.float32)


def _reduced(art: PrintArt, scale: float) -> tuple[Pixels, float]:
    """Return a print's colours by their cover in about the picture's resolution, and the size of its pixels."""
    by = min(1.0, scale * art.pixel_mm)
    size = (max(1, round(art.pixels.shape[1] * by)), max(1, round(art.pixels.shape[0] * by)))
    covered = art.pixels.astype(np.float32)
    covered[..., :3] *= covered[..., 3:] / 255
    small = np.asarray(cv2.resize(covered, size, interpolation=cv2.INTER_AREA), np.float32)
    return small, art.pixel_mm * art.pixels.shape[1] / size[0]


def _sheet(
    page: tuple[Placement, ...],
    overview: Overview,
    small: dict[int, tuple[Pixels, float]],
    scale: float,
    size: tuple[int, int],
) -> NDArray[np.uint8]:
    """Return one sheet, (h, w, 3) sRGB."""
    sheet: Pixels = np.full((size[1], size[0], 3), _PAPER, np.float32)
    for placement in page:
        result = overview.laid[placement.design]
        if result.stock is None:
            pixels, pixel_mm = small[placement.design]
            sheet = _laid(sheet, pixels, _to_picture(placement.matrix, result.art, pixel_mm, scale))
    drawn = np.clip(sheet, 0, 255).astype(np.uint8)
    for placement in page:
        _draw_cut(drawn, overview.laid[placement.design], placement.matrix, scale)
    return drawn


def _to_picture(matrix: Floats, art: PrintArt, pixel_mm: float, scale: float) -> Floats:
    """Return the (2, 3) matrix from a reduced print's pixels to the picture's."""
    turned = matrix[:, :2]
    corner = np.array([art.left_mm + pixel_mm / 2, art.top_mm + pixel_mm / 2])
    moved = turned @ corner + matrix[:, 2]
    return np.column_stack([turned * pixel_mm * scale, moved * scale - 0.5])


def _draw_cut(drawn: NDArray[np.uint8], result: DesignResult, matrix: Floats, scale: float) -> None:
    for polygon in result.cut.area.geoms:
        points = np.asarray(polygon.exterior.coords) @ matrix[:, :2].T + matrix[:, 2]
        cv2.polylines(drawn, [np.rint(points * scale).astype(np.int32)], True, _LINE_RGB, 1, cv2.LINE_AA)
