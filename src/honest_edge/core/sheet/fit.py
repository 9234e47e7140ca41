"""Laying all copies out on as few sheets as they need: at once, and better while one waits."""

from __future__ import annotations

from collections import Counter
from collections.abc import Callable, Sequence

from honest_edge.core.sheet.better import Search
from honest_edge.core.sheet.packing import Packing, Sheets, laid_of
from honest_edge.core.sheet.plan import Footprint, Placement, Plan
from honest_edge.core.sheet.rows import filled_rows, in_rows, page_in_rows
from honest_edge.core.sheet.separate import IsCancelled
from honest_edge.core.sheet.settle import Laid
from honest_edge.core.sheet.space import SheetSpace, space_of
from honest_edge.core.values.errors import BlockedError
from honest_edge.core.values.sheet import SheetSpec

Pinned = Sequence[tuple[int, Placement]]
"""Copies placed by hand, each with its sheet, from 0."""


def never() -> bool:
    """Nobody cancels."""
    return False


def fit(
    designs: Sequence[Footprint],
    sheet: SheetSpec,
    pins: Pinned = (),
    *,
    found: Callable[[Plan], None] | None = None,
    cancelled: IsCancelled = never,
) -> Plan:
    """Return a layout of all copies, made piece by piece; boxes are laid as boxes where that is better.

    Args:
        designs: what is laid out.
        sheet: the paper, the margins and the gap.
        pins: copies placed by hand.
        found: told the layout while a sheet less is still sought.
        cancelled: asked between steps.

    Raises:
        BlockedError: a design does not fit an empty sheet, nothing is wanted, or the marks cannot be placed.
        Cancelled: ``cancelled`` said so.
    """
    room = space_of(sheet)
    if not any(design.copies or design.fills for design in designs):
        raise BlockedError("No copies are wanted of any design: ask for one at least")
    searches = [(packing, _first(packing, cancelled)) for packing in packings(designs, sheet, room, pins)]
    for packing, search in searches:
        if not any(search.sheets):
            raise BlockedError(_too_large(packing, room, sheet))
    if found is not None and any(search.may_save_a_sheet for _, search in searches):
        found(plan_from([(packing, search.sheets) for packing, search in searches], sheet, room))
    laid = []
    for packing, search in searches:
        search.briefly()
        laid.append((packing, tidied(packing, search.sheets, cancelled)))
    return plan_from(laid, sheet, room)


def _first(packing: Packing, cancelled: IsCancelled) -> Search:
    """Return a first layout, to be bettered; empty where a design has no room on an empty sheet."""
    rows = None
    if packing.sheet.arrangement == "tidy" and not packing.fillers():
        rows = in_rows(packing, packing.wanted(), cancelled)
    if rows is not None and len(rows) <= packing.fewest_sheets():
        return Search(packing, rows, lambda _: None, cancelled)
    ways = (packing.first_fit, packing.in_boxes)
    tried = [layout for way in ways if (layout := way(cancelled)) and any(layout)]
    return Search(packing, min(tried, key=packing.rank, default=rows or []), lambda _: None, cancelled)


def tidied(packing: Packing, sheets: Sheets, cancelled: IsCancelled) -> Sheets:
    """Return the copies in rows where rows are wanted and need no more sheets; else each sheet that rows can hold."""
    if packing.sheet.arrangement != "tidy":
        return sheets
    if packing.fillers():
        rows = filled_rows(packing, len(sheets), cancelled)
    else:
        rows = in_rows(packing, packing.wanted(), cancelled)
    if rows is not None and len(rows) <= len(sheets):
        return rows
    known: dict[tuple[bool, tuple[tuple[int, int], ...]], list[Laid]] = {}
    tidy: Sheets = []
    for page, laid in enumerate(sheets):
        counts = Counter(one.piece for one in laid if not one.is_pinned)
        is_plain = packing.grid(page) is packing.fresh and page not in packing.pinned
        key = (is_plain, tuple(sorted(counts.items())))
        if key not in known or not is_plain:  # sheets that hold the same are laid once
            known[key] = page_in_rows(packing, page, counts, cancelled) or laid
        tidy.append(list(known[key]))
    return tidy


def rows_needed(
    designs: Sequence[Footprint], sheet: SheetSpec, pins: Pinned = (), *, cancelled: IsCancelled = never
) -> int | None:
    """Return how many sheets rows alone would need; None where a copy fits in no row.

    Raises:
        BlockedError: the marks cannot be placed.
        Cancelled: ``cancelled`` said so.
    """
    needed = 0
    for packing in packings(designs, sheet, space_of(sheet), pins):
        rows = in_rows(packing, packing.wanted(), cancelled)
        if rows is None:
            return None
        needed += len(rows)
    return needed


