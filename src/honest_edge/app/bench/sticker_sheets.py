"""A sheet of a job measured by its own stickers, weeded, instead of by a target."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from honest_edge.app.bench.measuring import Measured, said_of
from honest_edge.app.results.design_result import DesignResult
from honest_edge.core.geometry.paths import rings_of
from honest_edge.core.imaging.flood import Bytes
from honest_edge.core.measure.sheet_error import fitted_error
from honest_edge.core.measure.sticker_picture import PlannedSticker, measured_stickers
from honest_edge.core.sheet.plan import Plan
from honest_edge.core.values.errors import BlockedError
from honest_edge.core.values.measured import ErrorParts, MeasuredSheet
from honest_edge.files.print_png import page_pixels
from honest_edge.files.read_scan import Scan

_PPI = 200.0
_FREE_MM = 1.2


@dataclass(frozen=True, slots=True, kw_only=True, eq=False)
class PlannedSheet:
    """One sheet of a job as it was written.

    Attributes:
        page: the print, grey levels.
        px_per_mm: how fine that is.
        stickers: that lie on it.
        middle_mm: the marks' middle.
        correction: what the cut was moved by.
    """

    page: Bytes
    px_per_mm: float
    stickers: tuple[PlannedSticker, ...]
    middle_mm: tuple[float, float]
    correction: ErrorParts


def planned_sheet(
    plan: Plan, results: Sequence[DesignResult], print_file: bytes, number: int, correction: ErrorParts
) -> PlannedSheet:
    """Return one sheet, counted from 0 among those that are printed.

    Raises:
        BlockedError: the job has no such sheet.
    """
    printed = [page for page, stock in zip(plan.pages, plan.stocks, strict=True) if stock is None]
    if not 0 <= number < len(printed):
        raise BlockedError(f"The job prints {len(printed)} sheets; sheet {number + 1} was asked for")
    stickers = []
    for placement in printed[number]:
        result = results[placement.design]
        ring = max(rings_of(result.cut.area), key=len)
        border = result.model.border_mm
        inward = min(_FREE_MM, 0.6 * border) if border > 0 else _FREE_MM
        matrix = placement.matrix
        stickers.append(PlannedSticker(ring_mm=ring[:-1] @ matrix[:, :2].T + matrix[:, 2], inward_mm=max(inward, 0.3)))
    pixels = page_pixels(print_file, number, _PPI).astype(np.float32)
    grey = 0.114 * pixels[..., 0] + 0.587 * pixels[..., 1] + 0.299 * pixels[..., 2]
    return PlannedSheet(
        page=grey.round().astype(np.uint8),
        px_per_mm=_PPI / 25.4,
        stickers=tuple(stickers),
        middle_mm=(plan.width_mm / 2, plan.height_mm / 2),
        correction=correction,
    )


def measured_by_stickers(scans: Sequence[Scan], planned: PlannedSheet, within_mm: float) -> Measured:
    """Return the sheets in pictures of weeded stickers; what cannot be measured is said in words."""
    sheets, warnings = [], []
    for scan in scans:
        try:
            sheets.append(_sheet(scan, planned))
        except BlockedError as error:
            warnings.append(str(error))
            continue
        left_out = [place for place in sheets[-1].places if not place.used]
        if left_out:
            named = "; ".join(dict.fromkeys(place.why for place in left_out))
            warnings.append(f"{scan.name}: {len(left_out)} of {len(sheets[-1].places)} stickers are left out ({named})")
    return Measured(sheets=tuple(sheets), warnings=(*warnings, *said_of(sheets, within_mm)))


def _sheet(scan: Scan, planned: PlannedSheet) -> MeasuredSheet:
    places = measured_stickers(
        scan.grey, planned.page, planned.px_per_mm, planned.stickers, np.array(planned.middle_mm), scan.name
    )
    error, unsure, repeat_mm, freedom = fitted_error(places)
    return MeasuredSheet(
        picture=scan.name, by="stickers", error=error, unsure=unsure, repeat_mm=repeat_mm, degrees_of_freedom=freedom,
        places=places, correction=planned.correction,
    )  # fmt: skip
