"""What a hand does on a sheet: placing copies, releasing them, keeping a sheet as used, keeping a layout."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, replace

from honest_edge.app.results.overview import Overview
from honest_edge.core.measure.mark_reading import MarkPrice, reading_error_mm
from honest_edge.core.sheet.fit import Pinned, improve
from honest_edge.core.sheet.limits import Limits, copies_with, limits, mark_costs
from honest_edge.core.sheet.pinning import pin_problem, placed
from honest_edge.core.sheet.plan import Footprint, Placement, Plan
from honest_edge.core.sheet.separate import IsCancelled
from honest_edge.core.sheet.stored import layout_of, pinned_of
from honest_edge.core.values.errors import BlockedError
from honest_edge.core.values.job import Job
from honest_edge.core.values.layouts import Pin, PlacedCopy
from honest_edge.core.values.marks import MarkKind
from honest_edge.core.values.sheet import SheetSpec

_SMALLEST_MARK_MM = 6.0


def footprints(overview: Overview) -> list[Footprint]:
    """Return what is laid."""
    return [result.footprint for result in overview.laid]


def _planned(overview: Overview) -> Plan:
    if overview.plan is None:
        raise BlockedError(overview.why_no_plan)
    return overview.plan


def with_pin(overview: Overview, page: int, number: int, *, dx_mm: float, dy_mm: float, turn_deg: float = 0.0) -> Job:
    """Return the job with one copy moved, turned about its middle, and pinned.

    Raises:
        BlockedError: it would lie where it may not.
    """
    plan, designs = _planned(overview), footprints(overview)
    before = plan.pages[page][number]
    rest = _others(overview.job, before, page, designs)
    moved = _moved(before, designs, dx_mm, dy_mm, turn_deg)
    problem = pin_problem(moved, page, designs, overview.job.sheet, pinned_of(rest, designs))
    if problem is not None:
        raise BlockedError(f"{problem}: it stays where it was")
    copy = PlacedCopy(design=designs[moved.design].key, turn_deg=moved.turn_deg, x_mm=moved.x_mm, y_mm=moved.y_mm)
    return replace(overview.job, pins=(*rest, Pin(page=_page_among_alike(overview, page), copy=copy)))


def _page_among_alike(overview: Overview, page: int) -> int:
    """Return the number of a sheet among those that its designs may lie on, as pins count them."""
    plan = _planned(overview)
    apart = overview.job.sheet.grouping == "apart"
    alike = [(stock, laid[0].design if apart else 0) for stock, laid in zip(plan.stocks, plan.pages, strict=True)]
    return alike[:page].count(alike[page])


def _moved(before: Placement, designs: list[Footprint], dx_mm: float, dy_mm: float, turn_deg: float) -> Placement:
    x, y = designs[before.design].cut.middle
    turned = replace(before, turn_deg=(before.turn_deg + turn_deg) % 360, is_pinned=True)
    was = before.matrix[:, :2] @ (x, y)
    now = turned.matrix[:, :2] @ (x, y)
    return replace(
        turned,
        x_mm=before.x_mm + float(was[0] - now[0]) + dx_mm,
        y_mm=before.y_mm + float(was[1] - now[1]) + dy_mm,
    )


def _others(job: Job, placement: Placement, page: int, designs: list[Footprint]) -> tuple[Pin, ...]:
    """Return the pins without the one that is this copy."""
    key = designs[placement.design].key
    return tuple(
        pin
        for pin in job.pins
        if not (
            placement.is_pinned
            and pin.copy.design == key
            and abs(pin.copy.x_mm - placement.x_mm) < 1e-3
            and abs(pin.copy.y_mm - placement.y_mm) < 1e-3
        )
    )


def without_pin(overview: Overview, page: int, number: int) -> Job:
    """Return the job with one copy released to the fit."""
    plan, designs = _planned(overview), footprints(overview)
    return replace(overview.job, pins=_others(overview.job, plan.pages[page][number], page, designs))


def with_used(overview: Overview, page: int) -> Job:
    """Return the job with what lies on a sheet kept as used: that sheet is now the first, and its copies are made.

    Raises:
        BlockedError: the sheet is not printed on.
    """
    plan, designs = _planned(overview), footprints(overview)
    if plan.stocks[page] is not None:
        raise BlockedError("Only a sheet that is printed on can be kept as partly used")
    boxes = list(overview.job.sheet.used) if page == 0 else []
    for placement in plan.pages[page]:
        left, top, right, bottom = placed(placement, designs).bounds
        reach = designs[placement.design].reach_mm + overview.job.sheet.gap_mm / 2
        boxes.append((left - reach, top - reach, right + reach, bottom + reach))
    return replace(overview.job, sheet=replace(overview.job.sheet, used=tuple(boxes)), pins=(), layout=())


def with_layout(overview: Overview, plan: Plan) -> Job:
    """Return the job that keeps a layout."""
    return replace(overview.job, layout=layout_of(plan, footprints(overview)))


def improved(overview: Overview, *, found: Callable[[Plan], None], cancelled: IsCancelled) -> Plan:
    """Return a better layout than the present, or that; ``found`` is told each better one."""
    return improve(
        _planned(overview),
        footprints(overview),
        overview.job.sheet,
        pins_of(overview),
        found=found,
        cancelled=cancelled,
    )


def pins_of(overview: Overview) -> Pinned:
    """Return the pins as the fit takes them."""
    return pinned_of(overview.job.pins, footprints(overview))


@dataclass(frozen=True, slots=True, kw_only=True)
class SheetLimits:
    """What limits one design on the sheets, and what each kind of mark would cost it.

    Attributes:
        key: the design.
        limits: what would let more copies on.
        marks: how many copies a fresh sheet takes with each kind of mark; None where one cannot stand.
        smaller: what marks of a third of the length and half the thickness would give and take; None for other kinds.
        is_longer: with the present marks a longer look found more than a quick one, so that the others may take more.
    """

    key: str
    limits: Limits
    marks: dict[MarkKind, int | None]
    smaller: MarkPrice | None = None
    is_longer: bool = False


def sheet_limits(overview: Overview, key: str, *, cancelled: IsCancelled) -> SheetLimits | None:
    """Return what limits a design; None where it has no copies on the sheets.

    Raises:
        Cancelled: ``cancelled`` said so.
    """
    plan, designs = _planned(overview), footprints(overview)
    index = next((number for number, design in enumerate(designs) if design.key == key), None)
    if index is None or not plan.count(index):
        return None
    bounds = limits(plan, designs, index, overview.job.sheet, pins_of(overview), cancelled=cancelled)
    costs, kind = mark_costs(designs[index], overview.job.sheet, cancelled=cancelled), overview.job.sheet.marks.kind
    laid = max((len(page) for page in plan.pages if {p.design for p in page} == {index}), default=0)
    is_longer = laid > (costs[kind] or 0)
    return SheetLimits(
        key=key,
        limits=bounds,
        marks=costs | {kind: laid} if is_longer else costs,
        smaller=_smaller_marks(designs[index], overview.job.sheet, costs[kind], cancelled=cancelled),
        is_longer=is_longer,
    )


def _smaller_marks(
    design: Footprint, sheet: SheetSpec, here: int | None, *, cancelled: IsCancelled
) -> MarkPrice | None:
    """Return what smaller brackets give and take, by assumptions on the reader."""
    marks = sheet.marks
    if here is None or "bracket" not in marks.kind or marks.length_mm <= _SMALLEST_MARK_MM:
        return None
    length = max(_SMALLEST_MARK_MM, round(marks.length_mm / 3, 1))
    spec = replace(marks, length_mm=length, thickness_mm=max(0.5, marks.thickness_mm / 2))
    count = copies_with(design, sheet, spec, cancelled=cancelled)
    if count is None:
        return None
    return MarkPrice(
        length_mm=spec.length_mm,
        thickness_mm=spec.thickness_mm,
        more=count - here,
        error_mm=reading_error_mm(sheet.with_marks(spec)),
        error_now_mm=reading_error_mm(sheet),
    )