def improve(
    plan: Plan,
    designs: Sequence[Footprint],
    sheet: SheetSpec,
    pins: Pinned = (),
    *,
    found: Callable[[Plan], None],
    cancelled: IsCancelled,
    patience: int = 200,
) -> Plan:
    """Return a better layout than ``plan``, or ``plan``: never fewer copies nor more sheets.

    Args:
        plan: the layout to start from.
        designs: what it lays out.
        sheet: the sheet.
        pins: copies placed by hand.
        found: told every better layout as soon as it is there.
        cancelled: asked between moves; the best so far is returned.
        patience: how many tries in a row may fail before the search ends by itself.
    """
    room = space_of(sheet)
    laid = [(packing, _sheets(packing, plan)) for packing in packings(designs, sheet, room, pins)]
    for index, (packing, sheets) in enumerate(laid):

        def tell(better: Sheets, at: int = index) -> None:
            laid[at] = laid[at][0], better
            found(plan_from(laid, sheet, room))

        Search(packing, sheets, tell, cancelled).run(patience)
    return plan_from(laid, sheet, room)


def packings(designs: Sequence[Footprint], sheet: SheetSpec, room: SheetSpace, pins: Pinned) -> list[Packing]:
    """Return what is laid, each with what may share its sheets: what is printed first."""
    wanted = [index for index, design in enumerate(designs) if design.copies or design.fills]
    pinned = [designs[placement.design] for _, placement in pins]
    wanted += [i for i, design in enumerate(designs) if i not in wanted and any(design is one for one in pinned)]
    packings_of: list[Packing] = []
    for members in _laid_together(sorted(wanted), designs, sheet):
        mine = [(page, placement) for page, placement in pins if placement.design in members]
        packings_of.append(Packing(designs, members, sheet, room, mine, is_first=not packings_of))
    return packings_of


def _laid_together(wanted: Sequence[int], designs: Sequence[Footprint], sheet: SheetSpec) -> list[list[int]]:
    """Return the designs that may share sheets, what is printed first."""
    stocks = sorted({designs[i].stock for i in wanted}, key=lambda stock: (stock is not None, repr(stock)))
    alike = [[index for index in wanted if designs[index].stock == stock] for stock in stocks]
    return [[index] for members in alike for index in members] if sheet.grouping == "apart" else alike


def plan_from(laid: Sequence[tuple[Packing, Sheets]], sheet: SheetSpec, room: SheetSpace) -> Plan:
    """Return laid pieces as a plan."""
    width, height = sheet.size_mm
    pages, stocks, filled = [], [], []
    for packing, sheets in laid:
        for pieces in sheets:
            pages.append(tuple(packing.placement(one) for one in pieces))
            stocks.append(packing.designs[packing.members[0]].stock)
            filled.append(packing.filled(pieces))
    return Plan(
        width_mm=width,
        height_mm=height,
        usable=room.usable,
        marks=room.marks,
        reasons=room.reasons,
        pages=tuple(pages),
        stocks=tuple(stocks),
        filled=tuple(filled),
    )


def _sheets(packing: Packing, plan: Plan) -> Sheets:
    """Return what of a plan a packing lays, as the search sees it."""
    piece_of = {design: piece for piece, design in enumerate(packing.members)}
    sheets: Sheets = []
    for page in plan.pages:
        if page[0].design in piece_of:
            pinned = packing.pinned.get(len(sheets), [])
            loose = [laid_of(p, packing.designs, piece_of[p.design]) for p in page if not p.is_pinned]
            sheets.append([*pinned, *loose])
    return sheets


def _too_large(packing: Packing, room: SheetSpace, sheet: SheetSpec) -> str:
    """Say which design finds no room on an empty sheet, and how much there is."""
    for piece, design in enumerate(packing.members):
        allowed = [packing.fresh.allowed(turned) for turned in packing.nofit.options[piece]]
        if not any(mask.any() for mask in allowed):
            footprint = packing.designs[design]
            box = footprint.cut.grown(footprint.reach_mm)
            return (
                f"“{footprint.name}” needs {box.width:.1f} × {box.height:.1f} mm with its border "
                f"and bleed; between the marks on {sheet.paper_title} there are {room.usable.width:.1f} × "
                f"{room.usable.height:.1f} mm, less the corners of the marks: make it smaller"
            )
    return "The copies placed by hand leave no room for the others: move or release them"
