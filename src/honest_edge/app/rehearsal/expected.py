"""What the forecast expects of a whole job, to be held against its rehearsal."""

from __future__ import annotations

from dataclasses import dataclass

from honest_edge.app.rehearsal.stage import Staged
from honest_edge.app.results.overview import Overview
from honest_edge.app.results.progress import IsCancelled, never
from honest_edge.core.edge.forecast import FINE, LIVE, forecast
from honest_edge.core.values.errors import Cancelled
from honest_edge.core.values.misregistration import SheetPlace

_FEW = 12


@dataclass(frozen=True, slots=True, kw_only=True)
class Expected:
    """Share of clean stickers over a whole job, and half the width of the range that it lies in."""

    share: float
    uncertainty: float


def expected_share(overview: Overview, staged: Staged, *, cancelled: IsCancelled = never) -> Expected:
    """Return the mean share over all stickers of the printed sheets.

    Raises:
        Cancelled: ``cancelled`` said so.
    """
    job, plan = overview.job, overview.plan
    assert plan is not None
    places: dict[int, list[SheetPlace]] = {}
    for page, copies in zip(staged.pages, staged.stage.pages, strict=True):
        for placement, copy in zip(plan.pages[page], copies, strict=True):
            result = overview.laid[placement.design]
            x, y = (copy.matrix[:, :2] @ result.model.middle + copy.matrix[:, 2]).tolist()
            places.setdefault(placement.design, []).append(SheetPlace(x_mm=x, y_mm=y, turn_deg=placement.turn_deg))
    share = uncertainty = 0.0
    count = sum(map(len, places.values()))
    for design, lies in places.items():
        model = overview.laid[design].model
        some = lies[:: max(1, len(lies) // _FEW)]
        fineness = FINE if len(some) <= 2 else LIVE
        for place in some:
            if cancelled():
                raise Cancelled
            one = forecast(model, job.misregistration, place, visible_mm=job.visible_mm, fineness=fineness)
            weight = len(lies) / len(some) / count
            share += weight * one.share_clean
            uncertainty += weight * one.uncertainty
    return Expected(share=share, uncertainty=uncertainty)
