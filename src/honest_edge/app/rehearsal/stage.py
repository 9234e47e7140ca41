"""What of a job is rehearsed: its printed sheets, with what decides whether each sticker is clean."""

from __future__ import annotations

import threading
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Any

import numpy as np
import shapely
from numpy.typing import NDArray

from honest_edge.app.rehearsal.on_sheet import kiss_areas
from honest_edge.app.results.design_result import DesignResult
from honest_edge.app.results.overview import Overview
from honest_edge.core.edge.art_edge import SEEN_CONTRAST
from honest_edge.core.geometry.paths import Floats, as_multipolygon, rings_of
from honest_edge.core.values.errors import BlockedError
from honest_edge.simulator.judge import Judge, StickerShape
from honest_edge.simulator.rehearsal import Stage, StagedCopy

_TOUCHING_MM = 0.15  # ink that ends this close to the cut is meant to reach it
_SPACING_MM, _MOST_PLACES = 0.3, 900
_FLAT_MM = 0.003


@dataclass(frozen=True, slots=True, kw_only=True, eq=False)
class Staged:
    """A stage with what its numbers stand for.

    Attributes:
        stage: what is rehearsed.
        pages: numbers of its sheets in the layout.
        laid: numbers of its designs among what is laid.
    """

    stage: Stage
    pages: tuple[int, ...]
    laid: tuple[int, ...]


class _Judges(Sequence[Judge]):
    """Makes each design's judge when it is first asked for, so that the first sheet is there soon."""

    def __init__(self, results: Sequence[DesignResult], visible_mm: float) -> None:
        self._results, self._visible_mm = results, visible_mm
        self._made: dict[int, Judge] = {}
        self._lock = threading.Lock()

    def __len__(self) -> int:
        return len(self._results)

    def __getitem__(self, number: Any) -> Any:
        with self._lock:
            if number not in self._made:
                self._made[number] = Judge(sticker_shape(self._results[number]), self._visible_mm)
            return self._made[number]


def staged(overview: Overview) -> Staged:
    """Return what is rehearsed of a job.

    Raises:
        BlockedError: there is no layout, or nothing is printed.
    """
    plan, sheet = overview.plan, overview.job.sheet
    if plan is None:
        raise BlockedError(f"There is nothing to rehearse yet: {overview.why_no_plan}")
    printed = [page for page, stock in enumerate(plan.stocks) if stock is None]
    laid = sorted({p.design for page in printed for p in plan.pages[page]})
    if not laid:
        raise BlockedError("Nothing is printed in this job: every piece is cut from stock of its own")
    middle = np.array([plan.width_mm, plan.height_mm]) / 2
    pages = tuple(
        tuple(_copy(p.matrix, laid.index(p.design), overview.laid[p.design], middle) for p in plan.pages[page])
        for page in printed
    )
    rims = sheet.rims_mm
    stage = Stage(
        judges=_Judges([overview.laid[number] for number in laid], overview.job.visible_mm),
        pages=pages,
        size_mm=(plan.width_mm, plan.height_mm),
        printed_mm=(plan.width_mm - rims.left - rims.right, plan.height_mm - rims.top - rims.bottom),
        has_three_marks=sheet.marks.kind == "three brackets",
        feed_side=sheet.machine.feed_side,
    )
    return Staged(stage=stage, pages=tuple(printed), laid=tuple(laid))


def _copy(matrix: Floats, design: int, result: DesignResult, middle: Floats) -> StagedCopy:
    left, top, right, bottom = result.cut.area.bounds
    corners = np.array([(left, top), (right, top), (right, bottom), (left, bottom)])
    from_middle = np.column_stack([matrix[:, :2], matrix[:, 2] - middle])
    on_sheet = corners @ from_middle[:, :2].T + from_middle[:, 2]
    return StagedCopy(
        design=design,
        matrix=from_middle,
        middle_mm=on_sheet.mean(0),
        half_mm=float(np.ptp(on_sheet[:, 0])) / 2,
    )


def sticker_shape(result: DesignResult) -> StickerShape:
    """Return what decides whether a design's sticker is clean."""
    enclosed, inked, is_inked = result.cut.enclosed, result.inked, result.model.is_inked
    cut_points, detail_points = np.empty((0, 2)), _along(result.model.detail)
    if is_inked:
        cut_points = _along(enclosed)
        cut_points = cut_points[_touched(cut_points, inked) & _is_seen(result, cut_points)]
    else:
        detail_points = detail_points[_is_seen(result, detail_points)]
    kiss = () if result.composed is None or result.stock is not None else _kiss(result)
    return StickerShape(cut_points=cut_points, ink=inked, detail_points=detail_points, enclosed=enclosed, kiss=kiss)


def _kiss(result: DesignResult) -> tuple[tuple[Floats, shapely.Geometry], ...]:
    assert result.composed is not None
    return tuple(
        (_along(as_multipolygon(cut)), area) for cut, area in kiss_areas(result.composed, result.art_edge.stock)
    )


def _touched(points: Floats, inked: shapely.MultiPolygon) -> NDArray[np.bool_]:
    return np.asarray(shapely.distance(shapely.points(points), inked) <= _TOUCHING_MM)


def _is_seen(result: DesignResult, points: Floats) -> NDArray[np.bool_]:
    return np.asarray(result.art_edge.contrast_at(points) >= SEEN_CONTRAST) if len(points) else np.zeros(0, bool)


def _along(area: shapely.MultiPolygon) -> Floats:
    """Return places along an area's rings: its corners, and between them places at even distances."""
    rings = [shapely.linearrings(ring) for ring in rings_of(area)]
    if not rings:
        return np.empty((0, 2))
    plain = np.asarray(shapely.simplify(np.array(rings), _FLAT_MM))
    spacing = max(_SPACING_MM, float(shapely.length(plain).sum()) / _MOST_PLACES)
    return np.concatenate([shapely.get_coordinates(ring)[:-1] for ring in shapely.segmentize(plain, spacing)])
