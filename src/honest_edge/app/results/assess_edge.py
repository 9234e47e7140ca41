"""Assessing the edge of the design in hand: smallest changes, all schools, the place on the sheet."""

from __future__ import annotations

import math
from dataclasses import replace

from honest_edge.app.results.design_result import DesignResult
from honest_edge.app.results.edge_assessment import EdgeAssessment, EdgeChange, SchoolView, SheetShares
from honest_edge.app.results.overview import Overview
from honest_edge.app.results.pipeline import Pipeline
from honest_edge.app.results.progress import IsCancelled, never
from honest_edge.core.edge.advice import Advice, advise, traits_of
from honest_edge.core.edge.changes import STEP_MM, smallest_change
from honest_edge.core.edge.forecast import FINE, LIVE, Fineness, forecast
from honest_edge.core.edge.sheet_chance import all_clean
from honest_edge.core.values.errors import BlockedError, HonestEdgeError
from honest_edge.core.values.job import Design, Job
from honest_edge.core.values.misregistration import SheetPlace
from honest_edge.core.values.specs import EdgeRecipe, School, with_school

TARGETS = (0.95, 0.99)
SCHOOLS: tuple[School, ...] = ("border", "bleed", "inside", "bare")
_TRIES = 4


def assess_edge(
    result: DesignResult, overview: Overview, pipeline: Pipeline, *, cancelled: IsCancelled = never
) -> EdgeAssessment:
    """Return everything about the edge of one design that its own result does not say.

    Raises:
        Cancelled: ``cancelled`` said so.
    """
    job = overview.job
    changes = tuple(
        change
        for target in TARGETS
        if (change := proposed_change(result, job, pipeline, target, cancelled=cancelled)) is not None
    )
    views = tuple(_view(school, result.design, job, pipeline, cancelled) for school in SCHOOLS)
    return EdgeAssessment(
        changes=changes if len(changes) < 2 or changes[0].edge != changes[1].edge else changes[1:],
        views=views,
        advice=_advice(result, job, views, changes),
        on_sheet=_on_sheet(result, job, places_of(result.design.key, overview)),
        whole_sheet=_whole_sheet(overview),
    )


def proposed_change(
    result: DesignResult, job: Job, pipeline: Pipeline, target: float, *, cancelled: IsCancelled = never
) -> EdgeChange | None:
    """Return the smallest change that reaches a share, computed whole before it is offered.

    None where the share is reached already, or by no change of bleed and offset.
    """
    design = result.design
    edge = smallest_change(result.forecast, design.edge, target)
    if edge is None or edge == design.edge:
        return None
    for _ in range(_TRIES):
        try:
            tried = pipeline.result(replace(design, edge=edge), job, place=result.forecast.place, cancelled=cancelled)
            share = tried.forecast.share_clean
        except BlockedError:
            return None
        if share >= target:
            return EdgeChange(edge=edge, target=target, share=share, result=tried)
        edge = _one_step_more(design.edge, edge)
    return None


def _one_step_more(before: EdgeRecipe, after: EdgeRecipe) -> EdgeRecipe:
    """Go on in the way that the change went: the table it was read from knows a moved cut only nearly."""
    if after.bleed_mm != before.bleed_mm:
        return replace(after, bleed_mm=round(after.bleed_mm + STEP_MM, 2))
    step = STEP_MM if after.offset_mm > before.offset_mm else -STEP_MM
    return replace(after, offset_mm=round(max(0.0, after.offset_mm + step), 2))


def _view(school: School, design: Design, job: Job, pipeline: Pipeline, cancelled: IsCancelled) -> SchoolView:
    edge = design.edge if design.edge.school == school else with_school(design.edge, school)
    try:
        result = pipeline.result(replace(design, edge=edge), job, cancelled=cancelled)
    except HonestEdgeError as error:
        return SchoolView(school=school, result=None, error=str(error))
    return SchoolView(school=school, result=result)


def _advice(
    result: DesignResult, job: Job, views: tuple[SchoolView, ...], changes: tuple[EdgeChange, ...]
) -> Advice | None:
    """Advise a school; a school that a small change makes cleaner is judged as it would be then."""
    shares = {view.school: view.result.forecast.share_clean for view in views if view.result is not None}
    for change in changes:
        shares[change.edge.school] = max(change.share, shares.get(change.edge.school, 0.0))
    if not shares:
        return None
    stock = job.sheet.stock
    return advise(
        traits_of(result.art_edge, result.outline),
        shares,
        border_is_white=stock.bare_name == "white",
        stock_words=stock.bare_name,
    )


def places_of(key: str, overview: Overview) -> tuple[SheetPlace, ...]:
    """Return where the copies of a design lie, on whichever sheet, counted from the middle of the marks."""
    pages = range(len(overview.plan.pages)) if overview.plan is not None else ()
    return tuple(place for page in pages for on_page, place in _on_page(overview, page) if on_page == key)


def _on_page(overview: Overview, page: int) -> list[tuple[str, SheetPlace]]:
    plan, places = overview.plan, []
    if plan is None:
        return []
    middle_x, middle_y = plan.width_mm / 2, plan.height_mm / 2  # the marks stand alike at all sides
    for placement in plan.pages[page]:
        result = overview.laid[placement.design]
        key = result.design.key
        if result.stock is not None:
            continue  # nothing is printed on it
        x, y = placement.matrix[:, :2] @ result.model.middle + placement.matrix[:, 2]
        place = SheetPlace(x_mm=float(x) - middle_x, y_mm=float(y) - middle_y, turn_deg=placement.turn_deg)
        places.append((key, place))
    return places


def _on_sheet(result: DesignResult, job: Job, places: tuple[SheetPlace, ...]) -> SheetShares | None:
    if not places:
        return None

    def share(place: SheetPlace, fineness: Fineness = FINE) -> float:
        expected = forecast(result.model, job.misregistration, place, visible_mm=job.visible_mm, fineness=fineness)
        return expected.share_clean

    ordered = sorted(places, key=lambda place: math.hypot(place.x_mm, place.y_mm))
    every = ordered[:: max(1, len(ordered) // 12)]
    nearest, farthest = ordered[0], ordered[-1]
    return SheetShares(
        nearest=share(nearest),
        farthest=share(farthest),
        nearest_mm=math.hypot(nearest.x_mm, nearest.y_mm),
        farthest_mm=math.hypot(farthest.x_mm, farthest.y_mm),
        mean=sum(share(place, LIVE) for place in every) / len(every),
    )


def _whole_sheet(overview: Overview) -> float | None:
    """Return the chance that everything on the first sheet is clean at once."""
    stickers = [(overview.results[key].model, place) for key, place in (_on_page(overview, 0) if overview.plan else ())]
    return all_clean(stickers, overview.job.misregistration, visible_mm=overview.job.visible_mm) if stickers else None
